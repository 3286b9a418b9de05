"""A closed path drawn corner by corner: legs clicked and typed, relations seen.

Coordinates are mm; angles are degrees, counter-clockwise from along x.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, degrees, dist, hypot, sqrt

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment
from anzel.shape.corners import heading_at_end, turn_at
from anzel.shape.mirror_recognition import with_mirror_relations
from anzel.shape.outline_building import segments_of
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
from anzel.shape.snapping import direction

_SQUARE = 1e-9
_TANGENT, _SAME = 1e-7, 1e-7
_FEWEST = 3


@dataclass(frozen=True)
class DrawnLeg:
    """A leg to its end; with a `centre` an arc.

    A `length` or `radius` that the maker typed stays held.
    """

    end: Point
    length: float | None = None
    centre: Point | None = None
    clockwise: bool = False
    radius: float | None = None

    def segment(self, start: Point) -> Segment:
        """Return the leg from where the last one ends."""
        if self.centre is None:
            return Line(start, self.end)
        return Arc(start, self.end, self.centre, self.clockwise)


def arc_by_radius(start: Point, end: Point, radius: float) -> DrawnLeg:
    """Return an arc that bulges to the right of its way, or to the left for a radius below 0.

    Raises
    ------
    ParameterError
        For a radius of less than half the way.
    """
    dx, dy = end[0] - start[0], end[1] - start[1]
    chord = hypot(dx, dy)
    if chord == 0 or abs(radius) < chord / 2:
        raise ParameterError(
            f"An arc over {plain_measure(chord)} needs at least half of that as its radius.",
            hint="Type a larger radius.", field="leg",
        )  # fmt: skip
    off = sqrt(radius**2 - chord**2 / 4) / chord * (1 if radius > 0 else -1)
    centre = ((start[0] + end[0]) / 2 - dy * off, (start[1] + end[1]) / 2 + dx * off)
    return DrawnLeg(end, centre=centre, clockwise=radius < 0, radius=abs(radius))


def arc_through(start: Point, through: Point, end: Point) -> DrawnLeg:
    """Return the arc through a point on the way.

    Its centre is that of the circle about three points (any geometry handbook).

    Raises
    ------
    ParameterError
        For three points on one line.
    """
    (bx, by), (cx, cy) = ((p[0] - start[0], p[1] - start[1]) for p in (through, end))
    turn = 2 * (bx * cy - by * cx)
    if abs(turn) <= _SQUARE * max(hypot(bx, by) * hypot(cx, cy), _SQUARE):
        raise ParameterError(
            "Those three points lie on one line, so no arc goes through them.",
            hint="Move the point beside the line.", field="leg",
        )  # fmt: skip
    b, c = bx * bx + by * by, cx * cx + cy * cy
    centre = (start[0] + (cy * b - by * c) / turn, start[1] + (bx * c - cx * b) / turn)
    return DrawnLeg(end, centre=centre, clockwise=turn < 0)


def arc_tangent(start: Point, towards: float, end: Point) -> DrawnLeg:
    """Return the arc that leaves in a direction, degrees, and comes to an end.

    Its centre lies square to that direction, as far as the chord's middle asks for.

    Raises
    ------
    ParameterError
        For an end straight ahead or behind.
    """
    ux, uy = direction(towards)
    dx, dy = end[0] - start[0], end[1] - start[1]
    across = ux * dy - uy * dx
    if abs(across) <= _SQUARE * hypot(dx, dy):
        raise ParameterError(
            "That end lies on the line of the last leg, so no arc leads there.",
            hint="Type a straight leg, or another end.", field="leg",
        )  # fmt: skip
    radius = (dx * dx + dy * dy) / (2 * across)
    centre = (start[0] - uy * radius, start[1] + ux * radius)
    return DrawnLeg(end, centre=centre, clockwise=radius < 0)


def heading(start: Point, legs: Sequence[DrawnLeg]) -> float:
    """Return the direction in which the last leg ends, degrees; 0 before there is one."""
    if not legs:
        return 0.0
    last = drawn_segments(start, legs)[-1]
    x, y = heading_at_end(last)
    return degrees(atan2(y, x))


def with_drawn_path(
    sketch: Sketch, start: Point, legs: Sequence[DrawnLeg], *, is_outline: bool = False
) -> tuple[Sketch, str]:
    """Return the sketch with a path as one more opening or as its outline, and the path's id.

    The last leg leads back to the start if it does not end there. What is
    recognised stays so, and typed lengths and radii are held unless they follow from others. An
    outline takes the place of the one before, and what held that is let go.

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
    )
    made = made.with_changes(relations=(*made.relations, *_relations(path)))
    made = with_mirror_relations(made, name)
    for drawn, leg in zip(legs, path.legs, strict=True):
        if drawn.radius is not None:
            made = _held(made, leg.id, SizeKind.RADIUS, drawn.radius)
        elif drawn.length is not None and leg.kind is LegKind.LINE:
            made = _held(made, leg.id, SizeKind.LENGTH, drawn.length)
    return made, name


def drawn_segments(start: Point, legs: Sequence[DrawnLeg]) -> list[Segment]:
    """Return what has been drawn so far."""
    starts = [start, *(leg.end for leg in legs)]
    return [leg.segment(begin) for begin, leg in zip(starts, legs, strict=False)]


def _need_corners(start: Point, legs: Sequence[DrawnLeg]) -> None:
    if len(legs) < _FEWEST - any(leg.centre is not None for leg in legs):
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
        Leg(id=f"{name} leg {at}") if leg.centre is None
        else Leg(
            id=f"{name} leg {at}", kind=LegKind.ARC, centre=leg.centre, clockwise=leg.clockwise
        )
        for at, leg in enumerate(legs, start=1)
    )  # fmt: skip
    return ClosedPath(id=name, points=points, legs=made)


def _relations(path: ClosedPath) -> list[Relation]:
    """Return what the legs are: level, upright, square to the one before or parallel to another.

    Arcs are recognised as tangent to the legs beside them, concentric, and equal to one another.
    Slanted legs are recognised as equally long; legs that follow a grid often are so by chance.
    """
    segments = segments_of(path)
    found: list[Relation] = []
    slanted: list[tuple[str, Line]] = []
    for at, (leg, segment) in enumerate(zip(path.legs, segments, strict=True)):
        before = (path.legs[at - 1], segments[at - 1])
        if not isinstance(segment, Line):
            continue
        way = heading_at_end(segment)
        if abs(way[1]) <= _SQUARE:
            found.append(Relation(kind=RelationKind.LEVEL, of=(leg.id,)))
        elif abs(way[0]) <= _SQUARE:
            found.append(Relation(kind=RelationKind.UPRIGHT, of=(leg.id,)))
        else:
            found += _of_slanted(leg.id, way, before if at else None, slanted)
            found += _equally_long(leg.id, segment, slanted)
            slanted.append((leg.id, segment))
    return [*found, *_of_arcs(path, segments)]


def _of_slanted(
    leg: str, way: Point, before: tuple[Leg, Segment] | None, others: Sequence[tuple[str, Line]]
) -> list[Relation]:  # fmt: skip
    """Return the one relation that a leg neither level nor upright has with those before it."""
    if before is not None and isinstance(before[1], Line):
        last = heading_at_end(before[1])
        if abs(last[0] * way[0] + last[1] * way[1]) <= _SQUARE:
            return [Relation(kind=RelationKind.SQUARE, of=(before[0].id, leg))]
    for other, line in others:
        along = heading_at_end(line)
        if abs(along[0] * way[1] - along[1] * way[0]) <= _SQUARE:
            return [Relation(kind=RelationKind.PARALLEL, of=(other, leg))]
    return []


def _equally_long(leg: str, line: Line, others: Sequence[tuple[str, Line]]) -> list[Relation]:
    for other, before in others:
        if abs(before.length - line.length) <= _SAME:
            return [Relation(kind=RelationKind.EQUAL, of=(other, leg))]
    return []


def _of_arcs(path: ClosedPath, segments: Sequence[Segment]) -> list[Relation]:
    found: list[Relation] = []
    arcs: list[tuple[str, Arc]] = []
    for at, (leg, segment) in enumerate(zip(path.legs, segments, strict=True)):
        before, last = path.legs[at - 1], segments[at - 1]
        if isinstance(segment, Arc) or isinstance(last, Arc):
            turn = turn_at(last, segment)
            if abs(turn) <= _TANGENT and len(segments) > 2:
                found.append(Relation(kind=RelationKind.TANGENT, of=(before.id, leg.id)))
        if isinstance(segment, Arc):
            for other, arc in arcs:
                if dist(arc.centre, segment.centre) <= _SAME:
                    found.append(Relation(kind=RelationKind.CONCENTRIC, of=(other, leg.id)))
                elif abs(arc.radius - segment.radius) <= _SAME:
                    found.append(Relation(kind=RelationKind.EQUAL, of=(other, leg.id)))
            arcs.append((leg.id, segment))
    return found


def _held(sketch: Sketch, leg: str, kind: SizeKind, value: float) -> Sketch:
    """Return the sketch with a size of a leg held, unless it follows from what is held already."""
    name = new_size_name(sketch, f"{leg} {kind.value}"[:40])
    size = HeldSize(name=name, kind=kind, of=(leg,), value=value)
    try:
        return with_size(sketch, size)
    except ParameterError:
        return sketch
