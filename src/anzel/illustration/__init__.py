"""Illustration: line pictures of solids with their hidden lines removed exactly."""
