"""Outlines that a maker draws by numbers or points, or imports, each about its middle."""

from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable
from anzel.core.number_format import plain_measure
from anzel.core.tolerances import ROUNDING
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segment_mapping import scaled_segment
from anzel.geometry.segments import Arc, Line, Segment
from anzel.shape.outline_building import region_of
from anzel.shape.sketch import Sketch
from anzel.shape.sketch_solver import scaled_sketch
from anzel.structure.forms.common_outlines import board, joined
from anzel.structure.free.outline_serialization import AnyRegion

Length = Annotated[float, Field(gt=0, le=5000)]
Coordinate = Annotated[float, Field(ge=-5000, le=5000)]
OutlinePoint = tuple[Coordinate, Coordinate, bool]
"""(x, y, smooth): curved through there, or a corner."""


class Rectangle(Immutable):
    """A board with optionally rounded corners."""

    shape: Literal["rectangle"] = "rectangle"
    width: Length = 100.0
    height: Length = 60.0
    rounding: float = Field(default=0.0, ge=0)

    def region(self) -> Region:
        """Return the outline.

        Raises
        ------
        ParameterError
            Where the rounding has no room.
        """
        x, y, radius = self.width / 2, self.height / 2, self.rounding
        if radius == 0:
            return board(-x, -y, x, y)
        if radius > min(x, y) - 0.01:
            raise ParameterError(
                "The corners are rounded more than the board has room for.",
                hint=f"Less than {plain_measure(min(x, y))} will do.", field="rounding",
            )  # fmt: skip
        return _rounded(x, y, radius)

    def scaled(self, factor: float) -> "Rectangle":
        """Return the same shape, larger or smaller."""
        return self.with_changes(
            width=self.width * factor, height=self.height * factor, rounding=self.rounding * factor
        )


class Circle(Immutable):
    """A disc, or a ring with a hole.

    The hole is held when the whole is scaled.
    """

    shape: Literal["circle"] = "circle"
    diameter: Length = 80.0
    hole: float = Field(default=0.0, ge=0)

    def region(self) -> Region:
        """Return the outline.

        Raises
        ------
        ParameterError
            Where the hole leaves nothing.
        """
        if self.hole >= self.diameter - 0.02:
            raise ParameterError(
                "The hole leaves nothing of the disc.", hint="Make it smaller.", field="hole"
            )
        inner = [Contour.circle((0.0, 0.0), self.hole / 2)] if self.hole else []
        return Region.of(Contour.circle((0.0, 0.0), self.diameter / 2), inner)

    def scaled(self, factor: float) -> "Circle":
        """Return the same shape, larger or smaller, with an unchanged hole."""
        return self.with_changes(diameter=self.diameter * factor)


class Profile(Immutable):
    """A closed outline through points, curved or cornered at each."""

    shape: Literal["profile"] = "profile"
    points: tuple[OutlinePoint, ...] = Field(
        default=((-40, -30, False), (40, -30, False), (30, 20, True), (0, 35, True),
                 (-30, 20, True)),
        min_length=3, max_length=64,
    )  # fmt: skip

    def region(self) -> Region:
        """Return the outline.

        Raises
        ------
        ParameterError
            Where it crosses itself.
        """
        region = _through(self.points)
        if region is None:
            raise ParameterError(
                "The outline crosses itself or encloses nothing.",
                hint="Move its points apart.", field="points",
            )  # fmt: skip
        return region

    def scaled(self, factor: float) -> "Profile":
        """Return the same shape, larger or smaller."""
        return self.with_changes(points=[(x * factor, y * factor, s) for x, y, s in self.points])


class ImportedOutline(Immutable):
    """An outline imported from a drawing, or left by a form.

    Round holes of up to `held` mm are for hardware and stay when the whole is scaled.
    """

    shape: Literal["drawn"] = "drawn"
    outline: AnyRegion
    held: float = Field(default=12.0, ge=0)

    def region(self) -> Region:
        """Return the outline as it came."""
        return self.outline

    def scaled(self, factor: float) -> "ImportedOutline":
        """Return the same outline, larger or smaller, about its origin."""
        holes = [_scaled_hole(hole, factor, self.held) for hole in self.outline.holes]
        return self.with_changes(outline=Region(_scaled(self.outline.outer, factor), tuple(holes)))


class SketchedOutline(Immutable):
    """An outline with openings that the maker has drawn, and the sizes that hold on it.

    It lies about the sketch's own origin.
    """

    shape: Literal["path"] = "path"
    sketch: Sketch

    def region(self) -> Region:
        """Return the outline with its openings.

        Raises
        ------
        ParameterError
            Where a path crosses itself, a corner has no room, or the plate falls apart.
        """
        return _of_sketch(self.sketch)

    def scaled(self, factor: float) -> "SketchedOutline":
        """Return the same sketch with all its lengths larger or smaller."""
        return self.with_changes(sketch=scaled_sketch(self.sketch, factor))


AnyShape = Annotated[
    Rectangle | Circle | Profile | ImportedOutline | SketchedOutline, Field(discriminator="shape")
]
SHAPES: dict[str, type[Rectangle] | type[Circle] | type[Profile]] = {
    "rectangle": Rectangle, "circle": Circle, "profile": Profile
}  # fmt: skip
"""Those that can be drawn."""


@lru_cache(maxsize=256)  # one for each plate of a few structures
def _rounded(x: float, y: float, radius: float) -> Region:
    corners: list[Point] = [(x, y), (-x, y), (-x, -y), (x, -y)]
    ways: list[Point] = [(0, 1), (-1, 0), (0, -1), (1, 0)]
    segments: list[Segment] = []
    for (cx, cy), (ox, oy) in zip(corners, ways, strict=True):
        # each corner is entered along `ways` before it, left along `ways` turned by a quarter
        before = (cx - ox * radius, cy - oy * radius)
        after = (cx - oy * radius, cy + ox * radius)
        centre = (before[0] - oy * radius, before[1] + ox * radius)
        if segments:
            segments.append(Line(segments[-1].end, before))
        segments.append(Arc(before, after, centre))
    segments.append(Line(segments[-1].end, segments[0].start))
    return Region.of(Contour(tuple(segments)))


@lru_cache(maxsize=256)  # one for each plate of a few structures
def _of_sketch(sketch: Sketch) -> Region:
    return region_of(sketch)


@lru_cache(maxsize=256)  # one for each plate of a few structures
def _through(points: tuple[OutlinePoint, ...]) -> Region | None:
    places: list[Point] = [(x, y) for x, y, _ in points]
    segments = joined(places, [smooth for *_, smooth in points], closed=True)
    region = Region.of(Contour(tuple(segments)))
    return region if region.shape.is_valid and region.area > 1 else None


def _scaled(contour: Contour, factor: float, about: Point = (0.0, 0.0)) -> Contour:
    return Contour(tuple(scaled_segment(each, factor, about) for each in contour.segments))


def _scaled_hole(hole: Contour, factor: float, held: float) -> Contour:
    """Return a scaled hole; one for hardware moves along but keeps its size."""
    moved = _scaled(hole, factor)
    first = hole.segments[0]
    if not (hole.is_circle and isinstance(first, Arc) and 2 * first.radius <= held + ROUNDING):
        return moved
    centre = (first.centre[0] * factor, first.centre[1] * factor)
    return _scaled(moved, 1 / factor, centre)
