"""Estimation of the thickness that a drawing was made for, from the sizes that recur in it."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from anzel.core.wording import counted
from anzel.geometry.regions import Indices
from anzel.geometry.segments import Floats
from anzel.refit.local_shapes import LocalShapes
from anzel.refit.mates import has_mate, is_preferred
from anzel.refit.sides import Sides

_DEEP = 1.3
"""A notch that is evidence of a sheet is so many times as deep as wide; others may be recesses."""
_THINNEST, _THICKEST = 0.2, 30.0
"""Sheet that is slotted together, mm: card to slab. Common practice, no source."""
_CLEARLY = 2.0
"""The drawn thickness has at least this many times the evidence of any other size."""
_FAR, _MUCH_MORE = 2.0, 4.0
"""A size that differs from the maker's sheet by more than this factor needs so many times as much
evidence: drawings are fitted to sheet of about their own. Common practice, no source."""
_REAL = 0.25
"""A size with less than this share of the evidence of another one is no candidate beside it."""
_FEWEST = 2
_SHARE = 0.1
_MOST = 0.25
"""Sizes belong together within a tenth, and never more than a quarter of a millimetre: a kerf or a
clearance may be in them. Common practice, no source."""


@dataclass(frozen=True)
class ThicknessEvidence:
    """A size that recurs, and where.

    How many slot floors, short sides of mortises, tab ends and finger steps have it.
    """

    value: float
    slots: int
    mortises: int
    tabs: int
    steps: int

    @property
    def count(self) -> int:
        """The number of occurrences."""
        return self.slots + self.mortises + self.tabs + self.steps

    @property
    def kinds(self) -> int:
        """The number of different kinds of feature."""
        return sum(map(bool, (self.slots, self.mortises, self.tabs, self.steps)))

    def __str__(self) -> str:
        words = (
            (self.slots, "slot floor"),
            (self.mortises, "mortise width"),
            (self.tabs, "tab height"),
            (self.steps, "finger depth"),
        )
        return ", ".join(counted(count, what) for count, what in words if count)


def tolerance_for(thickness: float) -> float:
    """Return how far sizes may be from a drawn thickness and still count as it, mm."""
    return min(_MOST, _SHARE * thickness)


def thickness_evidence(shapes: LocalShapes) -> tuple[ThicknessEvidence, ...]:
    """Return every size that could be the drawn thickness, the one with most evidence first."""
    kinds = _sizes(shapes)
    every = np.sort(np.concatenate(kinds)) if any(map(len, kinds)) else np.zeros(0)
    found = []
    while len(every):
        peak = _peak(every)
        reach = tolerance_for(peak)
        near = [kind[np.abs(kind - peak) <= reach] for kind in kinds]
        found.append(ThicknessEvidence(_value(near), *(len(each) for each in near)))
        every = every[np.abs(every - peak) > reach]
        kinds = [kind[np.abs(kind - peak) > reach] for kind in kinds]
    return likeliest_first(found, None)


def is_sure(found: Sequence[ThicknessEvidence], sheet: float | None = None) -> bool:
    """Return whether the likeliest size stands out so clearly that nobody needs to be asked."""
    found = likeliest_first(found, sheet)
    if not found or found[0].count < _FEWEST:
        return False
    best = found[0]
    return all(
        _weight(best, sheet) >= _CLEARLY * _weight(other, sheet)
        or (best.kinds > other.kinds and other.kinds < 2 and best.count > other.count)
        for other in found[1:]
    )


def likeliest_first(
    found: Sequence[ThicknessEvidence], sheet: float | None
) -> tuple[ThicknessEvidence, ...]:
    """Return sizes in the order of their evidence, less of it for those far from the sheet."""
    return tuple(
        sorted(found, key=lambda each: (-_weight(each, sheet), -each.kinds, each.value))
    )  # fmt: skip


def candidates(
    found: Sequence[ThicknessEvidence], sheet: float | None
) -> tuple[ThicknessEvidence, ...]:
    """Return those sizes that could be the drawn thickness: no single odd ones beside others."""
    ordered = likeliest_first(found, sheet)
    least = _REAL * _weight(ordered[0], sheet) if ordered else 0.0
    return tuple(each for each in ordered if _weight(each, sheet) >= least)


def _weight(found: ThicknessEvidence, sheet: float | None) -> float:
    is_near = sheet is None or 1 / _FAR <= found.value / sheet <= _FAR
    return found.count if is_near else found.count / _MUCH_MORE


def _sizes(shapes: LocalShapes) -> list[Floats]:
    """Return the sizes of slots, mortises, tabs and steps that have plausible proportions."""
    sides, notches, holes, posts = shapes.sides, shapes.notches, shapes.holes, shapes.posts
    deep = (notches.long >= _DEEP * notches.wide) & ~notches.round
    walls = _walls(sides, notches.side[(notches.long >= 0.8 * notches.wide) & ~notches.round])
    slots = notches.wide[deep]
    likely = (holes.long >= 1.3 * holes.wide) & ~holes.round
    mated = has_mate(shapes, holes) & is_preferred(shapes, holes)
    mortises = holes.wide[mated if mated.any() else likely]
    # what stands between two slots is as high as they are deep, and no tab
    free = ~np.isin(sides.before[posts.side], walls) & ~np.isin(sides.after[posts.side], walls)
    tab = free & (posts.long <= 1.5 * posts.wide)
    tabs = posts.long[tab]
    taken = np.r_[walls, _walls(sides, posts.side[tab])]
    # each finger and each gap has a step up and a step down: one of them counts
    steps = shapes.steps.height[shapes.steps.outwards & ~np.isin(shapes.steps.side, taken)]
    return [s[(s >= _THINNEST) & (s <= _THICKEST)] for s in (slots, mortises, tabs, steps)]


def _walls(sides: Sides, middle: Indices) -> Indices:
    return np.concatenate([sides.before[middle], sides.after[middle]])


def _peak(every: Floats) -> float:
    """Return the size with most others near it; among equals the most frequent one."""
    values, counts = np.unique(np.round(every, 3), return_counts=True)
    reach = np.minimum(_MOST, _SHARE * values)
    low = np.searchsorted(every, values - reach)
    high = np.searchsorted(every, values + reach, side="right")
    return float(values[np.lexsort((-counts, -(high - low)))[0]])


def _value(near: Sequence[Floats]) -> float:
    """Return the most frequent size; heights of tabs and fingers first, which no kerf changes."""
    for sizes in (np.concatenate([near[2], near[3]]), np.concatenate([near[0], near[1]])):
        if len(sizes):
            usual = Counter(np.round(sizes, 2).tolist()).most_common(1)[0][0]
            return float(np.round(np.median(sizes[np.abs(sizes - usual) <= 0.006]), 4))
    return 0.0
