"""The forms a maker can choose from, one module each."""

from typing import Annotated

from pydantic import Field

from anzel.structure.forms.base import Form
from anzel.structure.forms.box import Box
from anzel.structure.forms.crossed_stand import CrossedStand
from anzel.structure.forms.easel import Easel
from anzel.structure.forms.grid_stand import GridStand
from anzel.structure.forms.lantern import Lantern
from anzel.structure.forms.rib_lamp import RibLamp
from anzel.structure.forms.sliceform import Sliceform
from anzel.structure.forms.spine_lamp import SpineLamp

AnyForm = Annotated[
    CrossedStand | Easel | GridStand | Box | Lantern | RibLamp | Sliceform | SpineLamp,
    Field(discriminator="form"),
]
"""Any form's record, told apart by its `form` field."""

FORMS: dict[str, type[Form]] = {
    kind.model_fields["form"].default: kind
    for kind in (CrossedStand, Easel, GridStand, Box, Lantern, RibLamp, Sliceform, SpineLamp)
}
"""Every form by the name it is stored under, in the order of the gallery."""

ABOUT = {
    "crossed-stand": "Two or three uprights crossing under a round top",
    "easel": "Two cheeks and a ledge for a book, a plate or a tablet",
    "grid-stand": "A frame of boards in a grid under a top of another sheet",
    "box": "Four walls with fingers or overlaps, a lid, dividers",
    "lantern": "Three to eight walls with windows, diffusers behind them",
    "rib-lamp": "Ribs along a profile round rings",
    "sliceform": "A body told by two families of slices",
    "spine-lamp": "Rings hung on a curved spine",
}
"""A line on each form."""

__all__ = ["ABOUT", "FORMS", "AnyForm", "CrossedStand"]
