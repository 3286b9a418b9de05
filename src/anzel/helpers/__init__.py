"""Helper processes: work beside the window that does not hold its interpreter."""
