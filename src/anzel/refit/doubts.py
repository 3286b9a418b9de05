"""Doubtful features: which wait for the maker, which are alike, and what either answer leads to."""

from dataclasses import dataclass, replace

from anzel.geometry.segments import Segment
from anzel.refit.refit import Decision, Outcome, Refit, decided, offsets_of, sizes_for
from anzel.refit.side_offset import offset_sides

_ALIKE = 0.05
"""Sizes of features that are alike differ by less than this, mm."""


@dataclass(frozen=True)
class Doubt:
    """A feature that waits for a decision, and the ids of all that wait for the same one."""

    decision: Decision
    likes: frozenset[str]


@dataclass(frozen=True)
class TwoWays:
    """The outlines of a feature's piece if it is left, and if it is changed, to its new size."""

    left: tuple[tuple[Segment, ...], ...]
    changed: tuple[tuple[Segment, ...], ...]
    new: float


def doubts_of(refit: Refit) -> tuple[Doubt, ...]:
    """Return the doubtful features that nobody has decided on, one for each kind of doubt."""
    waiting = [each for each in refit.decisions if each.outcome is Outcome.UNCERTAIN]
    found: list[Doubt] = []
    asked: set[str] = set()
    for each in waiting:
        if each.feature.id not in asked:
            likes = frozenset(o.feature.id for o in waiting if _alike(each, o))
            asked |= likes
            found.append(Doubt(each, likes))
    return tuple(found)


def two_ways(refit: Refit, decision: Decision) -> TwoWays:
    """Return what a doubtful feature comes to, left as it is and changed."""
    feature = decision.feature
    options = replace(refit.options, sure=refit.options.sure | {feature.id}, held=frozenset())
    changed = decided(feature, options, sizes_for(options))
    offsets, _ = offsets_of(refit.features, [changed], options)
    moved = offset_sides(refit.analysis.shapes.sides, offsets).edges
    rings = refit.analysis.nested
    own = [n for n, piece in enumerate(rings.piece_number.tolist()) if piece == feature.piece]
    before = [refit.edges.get(n, rings.loops[n].segments) for n in own]
    after = [moved.get(n, edges) for n, edges in zip(own, before, strict=True)]
    left, right = (
        tuple(
            refit.analysis.drawing.with_y_up(e for e in edges if e is not None) for edges in loops
        )
        for loops in (before, after)
    )
    return TwoWays(left, right, changed.new)


def _alike(one: Decision, other: Decision) -> bool:
    a, b = one.feature, other.feature
    return (
        (a.kind, a.uncertainty) == (b.kind, b.uncertainty)
        and abs(a.drawn - b.drawn) < _ALIKE
        and abs(a.length - b.length) < _ALIKE
    )
