"""Intervals of a common line inside plates, and the slots that open from them."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import fsum

from anzel.core.tolerances import COINCIDENT
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import FitRule, Size, Term
from anzel.structure.joints.cutting_shapes import along, need_width, strip
from anzel.structure.model import Feature, FeatureKind, Plate
from anzel.structure.plane_intersection import PlaneIntersection

Span = tuple[float, float]
_BEYOND = 1.0
"""How far a slot's tool reaches out of the outline, mm; it leaves no trace."""


@dataclass(frozen=True)
class SlotOpening:
    """A slot of a plate from the split point to the edge.

    It runs along the common line (`sign` 1) or against it (-1). Its floor is `relief` beyond the
    split point, or it goes right `through` the interval that holds the split point.
    """

    plate: Plate
    intersection: PlaneIntersection
    spans: tuple[Span, ...]
    split: float
    sign: int
    relief: float
    through: bool = False

    def slot(
        self, joint: str, mate: str, taken: tuple[Term, ...], rule: FitRule, slack: float = 0.0
    ) -> tuple[Feature, Contour]:
        """Return the slot that takes the sum of `taken`, as a feature and as what is cut away.

        `slack` is added to the fit's clearance.
        """
        plate, sign = self.plate, self.sign
        more = (Term("slack", slack),) if slack else ()
        width = need_width(rule.opening(*taken, *more), plate, rule)
        island = next(span for span in self.spans if span[0] <= self.split <= span[1])
        mouth, root = (island[1], island[0]) if sign > 0 else island
        if self.through:
            floor, deeper = root, reach_of(plate, self.spans, island, -sign)
            depth = rule.step(Term("right through", sign * (mouth - root)))
        else:
            floor, deeper = self.split, self.relief
            depth = rule.step(
                Term("mouth to split point", sign * (mouth - floor)), Term("relief", deeper)
            )
        origin, direction = self.intersection.in_plate(plate)
        direction = (sign * direction[0], sign * direction[1])
        start, end = sign * floor - deeper, sign * mouth
        inside = fsum(term.value for term in taken)
        feature = Feature(
            FeatureKind.SLOT, plate.name, mate, joint, width, depth,
            along(origin, direction, (start + end) / 2), direction, Size(taken, inside, inside),
        )  # fmt: skip
        beyond = reach_of(plate, self.spans, island, sign)
        return feature, strip(origin, direction, start, end + beyond, width.drawn)


def reach_of(plate: Plate, spans: tuple[Span, ...], island: Span, sign: int) -> float:
    """Return how far the tool may run past the mouth, clear of the outline and of islands."""
    index = spans.index(island) + sign
    if 0 <= index < len(spans):
        gap = spans[index][0] - island[1] if sign > 0 else island[0] - spans[index][1]
        return min(gap / 2, plate.room)
    left, low, right, high = plate.region.bounds
    return min(right - left + high - low + _BEYOND, plate.room)


def spans_of(plate: Plate, intersection: PlaneIntersection) -> tuple[Span, ...]:
    """Return where a common line runs inside a plate."""
    return _spans_in(plate.region, *intersection.in_plate(plate))


@lru_cache(maxsize=4096)  # twice as many as the largest structure has slots
def _spans_in(region: Region, origin: Point, direction: Point) -> tuple[Span, ...]:
    """Return where a line runs inside an outline; unchanged while only thicknesses change."""
    return tuple(region.spans(origin, direction))


def common_spans(first: tuple[Span, ...], second: tuple[Span, ...]) -> tuple[Span, ...]:
    """Return the intersections of two lists of intervals."""
    both = ((max(a[0], b[0]), min(a[1], b[1])) for a in first for b in second)
    return tuple(span for span in both if span[1] - span[0] > COINCIDENT)


def merged_intervals(spans: Sequence[Span]) -> tuple[Span, ...]:
    """Return intervals with touching or overlapping ones merged, in order."""
    made: list[Span] = []
    for low, high in sorted(spans):
        if made and low <= made[-1][1]:
            made[-1] = (made[-1][0], max(high, made[-1][1]))
        else:
            made.append((low, high))
    return tuple(made)
