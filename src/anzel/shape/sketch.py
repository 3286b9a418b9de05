"""A sketch: the paths of a plate, the sizes that hold on them, and their relations.

Coordinates are mm in the plate. A *path* is a closed run of legs between points; the first is the
outline, the others are openings, as are *discs*. Everything that a size or a relation names has an
id that is unique in the sketch. A sketch is always solved: whoever changes it solves it again.
"""

from collections import Counter
from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, Self

from pydantic import Field, model_validator

from anzel.core.immutable import Immutable

FURTHEST = 5000.0
Coordinate = Annotated[float, Field(ge=-FURTHEST, le=FURTHEST)]
Id = Annotated[str, Field(min_length=1, max_length=40)]
Handle = tuple[Coordinate, Coordinate]
MOST_POINTS = 600


class LegKind(StrEnum):
    """How a leg runs from its point to the next."""

    LINE = "line"
    ARC = "arc"
    CURVE = "curve"


class CornerKind(StrEnum):
    """What becomes of a corner."""

    SHARP = "sharp"
    ROUND = "round"
    CHAMFER = "chamfer"
    RELIEF = "relief"


class Corner(Immutable):
    """A corner's treatment.

    The size is the radius of a round corner, the length that a chamfer takes off each leg, or the
    diameter of a hole that lets a tool into the corner.
    """

    kind: CornerKind = CornerKind.SHARP
    size: float = Field(default=0.0, ge=0, le=2000)


class SketchPoint(Immutable):
    """A point of a path; without a corner of its own it has the sketch's."""

    id: Id
    x: Coordinate
    y: Coordinate
    corner: Corner | None = None


class Leg(Immutable):
    """A leg from its point to the next.

    An arc has a centre and a side it turns to, a curve the two inner control points of a cubic.
    """

    id: Id
    kind: LegKind = LegKind.LINE
    centre: Handle | None = None
    clockwise: bool = False
    controls: tuple[Handle, Handle] | None = None

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        if (self.kind is LegKind.ARC) != (self.centre is not None):
            raise ValueError(f"The leg “{self.id}” needs a centre if it is an arc, and only then")
        if (self.kind is LegKind.CURVE) != (self.controls is not None):
            raise ValueError(f"The leg “{self.id}” needs two controls if it is a curve")
        return self


class ClosedPath(Immutable):
    """Points and the legs between them; the last leg leads back to the first point."""

    id: Id
    points: tuple[SketchPoint, ...] = Field(min_length=2, max_length=MOST_POINTS)
    legs: tuple[Leg, ...]

    @model_validator(mode="after")
    def _is_closed(self) -> Self:
        if len(self.legs) != len(self.points):
            raise ValueError(f"The path “{self.id}” needs as many legs as points")
        return self

    def ids(self) -> Iterator[str]:
        """Yield the ids of its points and legs."""
        yield from (point.id for point in self.points)
        yield from (leg.id for leg in self.legs)


class Disc(Immutable):
    """A round opening."""

    id: Id
    x: Coordinate
    y: Coordinate
    radius: float = Field(gt=0, le=5000)


class RepeatKind(StrEnum):
    """How an opening is repeated."""

    ROW = "row"
    GRID = "grid"
    RING = "ring"
    MIRRORED_X = "mirrored along x"
    MIRRORED_Y = "mirrored along y"
    MIRRORED_BOTH = "mirrored along both"


class Repeat(Immutable):
    """An opening, `count` times in all.

    In a row each is shifted by `step` from the one before. A grid has `count` columns, `step` apart
    along x, and `rows`, apart along y. In a ring they are turned about `centre`, evenly. Mirrored
    ones lie about the middle of the outline and follow it.
    """

    of: Id
    kind: RepeatKind
    count: int = Field(default=3, ge=1, le=200)
    rows: int = Field(default=1, ge=1, le=200)
    step: Handle = (10.0, 0.0)
    centre: Handle = (0.0, 0.0)

    @model_validator(mode="after")
    def _is_bearable(self) -> Self:
        if self.kind is RepeatKind.GRID and self.count * self.rows > MOST_POINTS:
            raise ValueError(f"A grid has at most {MOST_POINTS} openings")
        return self


class SizeKind(StrEnum):
    """What a size measures, and between what."""

    ALONG_X = "along x"
    ALONG_Y = "along y"
    DISTANCE = "distance"
    TO_LEG = "distance to a leg"
    LENGTH = "length"
    ANGLE = "angle"
    RADIUS = "radius"
    DIAMETER = "diameter"

    @property
    def unit(self) -> str:
        """The unit of its values."""
        return "°" if self is SizeKind.ANGLE else "mm"


class HeldSize(Immutable):
    """A size that holds: mm, or degrees for an angle.

    `of` names two points (a disc counts as its centre), a point and a line, one leg, two lines, or
    an arc or disc, as the kind wants it.
    """

    name: Id
    kind: SizeKind
    of: tuple[Id, ...] = Field(min_length=1, max_length=2)
    value: float = Field(ge=0, le=10_000)


class RelationKind(StrEnum):
    """A relation without a number."""

    LEVEL = "level"
    UPRIGHT = "upright"
    PARALLEL = "parallel"
    SQUARE = "square"
    TANGENT = "tangent"
    EQUAL = "equal"
    CONCENTRIC = "concentric"
    SYMMETRIC = "symmetric"
    CENTRED_X = "centred along x"
    CENTRED_Y = "centred along y"
    ON = "on"
    FIXED = "fixed"


class Relation(Immutable):
    """A relation that holds.

    Level and upright: two points, or a line. Parallel, square and equal: two legs. Tangent: two
    legs, one of them an arc. Concentric: two arcs or discs. Symmetric: two points and the line they
    mirror on, or two points and two more whose middle line that is; a point named twice lies on it.
    Centred: a pair of points whose middle is that of another pair. On: a point and a leg
    or disc. Fixed: a point that stays.
    """

    kind: RelationKind
    of: tuple[Id, ...] = Field(min_length=1, max_length=4)


class Sketch(Immutable):
    """All of it; the first path is the outline."""

    paths: tuple[ClosedPath, ...] = Field(min_length=1, max_length=200)
    discs: tuple[Disc, ...] = Field(default=(), max_length=400)
    sizes: tuple[HeldSize, ...] = Field(default=(), max_length=1000)
    relations: tuple[Relation, ...] = Field(default=(), max_length=2000)
    repeats: tuple[Repeat, ...] = Field(default=(), max_length=200)
    corner: Corner = Corner()

    @model_validator(mode="after")
    def _ids_agree(self) -> Self:
        _need_unique("id", [*self.ids()])
        _need_unique("size", [size.name for size in self.sizes])
        known = set(self.ids())
        named = [size.of for size in self.sizes] + [relation.of for relation in self.relations]
        for name in (each for of in named for each in of):
            if name not in known:
                raise ValueError(f"There is nothing called “{name}” to hold a size or relation")
        openings = {path.id for path in self.paths[1:]} | {disc.id for disc in self.discs}
        for repeat in self.repeats:
            if repeat.of not in openings:
                raise ValueError(f"There is no opening “{repeat.of}” to repeat")
        _need_unique("repeat of", [repeat.of for repeat in self.repeats])
        if sum(len(path.points) for path in self.paths) > MOST_POINTS:
            raise ValueError(f"A plate has at most {MOST_POINTS} points")
        return self

    def ids(self) -> Iterator[str]:
        """Yield the ids of all paths, points, legs and discs."""
        for path in self.paths:
            yield path.id
            yield from path.ids()
        yield from (disc.id for disc in self.discs)

    def places(self) -> dict[str, tuple[float, float]]:
        """Return where its points are, by id, mm."""
        return {point.id: (point.x, point.y) for path in self.paths for point in path.points}

    def repeat(self, opening: str) -> Repeat | None:
        """Return how an opening is repeated, if it is."""
        return next((repeat for repeat in self.repeats if repeat.of == opening), None)

    def size(self, name: str) -> HeldSize | None:
        """Return the size of that name."""
        return next((size for size in self.sizes if size.name == name), None)


def _need_unique(what: str, names: list[str]) -> None:
    doubled = [name for name, count in Counter(names).items() if count > 1]
    if doubled:
        raise ValueError(f"There are two of the {what} “{doubled[0]}”")
