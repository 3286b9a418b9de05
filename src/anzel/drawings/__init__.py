"""Drawings read from files: edges in mm that know their place in the file, loops, containment."""
