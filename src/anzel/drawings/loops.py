"""Loop assembly: from loose edges to closed loops.

Ends that meet are joined, small gaps are closed, doubled lines are merged. Nothing of this is
silent: each thing done or found is a *repair* with its place.
"""

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from math import cos, hypot, sin, sqrt

import numpy as np

from anzel.core.number_format import format_measure
from anzel.core.tolerances import COINCIDENT, LARGEST_GAP, SMALLEST
from anzel.core.wording import counted
from anzel.drawings.model import DrawnPath
from anzel.drawings.shared_sides import Link, shared_faces
from anzel.geometry.intersections import lines_meet
from anzel.geometry.regions import Indices
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Floats, Line, Segment, reverse, with_end_points


@dataclass(frozen=True)
class Loop:
    """Edges end to end, closed, and the drawn paths that follow one another in the loop."""

    segments: tuple[Segment, ...]
    links: tuple[Link, ...]

    def reversed(self) -> "Loop":
        """Return the same loop in the other direction."""
        return Loop(
            tuple(map(reverse, reversed(self.segments))),
            tuple((drawn_path, not backwards) for drawn_path, backwards in reversed(self.links)),
        )


_MOST_NEAR = 12
"""Of points that lie together so many are looked at: enough for any drawing, and bounded."""


@dataclass(frozen=True)
class Repair:
    """One kind of repair: what was done, how often, how large, and where.

    `what` begins with the things that it was done to, in the plural.
    """

    what: str
    places: tuple[Point, ...]
    largest: float = 0.0

    @property
    def description(self) -> str:
        """The repair in words."""
        upto = f", up to {format_measure(self.largest, 3)}" if self.largest else ""
        things, _, rest = self.what.partition(" ")
        return f"{counted(len(self.places), things.removesuffix('s'))} {rest}{upto}."


@dataclass
class AssembledLoops:
    """The loops of a drawing, the paths that stay open, and the repairs."""

    loops: list[Loop] = field(default_factory=list)
    open_paths: list[int] = field(default_factory=list)
    doubled: list[int] = field(default_factory=list)
    repairs: list[Repair] = field(default_factory=list)


def assemble_loops(
    drawn_paths: Sequence[DrawnPath], largest_gap: float = LARGEST_GAP
) -> AssembledLoops:
    """Return the loops that the drawn paths form, with gaps up to `largest_gap` mm closed."""
    found = AssembledLoops()
    whole = [i for i, drawn_path in enumerate(drawn_paths) if _is_closed(drawn_path.segments)]
    known = set(whole)
    loose = [i for i, t in enumerate(drawn_paths) if t.segments and i not in known]
    doubles = _doubled(drawn_paths, whole, loose)
    found.doubled = sorted(doubles)
    if doubles:
        places = tuple(drawn_paths[i].segments[0].point_at(0.5) for i in doubles)
        found.repairs.append(Repair("lines drawn twice merged", places))
    for i in whole:
        if i not in doubles:
            found.loops.append(Loop(_meeting(drawn_paths[i].segments), ((i, False),)))
    loose = [i for i in loose if i not in doubles]
    faces = shared_faces(drawn_paths, loose, largest_gap)
    for face in faces:
        _add_ring(found, drawn_paths, face)
    used = Counter(path for face in faces for path, _ in face)
    shared = tuple(drawn_paths[path].segments[0].point_at(0.5) for path in used if used[path] > 1)
    if shared:
        found.repairs.append(Repair("sides shared by two pieces, taken for both", shared))
    for chain, is_ring in _chains(drawn_paths, [i for i in loose if i not in used], largest_gap):
        if is_ring:
            _add_ring(found, drawn_paths, chain)
        else:
            found.open_paths.extend(drawn_path for drawn_path, _ in chain)
    _tell_gaps(found)
    if found.open_paths:
        places = tuple(drawn_paths[i].segments[0].start for i in found.open_paths)
        found.repairs.append(Repair("lines of no outline kept as drawn", places))
    return found


def _is_closed(segments: Sequence[Segment]) -> bool:
    return bool(segments) and is_near(segments[0].start, segments[-1].end)


def _meeting(segments: tuple[Segment, ...]) -> tuple[Segment, ...]:
    """Return a closed run of edges with its last end exactly on its first start."""
    last = segments[-1]
    if last.end == segments[0].start:
        return segments
    return (*segments[:-1], with_end_points(last, last.start, segments[0].start))


def _doubled(drawn_paths: Sequence[DrawnPath], whole: list[int], loose: list[int]) -> set[int]:
    """Return the drawn paths that lie wholly on an earlier one.

    Every edge has an equal edge in one and the same path.
    """
    first: dict[tuple[Segment, ...], int] = {}
    for i in (*whole, *loose):
        first.setdefault(drawn_paths[i].segments, i)
    order = list(first.values())  # copies to the last digit are told at once, however many
    copies = {*whole, *loose} - set(order)
    return copies | _lying_on_others(drawn_paths, order)


def _lying_on_others(drawn_paths: Sequence[DrawnPath], order: list[int]) -> set[int]:
    """Return those drawn paths that lie on an earlier one within a hundredth of a millimetre."""
    owners = np.repeat(order, [len(drawn_paths[i].segments) for i in order])
    if len(owners) < 2:
        return set()
    pairs = _coinciding(_middles(drawn_paths, order))
    if not len(pairs):
        return set()
    edges = [s for i in order for s in drawn_paths[i].segments]
    alike: dict[tuple[int, int], int] = defaultdict(int)
    for one, other in pairs.tolist():
        a, b = int(owners[one]), int(owners[other])
        if a != b and are_same(edges[one], edges[other]):
            alike[min(a, b), max(a, b)] += 1
    return {
        second
        for (first, second), count in alike.items()
        if count >= len(drawn_paths[second].segments) == len(drawn_paths[first].segments)
    }


def _coinciding(points: Floats) -> Indices:
    """Return (m, 2) pairs of points within SMALLEST.

    The points are sorted along a slanted line, because drawings are full of points with equal x or
    equal y. A tree would take several times the memory.
    """
    place = points @ np.array([cos(1.0), sin(1.0)])
    order = np.argsort(place, kind="stable")
    sorted_place, found = place[order], []
    for step in range(1, min(len(points), _MOST_NEAR)):
        near = np.flatnonzero(sorted_place[step:] - sorted_place[:-step] <= SMALLEST)
        if not len(near):
            break
        pairs = np.stack([order[near], order[near + step]], axis=1)
        apart = points[pairs[:, 0]] - points[pairs[:, 1]]
        found.append(pairs[np.hypot(*apart.T) <= SMALLEST])
    return np.concatenate(found) if found else np.zeros((0, 2), dtype=np.int64)


def _middles(drawn_paths: Sequence[DrawnPath], order: list[int]) -> Floats:
    """Return (n, 2) the middle of every edge of some drawn paths."""
    runs = [drawn_paths[i].segments for i in order]
    starts = np.array([c for run in runs for s in run for c in s.start]).reshape(-1, 2)
    ends = np.empty_like(starts)
    ends[:-1] = starts[1:]  # an edge ends where the next one starts, but for the last of a run
    ends[np.cumsum([len(run) for run in runs]) - 1] = [run[-1].end for run in runs]
    middles = (starts + ends) / 2
    curves = (
        (at, segment)
        for at, segment in enumerate(s for run in runs for s in run)
        if type(segment) is not Line
    )
    for at, curve in curves:
        middles[at] = curve.point_at(0.5)
    return middles


def are_same(one: Segment, other: Segment) -> bool:
    """Return whether two edges run between the same ends in the same way."""
    if _apart(one.start, other.start) > SMALLEST:
        other = reverse(other)
    if _apart(one.start, other.start) > SMALLEST or _apart(one.end, other.end) > SMALLEST:
        return False
    return _apart(one.point_at(0.25), other.point_at(0.25)) <= 2 * SMALLEST


def _chains(
    drawn_paths: Sequence[DrawnPath], loose: list[int], largest_gap: float
) -> Iterable[tuple[list[Link], bool]]:
    """Yield the loose drawn paths chained end to end, each with whether it closes to a ring."""
    partner = _partners(drawn_paths, loose, largest_gap)
    seen: set[int] = set()
    for first in loose:
        if first in seen:
            continue
        chain = _walk(first, True, partner)
        is_ring = partner.get((chain[-1][0], not chain[-1][1])) == (first, False)
        if not is_ring:
            back = [
                (drawn_path, not backwards)
                for drawn_path, backwards in _walk(first, False, partner)
            ]
            chain = [*reversed(back[1:]), *chain]
        seen.update(drawn_path for drawn_path, _ in chain)
        yield chain, is_ring


_End = tuple[int, bool]
"""A drawn path's end: True for where it ends, False for where it starts."""


def _walk(first: int, forward: bool, partner: dict[_End, _End]) -> list[Link]:
    chain = [(first, not forward)]
    end: _End = (first, forward)
    while (follower := partner.get(end)) is not None and follower[0] != first:
        drawn_path, at_end = follower
        chain.append((drawn_path, at_end))
        end = (drawn_path, not at_end)
    return chain


def _partners(
    drawn_paths: Sequence[DrawnPath], loose: list[int], largest_gap: float
) -> dict[_End, _End]:
    """Return which end continues at which.

    The nearest first, of the same layer first, each used once.
    """
    ends = [(i, at_end) for i in loose for at_end in (False, True)]
    points = [
        drawn_paths[i].segments[-1].end if e else drawn_paths[i].segments[0].start for i, e in ends
    ]
    if not points:
        return {}
    pairs = _near_pairs(np.array(points), largest_gap)
    ranked = sorted(
        (
            drawn_paths[ends[a][0]].label != drawn_paths[ends[b][0]].label,
            round(_apart(points[a], points[b]), 6),
            a,
            b,
        )
        for a, b in pairs.tolist()
        if ends[a][0] != ends[b][0] or _length(drawn_paths[ends[a][0]]) > 2 * largest_gap
    )
    partner: dict[_End, _End] = {}
    for _, _, a, b in ranked:
        if ends[a] not in partner and ends[b] not in partner:
            partner[ends[a]], partner[ends[b]] = ends[b], ends[a]
    return partner


def _near_pairs(points: Floats, reach: float) -> Indices:
    """Return (m, 2) pairs of points within reach.

    Only the nearest few of each point count, because nobody means very many ends to be joined in
    pairs.
    """
    from scipy.spatial import cKDTree  # loading it would delay the window

    count = min(_MOST_NEAR, len(points))
    far, near = cKDTree(points).query(points, k=count, distance_upper_bound=reach)
    if count == 1:
        return np.zeros((0, 2), dtype=np.int64)
    one = np.repeat(np.arange(len(points)), count)
    found = np.isfinite(far).ravel() & (near.ravel() != one) & (near.ravel() < len(points))
    pairs = np.sort(np.stack([one[found], near.ravel()[found]], axis=1), axis=1)
    return np.unique(pairs, axis=0)


def _length(drawn_path: DrawnPath) -> float:
    return sum(segment.length for segment in drawn_path.segments)


def _add_ring(found: AssembledLoops, drawn_paths: Sequence[DrawnPath], chain: list[Link]) -> None:
    segments: list[Segment] = []
    for i, backwards in chain:
        own = drawn_paths[i].segments
        segments += map(reverse, reversed(own)) if backwards else own
    found.loops.append(Loop(_joined(segments, found), tuple(chain)))


def _joined(segments: list[Segment], found: AssembledLoops) -> tuple[Segment, ...]:
    """Return the edges with each end exactly on the next start, and note the gaps."""
    starts = [segment.start for segment in segments]
    ends = [segment.end for segment in segments]
    for at in range(len(segments)):
        after = (at + 1) % len(segments)
        gap = _apart(ends[at], starts[after])
        if gap > COINCIDENT:
            found.repairs.append(Repair("gap", (ends[at],), gap))
            meeting = _corner(segments[at], segments[after], gap) or starts[after]
            ends[at] = starts[after] = meeting
        ends[at] = starts[after]
    return tuple(_between(s, a, b) for s, a, b in zip(segments, starts, ends, strict=True))


def _between(edge: Segment, start: Point, end: Point) -> Segment:
    """Return an edge with other end points.

    An arc keeps its radius and gets the centre that follows.
    """
    stays = is_near(edge.start, start) and is_near(edge.end, end)
    if not isinstance(edge, Arc) or stays or edge.is_circle:
        return with_end_points(edge, start, end)
    chord = _apart(start, end)
    if not 0 < chord < 2 * edge.radius:
        return with_end_points(edge, start, end)
    reach = sqrt(edge.radius**2 - chord**2 / 4)
    across = ((start[1] - end[1]) / chord * reach, (end[0] - start[0]) / chord * reach)
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    centres = [(middle[0] + s * across[0], middle[1] + s * across[1]) for s in (1, -1)]
    centre = min(centres, key=lambda each: _apart(each, edge.centre))
    return Arc(start, end, centre, edge.clockwise)


def _corner(one: Segment, other: Segment, gap: float) -> Point | None:
    """Return where two straight edges would meet, if that is no further than their gap."""
    if not (isinstance(one, Line) and isinstance(other, Line)):
        return None
    meeting = lines_meet(one.end, one.chord, other.start, other.chord, least_sine=0.1)
    if meeting is None:
        return None
    near = _apart(meeting, one.end) <= 1.5 * gap and _apart(meeting, other.start) <= 1.5 * gap
    return meeting if near else None


def _tell_gaps(found: AssembledLoops) -> None:
    gaps = [repair for repair in found.repairs if repair.what == "gap"]
    if not gaps:
        return
    found.repairs = [repair for repair in found.repairs if repair.what != "gap"]
    places = tuple(repair.places[0] for repair in gaps)
    largest = max(repair.largest for repair in gaps)
    found.repairs.insert(0, Repair("gaps closed", places, largest))


def is_near(one: Point, other: Point) -> bool:
    """Return whether two points are equal apart from rounding."""
    return _apart(one, other) <= COINCIDENT


def _apart(one: Point, other: Point) -> float:
    return hypot(one[0] - other[0], one[1] - other[1])
