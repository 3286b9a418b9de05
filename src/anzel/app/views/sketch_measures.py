"""What can be measured on a drawn plate between the things that are picked, and what holds them."""

from collections.abc import Sequence
from dataclasses import dataclass

from anzel.app.selection import Thing, ThingKind
from anzel.core.number_format import plain_measure, plain_number
from anzel.shape.sketch import Corner, LegKind, Relation, RelationKind, SizeKind, Sketch
from anzel.shape.sketch_solver import measured

_WORDS = {
    SizeKind.ALONG_X: "Along x", SizeKind.ALONG_Y: "Along y", SizeKind.DISTANCE: "Distance",
    SizeKind.TO_LEG: "Distance to the leg", SizeKind.LENGTH: "Length", SizeKind.ANGLE: "Angle",
    SizeKind.RADIUS: "Radius", SizeKind.DIAMETER: "Diameter",
}  # fmt: skip

_WITH_PAIR = 4


@dataclass(frozen=True)
class Measure:
    """Something measured: mm or degrees, and the name of the size that holds it, if one does."""

    kind: SizeKind
    of: tuple[str, ...]
    value: float
    held: str = ""

    @property
    def key(self) -> str:
        """What tells it from others."""
        return f"{self.kind.value} {'|'.join(self.of)} {self.held}"

    @property
    def words(self) -> str:
        """Its label."""
        return _WORDS[self.kind]


def measures_of(sketch: Sketch, things: Sequence[Thing]) -> list[Measure]:
    """Return what can be measured between things."""
    found = []
    for kind, of in _possible(sketch, things):
        held = next(
            (size for size in sketch.sizes if size.kind is kind and set(size.of) == set(of)), None
        )
        value = held.value if held is not None else measured(sketch, kind, of)
        found.append(Measure(kind, held.of if held else of, value, held.name if held else ""))
    return found


def _possible(
    sketch: Sketch, things: Sequence[Thing]
) -> list[tuple[SizeKind, tuple[str, ...]]]:  # fmt: skip
    discs = {disc.id for disc in sketch.discs}
    kinds = {leg.id: leg.kind for path in sketch.paths for leg in path.legs}
    points = [t.name for t in things if t.kind is ThingKind.POINT or t.name in discs]
    legs = [t.name for t in things if t.kind is ThingKind.LEG]
    lines = [name for name in legs if kinds.get(name) is LegKind.LINE]
    if len(things) == 1 and things[0].name in discs:
        return [(SizeKind.DIAMETER, (things[0].name,))]
    if len(things) == 1 and lines:
        return [(SizeKind.LENGTH, (lines[0],))]
    if len(things) == 1 and legs and kinds[legs[0]] is LegKind.ARC:
        return [(SizeKind.RADIUS, (legs[0],))]
    if len(things) == 2 and len(points) == 2:
        return [(kind, tuple(points)) for kind in
                (SizeKind.ALONG_X, SizeKind.ALONG_Y, SizeKind.DISTANCE)]  # fmt: skip
    if len(things) == 2 and len(points) == 1 and lines:
        return [(SizeKind.TO_LEG, (points[0], lines[0]))]
    if len(things) == 2 and len(lines) == 2:
        start = _start_of(sketch, lines[1])
        return [(SizeKind.ANGLE, (lines[0], lines[1])), (SizeKind.TO_LEG, (start, lines[0]))]
    return []


def _start_of(sketch: Sketch, leg_id: str) -> str:
    return next(
        point.id for path in sketch.paths
        for point, leg in zip(path.points, path.legs, strict=True) if leg.id == leg_id
    )  # fmt: skip


def _words(relation: Relation) -> str:
    of = relation.of
    if relation.kind is not RelationKind.SYMMETRIC or len(of) < _WITH_PAIR:
        return f"{relation.kind.value}: {', '.join(of)}"
    points = " and ".join(dict.fromkeys(of[:2]))
    return f"symmetric: {points}, about the middle of {of[2]} and {of[3]}"


def held_by(sketch: Sketch, things: Sequence[Thing]) -> dict[str, str]:
    """Return the sizes and relations that name things, as words by their key (see `let_go`)."""
    names = {thing.name for thing in things}
    sizes = {
        f"size {size.name}": f"{size.name} {_figure(size.kind, size.value)}"
        for size in sketch.sizes if names & set(size.of)
    }  # fmt: skip
    relations = {
        f"relation {at}": _words(relation)
        for at, relation in enumerate(sketch.relations) if names & set(relation.of)
    }  # fmt: skip
    return sizes | relations


def _figure(kind: SizeKind, value: float) -> str:
    from anzel.app.number_display import shown

    return f"{plain_number(value)}°" if kind is SizeKind.ANGLE else shown(plain_measure(value))


def corner_of(sketch: Sketch, point_id: str) -> Corner:
    """Return the treatment of a corner: its own, or the sketch's."""
    points = {point.id: point for path in sketch.paths for point in path.points}
    point = points.get(point_id)
    return sketch.corner if point is None or point.corner is None else point.corner


def place_of(sketch: Sketch, point_id: str) -> tuple[float, float] | None:
    """Return where a point is, mm; None where there is none of that id."""
    return sketch.places().get(point_id)
