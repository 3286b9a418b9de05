"""The forms a maker can choose from, one module each."""

from anzel.structure.forms.crossed_stand import CrossedStand

AnyForm = CrossedStand
"""Any form's record; a union told apart by its `form` field as soon as there are two."""

__all__ = ["AnyForm", "CrossedStand"]
