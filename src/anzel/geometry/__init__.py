"""Exact plane geometry, placement in space, booleans, offsets, tool paths."""
