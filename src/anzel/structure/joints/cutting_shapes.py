"""Shapes that joints add to outlines and cut from them, and the limits of their numbers."""

from typing import Annotated

import shapely
from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure, plain_measure
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import FitRule, Size
from anzel.structure.model import Feature, Plate

Share = Annotated[float, Field(gt=0, lt=1)]
Count = Annotated[int, Field(ge=2, le=99)]
Slack = Annotated[float, Field(ge=0, le=100)]
Offset = Annotated[float, Field(ge=-100, le=1000)]
Tab = tuple[Annotated[float, Field(ge=-5000, le=5000)], Annotated[float, Field(gt=0, le=1000)]]
"""Limits that hold for a declaration read from a record."""


def along(origin: Point, direction: Point, forward: float, left: float = 0.0) -> Point:
    """Return the point `forward` along a unit direction from the origin, and `left` of it, mm."""
    dx, dy = direction
    return (origin[0] + forward * dx - left * dy, origin[1] + forward * dy + left * dx)


def away_from_body(region: Region, origin: Point, direction: Point) -> Point:
    """Return the unit direction square to a line through a plate that points away from its body."""
    out: Point = (-direction[1], direction[0])
    body = region.shape.representative_point()
    if (body.x - origin[0]) * out[0] + (body.y - origin[1]) * out[1] > 0:
        return (-out[0], -out[1])
    return out


def strip(origin: Point, direction: Point, start: float, end: float, width: float) -> Contour:
    """Return a rectangle about a line, from `start` to `end` along it, counter-clockwise."""
    half = width / 2
    corners = ((start, -half), (end, -half), (end, half), (start, half))
    return Contour.polygon([along(origin, direction, *corner) for corner in corners])


def feature_outline(feature: Feature, inner: float = 1.0) -> shapely.Polygon:
    """Return a feature as drawn, as a rectangle; of its length only an inner share.

    Examples
    --------
    >>> from anzel.structure.model import FeatureKind
    >>> size = Size((), 3.0, 3.0), Size((), 10.0, 10.0)
    >>> slot = Feature(FeatureKind.SLOT, "A", "B", "J1", *size, at=(0, 0), along=(0, 1))
    >>> feature_outline(slot, inner=0.5).bounds
    (-1.5, -5.0, 1.5, 0.0)
    """
    half, length = feature.width.drawn / 2, feature.depth.drawn / 2
    end = length * (2 * inner - 1)
    corners = [(-length, -half), (end, -half), (end, half), (-length, half)]
    return shapely.Polygon([along(feature.at, feature.along, x, y) for x, y in corners])


def need_width(size: Size, plate: Plate, rule: FitRule) -> Size:
    """Return the size of an opening, if it can be cut.

    Raises
    ------
    ParameterError
        Naming the kerf.
    """
    if size.drawn > 0:
        return size
    raise ParameterError(
        f"An opening in {plate.name} would be drawn {format_measure(size.drawn)} wide: "
        f"the kerf of {plain_measure(rule.kerf)} is wider than the slot.",
        hint="Check the kerf, the measured thickness and the clearance.",
        field="kerf",
    )
