"""Treatments of corners, recognised from sides: fillets, chamfers, relief holes and overrun loops.

Curves may be arcs, cubics, or the many short chords that some programs write for them.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise
from math import atan2, degrees, hypot, radians, sin
from statistics import median

from anzel.core.tolerances import CORNER_ON_LINE, SMALLEST, SQUARE
from anzel.geometry.intersections import lines_meet
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment

_STRAIGHT_ON = 0.1
"""Turn under which two straight edges are one side, degrees; their corner off the line by less
than CORNER_ON_LINE mm."""
_CHORD_TURN = (1.0, 50.0)
"""Turn between the chords of a flattened curve, degrees."""
_TANGENT = 28.0
"""A fillet starts along its side to this, degrees: half a turn between coarse chords and a bit."""
_LARGEST_RELIEF = 12.0
"""Reliefs and chamfers are smaller than this, mm. Common practice, no source: a relief is a few
times the cutter's width."""
LARGEST_NOTCH, _TALLEST_NOTCH = 3.5, 0.75
"""Relief notches are no wider and no deeper than this, mm, and take no more than this share of the
wall beside them. Common practice, no source."""
_NOTCH_SQUARE = 12.0
_FEWEST_AROUND_NOTCH = 8


@dataclass(slots=True)
class _Edge:
    """A straight run of edges, or one curve."""

    first: int
    count: int
    is_line: bool
    start: Point
    end: Point
    heading: float
    """Direction at the start, degrees."""
    leaving: float
    """Direction at the end, degrees."""
    sweep: float
    """The turn along the edge, degrees."""
    bend: bool
    """Whether it may be part of a corner's treatment."""
    notch: bool = False
    """Whether it is part of a relief notch, which is a treatment."""

    def prolong(self, start: Point, end: Point) -> None:
        """Set other ends on the same line."""
        self.start, self.end = start, end
        self.heading = self.leaving = degrees(atan2(end[1] - start[1], end[0] - start[0]))

    @property
    def chord(self) -> float:
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])


def treated(segments: Sequence[Segment]) -> list[tuple[int, int, bool]]:
    """Return (first edge, count, is straight) of each side of a loop, in order.

    A loop without corners gives its curves.
    """
    edges = _merged(segments)
    if len(edges) < 3:
        return [(e.first, e.count, e.is_line) for e in edges]
    _mark_chords(edges)
    _mark_relief_notches(edges)
    treatments = {i for group in _groups(edges) if _is_treatment(edges, group) for i in group}
    return [(e.first, e.count, e.is_line) for i, e in enumerate(edges) if i not in treatments]


def _merged(segments: Sequence[Segment]) -> list[_Edge]:
    """Return the edges with collinear straight ones merged."""
    edges: list[_Edge] = []
    for number, segment in enumerate(segments):
        made = _edge(number, segment)
        if edges and _goes_on(edges[-1], made):
            edges[-1].count += 1
            edges[-1].prolong(edges[-1].start, made.end)
        else:
            edges.append(made)
    if len(edges) > 2 and _goes_on(edges[-1], edges[0]):
        last = edges.pop()
        edges[0].first = last.first
        edges[0].count += last.count
        edges[0].prolong(last.start, edges[0].end)
    return edges


def _edge(number: int, segment: Segment) -> _Edge:
    (x0, y0), (x1, y1) = segment.start, segment.end
    if isinstance(segment, Line):
        heading = degrees(atan2(y1 - y0, x1 - x0))
        return _Edge(number, 1, True, segment.start, segment.end, heading, heading, 0.0, False)
    if isinstance(segment, Arc):  # by its radii: ends that were moved a little do not turn it
        way = -90.0 if segment.clockwise else 90.0
        ends = (_bearing(segment.centre, segment.start), _bearing(segment.centre, segment.end))
        heading, leaving = (bearing + way for bearing in ends)
        sweep = degrees(segment.sweep)
        return _Edge(number, 1, False, segment.start, segment.end, heading, leaving, sweep, True)
    points = [segment.point_at(t) for t in (0, 1e-4, 0.25, 0.5, 0.75, 1 - 1e-4, 1)]
    ways = [degrees(atan2(b[1] - a[1], b[0] - a[0])) for a, b in pairwise(points)]
    sweep = sum(turn_between(a, b) for a, b in pairwise(ways))
    return _Edge(number, 1, False, segment.start, segment.end, ways[0], ways[-1], sweep, True)


def _bearing(centre: Point, point: Point) -> float:
    return degrees(atan2(point[1] - centre[1], point[0] - centre[0]))


def _goes_on(one: _Edge, other: _Edge) -> bool:
    if not (one.is_line and other.is_line):
        return False
    angle = abs(turn_between(one.heading, other.heading))
    short = min(one.chord, other.chord)
    off = short * sin(radians(min(angle, 90.0)))
    return angle < _STRAIGHT_ON or (off < CORNER_ON_LINE and (angle < 5 or short < SMALLEST))


def turn_between(one: float, other: float) -> float:
    """Return the turn from one heading to another, in (-180, 180] degrees."""
    return 180 - (180 - (other - one)) % 360


def _mark_chords(edges: list[_Edge]) -> None:
    """Mark chamfers and the chords of flattened curves as possible parts of treatments."""
    count = len(edges)
    turns = [turn_between(e.leaving, edges[(i + 1) % count].heading) for i, e in enumerate(edges)]
    longest = max(range(count), key=lambda i: edges[i].chord)
    for run in _runs_of_turns(turns, longest):
        inner = list(dict.fromkeys(i % count for i in run[1:]))
        around = (inner[0] - 1, (inner[-1] + 1) % count) if inner else ()
        # an edge between two arcs is a floor or an end with fillets, and no chord of a curve
        if inner and all(edges[i].is_line for i in (*inner, *around)):
            for i in _chords(edges, turns, inner):
                edges[i].bend = True
    for i, edge in enumerate(edges):
        if edge.is_line and not edge.bend:
            edge.bend = _is_chamfer(edges, i, turns) or _is_loop(edges, i, turns)


def _runs_of_turns(turns: list[float], start: int) -> Iterator[list[int]]:
    """Yield maximal runs of corners that all turn slightly and the same way, by their numbers."""
    low, high = _CHORD_TURN
    count = len(turns)
    fits = [low < abs(t) < high for t in turns]
    begin = next((i for i in range(count) if not fits[i]), None)
    if begin is None:
        yield list(range(start - 1, start + count))  # all the way round, the longest edge first
        return
    run: list[int] = []
    for i in range(begin, begin + count + 1):
        at = i % count
        if fits[at] and (not run or (turns[at] > 0) == (turns[run[-1] % count] > 0)):
            run.append(i)
            continue
        if len(run) > 1:
            yield run
        run = [i] if fits[at] else []
    if len(run) > 1:
        yield run


def _chords(edges: list[_Edge], turns: list[float], inner: list[int]) -> Iterator[int]:
    """Yield those edges of a slightly turning run that are chords of a curve: the short ones."""
    lengths = [edges[i].chord for i in inner]
    usual = median(lengths)
    long = {i for i, size in zip(inner, lengths, strict=True) if size > 2.5 * usual}
    half_round = abs(abs(turns[inner[0] - 1] + sum(turns[i] for i in inner)) - 180) < 10
    if half_round and len(inner) == 3:
        yield from (inner[0], inner[2])  # a floor or an end between two chamfers
    elif not long and half_round and max(lengths) > 1.4 * usual:
        long = {inner[lengths.index(max(lengths))]}
    elif not long and (len(inner) > 1 or lengths[0] < _LARGEST_RELIEF):
        yield from inner
    for is_long, part in groupby(inner, key=lambda i: i in long):
        if long and not is_long:
            yield from _chords(edges, turns, list(part))


def _is_chamfer(edges: list[_Edge], at: int, turns: list[float]) -> bool:
    """Return whether a straight edge cuts off the corner between two longer ones."""
    before, after = turns[at - 1], turns[at]
    if before * after <= 0 or not (15 < abs(before) < 75 and 15 < abs(after) < 75):
        return False
    around = (edges[at - 1], edges[(at + 1) % len(edges)])
    own = edges[at].chord
    return own < _LARGEST_RELIEF and all(e.is_line and not e.bend and e.chord > own for e in around)


def _is_loop(edges: list[_Edge], at: int, turns: list[float]) -> bool:
    """Return whether a short edge is an overrun loop.

    It leads back from where one edge overran a corner to where the next begins before it.
    """
    before, after = turns[at - 1], turns[at]
    if before * after <= 0 or not 200 < abs(before + after) < 340:
        return False
    one, other = edges[at - 1], edges[(at + 1) % len(edges)]
    corner = _meeting(one, other)
    if corner is None or not (one.is_line and other.is_line):
        return False
    past = max(_distance(corner, one.end), _distance(corner, other.start))
    crossed = _ahead(one, corner) and not _ahead(other, corner)
    return crossed and past < min(one.chord, other.chord) and edges[at].chord < _LARGEST_RELIEF


def _mark_relief_notches(edges: list[_Edge]) -> None:
    """Mark notches cut into the shoulder at a tab's foot, so that its corner is clear.

    From the shoulder a short way into the material, a short floor, and the tab's wall, which goes
    on past the shoulder to the tab's end; or the same in the other direction.
    """
    count = len(edges)
    if count < _FEWEST_AROUND_NOTCH:
        return
    found = []
    for i, floor in enumerate(edges):
        if floor.is_line and floor.chord <= LARGEST_NOTCH:
            for way in (1, -1):
                around = [edges[(i + way * step) % count] for step in (-2, -1, 1, 2)]
                if _is_relief_notch(floor, around, way):
                    found += [floor, around[1]]
    for edge in found:
        edge.bend = edge.notch = True


def _is_relief_notch(floor: _Edge, around: list[_Edge], way: int) -> bool:
    """Return whether edges are shoulder, short wall, floor, the tab's wall and its end."""
    shoulder, short, wall, end = around
    if not all(e.is_line and not e.bend for e in (shoulder, short, wall)):
        return False
    run = [shoulder, short, floor, wall, end][::way]
    turns = [turn_between(a.leaving, b.heading) for a, b in pairwise(run)][::way]
    square = all(
        abs(turn - wanted) < _NOTCH_SQUARE
        for turn, wanted in zip(turns, (90, -90, -90, 90), strict=True)
    )
    clear = short.chord <= min(LARGEST_NOTCH, _TALLEST_NOTCH * wall.chord)
    return square and clear and floor.chord < min(shoulder.chord, end.chord)


def _groups(edges: list[_Edge]) -> Iterator[list[int]]:
    """Yield maximal runs of possible treatment edges between two straight sides."""
    count = len(edges)
    begin = next((i for i, edge in enumerate(edges) if not edge.bend), None)
    if begin is None:
        return
    group: list[int] = []
    for i in range(begin + 1, begin + count + 1):
        at = i % count
        if edges[at].bend:
            group.append(at)
        elif group:
            yield group
            group = []


def _is_treatment(edges: list[_Edge], group: list[int]) -> bool:
    """Return whether a group of edges rounds, chamfers or relieves the corner of its neighbours."""
    count = len(edges)
    before, after = edges[group[0] - 1], edges[(group[-1] + 1) % count]
    first, last = edges[group[0]], edges[group[-1]]
    whole = turn_between(before.heading, after.heading)
    corner = _meeting(before, after)
    if corner is None or not 20 < abs(whole) < 160:
        return False
    entering = turn_between(before.leaving, first.heading)
    leaving = turn_between(last.leaving, after.heading)
    sweep = _sweep(edges, group)
    size = max(hypot(e.end[0] - first.start[0], e.end[1] - first.start[1]) for e in [first, last])
    reach = max(_distance(corner, first.start), _distance(corner, last.end))
    if all(edges[i].notch for i in group):
        return True
    chords = [edges[i].chord for i in group if edges[i].is_line]
    if len(chords) > 1 and min(before.chord, after.chord) < 1.4 * median(chords):
        return False  # part of a curve that was drawn in chords, not a corner
    if len(group) == 1 and first.is_line:
        return True
    smooth = abs(entering) < _TANGENT and abs(leaving) < _TANGENT
    if smooth and abs(entering + sweep + leaving - whole) < 20:
        return _ahead(before, corner) and not _ahead(after, corner)
    depth = max(_distance(corner, edges[i].end) for i in group)
    return max(size, reach, depth) < _LARGEST_RELIEF and -130 < whole < -50 and sweep < -100


def _sweep(edges: list[_Edge], group: list[int]) -> float:
    between = sum(turn_between(edges[a].leaving, edges[b].heading) for a, b in pairwise(group))
    return between + sum(edges[i].sweep for i in group)


def _meeting(one: _Edge, other: _Edge) -> Point | None:
    """Return where the lines of two straight edges meet."""
    u = (one.end[0] - one.start[0], one.end[1] - one.start[1])
    v = (other.end[0] - other.start[0], other.end[1] - other.start[1])
    return lines_meet(one.start, u, other.start, v, least_sine=SQUARE)


def _ahead(edge: _Edge, point: Point) -> bool:
    """Return whether a point lies beyond the middle of an edge, in its direction."""
    mx, my = (edge.start[0] + edge.end[0]) / 2, (edge.start[1] + edge.end[1]) / 2
    ux, uy = edge.end[0] - edge.start[0], edge.end[1] - edge.start[1]
    return (point[0] - mx) * ux + (point[1] - my) * uy > 0


def _distance(one: Point, other: Point) -> float:
    return hypot(one[0] - other[0], one[1] - other[1])
