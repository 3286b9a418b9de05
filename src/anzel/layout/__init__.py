"""Pieces on sheets and scraps: orientations, kept placements, rows."""
