"""A simulated sheet, cutter, calipers and hand, and the practice loop over real files."""
