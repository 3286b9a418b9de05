"""What trying a tongue in a comb's slots teaches.

Each slot, drawn some width, *felt*: it won't go in, it needs a mallet (press), it goes in by hand
and stays (snug), it slides, or it is loose. Wider can only feel looser; anything else is a
contradiction and is pointed at. A class *begins* somewhere between the last slot that felt tighter
and the first that felt so. The width to draw for a class is the middle of the slots that felt so.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from typing import Annotated

from pydantic import Field

from anzel.findings import ParameterError
from anzel.frozen import Frozen
from anzel.stock.fits import FitName, FitRule, KerfAt


class Feel(StrEnum):
    """How a tongue felt in a slot, tightest first."""

    WONT = "wont"
    PRESS = "press"
    SNUG = "snug"
    SLIDES = "slides"
    LOOSE = "loose"


TIGHTEST_FIRST = tuple(Feel)
FEEL_OF = {
    FitName.PRESS: Feel.PRESS,
    FitName.SNUG: Feel.SNUG,
    FitName.SLIDE: Feel.SLIDES,
    FitName.LOOSE: Feel.LOOSE,
}

Felt = tuple[Annotated[float, Field(gt=0, le=200)], Feel]
Begins = tuple[float | None, float | None]


class Trial(Frozen):
    """A trial as it was made: when, of what, and what was felt. Lengths in mm."""

    date: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    stock_id: str
    felt: tuple[Felt, ...] = Field(min_length=1)
    fit: FitName
    measured_thickness: float = Field(gt=0)
    kerf: float = Field(ge=0)
    kerf_at: KerfAt


@dataclass(frozen=True)
class Lesson:
    """What a trial taught, mm.

    `begins` gives for each class the drawn widths between which it begins (None: not within the
    comb). `offset` is drawn width less thickness, the number that works for every slot.
    """

    begins: dict[FitName, Begins]
    drawn_width: float
    clearance: float
    offset: float


def learn(felt: Sequence[Felt], fit: FitName, measured_thickness: float, rule: FitRule) -> Lesson:
    """The lesson for one fit class.

    Raises ParameterError for contradictions, and where no slot tells the class's width.
    """
    slots = sorted(felt)
    _need_monotone(slots)
    begins = {name: _begins(slots, FEEL_OF[name]) for name in FitName}
    width = _middle(slots, FEEL_OF[fit], begins[fit])
    offset = width - measured_thickness
    return Lesson(begins, width, offset + rule.drawn_kerf, offset)


def contradictions(felt: Sequence[Felt]) -> tuple[tuple[Felt, Felt], ...]:
    """Pairs of neighbouring slots where the wider felt tighter, or one width felt two ways."""
    return tuple(
        (a, b)
        for a, b in pairwise(sorted(felt))
        if _looseness(b[1]) < _looseness(a[1]) or (a[0] == b[0] and a[1] != b[1])
    )


def _looseness(feel: Feel) -> int:
    return TIGHTEST_FIRST.index(feel)


def _need_monotone(slots: Sequence[Felt]) -> None:
    for (narrow, tight), (wide, loose) in contradictions(slots):
        raise ParameterError(
            f"The slot of {wide:g} felt {loose.value}, but the narrower {narrow:g} felt "
            f"{tight.value}.",
            mend="Try these two again; a wider slot cannot feel tighter.",
            field="result",
        )


def _begins(slots: Sequence[Felt], feel: Feel) -> Begins:
    tighter = [width for width, felt in slots if _looseness(felt) < _looseness(feel)]
    so = [width for width, felt in slots if _looseness(felt) >= _looseness(feel)]
    return (tighter[-1] if tighter else None, so[0] if so else None)


def _middle(slots: Sequence[Felt], feel: Feel, begins: Begins) -> float:
    """The middle of the slots that felt so; between its neighbours where none did."""
    so = [width for width, felt in slots if felt is feel]
    if so:
        return (so[0] + so[-1]) / 2
    below, above = begins
    if below is not None and above is not None:
        return (below + above) / 2
    side = "wider" if above is None else "narrower"
    raise ParameterError(
        f"No slot felt {feel.value}, nor could one between have.",
        mend=f"Cut a comb with {side} slots.",
        field="result",
    )
