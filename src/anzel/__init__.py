"""Anzel: slot-together structures from flat sheet, sized to what was measured."""

__version__ = "0.1.0"
