"""The comb: slots stepped round today's drawn width, each with its width engraved, and a tongue.

The maker cuts it from a scrap of the sheet, tries the tongue in every slot and takes the width that
feels right. The tongue goes in edge first, so its thickness meets the slot: clearance = drawn width
+ kerf - thickness when the cutter runs on the line.
"""

from anzel.geometry.booleans import combine
from anzel.geometry.regions import Stroke
from anzel.materials.fits import FitRule, Size, Term
from anzel.structure.joints.cutting_shapes import strip
from anzel.structure.model import Feature, FeatureKind, SheetSpec
from anzel.test_pieces.model import (
    ClearanceScale,
    TestPiece,
    TestPieceKind,
    TestPieceRequest,
    TestPieceStep,
    engrave,
    flat_piece,
    need_positive,
)
from anzel.test_pieces.shapes import rounded_rectangle

BODY, TONGUE = "Comb", "Tongue"

_SLOT_DEPTH, _TOOTH, _END_TOOTH, _SPINE = 14.0, 8.5, 9.0, 12.0
_TONGUE_LENGTH, _TONGUE_WIDTH = 40.0, 18.0


def comb(request: TestPieceRequest) -> TestPiece:
    """Return the comb for one sheet.

    Raises
    ------
    ParameterError
        If a slot would have no width.
    """
    sheet, rule = request.sheet_spec, request.rule
    widths = slot_widths(request)
    body = rounded_rectangle(
        _END_TOOTH * 2 + sum(widths) + _TOOTH * (len(widths) - 1), _SPINE + _SLOT_DEPTH
    )
    tools, features, steps = [], [], []
    labels: list[Stroke] = []
    taken = Size((), sheet.measured_thickness, sheet.measured_thickness)
    x = _END_TOOTH
    mouth, floor = _SPINE + _SLOT_DEPTH, _SPINE
    for number, width in enumerate(widths, start=1):
        centre, text = x + width / 2, request.label(width)
        slot = _slot(number, width, (centre, (mouth + floor) / 2), rule)
        tools.append(strip((centre, 0.0), (0.0, 1.0), floor, mouth + 1, width))
        features.append(slot)
        steps.append(TestPieceStep(slot.joint, width, text, slot.width, taken))
        labels += engrave(text, (centre, _SPINE / 2), width + _TOOTH - 2.4)
        x += width + _TOOTH
    region = combine(body, cut=tools)[0]
    tongue = flat_piece(TONGUE, sheet, rounded_rectangle(_TONGUE_LENGTH, _TONGUE_WIDTH))
    scale = ClearanceScale(1.0, rule.drawn_kerf - sheet.measured_thickness)
    pieces = (flat_piece(BODY, sheet, region, features, labels), tongue)
    return TestPiece(
        TestPieceKind.COMB, pieces, tuple(steps), today_width(sheet, rule).drawn, scale
    )


def today_width(sheet: SheetSpec, rule: FitRule) -> Size:
    """Return the drawn size of a slot for this sheet in itself as of today."""
    return rule.opening(Term("mating sheet", sheet.measured_thickness))


def slot_widths(request: TestPieceRequest) -> tuple[float, ...]:
    """Return the drawn widths.

    Raises
    ------
    ParameterError
        If one would not be positive.
    """
    today = today_width(request.sheet_spec, request.rule).drawn
    widths = request.numbers(today, step=0.05, count=7, positive=True)
    need_positive(widths, "slot")
    return widths


def _slot(number: int, width: float, at: tuple[float, float], rule: FitRule) -> Feature:
    size = Size((Term("as engraved", width),), width, width + rule.drawn_kerf)
    depth = rule.step(Term("depth", _SLOT_DEPTH))
    return Feature(FeatureKind.SLOT, BODY, TONGUE, f"S{number}", size, depth, at, (0.0, 1.0))
