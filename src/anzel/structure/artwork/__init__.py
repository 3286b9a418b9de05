"""Artwork and lettering that a maker puts on a plate, whatever makes the plate."""
