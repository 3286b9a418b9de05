"""Line work: the lines that lie on a plate, each with what the cutter does along it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from itertools import pairwise

import numpy as np
import shapely

from anzel.geometry.hatching import hatched
from anzel.geometry.open_path import OpenPath
from anzel.geometry.prepared import prepared
from anzel.geometry.regions import Contour, Region, Stroke
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Line

SPACING = 0.2
"""From one stroke of an engraved area to the next, mm (common practice, no source)."""


class LineOperation(StrEnum):
    """What becomes of a line that lies on a plate."""

    CUT = "cut"
    SCORE = "score"
    ENGRAVE = "engrave"


class LineWish(StrEnum):
    """What a maker wants of the lines of one label.

    To engrave the area is to hatch what closed lines enclose.
    """

    CUT = "cut"
    SCORE = "score"
    ENGRAVE = "engrave"
    AREA = "engrave the area"
    LEAVE_OUT = "leave out"


_NAMED = (LineWish.CUT, LineWish.SCORE, LineWish.ENGRAVE, LineWish.AREA)


def wish_named(label: str) -> LineWish | None:
    """Return what a label itself names, such as one with a layer called "score"; else None."""
    for part in label.lower().split("/"):
        if part in _NAMED:
            return LineWish(part)
    return None


@dataclass(frozen=True)
class PlateLine:
    """A line on a face of a plate, in the plate's coordinates, seen with its front."""

    path: OpenPath
    operation: LineOperation
    keep_off: float = 0.0
    """It ends so far from joints, mm; 0 lets it run up to them."""
    is_back: bool = False
    """Whether it lies on the back face; what is cut goes through both."""
    is_name: bool = False
    """Whether it belongs to the name or the number that is engraved on the piece."""

    def moved(self, motion: RigidTransform) -> "PlateLine":
        """Return the line after a rigid transform."""
        return replace(self, path=self.path.moved(motion))


def name_lines(strokes: Sequence[Stroke]) -> tuple[PlateLine, ...]:
    """Return the strokes of a name or number as engraved lines."""
    return tuple(
        PlateLine(OpenPath(tuple(Line(a, b) for a, b in pairwise(stroke) if a != b)),
                  LineOperation.ENGRAVE, is_name=True)
        for stroke in strokes if len(set(stroke)) > 1
    )  # fmt: skip


def worked(
    paths: Sequence[OpenPath], wish: LineWish, spacing: float = SPACING, keep_off: float = 0.0
) -> tuple[PlateLine, ...]:
    """Return lines with what a maker wants of them; areas are hatched `spacing` mm apart.

    Of what is to be engraved as an area, lines that enclose nothing are engraved as lines.
    """
    if wish is LineWish.LEAVE_OUT:
        return ()
    if wish is LineWish.AREA:
        closed = [Contour(path.segments) for path in paths if path.is_closed]
        paths = [*hatched(closed, spacing), *(path for path in paths if not path.is_closed)]
        wish = LineWish.ENGRAVE
    operation = LineOperation(wish.value)
    return tuple(PlateLine(path, operation, keep_off) for path in paths)


def lines_within(
    lines: Sequence[PlateLine], region: Region, kept: Sequence[shapely.Polygon] = ()
) -> tuple[PlateLine, ...]:
    """Return what of some lines lies in a region: they end at its openings and its edge.

    Those that keep off joints end before the joints' shapes, which are `kept` clear.
    """
    if not lines:
        return ()
    found: list[PlateLine] = []
    shape = prepared(_sound(region.shape))
    for line, is_whole in zip(lines, _wholly_inside(lines, shape), strict=True):
        parts = [line.path] if is_whole else line.path.within(shape)
        if line.keep_off > 0 and kept:
            away = prepared(_kept_clear(tuple(kept), line.keep_off))
            parts = [piece for part in parts for piece in part.within(away, inside=False)]
        found += [replace(line, path=part) for part in parts]
    return tuple(found)


def _sound(shape: shapely.Polygon) -> shapely.Geometry:
    """Return a shape that lines can be ended at.

    That of a found drawing can cross itself, until its feature is held.
    """
    return shape if shapely.is_valid(shape) else shapely.make_valid(shape)


def _wholly_inside(lines: Sequence[PlateLine], shape: shapely.Geometry) -> Sequence[bool]:
    """Return for each line whether it is surely inside as a whole: most are, and that is quick.

    A curve is where the box round it is.
    """
    paths = [line.path for line in lines]
    points = np.array([point for path in paths for point in path.stroke])
    counts = [len(path.stroke) for path in paths]
    reach = shapely.linestrings(points, indices=np.repeat(np.arange(len(paths)), counts))
    for at, path in enumerate(paths):
        if not path.is_straight:
            boxes = np.array([segment.bounds for segment in path.segments])
            reach[at] = shapely.box(*boxes[:, :2].min(axis=0), *boxes[:, 2:].max(axis=0))
    inside: Sequence[bool] = shapely.contains_properly(shape, reach).tolist()
    return inside


@lru_cache(maxsize=64)  # all lines of an item keep off the same joints
def _kept_clear(shapes: tuple[shapely.Polygon, ...], distance: float) -> shapely.Geometry:
    return shapely.union_all(shapes).buffer(distance)
