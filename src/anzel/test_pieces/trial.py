"""What trying a test piece step by step teaches.

Each step, drawn some number, is *felt*: it won't go in, it needs a mallet (press), it goes in by
hand and stays (snug), it slides, or it is loose. More clearance can only feel looser; anything else
is a contradiction and is pointed out. A class *begins* somewhere between the last step that felt
tighter and the first that felt so. The number to draw for a class is the middle of the steps that
felt so. Lengths in mm.

Uncertainties are standard uncertainties (GUM, JCGM 100:2008): the beginning of a class lies
anywhere between two steps (rectangular, 4.3.7), and the middle of a class has half of each end's.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from math import hypot, sqrt
from typing import Annotated

from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable
from anzel.core.number_format import format_measure, plain_length, plain_measure
from anzel.materials.fits import FitName, KerfAt
from anzel.materials.kerf import LearntKerf
from anzel.test_pieces.model import ClearanceScale, TestPieceKind


class Feel(StrEnum):
    """How something felt in its opening, tightest first."""

    WONT = "wont"
    PRESS = "press"
    SNUG = "snug"
    SLIDES = "slides"
    LOOSE = "loose"


TIGHTEST_FIRST = tuple(Feel)
FEEL_WORDS = {
    Feel.WONT: "won't",
    Feel.PRESS: "press",
    Feel.SNUG: "snug",
    Feel.SLIDES: "slides",
    Feel.LOOSE: "loose",
}
FEEL_OF = {
    FitName.PRESS: Feel.PRESS,
    FitName.SNUG: Feel.SNUG,
    FitName.SLIDE: Feel.SLIDES,
    FitName.LOOSE: Feel.LOOSE,
}

Felt = tuple[Annotated[float, Field(ge=-20, le=400)], Feel]
Begins = tuple[float | None, float | None]


class Trial(Immutable):
    """A trial as it was made: when, of what, with which cutter, and what was felt.

    `slope` and `base` are the test piece's scale: clearance = slope × drawn + base.
    """

    date: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    stock_id: str
    cutter: str = ""
    kind: TestPieceKind = TestPieceKind.COMB
    felt: tuple[Felt, ...] = Field(min_length=1)
    fit: FitName
    slope: float = 1.0
    base: float
    measured_thickness: float = Field(gt=0)
    thickness_uncertainty: float = Field(default=0.0, ge=0)
    kerf: float = Field(ge=0)
    kerf_uncertainty: float = Field(default=0.0, ge=0)
    kerf_at: KerfAt

    @property
    def scale(self) -> ClearanceScale:
        """The scale from the drawn number to the clearance."""
        return ClearanceScale(self.slope, self.base)


@dataclass(frozen=True)
class Lesson:
    """What a trial taught for one class, mm.

    `begins` gives for each class the drawn numbers between which it begins (None: not within the
    test piece). `offset` is clearance less the kerf that the drawing makes up for: for a comb,
    drawn width less thickness. Uncertainties are standard uncertainties.
    """

    begins: dict[FitName, Begins]
    drawn: float
    drawn_uncertainty: float
    clearance: float
    clearance_uncertainty: float
    offset: float


def learn(trial: Trial) -> Lesson:
    """Return the lesson for the trial's fit class.

    Raises
    ------
    ParameterError
        For contradictions, and where no step tells the class's number.
    """
    steps = sorted(trial.felt, key=lambda step: trial.scale.clearance(step[0]))
    _need_monotone(steps, trial.scale)
    begins = {name: _begins(steps, FEEL_OF[name]) for name in FitName}
    drawn = _middle(steps, FEEL_OF[trial.fit], begins[trial.fit])
    doubt = _middle_doubt(steps, trial.fit)
    clearance = trial.scale.clearance(drawn)
    drawn_kerf = trial.kerf if trial.kerf_at is KerfAt.DRAWING else 0.0
    return Lesson(
        begins, drawn, doubt, clearance, _clearance_doubt(trial, doubt), clearance - drawn_kerf
    )


def contradictions(felt: Sequence[Felt], scale: ClearanceScale) -> tuple[tuple[Felt, Felt], ...]:
    """Return neighbouring steps where the looser one felt tighter, or one felt two ways."""
    steps = sorted(felt, key=lambda step: scale.clearance(step[0]))
    return tuple(
        (a, b)
        for a, b in pairwise(steps)
        if _looseness(b[1]) < _looseness(a[1]) or (a[0] == b[0] and a[1] != b[1])
    )


def kerf_from_comb(trial: Trial, clearance: float, clearance_uncertainty: float) -> LearntKerf:
    """Return the kerf, where the clearance of the class felt is known: k = t + c - w.

    Raises
    ------
    ParameterError
        For anything but a comb cut on the line, and as `learn` does.
    """
    if trial.kind is not TestPieceKind.COMB or trial.kerf_at is not KerfAt.DRAWING:
        raise ParameterError(
            "Only a comb cut on the line tells the kerf.",
            hint="Use strips or a disc and hole.", field="kind",
        )  # fmt: skip
    lesson = learn(trial)
    kerf = trial.measured_thickness + clearance - lesson.drawn
    if kerf < 0:
        raise ParameterError(
            f"With a clearance of {plain_measure(clearance)} this comb gives a kerf of "
            f"{format_measure(kerf, 3)}, which cannot be.",
            hint="Check the clearance and the thickness.", field="clearance",
        )  # fmt: skip
    doubts = (trial.thickness_uncertainty, clearance_uncertainty, lesson.drawn_uncertainty)
    return LearntKerf(kerf, hypot(*doubts))


def _looseness(feel: Feel) -> int:
    return TIGHTEST_FIRST.index(feel)


def _need_monotone(steps: Sequence[Felt], scale: ClearanceScale) -> None:
    for (tight_step, tight), (loose_step, loose) in contradictions(steps, scale):
        if tight_step == loose_step:
            raise ParameterError(
                f"The step of {plain_length(loose_step)} is named twice, as {tight.value} and as "
                f"{loose.value}.",
                hint="Say once how it felt.", field="result",
            )  # fmt: skip
        raise ParameterError(
            f"The step of {plain_length(loose_step)} felt {loose.value}, but "
            f"{plain_length(tight_step)}, which is narrower, felt {tight.value}.",
            hint="Try these two again; a wider one cannot feel tighter.",
            field="result",
        )


def _begins(steps: Sequence[Felt], feel: Feel) -> Begins:
    tighter = [drawn for drawn, felt in steps if _looseness(felt) < _looseness(feel)]
    so = [drawn for drawn, felt in steps if _looseness(felt) >= _looseness(feel)]
    return (tighter[-1] if tighter else None, so[0] if so else None)


def _middle(steps: Sequence[Felt], feel: Feel, begins: Begins) -> float:
    """Return the middle of the steps that felt so; between its neighbours where none did."""
    so = [drawn for drawn, felt in steps if felt is feel]
    if so:
        return (so[0] + so[-1]) / 2
    below, above = begins
    if below is not None and above is not None:
        return (below + above) / 2
    side = "more" if above is None else "less"
    raise ParameterError(
        f"No step felt {feel.value}, nor could one between have.",
        hint=f"Cut one with {side} clearance.",
        field="result",
    )


def _middle_doubt(steps: Sequence[Felt], fit: FitName) -> float:
    """Return half of the uncertainty of a class's ends; an unknown end adds nothing."""
    feel = FEEL_OF[fit]
    low = _begins(steps, feel)
    looser = [name for name in TIGHTEST_FIRST if _looseness(name) > _looseness(feel)]
    high: Begins = _begins(steps, looser[0]) if looser else (None, None)
    gaps = [b - a for a, b in (low, high) if a is not None and b is not None]
    return hypot(*gaps) / sqrt(12) / 2


def _clearance_doubt(trial: Trial, drawn_doubt: float) -> float:
    """Return the uncertainty that number, kerf (once or on both parts) and sheet leave."""
    is_comb = trial.kind is TestPieceKind.COMB
    kerf = trial.kerf_uncertainty * (1 if is_comb else 2)
    sheet = trial.thickness_uncertainty if is_comb else 0.0
    return hypot(trial.slope * drawn_doubt, kerf, sheet)
