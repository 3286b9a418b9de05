"""Fit arithmetic: from measured thickness, clearance and kerf to the size that is drawn.

- *kerf*: full width of what one pass removes, mm. Cutting on the line, every cut edge recedes
  half of it into the kept part.
- *clearance*: produced opening minus what goes into it, mm; negative is interference
  (the sense of the words in ISO 286-1).
- *drawn*: the size in the file; *produced*: the size after cutting.

Kerf is taken care of once: *in the drawing* (the cutter runs on the line, so openings are drawn
a kerf narrower and tabs a kerf wider), *in the path* (the drawing has the produced sizes, and the
file holds a path half a kerf beside it, for a cutter that runs on the line) or *at the cutter* (it
offsets its path itself, so file and drawing have the produced size).
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from math import fsum, sin, tan

from pydantic import Field

from anzel.core.immutable import Immutable


class FitName(StrEnum):
    """The fit classes, loosest last."""

    PRESS = "press"
    SNUG = "snug"
    SLIDE = "slide"
    LOOSE = "loose"


FIT_MEANING = {
    FitName.PRESS: "needs a mallet",
    FitName.SNUG: "hand push, stays",
    FitName.SLIDE: "falls together, no wobble",
    FitName.LOOSE: "drops in, wobbles",
}


class KerfAt(StrEnum):
    """Who takes care of the kerf."""

    DRAWING = "drawing"
    PATH = "path"
    CUTTER = "cutter"


KERF_WORDS = {
    KerfAt.DRAWING: "in the drawing",
    KerfAt.PATH: "in the path",
    KerfAt.CUTTER: "at the cutter",
}


class Fits(Immutable):
    """The clearance of each fit class, mm, and the one in use.

    Defaults are common practice, no source: 0.05 over thickness for a hand-push fit, 0.3 for
    slack hand assembly.
    """

    press: float = Field(default=-0.05, ge=-2, le=2)
    snug: float = Field(default=0.05, ge=-2, le=2)
    slide: float = Field(default=0.15, ge=-2, le=2)
    loose: float = Field(default=0.30, ge=-2, le=2)
    in_use: FitName = FitName.SNUG

    def clearance_of(self, name: FitName) -> float:
        """The clearance of one class."""
        return float(getattr(self, name.value))

    @property
    def clearance(self) -> float:
        """The clearance of the class in use."""
        return self.clearance_of(self.in_use)


@dataclass(frozen=True)
class Term:
    """One line of a sum: what it is, and its value in mm with its sign."""

    label: str
    value: float


@dataclass(frozen=True)
class Size:
    """A size with the sum it came from. `drawn` goes into the file, `produced` comes out."""

    terms: tuple[Term, ...]
    drawn: float
    produced: float


@dataclass(frozen=True)
class FitRule:
    """The clearance, and the kerf of the sheet a feature is cut from; both mm."""

    clearance: float
    kerf: float
    kerf_at: KerfAt

    @property
    def drawn_kerf(self) -> float:
        """The part of the kerf that the drawing must make up for."""
        return self.kerf if self.kerf_at is KerfAt.DRAWING else 0.0

    def opening(self, *taken: Term) -> Size:
        """A slot or mortise side that takes something: w = what it takes + clearance - kerf."""
        terms = (*taken, Term("clearance", self.clearance), Term("kerf", -self.drawn_kerf))
        drawn = fsum(term.value for term in terms)
        return Size(terms, drawn, drawn + self.drawn_kerf)

    def outside(self, wanted: Term) -> Size:
        """An outside size, such as a tab's width: drawn a kerf wider than it shall come out."""
        drawn = wanted.value + self.drawn_kerf
        return Size((wanted, Term("kerf", self.drawn_kerf)), drawn, wanted.value)

    def step(self, *terms: Term) -> Size:
        """A tab's height or a slot's depth: both its edges recede alike, so kerf has no part."""
        drawn = fsum(term.value for term in terms)
        return Size(terms, drawn, drawn)


@lru_cache(maxsize=4096)
def crossing_terms(mate_thickness: float, own_thickness: float, angle: float) -> tuple[Term, ...]:
    """What a square-cut slot must take where two sheets cross at `angle` (radians, 0 < a < π).

    The bounding strip of one slab inside the other: t_mate / sin θ + t_own |cot θ|. At a right
    angle the second term vanishes and only the mating thickness is left.
    """
    slanted = own_thickness * abs(1 / tan(angle))
    if slanted < 1e-12:
        return (Term("mating sheet", mate_thickness),)
    across = mate_thickness / sin(angle)
    return (Term("mating sheet ÷ sin θ", across), Term("own sheet × cot θ", slanted))


Limits = tuple[float, float]
"""Least and greatest value, mm."""


def clearance_limits(opening: Limits, inserted: Limits) -> Limits:
    """The tightest and the loosest clearance that sizes within their limits can give.

    ISO 286-1: minimum clearance is the least opening less the greatest insert, maximum clearance
    the greatest opening less the least insert; negative values are interference.
    """
    return (opening[0] - inserted[1], opening[1] - inserted[0])
