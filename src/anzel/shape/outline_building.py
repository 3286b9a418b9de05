"""From a sketch to a region: legs as exact segments, corners treated, openings cut."""

from collections.abc import Sequence
from math import hypot

from anzel.core.findings import ParameterError
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segment_mapping import flipped
from anzel.geometry.segments import Arc, Cubic, Line, Segment
from anzel.shape.corners import chamfered, relief_hole, rounded, turn_at
from anzel.shape.sketch import (
    ClosedPath,
    Corner,
    CornerKind,
    Leg,
    LegKind,
    Repeat,
    RepeatKind,
    Sketch,
)

_LEAST_AREA = 1.0


def region_of(sketch: Sketch) -> Region:
    """Return the plate's outline with its openings cut.

    Raises
    ------
    ParameterError
        Naming the path that crosses itself, the corner without room, or the opening that parts the
        plate.
    """
    outline, *openings = [contour_of(path, sketch.corner) for path in sketch.paths]
    for path, contour in zip(sketch.paths, (outline, *openings), strict=True):
        _need_simple(contour, path.id)
    holes = [
        hole for number, path in enumerate(sketch.paths)
        for hole in _reliefs(path, sketch.corner, is_outline=number == 0)
    ]  # fmt: skip
    discs = [Contour.circle((disc.x, disc.y), disc.radius) for disc in sketch.discs]
    names = [*(path.id for path in sketch.paths[1:]), *(disc.id for disc in sketch.discs)]
    cut = []
    for name, contour in zip(names, [*openings, *discs], strict=True):
        copies = copies_of(contour, sketch.repeat(name), outline)
        _need_on(outline, [contour, *copies], name)
        cut += [contour, *copies]
    parts = combine(Region.of(outline), cut=[*cut, *holes])
    if len(parts) != 1:
        raise ParameterError(
            "The openings leave nothing of the plate." if not parts
            else f"The openings part the plate into {len(parts)} pieces.",
            hint="Make one of them smaller, or move it.", field="openings",
        )  # fmt: skip
    return parts[0]


def copies_of(contour: Contour, repeat: Repeat | None, outline: Contour) -> list[Contour]:
    """Return the copies of an opening, without the one that is drawn."""
    if repeat is None:
        return []
    if repeat.kind in (RepeatKind.ROW, RepeatKind.GRID, RepeatKind.RING):
        return [contour.moved(motion) for motion in _motions(repeat)]
    x0, y0, x1, y1 = outline.bounds
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    turned = contour.moved(_about(middle, RigidTransform.rotation(180.0)))
    up, across = (
        Contour(tuple(flipped(segment, y0 + y1) for segment in each.segments))
        for each in (contour, turned)
    )
    copies = {RepeatKind.MIRRORED_X: [across], RepeatKind.MIRRORED_Y: [up]}
    return copies.get(repeat.kind, [across, up, turned])


def _motions(repeat: Repeat) -> list[RigidTransform]:
    if repeat.kind is RepeatKind.RING:
        turns = (360.0 * at / repeat.count for at in range(1, repeat.count))
        return [_about(repeat.centre, RigidTransform.rotation(turn)) for turn in turns]
    dx, dy = repeat.step
    if repeat.kind is RepeatKind.ROW:
        return [RigidTransform().translated(at * dx, at * dy) for at in range(1, repeat.count)]
    places = [(at, row) for row in range(repeat.rows) for at in range(repeat.count)]
    return [RigidTransform().translated(at * dx, row * dy) for at, row in places[1:]]


def _about(centre: Point, turn: RigidTransform) -> RigidTransform:
    """Return a rotation about another centre than the origin."""
    x, y = turn(centre)
    return turn.translated(centre[0] - x, centre[1] - y)


def contour_of(path: ClosedPath, usual: Corner) -> Contour:
    """Return a path as a contour, its corners rounded and chamfered.

    Raises ParameterError for a corner without room.
    """
    legs = segments_of(path)
    trimmed: list[Segment] = list(legs)
    joins: list[Segment | None] = []
    for at, point in enumerate(path.points):
        corner = point.corner or usual
        before, after = trimmed[at - 1], trimmed[at]
        if not corner.size or corner.kind in (CornerKind.SHARP, CornerKind.RELIEF):
            joins.append(None)
            continue
        make = rounded if corner.kind is CornerKind.ROUND else chamfered
        made = make(before, after, corner.size)
        if made is None:
            if point.corner is None:  # what is asked of all corners is done where it can be
                joins.append(None)
                continue
            raise ParameterError(
                f"The corner “{point.id}” has no room for that.",
                hint="Make it smaller.", field=point.id,
            )  # fmt: skip
        trimmed[at - 1], between, trimmed[at] = made
        joins.append(between)
    segments: list[Segment] = []
    for join, leg in zip(joins, trimmed, strict=True):
        segments += [] if join is None else [join]
        segments.append(leg)
    return Contour(tuple(segment for segment in segments if not _is_nothing(segment)))


def segments_of(path: ClosedPath) -> list[Segment]:
    """Return the legs of a path as segments, in order."""
    places = [(point.x, point.y) for point in path.points]
    ends = [*places[1:], places[0]]
    return [
        segment_of(leg, start, end) for leg, start, end in zip(path.legs, places, ends, strict=True)
    ]


def straight_legs(sketch: Sketch) -> dict[str, tuple[Point, Point]]:
    """Return the ends of the straight legs of the outline, by id."""
    path = sketch.paths[0]
    return {
        leg.id: (segment.start, segment.end)
        for leg, segment in zip(path.legs, segments_of(path), strict=True)
        if leg.kind is LegKind.LINE
    }


def segment_of(leg: Leg, start: Point, end: Point) -> Segment:
    """Return a leg between two places as a segment."""
    if leg.kind is LegKind.ARC and leg.centre is not None:
        return Arc(start, end, leg.centre, leg.clockwise)
    if leg.kind is LegKind.CURVE and leg.controls is not None:
        return Cubic(start, *leg.controls, end)
    return Line(start, end)


def _reliefs(path: ClosedPath, usual: Corner, *, is_outline: bool) -> Sequence[Contour]:
    """Return the holes that let a tool into the corners that are open to it."""
    wishes = {(point.corner or usual).kind for point in path.points}
    if CornerKind.RELIEF not in wishes:
        return []
    legs = segments_of(path)
    way = 1.0 if Contour(tuple(legs)).signed_area > 0 else -1.0
    found = []
    for at, point in enumerate(path.points):
        corner = point.corner or usual
        is_outward = turn_at(legs[at - 1], legs[at]) * way > 0
        if corner.kind is CornerKind.RELIEF and corner.size and is_outward is not is_outline:
            hole = relief_hole(legs[at - 1], legs[at], corner.size / 2)
            found.append(Contour.circle(*hole))
    return found


def _is_nothing(segment: Segment) -> bool:
    """Whether a corner has used a leg up."""
    apart = hypot(segment.end[0] - segment.start[0], segment.end[1] - segment.start[1])
    return isinstance(segment, Line) and apart < COINCIDENT


def _need_on(outline: Contour, contours: Sequence[Contour], name: str) -> None:
    """Raise ParameterError for an opening, or a copy of it, that lies beside the plate."""
    shape = outline.polygon_shape
    beside = sum(contour.polygon_shape.disjoint(shape) for contour in contours)
    if beside:
        many = "A copy" if len(contours) > 1 else "The opening"
        raise ParameterError(
            f"{many} of “{name}” lies beside the plate." if len(contours) > 1
            else f"{many} “{name}” lies beside the plate.",
            hint="Move it, or repeat it less often.", field=name,
        )  # fmt: skip


def _need_simple(contour: Contour, name: str) -> None:
    shape = contour.polygon_shape
    if not shape.is_valid or abs(contour.signed_area) < _LEAST_AREA:
        raise ParameterError(
            f"The path “{name}” crosses itself, or encloses nothing.",
            hint="Move its points apart, or type another size.", field=name,
        )  # fmt: skip
