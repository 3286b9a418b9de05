"""The steps of the work, one page each."""
