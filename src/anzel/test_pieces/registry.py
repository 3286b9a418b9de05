"""All test pieces: their names, how they are made and used.

Commands, files and views read this table.
"""

from collections.abc import Callable
from dataclasses import dataclass

from anzel.core.findings import ParameterError
from anzel.test_pieces.comb import comb
from anzel.test_pieces.fingers import fingers
from anzel.test_pieces.hinges import hinges
from anzel.test_pieces.inlay import inlay
from anzel.test_pieces.kerf_pieces import disc, strips
from anzel.test_pieces.model import TestPiece, TestPieceKind, TestPieceRequest
from anzel.test_pieces.stepped_openings import mortise, windows


@dataclass(frozen=True)
class TestPieceType:
    """One kind of test piece: its title, what it tells, how to use it, and what its number is."""

    make: Callable[[TestPieceRequest], TestPiece]
    title: str
    tells: str
    how: str
    number: str


TEST_PIECES = {
    TestPieceKind.COMB: TestPieceType(
        comb, "Comb", "the slot width that feels right",
        "Push the tongue, edge first, into each slot and tap what you feel. The engraved number "
        "is the slot's drawn width.", "slot",
    ),
    TestPieceKind.WINDOWS: TestPieceType(
        windows, "Windows and plug", "which opening holds a piece of the same sheet",
        "Lay the plug into each window, flat. The engraved number is the window's drawn side; "
        "the plug carries its own.", "window",
    ),
    TestPieceKind.MORTISE: TestPieceType(
        mortise, "Tab and mortises", "how long a mortise must be for its tab",
        "Push the tab through each mortise. The engraved number is the mortise's drawn length.",
        "mortise",
    ),
    TestPieceKind.INLAY: TestPieceType(
        inlay, "Inlay pairs", "how much larger than its pocket an insert is drawn",
        "Press each insert into the pocket of its number. The number is how far the insert was "
        "drawn outside its pocket, per side.", "offset",
    ),
    TestPieceKind.FINGERS: TestPieceType(
        fingers, "Finger corner", "whether a corner of this clearance goes together",
        "Push the two halves together at a corner. The engraved number is the clearance.",
        "corner",
    ),
    TestPieceKind.STRIPS: TestPieceType(
        strips, "Kerf strips", "the kerf, from strips measured together",
        "Cut on the line, the cutter's own compensation off. Push all strips together and "
        "measure across them once.", "strip",
    ),
    TestPieceKind.DISC: TestPieceType(
        disc, "Disc and hole", "the kerf, with the calipers' zero error cancelled",
        "Cut on the line, the cutter's own compensation off. Measure the disc across and the "
        "hole across with the same calipers.", "disc",
    ),
    TestPieceKind.HINGES: TestPieceType(
        hinges, "Hinge strips", "how narrow a radius a living hinge of this sheet takes",
        "Bend each strip slowly to a right angle round a rod of its radius. The engraved numbers "
        "are the inner radius, and the strain of the links: the largest that does not crack is "
        "what a hinge may be allowed.", "radius",
    ),
}  # fmt: skip

ON_THE_LINE = (TestPieceKind.STRIPS, TestPieceKind.DISC)
"""Test pieces that tell the kerf only when nobody has made up for it."""
FELT = tuple(
    kind for kind in TestPieceKind if kind not in (*ON_THE_LINE, TestPieceKind.HINGES)
)  # fmt: skip
"""Test pieces that are felt by hand, step by step."""


def make_test_piece(request: TestPieceRequest) -> TestPiece:
    """Return the requested test piece.

    Raises
    ------
    ParameterError
        Naming the setting at fault.
    """
    kind, count = request.settings.kind, request.settings.count
    if count is not None and count < LEAST_STEPS.get(kind, 1):
        least = LEAST_STEPS[kind]
        raise ParameterError(
            f"Count must be at least {least}, not {count}.",
            hint=f"Fewer than {least} tell too little.", field="count",
        )  # fmt: skip
    return TEST_PIECES[kind].make(request)


LEAST_STEPS = {
    TestPieceKind.COMB: 3, TestPieceKind.WINDOWS: 3, TestPieceKind.MORTISE: 3,
    TestPieceKind.INLAY: 2,
    TestPieceKind.STRIPS: 2,
}  # fmt: skip
"""The least number of steps that tells anything."""
