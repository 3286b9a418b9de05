"""SVG drawings: read, and written again with some edges changed."""
