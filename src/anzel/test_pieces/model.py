"""What all test pieces have in common.

- *Test piece*: pieces to cut, and the *steps* on it, tried or measured one by one.
- *Step*: one feature of a test piece: its drawn number, engraved beside it, and what it comes to:
  an opening, what goes into it, and so the clearance it tries out.
- *Scale*: how the clearance follows from the drawn number: slope × number + base, mm.

Numbers are rounded to what is engraved (a thousandth of a millimetre or half a ten-thousandth of an
inch), so that the engraved number is exact.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import fsum
from typing import Annotated

from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable
from anzel.core.number_format import plain_measure
from anzel.core.units import MILLIMETRES_PER_INCH
from anzel.geometry.lettering import lettering
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Region, Stroke, stroke_length
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import FitRule, Size
from anzel.structure.line_work import PlateLine, name_lines
from anzel.structure.model import Feature, Piece, SheetSpec

DIGIT_HEIGHT = 3.2
_LIE: Placement = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


class TestPieceKind(StrEnum):
    """The test pieces Anzel makes."""

    COMB = "comb"
    WINDOWS = "windows"
    MORTISE = "mortise"
    INLAY = "inlay"
    FINGERS = "fingers"
    STRIPS = "strips"
    DISC = "disc"
    HINGES = "hinges"


USUAL_PLUGS = {
    TestPieceKind.WINDOWS: 16.0, TestPieceKind.MORTISE: 14.0, TestPieceKind.INLAY: 18.0
}  # fmt: skip
"""How large what is tried is, mm, unless the maker says otherwise; other kinds have none."""


class TestPieceSettings(Immutable):
    """The steps of one kind of test piece, mm.

    None: centred on today's number, or the default. Uneven `steps` replace start, step and count.
    `plug` is the size of what is tried in windows, mortises and pockets.
    """

    kind: TestPieceKind
    start: float | None = Field(default=None, ge=-20, le=400)
    step: float | None = Field(default=None, ge=0.005, le=5)
    count: int | None = Field(default=None, ge=1, le=25)
    steps: tuple[Annotated[float, Field(ge=-20, le=400)], ...] = Field(default=(), max_length=25)
    plug: float | None = Field(default=None, ge=6, le=80)


class TestPiecePlans(Immutable):
    """The maker's settings for test pieces: the scrap they are cut from (mm), and their numbers.

    Engraved numbers are in inches or not; with None they are as all numbers are shown.
    """

    scrap_width: float = Field(default=240.0, ge=30, le=10_000)
    scrap_height: float = Field(default=140.0, ge=30, le=10_000)
    inches: bool | None = None
    kinds: tuple[TestPieceSettings, ...] = ()

    def settings(self, kind: TestPieceKind) -> TestPieceSettings:
        """Return the settings of one kind."""
        known = (each for each in self.kinds if each.kind is kind)
        return next(known, None) or TestPieceSettings(kind=kind)


@dataclass(frozen=True)
class ClearanceScale:
    """Clearance = slope × drawn number + base, mm."""

    slope: float
    base: float

    def clearance(self, drawn: float) -> float:
        """Return the clearance of a drawn number, mm."""
        return self.slope * drawn + self.base

    def drawn(self, clearance: float) -> float:
        """Return the number to draw for a clearance, mm."""
        return (clearance - self.base) / self.slope


@dataclass(frozen=True)
class TestPieceStep:
    """One feature to try: its number as engraved, its opening, and what goes in."""

    id: str
    value: float
    label: str
    opening: Size
    inserted: Size

    @property
    def clearance(self) -> float:
        """The clearance that it tries out under the present thickness and kerf, mm."""
        return self.opening.produced - self.inserted.produced


@dataclass(frozen=True)
class TestPiece:
    """A test piece ready to cut.

    `today` is the number in use now; `scale` is None where the steps are measured, not felt.
    """

    kind: TestPieceKind
    pieces: tuple[Piece, ...]
    steps: tuple[TestPieceStep, ...]
    today: float
    scale: ClearanceScale | None

    @property
    def cut_length(self) -> float:
        """The length of all cuts, mm."""
        outlines = (c.length for piece in self.pieces for c in piece.region.contours)
        slits = (
            line.path.length for piece in self.pieces for line in piece.lines if not line.is_name
        )
        return fsum((*outlines, *slits))

    @property
    def engraved_length(self) -> float:
        """The length of all engraved strokes, mm."""
        strokes = (stroke for piece in self.pieces for stroke in piece.name_strokes)
        return fsum(map(stroke_length, strokes))

    def step(self, step_id: str) -> TestPieceStep:
        """Return the step of that id."""
        return next(step for step in self.steps if step.id == step_id)


@dataclass(frozen=True)
class TestPieceRequest:
    """All that a test piece is made from."""

    settings: TestPieceSettings
    sheet_spec: SheetSpec
    rule: FitRule
    inches: bool = False

    def numbers(
        self, today: float, *, step: float, count: int, positive: bool = False
    ) -> tuple[float, ...]:
        """Return the steps' numbers, as they will be engraved; `step` and `count` are the defaults.

        Where no start is set and centring would not stay positive (`positive`), they start at a
        step. Numbers that are set one by one are taken as they are, in order.
        """
        if self.settings.steps:
            return tuple(sorted({self._round(number) for number in self.settings.steps}))
        by = self.settings.step or (round(step / 0.0254) * 0.0254 if self.inches else step)
        many = self.settings.count or count
        start = self.settings.start
        if start is None:
            start = self._round(today, coarse=True) - by * (many // 2)
            start = max(start, by) if positive else start
        return tuple(self._round(start + by * index) for index in range(many))

    def label(self, value: float) -> str:
        """Return the engraved number: in inches three decimals, in mm two, more where needed."""
        if not self.inches:
            return f"{value:.2f}" if round(value, 2) == value else f"{value:.3f}"
        inch = round(value / MILLIMETRES_PER_INCH, 5)
        return f"{inch:.3f}" if round(inch, 3) == inch else f"{inch:.4f}"

    def _round(self, value: float, *, coarse: bool = False) -> float:
        if self.inches:
            digits = 3 if coarse else 4
            return round(round(value / MILLIMETRES_PER_INCH, digits) * MILLIMETRES_PER_INCH, 6)
        return round(value, 2 if coarse else 3)


def need_positive(numbers: Sequence[float], what: str) -> None:
    """Raise ParameterError if an opening would have no width."""
    if min(numbers) <= 0:
        raise ParameterError(
            f"The narrowest {what} would be {plain_measure(min(numbers))} wide.",
            hint="Start wider.",
            field="start",
        )


def flat_piece(
    name: str,
    sheet: SheetSpec,
    region: Region,
    features: Sequence[Feature] = (),
    engraved: Sequence[Stroke] = (),
    lines: Sequence[PlateLine] = (),
) -> Piece:
    """Return a piece of a test piece, lying flat."""
    return Piece(
        name, sheet.stock_id, sheet.measured_thickness, region, _LIE, tuple(features),
        (*name_lines(engraved), *lines),
    )  # fmt: skip


def engrave(text: str, centre: Point, room: float, height: float = DIGIT_HEIGHT) -> list[Stroke]:
    """Return a number in single strokes about a point, no wider than `room` mm."""
    strokes = lettering(text, height, centre)
    xs = [x for stroke in strokes for x, _ in stroke]
    width = max(xs) - min(xs)
    if width > room:
        strokes = lettering(text, height * room / width, centre)
    return list(strokes)
