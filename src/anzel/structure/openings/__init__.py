"""Openings that a maker adds to a plate, whatever makes the plate."""
