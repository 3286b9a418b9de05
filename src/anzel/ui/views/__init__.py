"""Views that draw."""
