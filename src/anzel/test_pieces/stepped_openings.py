"""Stepped openings: windows and plug, and the mortise trial.

- *windows*: square holes, and a square plug cut from the same sheet that lies in the plate's plane.
  Both are cut, so the kerf counts on each: clearance = (window + kerf) - (plug - kerf).
- *mortise*: holes as wide as a tab's sheet needs, stepped in length, and a piece with one tab:
  clearance along the tab = (length + kerf) - (tab - kerf).
"""

from collections.abc import Callable

from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour, Region, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import Size, Term
from anzel.structure.joints.cutting_shapes import need_width, strip
from anzel.structure.model import Feature, FeatureKind, Piece, Plate
from anzel.test_pieces.model import (
    USUAL_PLUGS,
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

PLATE, PLUG, TAB = "Plate", "Plug", "Tab"
_EDGE, _LABEL_ROOM = 8.0, 11.0
_HANDLE = (34.0, 24.0)


def windows(request: TestPieceRequest) -> TestPiece:
    """Return square windows stepped round today's size, and the plug."""
    wanted = request.settings.plug or USUAL_PLUGS[TestPieceKind.WINDOWS]
    plug = request.rule.outside(Term("plug", wanted))
    centre = (plug.drawn / 2, plug.drawn / 2)
    insert = flat_piece(
        PLUG, request.sheet_spec, Region.of(Contour.polygon(_square(plug.drawn))), (),
        engrave(request.label(round(plug.drawn, 3)), centre, max(wanted - 5, 3.0)),
    )  # fmt: skip
    return _plate(TestPieceKind.WINDOWS, request, plug, insert, lambda side: side)


def mortise(request: TestPieceRequest) -> TestPiece:
    """Return mortises stepped in length round today's, and a piece with one tab."""
    sheet, rule = request.sheet_spec, request.rule
    tab = rule.outside(
        Term("tab width", request.settings.plug or USUAL_PLUGS[TestPieceKind.MORTISE])
    )
    width, depth = max(_HANDLE[0], tab.drawn + 12), _HANDLE[1]
    foot: Point = (width / 2, depth)
    tongue = strip(foot, (0.0, 1.0), -5.0, sheet.measured_thickness, tab.drawn)
    region = combine(rounded_rectangle(width, depth), add=[tongue])[0]
    label = engrave(request.label(round(tab.drawn, 3)), (width / 2, depth / 2), width - 8)
    insert = flat_piece(TAB, sheet, region, (), label)
    for_sheet = rule.opening(Term("mating sheet", sheet.measured_thickness))
    plate = Plate(PLATE, sheet.stock_id, region, insert.placement)
    wide = need_width(for_sheet, plate, rule).drawn
    return _plate(TestPieceKind.MORTISE, request, tab, insert, lambda length: wide)


def _plate(
    kind: TestPieceKind,
    request: TestPieceRequest,
    inserted: Size,
    insert: Piece,
    height_of: Callable[[float], float],
) -> TestPiece:
    """Return a plate of holes in a row, stepped in length, each labelled below."""
    sheet, rule = request.sheet_spec, request.rule
    today = rule.opening(Term("what goes in", inserted.produced)).drawn
    lengths = request.numbers(today, step=0.05, count=5, positive=True)
    need_positive(lengths, "hole")
    tallest = max(height_of(length) for length in lengths)
    middle = _LABEL_ROOM + tallest / 2
    holes: list[Contour] = []
    features, steps = [], []
    labels: list[Stroke] = []
    x = _EDGE
    for number, length in enumerate(lengths, start=1):
        size = Size((Term("as engraved", length),), length, length + rule.drawn_kerf)
        high = height_of(length)
        height = Size((Term("height", high),), high, high + rule.drawn_kerf)
        at, name, text = (x + length / 2, middle), f"S{number}", request.label(length)
        holes.append(strip(at, (1.0, 0.0), -length / 2, length / 2, high))
        features.append(
            Feature(FeatureKind.MORTISE, PLATE, insert.name, name, height, size, at, (1.0, 0.0))
        )
        steps.append(TestPieceStep(name, length, text, size, inserted))
        labels += engrave(text, (at[0], _LABEL_ROOM / 2 + 0.5), length + _EDGE - 2)
        x += length + _EDGE
    region = combine(rounded_rectangle(x, _LABEL_ROOM + tallest + _EDGE), cut=holes)[0]
    scale = ClearanceScale(1.0, rule.drawn_kerf - inserted.produced)
    pieces = (flat_piece(PLATE, sheet, region, features, labels), insert)
    return TestPiece(kind, pieces, tuple(steps), today, scale)


def _square(side: float) -> list[Point]:
    return [(0.0, 0.0), (side, 0.0), (side, side), (0.0, side)]
