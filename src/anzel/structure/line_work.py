"""Line work: the lines that lie on a plate, each with what the cutter does along it."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import RigidTransform


class LineOperation(StrEnum):
    """What becomes of a line that lies on a plate."""

    CUT = "cut"
    SCORE = "score"
    ENGRAVE = "engrave"


class LineWish(StrEnum):
    """What a maker wants of the lines of one label."""

    CUT = "cut"
    SCORE = "score"
    ENGRAVE = "engrave"
    LEAVE_OUT = "leave out"


def wish_named(label: str) -> LineWish | None:
    """Return what a label itself names, such as a layer called "score"; None for any other."""
    return LineWish(label) if label in (LineWish.SCORE, LineWish.ENGRAVE) else None


@dataclass(frozen=True)
class PlateLine:
    """A line on the front of a plate, in the plate's coordinates."""

    path: OpenPath
    operation: LineOperation

    def moved(self, motion: RigidTransform) -> "PlateLine":
        """Return the line after a rigid transform."""
        return PlateLine(self.path.moved(motion), self.operation)


def lines_within(lines: Sequence[PlateLine], region: Region) -> tuple[PlateLine, ...]:
    """Return what of some lines lies in a region: they end at its openings and its edge."""
    return tuple(
        PlateLine(part, line.operation) for line in lines for part in line.path.inside(region)
    )
