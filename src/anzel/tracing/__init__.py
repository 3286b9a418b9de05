"""Outlines from pictures: contours of dark and light, fitted by lines, arcs and curves."""
