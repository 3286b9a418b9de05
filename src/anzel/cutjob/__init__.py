"""The cut job of a sheet: cut lines, operations, cutting order, labels, bridges, times."""
