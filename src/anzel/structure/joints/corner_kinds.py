"""The kinds of joints that two plates can have where they meet edge to edge.

A corner keeps its plates, its fit and which of them leads when its kind changes.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

from anzel.structure.joints.corner_lap import CornerLap
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.registry import AnyKind
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.three_lap import ThreeLap

USUAL_WEB = 6.0
"""How far a plate with mortises reaches past the tabbed one unless the maker says so, mm."""
Corner = FingerCorner | CornerLap | TabMortise
FINGERS, ALIKE, HALVES = "fingers", "fingers, edges alike", "half and half"
LAPPED, TABBED = "overlapping slots", "tabs and mortises"
KIND_NAMES = (FINGERS, ALIKE, HALVES, LAPPED, TABBED)
_USUAL_CELLS = 5
_MOST_TABS = 8


def corner_kind(joint: object) -> str | None:
    """Return which kind of corner a joint is; None for a joint that is none."""
    if isinstance(joint, FingerCorner):
        if joint.cells == 2:
            return HALVES
        return ALIKE if joint.cells % 2 == 0 else FINGERS
    if isinstance(joint, CornerLap):
        return LAPPED
    return TABBED if isinstance(joint, TabMortise) and joint.beyond is not None else None


def as_corner(joint: Corner, kind: str, length: float) -> Corner:
    """Return a corner of another kind between the same plates, along an edge so long, mm."""
    first, second = corner_plates(joint)
    cells = joint.cells if isinstance(joint, FingerCorner) and joint.cells > 2 else _USUAL_CELLS
    makers: Mapping[str, Callable[[], Corner]] = {
        FINGERS: lambda: FingerCorner(joint.id, first, second, cells | 1, joint.fit),
        ALIKE: lambda: FingerCorner(joint.id, first, second, cells + cells % 2, joint.fit),
        HALVES: lambda: FingerCorner(joint.id, first, second, 2, joint.fit),
        LAPPED: lambda: CornerLap(joint.id, first, second, fit=joint.fit),
        TABBED: lambda: TabMortise(
            joint.id, first, second, _tabs(length), fit=joint.fit, beyond=USUAL_WEB
        ),
    }
    return makers[kind]()


def corner_plates(joint: Corner) -> tuple[str, str]:
    """Return the plates of a corner, the one that leads first."""
    if isinstance(joint, FingerCorner):
        return joint.first, joint.second
    if isinstance(joint, CornerLap):
        return joint.from_above, joint.from_below
    return joint.tabbed, joint.mortised


def _tabs(length: float) -> tuple[tuple[float, float], ...]:
    """Return tabs spread evenly about the middle of an edge."""
    count = min(max(round(length / 45.0), 1), _MOST_TABS)
    share = length / count
    return tuple(((i + 0.5) * share - length / 2, round(share / 2, 1)) for i in range(count))


def led_by_other(joint: AnyKind) -> AnyKind:
    """Return a joint whose plates have changed their parts; the same where they have none.

    Of a corner the other plate leads, of slots the other plate is slotted from above, and of three
    on one line the lowest goes to the top.
    """
    if isinstance(joint, FingerCorner):
        return replace(joint, first=joint.second, second=joint.first)
    if isinstance(joint, CrossLap | CornerLap):
        return replace(joint, from_above=joint.from_below, from_below=joint.from_above)
    if isinstance(joint, ThreeLap):
        return replace(joint, lowest=joint.middle, middle=joint.highest, highest=joint.lowest)
    if isinstance(joint, TabMortise) and joint.beyond is not None:
        return replace(joint, tabbed=joint.mortised, mortised=joint.tabbed)
    return joint
