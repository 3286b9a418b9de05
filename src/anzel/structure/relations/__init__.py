"""Relations that place plates: what touches what, and how often it repeats."""
