"""A plate's outline as a maker draws it: paths, sizes and relations that hold, and their solver."""
