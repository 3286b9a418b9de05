"""Features without a mate: a tab needs a mortise of its length, a slot needs another slot.

An unmatched feature is worth a look before cutting.
"""

from collections.abc import Iterator

import numpy as np

from anzel.refit.features import DrawnFeature, DrawnFeatureKind
from anzel.refit.mates import could_mate
from anzel.refit.refit import Refit


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


def _lengths(features: list[DrawnFeature], kind: DrawnFeatureKind) -> np.ndarray:
    return np.sort([each.length for each in features if each.kind is kind])
