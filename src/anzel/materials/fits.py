"""Fit arithmetic: from measured thickness, clearance and kerf to the size that is drawn.

- *kerf*: full width of what one pass removes, mm. Cutting on the line, every cut edge recedes half
  of it into the kept part.
- *clearance*: produced opening minus what goes into it, mm; negative is interference (the sense of
  the words in ISO 286-1).
- *drawn*: the size in the file; *produced*: the size after cutting.

Kerf is taken care of once: *in the drawing* (the cutter runs on the line, so openings are drawn a
kerf narrower and tabs a kerf wider), *in the path* (the drawing has the produced sizes, and the
file holds a path half a kerf beside it, for a cutter that runs on the line) or *at the cutter* (it
offsets its path itself, so file and drawing have the produced size).
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from math import cos, fsum, sin, tan

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.core.tolerances import VANISHING


class FitName(StrEnum):
    """The fit classes, tightest first."""

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
    """Where the kerf is taken care of."""

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

    Defaults are common practice, no source: 0.05 over thickness for a hand-push fit, 0.3 for slack
    hand assembly.
    """

    press: float = Field(default=-0.05, ge=-2, le=2)
    snug: float = Field(default=0.05, ge=-2, le=2)
    slide: float = Field(default=0.15, ge=-2, le=2)
    loose: float = Field(default=0.30, ge=-2, le=2)
    in_use: FitName = FitName.SNUG

    def clearance_of(self, name: FitName) -> float:
        """Return the clearance of one class, mm."""
        return float(getattr(self, name.value))

    @property
    def clearance(self) -> float:
        """The clearance of the class in use."""
        return self.clearance_of(self.in_use)


@dataclass(frozen=True)
class Term:
    """One line of a sum: its label, and its value in mm with its sign."""

    label: str
    value: float


@dataclass(frozen=True)
class Size:
    """A size with the sum it came from.

    `drawn` goes into the file; `produced` is the size after cutting.
    """

    terms: tuple[Term, ...]
    drawn: float
    produced: float


@dataclass(frozen=True)
class FitRule:
    """The clearance, and the kerf of the sheet that a feature is cut from; both mm."""

    clearance: float
    kerf: float
    kerf_at: KerfAt

    @property
    def drawn_kerf(self) -> float:
        """The part of the kerf that the drawing must make up for, mm."""
        return self.kerf if self.kerf_at is KerfAt.DRAWING else 0.0

    def opening(self, *taken: Term) -> Size:
        """Return the size of a slot or mortise: what it takes + clearance - kerf, mm.

        Source: handbook of the trade, 2.

        Examples
        --------
        >>> rule = FitRule(clearance=0.05, kerf=0.16, kerf_at=KerfAt.DRAWING)
        >>> size = rule.opening(Term("sheet", 2.94))
        >>> round(size.drawn, 3), round(size.produced, 3)
        (2.83, 2.99)
        """
        terms = (*taken, Term("clearance", self.clearance), Term("kerf", -self.drawn_kerf))
        drawn = fsum(term.value for term in terms)
        return Size(terms, drawn, drawn + self.drawn_kerf)

    def outside(self, wanted: Term) -> Size:
        """Return an outside size, such as the width of a tab.

        Drawn one kerf wider than it comes out, mm.

        Examples
        --------
        >>> rule = FitRule(clearance=0.05, kerf=0.16, kerf_at=KerfAt.DRAWING)
        >>> round(rule.outside(Term("tab", 14.0)).drawn, 3)
        14.16
        """
        drawn = wanted.value + self.drawn_kerf
        return Size((wanted, Term("kerf", self.drawn_kerf)), drawn, wanted.value)

    def step(self, *terms: Term) -> Size:
        """Return the height of a tab or the depth of a slot.

        Both edges recede alike, so the kerf has no part.

        Examples
        --------
        >>> rule = FitRule(clearance=0.05, kerf=0.16, kerf_at=KerfAt.DRAWING)
        >>> rule.step(Term("mating sheet", 2.94)).drawn
        2.94
        """
        drawn = fsum(term.value for term in terms)
        return Size(terms, drawn, drawn)


@lru_cache(maxsize=4096)  # two numbers for each crossing
def crossing_terms(mate_thickness: float, own_thickness: float, angle: float) -> tuple[Term, ...]:
    """Return what a square-cut slot must take where two sheets cross at an angle, mm.

    The angle is in radians, 0 < a < π. The slot takes the bounding strip of one slab inside the
    other: t_mate / sin θ + t_own |cot θ| (handbook of the trade, 3). At a right angle the second
    term vanishes and only the mating thickness is left.

    Examples
    --------
    >>> from math import radians
    >>> round(sum(term.value for term in crossing_terms(3.0, 3.0, radians(90))), 3)
    3.0
    >>> round(sum(term.value for term in crossing_terms(3.0, 3.0, radians(60))), 3)
    5.196
    """
    slanted = own_thickness * abs(1 / tan(angle))
    if slanted < VANISHING:
        return (Term("mating sheet", mate_thickness),)
    across = mate_thickness / sin(angle)
    return (Term("mating sheet ÷ sin θ", across), Term("own sheet × cot θ", slanted))


def tab_terms(
    tab_thickness: float, mortised_thickness: float, reach: float, angle: float
) -> tuple[Term, ...]:
    """Return what a square-ended tab takes of a mortise across it, mm.

    The tab stands with its corner against the near face, at `angle` radians to the mortised sheet,
    and reaches so far into it along itself. Leaning by λ from square, it spans t cos λ + u sin λ
    [derived: the rectangle t × u, turned by λ and projected]. One that stands out far enough fills
    the whole strip in which the sheets cross.

    Examples
    --------
    >>> from math import radians
    >>> terms = tab_terms(3.0, 3.0, 3.0 / sin(radians(60)), radians(60))
    >>> round(sum(term.value for term in terms), 3)  # 3 cos 30° + 3 tan 30°
    4.33
    """
    crossing = crossing_terms(tab_thickness, mortised_thickness, angle)
    spanned = (
        Term("mating sheet × sin θ", tab_thickness * sin(angle)),
        Term("reach of the tab × |cos θ|", reach * abs(cos(angle))),
    )
    is_filled = sum(t.value for t in crossing) <= sum(t.value for t in spanned) + VANISHING
    return crossing if len(crossing) == 1 or is_filled else spanned


Limits = tuple[float, float]
"""Least and greatest value, mm."""


def clearance_limits(opening: Limits, inserted: Limits) -> Limits:
    """Return the tightest and the loosest clearance of sizes within their limits, mm.

    ISO 286-1: minimum clearance is the least opening less the greatest insert, maximum clearance
    the greatest opening less the least insert; negative values are interference.

    Examples
    --------
    >>> low, high = clearance_limits((3.0, 3.1), (2.9, 3.05))
    >>> round(low, 3), round(high, 3)
    (-0.05, 0.2)
    """
    return (opening[0] - inserted[1], opening[1] - inserted[0])
