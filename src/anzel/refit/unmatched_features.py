"""Which features could go together: a tab with a mortise of its length, a slot with another. One
that has no mate is worth a look before cutting."""

from collections.abc import Iterator

import numpy as np

from anzel.refit.features import Feature, Kind
from anzel.refit.finger_rows import among
from anzel.refit.refit import Refit


def without_mate(refit: Refit) -> Iterator[Feature]:
    """Tabs without a mortise as long, mortises without a tab, slots that are alone."""
    certain = [each.feature for each in refit.decisions if not each.feature.doubt]
    lengths = {kind: _lengths(certain, kind) for kind in Kind}
    mates = {Kind.TAB: lengths[Kind.MORTISE], Kind.MORTISE: lengths[Kind.TAB]}
    slots = [each for each in certain if each.kind is Kind.SLOT]
    for each in certain:
        others = mates.get(each.kind)
        if others is not None and len(others) and not among(each.length, others):
            yield each
    if len(slots) == 1:
        yield slots[0]


def _lengths(features: list[Feature], kind: Kind) -> np.ndarray:
    return np.sort([each.length for each in features if each.kind is kind])
