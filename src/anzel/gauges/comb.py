"""The comb: slots stepped round today's drawn width, each with its width engraved, and a tongue.

The maker cuts it from a scrap of the sheet in question, tries the tongue in every slot and
takes the width that feels right. The tongue goes in edge first, so its thickness is what meets
the slot.
"""

from dataclasses import dataclass

from pydantic import Field

from anzel.findings import ParameterError
from anzel.frozen import Frozen
from anzel.geometry.booleans import combine
from anzel.geometry.curves import Arc, Line, Segment
from anzel.geometry.lettering import lettering
from anzel.geometry.outlines import Contour, Region, Stroke
from anzel.geometry.placement import Placement
from anzel.stock.fits import FitRule, Size, Term
from anzel.structure.joints.tools import strip
from anzel.structure.plates import Feature, FeatureKind, Piece, Sheet

BODY, TONGUE = "Comb", "Tongue"

_SLOT_DEPTH, _TOOTH, _END_TOOTH, _SPINE = 14.0, 8.5, 9.0, 12.0
_DIGIT_HEIGHT = 3.2
_CORNER = 2.5
_TONGUE_LENGTH, _TONGUE_WIDTH = 40.0, 18.0
_LIE: Placement = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


class CombSettings(Frozen):
    """Which slots the comb has, mm. `start` None centres them on today's drawn width."""

    start: float | None = Field(default=None, gt=0, le=200)
    step: float = Field(default=0.05, ge=0.005, le=5)
    count: int = Field(default=7, ge=3, le=25)


@dataclass(frozen=True)
class Comb:
    """A comb ready to cut: its pieces, the drawn widths in order, and which is today's."""

    pieces: tuple[Piece, ...]
    widths: tuple[float, ...]
    today: Size


def comb(settings: CombSettings, sheet: Sheet, rule: FitRule) -> Comb:
    """The comb for one sheet. Raises ParameterError if a slot would have no width."""
    today = today_width(sheet, rule)
    widths = slot_widths(settings, today.drawn)
    body = _rounded(_END_TOOTH * 2 + sum(widths) + _TOOTH * (len(widths) - 1))
    tools, features = [], []
    labels: list[Stroke] = []
    x = _END_TOOTH
    mouth, floor = _SPINE + _SLOT_DEPTH, _SPINE
    for number, width in enumerate(widths, start=1):
        centre = x + width / 2
        tools.append(strip((centre, 0.0), (0.0, 1.0), floor, mouth + 1, width))
        features.append(_slot(number, width, (centre, (mouth + floor) / 2), rule))
        labels += lettering(label(width), _DIGIT_HEIGHT, (centre, _SPINE / 2))
        x += width + _TOOTH
    region = combine(body, cut=tools)[0]
    return Comb((_piece(BODY, sheet, region, features, labels), _tongue(sheet)), widths, today)


def today_width(sheet: Sheet, rule: FitRule) -> Size:
    """What a slot for this sheet in itself is drawn today."""
    return rule.opening(Term("mating sheet", sheet.measured_thickness))


def slot_widths(settings: CombSettings, today: float) -> tuple[float, ...]:
    """The drawn widths, to a thousandth, so that the engraved number is the whole truth."""
    start = settings.start
    if start is None:
        start = round(today, 2) - settings.step * (settings.count // 2)
    widths = tuple(round(start + settings.step * i, 3) for i in range(settings.count))
    if widths[0] <= 0:
        raise ParameterError(
            f"The narrowest slot would be {widths[0]:g} mm wide.",
            mend="Use fewer slots, a smaller step, or set the start.",
            field="start" if settings.start is not None else "step",
        )
    return widths


def label(width: float) -> str:
    """The engraved number: two decimals, three where they are needed."""
    return f"{width:.2f}" if round(width, 2) == width else f"{width:.3f}"


def _slot(number: int, width: float, at: tuple[float, float], rule: FitRule) -> Feature:
    size = Size((Term("as engraved", width),), width, width + rule.drawn_kerf)
    depth = rule.step(Term("depth", _SLOT_DEPTH))
    return Feature(FeatureKind.SLOT, BODY, TONGUE, f"S{number}", size, depth, at, (0.0, 1.0))


def _piece(
    name: str, sheet: Sheet, region: Region, features: list[Feature], engraved: list[Stroke]
) -> Piece:
    thickness = sheet.measured_thickness
    marks = tuple(engraved)
    return Piece(name, sheet.stock_id, thickness, region, _LIE, tuple(features), marks)


def _tongue(sheet: Sheet) -> Piece:
    return _piece(TONGUE, sheet, _rounded(_TONGUE_LENGTH, _TONGUE_WIDTH), [], [])


def _rounded(width: float, height: float = _SPINE + _SLOT_DEPTH) -> Region:
    """A rectangle with rounded corners, its lower left at the origin."""
    corners = ((width, 0.0), (width, height), (0.0, height), (0.0, 0.0))
    steps = ((1, 0), (0, 1), (-1, 0), (0, -1))
    segments: list[Segment] = []
    at = (_CORNER, 0.0)
    for index, ((x, y), (dx, dy)) in enumerate(zip(corners, steps, strict=True)):
        nx, ny = steps[(index + 1) % 4]
        before = (x - dx * _CORNER, y - dy * _CORNER)
        after = (x + nx * _CORNER, y + ny * _CORNER) if index < 3 else (_CORNER, 0.0)
        centre = (before[0] + nx * _CORNER, before[1] + ny * _CORNER)
        segments += [Line(at, before), Arc(before, after, centre)]
        at = after
    return Region.of(Contour(tuple(segments)))
