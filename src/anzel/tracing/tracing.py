"""A picture traced: its dark shapes as regions of lines, arcs and curves, in mm on a plate."""

from collections.abc import Callable
from dataclasses import dataclass
from math import cos, radians, sin

import shapely
from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment
from anzel.tracing.contours import dark_shapes
from anzel.tracing.curve_fitting import fitted_contour
from anzel.tracing.picture import Grey

_SPECK = 30.0
"""Smaller shapes are dirt of the scan, pixels."""
_MOST, _MOST_LEGS = 60, 1200
"""More shapes, or legs in all, are noise; a plate has at most 600 points."""
_LEAST_TOLERANCE = 0.5
"""No fit is asked to follow the pixels' own steps, pixels."""


class TraceSettings(Immutable):
    """How dark is dark (0 to 255), how much is smoothed (pixels), how near the fit is (mm)."""

    threshold: float = Field(default=128.0, ge=1, le=254)
    smoothness: float = Field(default=1.0, ge=0, le=20)
    within: float = Field(default=0.15, gt=0, le=20)


@dataclass(frozen=True)
class PicturePlacement:
    """A picture on a plate: its middle, its width in mm, and its turn in degrees."""

    x: float
    y: float
    width: float
    turn: float

    def to_plate(self, size: tuple[float, float]) -> Callable[[Point], Point]:
        """Return what takes a place in a picture of that size to one on the plate, mm."""
        scale = self.width / size[0]
        cosine, sine = cos(radians(self.turn)), sin(radians(self.turn))

        def at(place: Point) -> Point:
            x, y = (place[0] - size[0] / 2) * scale, (place[1] - size[1] / 2) * scale
            return (self.x + cosine * x - sine * y, self.y + sine * x + cosine * y)

        return at


def traced_regions(
    grey: Grey, placement: PicturePlacement, settings: TraceSettings,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[Region, ...]:  # fmt: skip
    """Return the dark shapes of a picture as regions on the plate, largest first.

    Their edges lie within the stated distance of the contour between dark and light, but no nearer
    than half a pixel, and corners are kept.

    Raises
    ------
    PictureError
        For a picture of noise.
    """
    pixels = (grey.shape[1], grey.shape[0])
    to_plate = placement.to_plate(pixels)
    tolerance = max(settings.within / (placement.width / pixels[0]), _LEAST_TOLERANCE)
    found: list[Region] = []
    most = _MOST_LEGS
    for shape in dark_shapes(grey, settings.threshold, settings.smoothness, _SPECK):
        if stopped() or len(found) == _MOST:
            break
        rings = []
        for ring in (shape.outline, *shape.holes):
            rings.append(fitted_contour(ring, tolerance, settings.smoothness, most))
            most -= len(rings[-1].segments) if rings[-1] is not None else 0
        outer, *holes = rings
        if outer is None:
            continue
        inside = [hole for hole in holes if hole is not None and _lies_in(hole, outer)]
        found.append(
            Region.of(
                placed_contour(outer, to_plate), [placed_contour(h, to_plate) for h in inside]
            )
        )
    return tuple(found)


def _lies_in(hole: Contour, outer: Contour) -> bool:
    return bool(shapely.contains_properly(outer.polygon_shape, hole.polygon_shape))


def placed_contour(contour: Contour, at: Callable[[Point], Point]) -> Contour:
    """Return a contour turned, shifted and scaled alike in all directions."""

    def segment(each: Segment) -> Segment:
        if isinstance(each, Arc):
            return Arc(at(each.start), at(each.end), at(each.centre), each.clockwise)
        if isinstance(each, Cubic):
            return Cubic(*map(at, each.controls))
        return Line(at(each.start), at(each.end))

    return Contour(tuple(segment(each) for each in contour.segments))
