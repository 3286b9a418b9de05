"""A potting cube: a closed box of six equal sides, placed by what touches what.

The bottom lies with its front on the table, so that all fronts are outside. Six equal sides cannot
share out the box's eight corners, so each corner is left open, as wide as the sheet is thick.
"""

from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.formulas import Formula, NamedNumber
from anzel.structure.free.outline_shapes import Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.relations.records import (
    BOTTOM,
    FRONT,
    MIDDLE_OF_HEIGHT,
    MIDDLE_OF_WIDTH,
    RIGHT,
    TOP,
    Against,
    Centred,
    Facing,
    PlateRepeat,
    RepeatWay,
    Side,
)

_OUTSIDE = 100.0
_CELLS = 6


def cube(stock: str) -> FreeStructure:
    """Return the box: a bottom, four sides round it, and a top."""
    square = Rectangle(width=_OUTSIDE, height=_OUTSIDE)
    plates = tuple(
        FreePlate(name=name, stock=stock, outline=square, true_size=True, **at)
        for name, at in (
            ("Bottom", {"tilt": 180.0}), ("Side", {"x": 50.0, "turn": 90.0, "tilt": 90.0}),
            ("Top", {"z": _OUTSIDE}),
        )
    )  # fmt: skip
    sizes = tuple(
        Formula(field=f"{plate.name}/{size}", text="outside")
        for plate in plates for size in ("width", "height")
    )  # fmt: skip
    return FreeStructure(
        plates=plates,
        relations=_relations(),
        repeats=(PlateRepeat(id="M1", plate="Side", way=RepeatWay.RING, count=4, about="Bottom"),),
        joints=(
            FingerCorner("J1", "Bottom", "Side", _CELLS), FingerCorner("J2", "Top", "Side", _CELLS),
            FingerCorner("J3", "Side", "Side 2", _CELLS),
        ),
        own_numbers=(NamedNumber(name="outside", text="100"),), own_formulas=sizes,
    )  # fmt: skip


def _relations() -> tuple[Against | Centred, ...]:
    across = (Side(plate="Bottom", side=BOTTOM), Side(plate="Bottom", side=TOP))
    front, right = Side(plate="Side", side=FRONT), Side(plate="Bottom", side=RIGHT)
    return (
        Against(id="R1", side=Side(plate="Bottom", side=FRONT), to=Side()),
        Against(id="R2", side=front, to=right, facing=Facing.SAME),
        Against(id="R3", side=Side(plate="Side", side=BOTTOM), to=Side()),
        Centred(
            id="R4", side=Side(plate="Side", side=MIDDLE_OF_WIDTH), to=across[0], other=across[1]
        ),
        Against(
            id="R5", side=Side(plate="Top", side=FRONT), to=Side(plate="Side", side=TOP),
            facing=Facing.SAME,
        ),
        Against(id="R6", side=Side(plate="Top", side=RIGHT), to=front, facing=Facing.SAME),
        Centred(
            id="R7", side=Side(plate="Top", side=MIDDLE_OF_HEIGHT), to=across[0], other=across[1]
        ),
    )  # fmt: skip
