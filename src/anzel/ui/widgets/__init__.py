"""Panels and fields."""
