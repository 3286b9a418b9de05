"""Features without a mate: a tab needs a mortise of its length, a slot needs another slot.

An unmatched feature is worth a look before cutting.
"""

from collections.abc import Iterator

import numpy as np

from anzel.core.number_format import format_measure
from anzel.refit.features import DrawnFeature, DrawnFeatureKind
from anzel.refit.mates import MATES, could_mate, straight_lengths
from anzel.refit.refit import Outcome, Refit

_GO_TOGETHER = {
    DrawnFeatureKind.TAB: DrawnFeatureKind.MORTISE,
    DrawnFeatureKind.MORTISE: DrawnFeatureKind.TAB,
}
_LEFT = (Outcome.NO_ROOM, Outcome.UNCERTAIN)


def unmatched_features(refit: Refit) -> Iterator[DrawnFeature]:
    """Yield tabs without a mortise of their length, mortises without a tab, and single slots."""
    certain = [each.feature for each in refit.decisions if not each.feature.uncertainty]
    lengths = {kind: _lengths(certain, kind) for kind in DrawnFeatureKind}
    mates = {
        DrawnFeatureKind.TAB: lengths[DrawnFeatureKind.MORTISE],
        DrawnFeatureKind.MORTISE: lengths[DrawnFeatureKind.TAB],
    }
    slots = [each for each in certain if each.kind is DrawnFeatureKind.SLOT]
    for each in certain:
        others = mates.get(each.kind)
        if others is not None and len(others) and not could_mate(each.length, others):
            yield each
    if len(slots) == 1:
        yield slots[0]


def abandoned_features(refit: Refit) -> Iterator[tuple[DrawnFeature, str]]:
    """Yield tabs and mortises that change while what they go together with is left, and why."""
    holes = refit.analysis.shapes.holes
    long, wide = straight_lengths(holes), holes.wide
    for each in refit.decisions:
        own = each.feature
        if not each.moved or own.kind not in _GO_TOGETHER:
            continue
        mates = [
            other for other in refit.decisions
            if other.feature.kind is _GO_TOGETHER[own.kind]
            and abs(other.feature.length - own.length) <= MATES
        ]  # fmt: skip
        if mates and all(other.outcome in _LEFT for other in mates):
            yield own, f"what it goes together with is left: {mates[0].why}"
        elif not mates and own.kind is DrawnFeatureKind.TAB:
            near = np.abs(long - own.length) <= MATES
            near &= (wide > own.thickness / 2) & (wide < 2 * own.thickness)
            if near.any():
                size = format_measure(float(wide[near][0]), 2)
                yield own, f"the holes of its length are {size} wide, too far from its height"


def _lengths(features: list[DrawnFeature], kind: DrawnFeatureKind) -> np.ndarray:
    return np.sort([each.length for each in features if each.kind is kind])
