"""A closed path drawn corner by corner: places that help, legs that were typed, relations seen.

Coordinates are mm; angles are degrees, counter-clockwise from along x.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin, sqrt

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.shape.outline_building import segment_of
from anzel.shape.sketch import (
    ClosedPath,
    HeldSize,
    Leg,
    LegKind,
    Relation,
    RelationKind,
    SizeKind,
    Sketch,
    SketchPoint,
)
from anzel.shape.sketch_changes import new_id, new_size_name, without_names
from anzel.shape.sketch_solver import with_size

TURN_STEP = 15.0
_EXACT = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}
_SQUARE = 1e-9
_FEWEST = 3


@dataclass(frozen=True)
class DrawnLeg:
    """A leg to its end.

    `length` is what the maker typed, and stays held; with a `radius` the leg is an arc, which
    bulges to the right of its way where the radius is more than 0.
    """

    end: Point
    length: float | None = None
    radius: float | None = None


@dataclass(frozen=True)
class SnappedPlace:
    """A place for the next corner, with the levels it lies at and the angle its leg came to."""

    place: Point
    level_x: float | None = None
    level_y: float | None = None
    angle: float | None = None


def snapped_place(
    at: Point, last: Point | None, others: Sequence[Point], reach: float, step: float
) -> SnappedPlace:
    """Return the best place within `reach` of where the maker points.

    The levels of other points come first, then the directions at whole 15° from the last corner,
    with a length of whole steps, then the grid of steps.
    """
    level_x, level_y = (_nearest((p[axis] for p in others), at[axis], reach) for axis in (0, 1))
    if level_x is None and level_y is None and last is not None and at != last:
        dx, dy = at[0] - last[0], at[1] - last[1]
        angle = round(degrees(atan2(dy, dx)) / TURN_STEP) * TURN_STEP
        ux, uy = direction(angle)
        if abs(ux * dy - uy * dx) <= reach:
            length = max(round((ux * dx + uy * dy) / step), 1) * step
            return SnappedPlace((last[0] + ux * length, last[1] + uy * length), angle=angle)
    x = level_x if level_x is not None else round(at[0] / step) * step
    y = level_y if level_y is not None else round(at[1] / step) * step
    return SnappedPlace((x, y), level_x, level_y)


def _nearest(levels: Iterable[float], at: float, reach: float) -> float | None:
    near = min(levels, key=lambda level: abs(level - at), default=None)
    return near if near is not None and abs(near - at) <= reach else None


def direction(angle: float) -> Point:
    """Return the unit vector of an angle, exact at whole right angles."""
    exact = _EXACT.get(angle % 360.0)
    return exact or (cos(radians(angle)), sin(radians(angle)))


def heading(corners: Sequence[Point]) -> float:
    """Return the angle of the last leg; 0 before there is one."""
    if len(corners) < 2:
        return 0.0
    (ax, ay), (bx, by) = corners[-2:]
    return degrees(atan2(by - ay, bx - ax))


def with_drawn_path(
    sketch: Sketch, start: Point, legs: Sequence[DrawnLeg], *, is_outline: bool = False
) -> tuple[Sketch, str]:
    """Return the sketch with a path as one more opening or as its outline, and the path's id.

    The last leg leads back to the start if it does not end there. Level, upright and square legs
    stay so, and typed lengths are held unless they follow from others. An outline takes the place
    of the one before, and what held that is let go.

    Raises
    ------
    ParameterError
        Where the corners are too few or two of them are one.
    """
    if not legs or legs[-1].end != start:
        legs = [*legs, DrawnLeg(start)]
    _need_corners(start, legs)
    name = sketch.paths[0].id if is_outline else new_id(sketch, "opening")
    path = _path(name, start, legs)
    kept = without_names(sketch, set(sketch.paths[0].ids())) if is_outline else sketch
    made = kept.with_changes(
        paths=(path, *kept.paths[1:]) if is_outline else (*kept.paths, path),
        relations=(*kept.relations, *_relations(path)),
    )
    for drawn, leg in zip(legs, path.legs, strict=True):
        if drawn.length is not None and leg.kind is LegKind.LINE:
            made = _held(made, leg.id, drawn.length)
    return made, name


def drawn_segments(start: Point, legs: Sequence[DrawnLeg]) -> list[Segment]:
    """Return what has been drawn so far; an arc that cannot be raises ParameterError."""
    corners = [start, *(leg.end for leg in legs)]
    return [
        segment_of(_leg(f"leg {at}", corners[at - 1], leg), corners[at - 1], leg.end)
        for at, leg in enumerate(legs, start=1)
    ]


def _need_corners(start: Point, legs: Sequence[DrawnLeg]) -> None:
    if len(legs) < _FEWEST - any(leg.radius is not None for leg in legs):
        raise ParameterError(
            "A closed path needs at least three corners.", hint="Add another corner.", field="leg"
        )
    before = start
    for number, leg in enumerate(legs, start=1):
        if leg.end == before:
            raise ParameterError(
                f"Leg {number} has no length.", hint="Take its corner back.", field="leg"
            )
        before = leg.end


def _path(name: str, start: Point, legs: Sequence[DrawnLeg]) -> ClosedPath:
    corners = [start, *(leg.end for leg in legs)]
    points = tuple(
        SketchPoint(id=f"{name} {at}", x=x, y=y) for at, (x, y) in enumerate(corners[:-1], start=1)
    )
    made = tuple(
        _leg(f"{name} leg {at}", corners[at - 1], leg) for at, leg in enumerate(legs, start=1)
    )
    return ClosedPath(id=name, points=points, legs=made)


def _leg(name: str, start: Point, leg: DrawnLeg) -> Leg:
    if leg.radius is None:
        return Leg(id=name)
    dx, dy = leg.end[0] - start[0], leg.end[1] - start[1]
    chord, radius = hypot(dx, dy), leg.radius
    if abs(radius) < chord / 2:
        raise ParameterError(
            f"An arc over {plain_measure(chord)} needs at least half of that as its radius.",
            hint="Type a larger radius.", field="leg",
        )  # fmt: skip
    off = sqrt(radius**2 - chord**2 / 4) / chord * (1 if radius > 0 else -1)
    centre = ((start[0] + leg.end[0]) / 2 - dy * off, (start[1] + leg.end[1]) / 2 + dx * off)
    return Leg(id=name, kind=LegKind.ARC, centre=centre, clockwise=radius < 0)


def _relations(path: ClosedPath) -> list[Relation]:
    """Return what the straight legs are: level, upright, or square to the one before."""
    found: list[Relation] = []
    spans: list[tuple[str, float, float] | None] = []
    for at, leg in enumerate(path.legs):
        one, other = path.points[at], path.points[(at + 1) % len(path.points)]
        is_line = leg.kind is LegKind.LINE
        spans.append((leg.id, other.x - one.x, other.y - one.y) if is_line else None)
    for before, span in zip([None, *spans], spans, strict=False):
        if span is None:
            continue
        name, dx, dy = span
        long = hypot(dx, dy)
        if abs(dy) <= _SQUARE * long:
            found.append(Relation(kind=RelationKind.LEVEL, of=(name,)))
        elif abs(dx) <= _SQUARE * long:
            found.append(Relation(kind=RelationKind.UPRIGHT, of=(name,)))
        elif before is not None and abs(before[1] * dx + before[2] * dy) <= _SQUARE * long * hypot(
            *before[1:]
        ):
            found.append(Relation(kind=RelationKind.SQUARE, of=(before[0], name)))
    return found


def _held(sketch: Sketch, leg: str, length: float) -> Sketch:
    """Return the sketch with a leg's length held, unless it follows from what is held already."""
    name = new_size_name(sketch, f"{leg} length"[:40])
    size = HeldSize(name=name, kind=SizeKind.LENGTH, of=(leg,), value=length)
    try:
        return with_size(sketch, size)
    except ParameterError:
        return sketch
