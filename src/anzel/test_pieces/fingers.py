"""A finger-corner pair: two plates whose edges interlock at a corner.

An edge of length L has n fingers and gaps together (odd, so both ends are alike), pitch L/n. For a
clearance c a finger is drawn L/n + k - c/2 and a gap L/n - k + c/2; then produced gap less produced
finger is c. The depth is the mating sheet's thickness and knows no kerf.
"""

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import Size, Term
from anzel.structure.model import Feature, FeatureKind, Piece
from anzel.test_pieces.model import (
    ClearanceScale,
    TestPiece,
    TestPieceKind,
    TestPieceRequest,
    TestPieceStep,
    engrave,
    flat_piece,
)

_LENGTH, _CELLS, _DEPTH = 60.0, 5, 22.0


def fingers(request: TestPieceRequest) -> TestPiece:
    """Return one pair, or several with stepped clearance, the clearance engraved on both halves."""
    rule, pitch = request.rule, _LENGTH / _CELLS
    clearances = request.numbers(rule.clearance, step=0.05, count=1)
    pieces: list[Piece] = []
    steps = []
    for number, clearance in enumerate(clearances, start=1):
        ease = rule.drawn_kerf - clearance / 2
        if abs(ease) > pitch / 2:
            raise ParameterError(
                f"A finger of {plain_measure(pitch)} cannot have a clearance of "
                f"{plain_measure(clearance)}.",
                hint="Use a smaller start or step.", field="start",
            )  # fmt: skip
        finger = Size((Term("pitch", pitch), Term("kerf − ½ clearance", ease)), pitch + ease,
                      pitch + ease - rule.drawn_kerf)  # fmt: skip
        gap = Size((Term("pitch", pitch), Term("½ clearance − kerf", -ease)), pitch - ease,
                   pitch - ease + rule.drawn_kerf)  # fmt: skip
        text = request.label(clearance)
        steps.append(TestPieceStep(f"S{number}", clearance, text, gap, finger))
        for half, first in (("A", 0), ("B", 1)):
            name = f"Corner {half}" + (f"{number}" if len(clearances) > 1 else "")
            outline = _outline(request.sheet_spec.measured_thickness, ease / 2, first)
            mark = engrave(f"{half} {text}", (_LENGTH / 2, _DEPTH / 2), _LENGTH - 10)
            features = _middle(name, number, request, finger) if half == "A" else ()
            pieces.append(flat_piece(name, request.sheet_spec, Region.of(outline), features, mark))
    scale = ClearanceScale(1.0, 0.0)
    return TestPiece(TestPieceKind.FINGERS, tuple(pieces), tuple(steps), rule.clearance, scale)


def _middle(name: str, number: int, request: TestPieceRequest, finger: Size) -> tuple[Feature, ...]:
    """Return the middle finger of a pair's first half, by which the pair is picked."""
    height = request.rule.step(Term("mating sheet", request.sheet_spec.measured_thickness))
    at = (_LENGTH / 2, _DEPTH + height.drawn / 2)
    names = (name, name.replace("A", "B"), f"S{number}")
    return (Feature(FeatureKind.TAB, *names, finger, height, at, (0.0, 1.0)),)


def _outline(height: float, ease: float, first: int) -> Contour:
    """Return a plate with fingers at every other cell of its upper edge.

    They start from `first` on, right to left.

    Each edge between a finger and a gap moves `ease` into the gap; the plate's own ends do not.
    """
    low, high = _DEPTH, _DEPTH + height
    points: list[Point] = [(0.0, 0.0), (_LENGTH, 0.0)]
    for cell in reversed(range(_CELLS)):
        is_finger = cell % 2 == first
        shift = ease if is_finger else -ease
        right = _LENGTH if cell == _CELLS - 1 else (cell + 1) * _LENGTH / _CELLS + shift
        left = 0.0 if cell == 0 else cell * _LENGTH / _CELLS - shift
        y = high if is_finger else low
        points += [(right, y), (left, y)]
    return Contour.polygon(points)
