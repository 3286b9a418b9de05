"""Stepped edges: edges that step between two levels a sheet's thickness apart.

They are tabs or finger rows.

A tab stands on a shoulder and goes into a mortise. A finger goes into the gap of another edge and
shares its own edge evenly with the gaps. Widths tell which is which, and what they could mate with.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

import numpy as np

from anzel.geometry.regions import Indices
from anzel.geometry.segments import Floats
from anzel.refit.local_shapes import LocalShapes
from anzel.refit.mates import MATES, could_mate

_EVEN = 0.15
"""Fingers and gaps are even to this share of their width, or to 1 mm. Kerf is in both."""


@dataclass(frozen=True)
class SteppedEdge:
    """A run of steps on one edge.

    The sides between them, from corner to corner, and which of those are at the outer level.
    `thickness` is the height of the steps.
    """

    sides: tuple[int, ...]
    walls: tuple[int, ...]
    outer: tuple[bool, ...]
    lengths: tuple[float, ...]
    thickness: float

    @property
    def posts(self) -> list[int]:
        """The numbers of the sides that stand out between two steps."""
        return [i for i in range(1, len(self.sides) - 1) if self.outer[i]]

    @property
    def gaps(self) -> list[int]:
        """The numbers of the sides that lie back between two steps."""
        return [i for i in range(1, len(self.sides) - 1) if not self.outer[i]]

    @property
    def is_even(self) -> bool:
        """Whether steps share the edge evenly; the outermost may be longer or cut shorter."""
        inner = self.lengths[1:-1]
        if not inner:
            return False
        usual = float(np.median(inner))
        slack = max(1.0, _EVEN * usual)
        if any(abs(size - usual) > slack for size in inner):
            return False
        ends = (self.lengths[0], self.lengths[-1])
        return all(0 < size <= usual + slack + self.thickness for size in ends)

    @property
    def is_in_thirds(self) -> bool:
        """Whether one gap takes the middle third of the edge, as on a corner of three fingers."""
        if len(self.walls) != 2 or self.posts:
            return False
        slack = max(1.0, _EVEN * self.lengths[1]) + self.thickness
        return all(abs(self.lengths[end] - self.lengths[1]) <= slack for end in (0, 2))


class EdgeInterpretation(StrEnum):
    """What a stepped edge is taken for."""

    TABS = "tabs"
    FINGERS = "fingers"
    NEITHER = "neither"
    UNSURE = "unsure"


CHOICES = (EdgeInterpretation.TABS, EdgeInterpretation.FINGERS, EdgeInterpretation.NEITHER)
"""What the maker may say that an edge is."""


class EdgeReading(NamedTuple):
    """What a stepped edge is taken for, and why in words. The maker may choose otherwise."""

    id: str
    edge: SteppedEdge
    taken_for: EdgeInterpretation
    why: str


def stepped_edges(shapes: LocalShapes, meant_for: Floats) -> list[SteppedEdge]:
    """Return the runs of steps as high as a drawn thickness.

    `meant_for` (n,) gives the drawn thickness of each step, NaN where there is none.
    """
    sides, steps = shapes.sides, shapes.steps
    of_a_sheet = ~np.isnan(meant_for)
    heights = dict(
        zip(steps.side[of_a_sheet].tolist(), meant_for[of_a_sheet].tolist(), strict=True)
    )
    outwards = dict(zip(steps.side.tolist(), steps.outwards.tolist(), strict=True))
    after, before = sides.after, sides.before

    def neighbour(wall: int, links: Indices) -> int | None:
        other = int(links[links[wall]])
        goes_on = heights.get(other) == heights[wall] and outwards[other] != outwards[wall]
        return other if goes_on else None

    found, seen = [], set()
    for wall in heights:
        if wall in seen:
            continue
        first = wall
        while (earlier := neighbour(first, before)) is not None and earlier != wall:
            first = earlier
        walls = [first]
        while (later := neighbour(walls[-1], after)) is not None and later != first:
            walls.append(later)
        seen.update(walls)
        levels = [int(before[first]), *(int(after[w]) for w in walls)]
        rises = [outwards[w] for w in walls]
        outer = [not rises[0], *rises]
        lengths = [float(sides.length[s]) for s in levels]
        found.append(
            SteppedEdge(tuple(levels), tuple(walls), tuple(outer), tuple(lengths), heights[wall])
        )
    return found


def interpret_edges(
    edges: Sequence[SteppedEdge],
    mortise_lengths: Iterable[float],
    chosen: Mapping[str, EdgeInterpretation] | None = None,
) -> list[EdgeReading]:
    """Return what each edge is taken for, given the others, the mortises and the maker's choice."""
    chosen = chosen or {}
    mortises = np.sort(np.array(list(mortise_lengths)))
    in_mortises = [
        _goes_into(edge, mortises) and not _has_counterpart(edge, edges, whole=True)
        for edge in edges
    ]
    others = [edge for edge, tabs in zip(edges, in_mortises, strict=True) if not tabs]
    thirds = sum(edge.is_in_thirds for edge in others) > 1  # once it could be a recess
    found = []
    for number, (edge, tabs) in enumerate(zip(edges, in_mortises, strict=True), start=1):
        name = f"edge-{number}"
        taken, why = (
            (chosen[name], "you said so") if name in chosen
            else (EdgeInterpretation.TABS, "they go into mortises") if tabs
            else _read(edge, edges, thirds=thirds)
        )  # fmt: skip
        found.append(EdgeReading(name, edge, taken, why))
    return found


def _goes_into(edge: SteppedEdge, mortises: Floats) -> bool:
    """Return whether all that stands out of an edge, on shoulders, could be in mortises."""
    on_shoulders = bool(edge.posts) and not (edge.outer[0] or edge.outer[-1])
    return on_shoulders and all(could_mate(edge.lengths[i], mortises) for i in edge.posts)


def _has_counterpart(
    edge: SteppedEdge, edges: Sequence[SteppedEdge], *, whole: bool = False
) -> bool:
    """Return whether another edge has gaps exactly where this one has fingers.

    With `whole`, from corner to corner.
    """
    wanted = tuple(not out for out in edge.outer)
    return any(other.outer == wanted and _interlock(edge, other, whole=whole) for other in edges)


def _interlock(edge: SteppedEdge, other: SteppedEdge, *, whole: bool) -> bool:
    """Return whether two edges have their steps in the same places, from at least one corner on.

    Past the other corner an edge may go on. A corner of the piece belongs to one of the two, so a
    step there may be a thickness longer.
    """
    off = [b - a for a, b in zip(edge.lengths, other.lengths, strict=True)]
    slack = MATES + 0.5
    at_corners = slack + edge.thickness
    longer = [gap if out else -gap for gap, out in zip(off, edge.outer, strict=True)]
    return (
        all(abs(each) <= slack for each in off[1:-1])
        and min(longer[0], longer[-1]) >= -at_corners
        and (max if whole else min)(abs(off[0]), abs(off[-1])) <= at_corners
    )


def _read(
    edge: SteppedEdge, edges: Sequence[SteppedEdge], *, thirds: bool
) -> tuple[EdgeInterpretation, str]:
    """Return what an edge is whose posts go into no mortise, and why.

    Fingers fill their edge evenly or have a counterpart with the same steps. Posts with shoulders
    on both sides are tabs otherwise.
    """
    if len(edge.walls) == 1:
        return EdgeInterpretation.UNSURE, "it has one step alone"
    if (edge.is_even and len(edge.walls) > 2) or (thirds and edge.is_in_thirds):
        return EdgeInterpretation.FINGERS, "they share their edge evenly with the gaps"
    if _has_counterpart(edge, edges):
        return EdgeInterpretation.FINGERS, "another edge has gaps where it has fingers"
    if edge.posts and not (edge.outer[0] or edge.outer[-1]):
        return EdgeInterpretation.TABS, "they stand on shoulders"
    return EdgeInterpretation.UNSURE, "it steps unevenly"
