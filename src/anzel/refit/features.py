"""Features of a drawing that depend on the sheet's thickness."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

from anzel.geometry.rigid_transform import Point
from anzel.refit.finger_rows import EdgeReading


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

    `drawn` is the size that follows the thickness: the width of a slot or mortise, the height of a
    tab or finger. `length` is its other size. `widening` sides move into the material by half of
    what the feature gains; `rising` sides move out of it by all of it. `uncertainty` says why it is
    not changed until the maker decides; "" when there is no reason.
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
    edge: str = ""
    """The stepped edge that a tab or finger is on."""


@dataclass(frozen=True)
class FingerRow:
    """The fingers of one edge together.

    The sides at its outer and at its inner level, and the walls at its corners that stand at the
    inner level of this row although they belong to the next edge.
    """

    id: str
    thickness: float
    drawn: float
    """How high its fingers are, as most of them are drawn."""
    outer: tuple[int, ...]
    inner: tuple[int, ...]
    corner_walls: tuple[int, ...] = ()


@dataclass(frozen=True)
class DrawnFeatures:
    """All features of a drawing, in drawing order, and their finger rows."""

    features: tuple[DrawnFeature, ...]
    rows: dict[str, FingerRow] = field(default_factory=dict)
    edges: tuple[EdgeReading, ...] = ()
    """Every stepped edge, and what it is taken for."""
