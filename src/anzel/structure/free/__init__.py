"""Free structures: plates and joints that a maker places by hand."""
