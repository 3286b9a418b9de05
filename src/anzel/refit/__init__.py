"""Refit of found drawings: features of a sheet's thickness, what becomes of them, side offsets."""
