"""Inlay pairs: pockets all alike, and inserts drawn larger than their pocket by a stepped offset.

Cut on the line, insert and pocket come apart by the kerf on every side, so the gap per side is kerf
- offset, and the clearance across is twice that. A negative offset draws inserts smaller.
"""

from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour, Region, Stroke
from anzel.materials.fits import Size, Term
from anzel.structure.model import Feature, FeatureKind, Piece
from anzel.test_pieces.model import (
    USUAL_PLUGS,
    ClearanceScale,
    TestPiece,
    TestPieceKind,
    TestPieceRequest,
    TestPieceStep,
    engrave,
    flat_piece,
)
from anzel.test_pieces.shapes import notched_square, rounded_rectangle

PLATE = "Pockets"
_NOTCH = 4.0
_EDGE, _LABEL_ROOM = 8.0, 11.0


def inlay(request: TestPieceRequest) -> TestPiece:
    """Return pockets, and an insert for each, its offset engraved on both."""
    sheet, rule = request.sheet_spec, request.rule
    kerf = rule.drawn_kerf
    today = kerf - rule.clearance / 2
    side_of = request.settings.plug or USUAL_PLUGS[TestPieceKind.INLAY]
    offsets = request.numbers(today, step=0.025, count=5)
    pocket = Size((Term("pocket", side_of),), side_of, side_of + kerf)
    pockets: list[Contour] = []
    inserts: list[Piece] = []
    features, steps = [], []
    labels: list[Stroke] = []
    middle = _LABEL_ROOM + side_of / 2
    for number, offset in enumerate(offsets, start=1):
        at = (_EDGE + side_of / 2 + (number - 1) * (side_of + _EDGE), middle)
        name, text = f"S{number}", request.label(offset)
        side = side_of + 2 * offset
        insert = Size(
            (Term("pocket", side_of), Term("offset, twice", 2 * offset)), side, side - kerf
        )
        pockets.append(notched_square(at, side_of, _NOTCH, 0.0))
        features.append(
            Feature(FeatureKind.MORTISE, PLATE, f"Insert {number}", name, pocket, pocket, at,
                    (1.0, 0.0))
        )  # fmt: skip
        steps.append(TestPieceStep(name, offset, text, pocket, insert))
        labels += engrave(text, (at[0], _LABEL_ROOM / 2 + 0.5), side_of)
        shape = Region.of(notched_square((0.0, 0.0), side_of, _NOTCH, offset))
        mark = engrave(text, (0.0, -1.0), side_of - 5)
        inserts.append(flat_piece(f"Insert {number}", sheet, shape, (), mark))
    body = rounded_rectangle(
        _EDGE + len(offsets) * (side_of + _EDGE), _LABEL_ROOM + side_of + _EDGE
    )
    region = combine(body, cut=pockets)[0]
    pieces = (flat_piece(PLATE, sheet, region, features, labels), *inserts)
    return TestPiece(
        TestPieceKind.INLAY, pieces, tuple(steps), today, ClearanceScale(-2.0, 2 * kerf)
    )
