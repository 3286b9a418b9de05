"""What was found in a drawing that has to do with the sheet's thickness."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

from anzel.geometry.rigid_transform import Point


class DrawnFeatureKind(StrEnum):
    """The kinds of feature, in the words of the trade."""

    SLOT = "slot"
    MORTISE = "mortise"
    TAB = "tab"
    FINGER = "finger"


class KeptSize(StrEnum):
    """Which size of a piece stays when its fingers change height."""

    OUTSIDE = "outside"
    INSIDE = "inside"


class DrawnFeature(NamedTuple):
    """One slot, mortise, tab or finger.

    `drawn` is the size that follows the thickness: a slot's or mortise's width, a tab's or
    finger's height. `length` is its other size. `widening` sides move into the material by half
    of what the feature gains; `rising` ones move out of it by all of it. `doubt` says why it is
    not changed until the maker decides; empty when there is none.
    """

    id: str
    piece: int
    loop: int
    """The loop it is on."""
    kind: DrawnFeatureKind
    at: Point
    drawn: float
    length: float
    thickness: float
    middle: int
    """The side at its floor or end; of a mortise a long one."""
    widening: tuple[int, ...] = ()
    rising: tuple[int, ...] = ()
    row: str = ""
    uncertainty: str = ""


@dataclass(frozen=True)
class FingerRow:
    """An edge's fingers taken as one: the sides at its outer and at its inner level, and walls at
    its corners that stand at the inner level of this row though they belong to the next edge."""

    id: str
    thickness: float
    drawn: float
    """How high its fingers are, as most of them are drawn."""
    outer: tuple[int, ...]
    inner: tuple[int, ...]
    corner_walls: tuple[int, ...] = ()


@dataclass(frozen=True)
class DrawnFeatures:
    """All features of a drawing, in drawing order, and the finger rows they belong to."""

    features: tuple[DrawnFeature, ...]
    rows: dict[str, FingerRow] = field(default_factory=dict)
    hinge_slits: int = 0
    """Slits of living hinges, which are held."""
