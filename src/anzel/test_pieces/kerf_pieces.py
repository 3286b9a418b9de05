"""Test pieces whose measured sizes tell the kerf: strips, and disc and hole.

Both are drawn as they stand and cut on the line, with any compensation of the cutter off: what is
missing afterwards is the kerf (see `materials.kerf`).
"""

from math import fsum

from anzel.geometry.regions import Contour, Region, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import Size, Term
from anzel.structure.model import Piece
from anzel.test_pieces.model import (
    TestPiece,
    TestPieceKind,
    TestPieceRequest,
    TestPieceStep,
    engrave,
    flat_piece,
    need_positive,
)
from anzel.test_pieces.shapes import rounded_rectangle

_STRIP_WIDTH, _STRIP_LENGTH, _STRIPS = 12.0, 36.0, 10
_DIAMETER, _RIM, _LABEL_ROOM = 30.0, 7.0, 9.0


def strips(request: TestPieceRequest) -> TestPiece:
    """Return equal strips, to be pushed together and measured as one; the width is on each."""
    width = request.settings.start or _STRIP_WIDTH
    need_positive([width], "strip")
    size = Size((Term("as engraved", width),), width, width - request.sheet_spec.kerf)
    text = request.label(round(width, 3))
    outline = Contour.polygon(_corners(width, _STRIP_LENGTH))
    mark = engrave(text, (width / 2, _STRIP_LENGTH / 2), width - 3)
    count = request.settings.count or _STRIPS
    pieces = tuple(
        flat_piece(f"Strip {number}", request.sheet_spec, Region.of(outline), (), mark)
        for number in range(1, count + 1)
    )
    whole = Size((), fsum([width] * count), fsum([size.produced] * count))
    step = TestPieceStep("S1", width, text, whole, whole)
    return TestPiece(TestPieceKind.STRIPS, pieces, (step,), width, None)


def disc(request: TestPieceRequest) -> TestPiece:
    """Return a disc, and a plate with a hole drawn as large; several pairs if wanted."""
    start = request.settings.start or _DIAMETER
    by, count = request.settings.step or 5.0, request.settings.count or 1
    diameters = [round(start + by * index, 3) for index in range(count)]
    need_positive(diameters, "disc")
    pieces: list[Piece] = []
    steps = []
    for number, across in enumerate(diameters, start=1):
        text, suffix = request.label(across), f" {number}" if count > 1 else ""
        disc_mark: list[Stroke] = engrave(text, (0.0, 0.0), across * 0.7)
        round_piece = Region.of(Contour.circle((0.0, 0.0), across / 2))
        pieces.append(flat_piece(f"Disc{suffix}", request.sheet_spec, round_piece, (), disc_mark))
        width = across + 2 * _RIM
        middle = (width / 2, _LABEL_ROOM + across / 2)
        frame = rounded_rectangle(width, across + _RIM + _LABEL_ROOM)
        plate = Region.of(frame.outer, (Contour.circle(middle, across / 2),))
        mark = engrave(text, (width / 2, _LABEL_ROOM / 2), width - 8)
        pieces.append(flat_piece(f"Hole{suffix}", request.sheet_spec, plate, (), mark))
        kerf = request.sheet_spec.kerf
        hole = Size((Term("as engraved", across),), across, across + kerf)
        inside = Size((Term("as engraved", across),), across, across - kerf)
        steps.append(TestPieceStep(f"S{number}", across, text, hole, inside))
    return TestPiece(TestPieceKind.DISC, tuple(pieces), tuple(steps), start, None)


def _corners(width: float, height: float) -> list[Point]:
    return [(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]
