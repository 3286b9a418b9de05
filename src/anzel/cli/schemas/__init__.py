"""JSON schemas of what commands print with --json."""
