"""Changes of a sketch that a maker makes by hand: legs split and turned to arcs, openings added.

Each returns another sketch. Coordinates are mm; ids of new things are new in the sketch.
"""

from math import cos, hypot, pi, sin

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Segment, subsegment
from anzel.shape.outline_building import segments_of
from anzel.shape.sketch import (
    ClosedPath,
    Corner,
    Disc,
    HeldSize,
    Leg,
    LegKind,
    Relation,
    RelationKind,
    Repeat,
    SizeKind,
    Sketch,
    SketchPoint,
)

_FLAT_ARC = 0.25
"""A leg that becomes an arc bulges by this share of its length."""
_FEWEST = 2
_STATIONS = 64
"""Places along a leg that are looked at for the nearest one."""


def sketch_of_region(region: Region) -> Sketch:
    """Return a region as a sketch without sizes; round holes are discs, all edges stay exact."""
    paths, discs = [_path_of(region.outer, "outline")], []
    for number, hole in enumerate(region.holes, start=1):
        first = hole.segments[0]
        if hole.is_circle and isinstance(first, Arc):
            x, y = first.centre
            discs.append(Disc(id=f"disc {number}", x=x, y=y, radius=first.radius))
        else:
            paths.append(_path_of(hole, f"opening {number}"))
    return Sketch(paths=tuple(paths), discs=tuple(discs))


def rectangle_sketch(width: float, height: float, rounding: float = 0.0) -> Sketch:
    """Return a board about its middle, with its width and height held."""
    x, y = width / 2, height / 2
    path = _straight_path("outline", [(-x, -y), (x, -y), (x, y), (-x, y)])
    corners = [point.id for point in path.points]
    sizes = (
        HeldSize(name="width", kind=SizeKind.ALONG_X, of=(corners[0], corners[1]), value=width),
        HeldSize(name="height", kind=SizeKind.ALONG_Y, of=(corners[0], corners[3]), value=height),
    )
    corner = Corner(kind="round", size=rounding) if rounding else Corner()
    return Sketch(paths=(path,), sizes=sizes, relations=_square_relations(path), corner=corner)


def with_window(sketch: Sketch, middle: Point, width: float, height: float) -> tuple[Sketch, str]:
    """Return the sketch with a rectangular opening, its sizes held, and the opening's id."""
    name = new_id(sketch, "window")
    x, y = middle
    corners = [(x + sx * width / 2, y + sy * height / 2) for sx, sy in
               ((-1, -1), (1, -1), (1, 1), (-1, 1))]  # fmt: skip
    path = _straight_path(name, corners)
    ids = [point.id for point in path.points]
    sizes = (
        HeldSize(name=f"{name} width", kind=SizeKind.ALONG_X, of=(ids[0], ids[1]), value=width),
        HeldSize(name=f"{name} height", kind=SizeKind.ALONG_Y, of=(ids[0], ids[3]), value=height),
    )
    return sketch.with_changes(
        paths=(*sketch.paths, path), sizes=(*sketch.sizes, *sizes),
        relations=(*sketch.relations, *_square_relations(path)),
    ), name  # fmt: skip


def with_disc(sketch: Sketch, middle: Point, radius: float) -> tuple[Sketch, str]:
    """Return the sketch with a round opening, its diameter held, and the opening's id."""
    name = new_id(sketch, "disc")
    disc = Disc(id=name, x=middle[0], y=middle[1], radius=radius)
    size = HeldSize(
        name=f"{name} diameter", kind=SizeKind.DIAMETER, of=(name,), value=2 * radius
    )  # fmt: skip
    return sketch.with_changes(discs=(*sketch.discs, disc), sizes=(*sketch.sizes, size)), name


def with_round_ended(
    sketch: Sketch, middle: Point, length: float, width: float
) -> tuple[Sketch, str]:
    """Return the sketch with a level opening with round ends, its sizes held, and its id."""
    name = new_id(sketch, "round-ended")
    x, y, half, radius = *middle, (length - width) / 2, width / 2
    places = [(x - half, y - radius), (x + half, y - radius), (x + half, y + radius),
              (x - half, y + radius)]  # fmt: skip
    path = _straight_path(name, places)
    legs = [leg.id for leg in path.legs]
    ends = {1: (x + half, y), 3: (x - half, y)}
    bent = tuple(
        Leg(id=leg, kind=LegKind.ARC, centre=ends[at]) if at in ends else Leg(id=leg)
        for at, leg in enumerate(legs)
    )
    relations = (
        Relation(kind=RelationKind.LEVEL, of=(legs[0],)),
        Relation(kind=RelationKind.PARALLEL, of=(legs[0], legs[2])),
        *(Relation(kind=RelationKind.TANGENT, of=(legs[at], legs[to]))
          for at, to in ((0, 1), (2, 1), (2, 3), (0, 3))),
    )  # fmt: skip
    sizes = (
        HeldSize(name=f"{name} radius", kind=SizeKind.RADIUS, of=(legs[1],), value=radius),
        HeldSize(name=f"{name} straight", kind=SizeKind.LENGTH, of=(legs[0],), value=2 * half),
    )
    return sketch.with_changes(
        paths=(*sketch.paths, path.with_changes(legs=bent)), sizes=(*sketch.sizes, *sizes),
        relations=(*sketch.relations, *relations),
    ), name  # fmt: skip


def with_polygon(sketch: Sketch, middle: Point, corners: int, side: float) -> tuple[Sketch, str]:
    """Return the sketch with a regular polygon as an opening, its side held, and its id.

    The circumradius is side / (2 sin(π/n)), as in any geometry handbook.
    """
    name = new_id(sketch, f"{corners} corners")
    radius = side / (2 * sin(pi / corners))
    turns = [pi / 2 + 2 * pi * at / corners for at in range(corners)]
    places = [(middle[0] + radius * cos(t), middle[1] + radius * sin(t)) for t in turns]
    path = _straight_path(name, places)
    legs = [leg.id for leg in path.legs]
    size = HeldSize(name=f"{name} side", kind=SizeKind.LENGTH, of=(legs[0],), value=side)
    equal = [Relation(kind=RelationKind.EQUAL, of=(legs[0], leg)) for leg in legs[1:]]
    angles = [
        HeldSize(
            name=f"{name} angle {at + 1}", kind=SizeKind.ANGLE, of=(legs[at], legs[at + 1]),
            value=360 / corners,
        )
        for at in range(corners - 3)
    ]  # fmt: skip
    return sketch.with_changes(
        paths=(*sketch.paths, path), sizes=(*sketch.sizes, size, *angles),
        relations=(*sketch.relations, *equal),
    ), name  # fmt: skip


def with_repeat(sketch: Sketch, repeat: Repeat) -> Sketch:
    """Return the sketch with another repeat of an opening."""
    others = tuple(each for each in sketch.repeats if each.of != repeat.of)
    return sketch.with_changes(repeats=(*others, repeat))


def without_repeat(sketch: Sketch, opening: str) -> Sketch:
    """Return the sketch with an opening only once."""
    return sketch.with_changes(repeats=tuple(r for r in sketch.repeats if r.of != opening))


def split_leg(sketch: Sketch, leg_id: str, t: float) -> tuple[Sketch, str]:
    """Return the sketch with a point more on a leg, at a share of its way, and the point's id.

    The outline stays as it is; what held the leg is let go.
    """
    path, at = _path_with_leg(sketch, leg_id)
    segment, leg = segments_of(path)[at], path.legs[at]
    place = segment.point_at(t)
    first = subsegment(segment, 0.0, t, segment.start, place)
    second = subsegment(segment, t, 1.0, place, segment.end)
    point = SketchPoint(id=new_id(sketch, "point"), x=place[0], y=place[1])
    legs = (_leg_of(first, leg.id), _leg_of(second, new_id(sketch, "leg")))
    changed = path.with_changes(
        points=(*path.points[: at + 1], point, *path.points[at + 1 :]),
        legs=(*path.legs[:at], *legs, *path.legs[at + 1 :]),
    )
    return _with_path(without_names(sketch, {leg_id}), changed), point.id


def without_point(sketch: Sketch, point_id: str) -> Sketch:
    """Return the sketch without a point: its two legs become one straight leg.

    What held it is let go. Raises ParameterError where too few points would be left.
    """
    path = _path_with_point(sketch, point_id)
    if len(path.points) <= _FEWEST + 1:
        raise ParameterError(
            "An outline needs at least three points.", hint="Take the whole opening out.",
            field=point_id,
        )  # fmt: skip
    at = [point.id for point in path.points].index(point_id)
    before = path.legs[at - 1]
    legs = [leg for leg in path.legs if leg.id not in (before.id, path.legs[at].id)]
    legs.insert(len(legs) if at == 0 else at - 1, Leg(id=before.id))
    points = tuple(point for point in path.points if point.id != point_id)
    changed = path.with_changes(points=points, legs=tuple(legs))
    gone = {point_id, path.legs[at].id, before.id}
    return _with_path(without_names(sketch, gone), changed)


def without_opening(sketch: Sketch, name: str) -> Sketch:
    """Return the sketch without an opening, by its id, and without what held it."""
    paths = tuple(p for at, p in enumerate(sketch.paths) if at == 0 or p.id != name)
    gone = {name, *(each for p in sketch.paths[1:] if p.id == name for each in p.ids())}
    kept = without_names(sketch, gone)
    return kept.with_changes(
        repeats=tuple(repeat for repeat in sketch.repeats if repeat.of != name),
        paths=paths,
        discs=tuple(disc for disc in sketch.discs if disc.id != name),
    )


def with_leg_kind(sketch: Sketch, leg_id: str, kind: LegKind) -> Sketch:
    """Return the sketch with a leg straight, an arc or a curve; its ends stay.

    What held the leg as it was is let go.
    """
    path, at = _path_with_leg(sketch, leg_id)
    if path.legs[at].kind is kind:
        return sketch
    start, end = (path.points[at], path.points[(at + 1) % len(path.points)])
    dx, dy = end.x - start.x, end.y - start.y
    leg = Leg(id=leg_id)
    if kind is LegKind.ARC:  # a flat arc that bulges out of a counter-clockwise outline
        rise = (1 / _FLAT_ARC - _FLAT_ARC) / 4
        centre = ((start.x + end.x) / 2 - dy * rise, (start.y + end.y) / 2 + dx * rise)
        leg = Leg(id=leg_id, kind=kind, centre=centre)
    elif kind is LegKind.CURVE:
        controls = ((start.x + dx / 3, start.y + dy / 3), (end.x - dx / 3, end.y - dy / 3))
        leg = Leg(id=leg_id, kind=kind, controls=controls)
    legs = (*path.legs[:at], leg, *path.legs[at + 1 :])
    return _with_path(without_names(sketch, {leg_id}), path.with_changes(legs=legs))


def with_corner(sketch: Sketch, point_id: str, corner: Corner | None) -> Sketch:
    """Return the sketch with another treatment of a corner; None for the sketch's own."""
    path = _path_with_point(sketch, point_id)
    points = [
        point.with_changes(corner=corner) if point.id == point_id else point
        for point in path.points
    ]
    return _with_path(sketch, path.with_changes(points=tuple(points)))


def new_size_name(sketch: Sketch, wanted: str) -> str:
    """Return a name that no size has yet."""
    return new_name({size.name for size in sketch.sizes}, wanted)


def _path_with_point(sketch: Sketch, point_id: str) -> ClosedPath:
    for path in sketch.paths:
        if any(point.id == point_id for point in path.points):
            return path
    raise ParameterError(f"There is no point “{point_id}”.")


def _path_with_leg(sketch: Sketch, leg_id: str) -> tuple[ClosedPath, int]:
    for path in sketch.paths:
        for at, leg in enumerate(path.legs):
            if leg.id == leg_id:
                return path, at
    raise ParameterError(f"There is no leg “{leg_id}”.")


def _with_path(sketch: Sketch, changed: ClosedPath) -> Sketch:
    return sketch.with_changes(
        paths=tuple(changed if path.id == changed.id else path for path in sketch.paths)
    )


def without_names(sketch: Sketch, gone: set[str]) -> Sketch:
    """Return the sketch without the sizes and relations of what is gone."""
    return sketch.with_changes(
        sizes=tuple(size for size in sketch.sizes if not gone & set(size.of)),
        relations=tuple(each for each in sketch.relations if not gone & set(each.of)),
    )


def _path_of(contour: Contour, name: str) -> ClosedPath:
    segments = contour.segments
    if len(segments) == 1:  # a full circle has no corner to begin at
        half = segments[0].point_at(0.5)
        segments = (
            subsegment(segments[0], 0.0, 0.5, segments[0].start, half),
            subsegment(segments[0], 0.5, 1.0, half, segments[0].end),
        )
    points = tuple(
        SketchPoint(id=f"{name} {at}", x=each.start[0], y=each.start[1])
        for at, each in enumerate(segments, start=1)
    )
    legs = tuple(_leg_of(each, f"{name} leg {at}") for at, each in enumerate(segments, start=1))
    return ClosedPath(id=name, points=points, legs=legs)


def _leg_of(segment: Segment, name: str) -> Leg:
    if isinstance(segment, Arc):
        return Leg(id=name, kind=LegKind.ARC, centre=segment.centre, clockwise=segment.clockwise)
    if isinstance(segment, Cubic):
        return Leg(id=name, kind=LegKind.CURVE, controls=segment.controls[1:3])
    return Leg(id=name)


def _straight_path(name: str, corners: list[Point]) -> ClosedPath:
    points = [
        SketchPoint(id=f"{name} {at}", x=x, y=y) for at, (x, y) in enumerate(corners, start=1)
    ]
    legs = [Leg(id=f"{name} leg {at}") for at in range(1, len(corners) + 1)]
    return ClosedPath(id=name, points=tuple(points), legs=tuple(legs))


def _square_relations(path: ClosedPath) -> tuple[Relation, ...]:
    """Level and upright legs, by turns."""
    kinds = (RelationKind.LEVEL, RelationKind.UPRIGHT)
    return tuple(
        Relation(kind=kinds[at % 2], of=(leg.id,)) for at, leg in enumerate(path.legs)
    )  # fmt: skip


def new_id(sketch: Sketch, wanted: str) -> str:
    """Return an id that nothing on the sketch has yet."""
    return new_name(set(sketch.ids()), wanted)


def new_name(taken: set[str], wanted: str) -> str:
    """Return a name like the wanted one that is not taken."""
    if wanted not in taken:
        return wanted
    return next(f"{wanted} {n}" for n in range(2, 10_000) if f"{wanted} {n}" not in taken)


def ends_of(sketch: Sketch, leg_id: str) -> tuple[str, str]:
    """Return the points that a leg runs between."""
    path, at = _path_with_leg(sketch, leg_id)
    return path.points[at].id, path.points[(at + 1) % len(path.points)].id


def nearest_on(sketch: Sketch, at: Point) -> tuple[str, float, float]:
    """Return the leg nearest to a place, the share of its way, and how far off it is, mm."""
    best = ("", 0.0, float("inf"))
    for path in sketch.paths:
        for leg, segment in zip(path.legs, segments_of(path), strict=True):
            for step in range(_STATIONS + 1):
                t = step / _STATIONS
                x, y = segment.point_at(t)
                off = hypot(x - at[0], y - at[1])
                if off < best[2]:
                    best = (leg.id, t, off)
    return best
