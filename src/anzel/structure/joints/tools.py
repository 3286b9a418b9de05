"""The shapes that joints add to outlines and cut from them."""

from anzel.findings import ParameterError
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour
from anzel.stock.fits import FitRule, Size
from anzel.structure.plates import Plate


def along(origin: Point, direction: Point, forward: float, left: float = 0.0) -> Point:
    """The point `forward` along a unit direction from the origin, and `left` of it, mm."""
    dx, dy = direction
    return (origin[0] + forward * dx - left * dy, origin[1] + forward * dy + left * dx)


def strip(origin: Point, direction: Point, start: float, end: float, width: float) -> Contour:
    """A rectangle about a line, from `start` to `end` along it, counter-clockwise."""
    half = width / 2
    corners = ((start, -half), (end, -half), (end, half), (start, half))
    return Contour.polygon([along(origin, direction, *corner) for corner in corners])


def need_width(size: Size, plate: Plate, rule: FitRule) -> Size:
    """The size of an opening, if it can be cut. Raises ParameterError naming the kerf."""
    if size.drawn > 0:
        return size
    raise ParameterError(
        f"An opening in {plate.name} would be drawn {size.drawn:.2f} mm wide: "
        f"the kerf of {rule.kerf:g} mm is wider than the slot.",
        mend="Check the kerf, the measured thickness and the clearance.",
        field="kerf",
    )
