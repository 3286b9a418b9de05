"""The bare nesting problem and its solvers; nothing here knows of pieces, stocks or files."""
