"""The refit of an analysed drawing.

What each feature becomes under the maker's options, and the new edges.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from enum import Enum, StrEnum, auto
from functools import cache, cached_property
from heapq import merge
from operator import itemgetter
from statistics import median
from typing import NamedTuple

from anzel.core.tolerances import SAME_SIZE
from anzel.drawings.loops import is_near
from anzel.drawings.model import ChangedPath, DrawingError
from anzel.geometry.segments import Segment, reverse, with_end_points
from anzel.materials.fits import FitRule, Term
from anzel.refit.analysis import DrawingAnalysis
from anzel.refit.feature_recognition import DrawnThicknesses, recognise_features
from anzel.refit.features import DrawnFeature, DrawnFeatureKind, DrawnFeatures, KeptSize
from anzel.refit.finger_rows import EdgeInterpretation
from anzel.refit.holes import Hole, held_edges, holes_of
from anzel.refit.side_offset import Edges, offset_sides
from anzel.refit.validity import newly_crossing

_NO_ROOM = "there is no room for its new size: what lies beside it would vanish"
_NO_KERF = 0.03
"""Openings that are narrower by less than this, mm, are meant to be as wide as the sheet."""
_CROSSES = "the outline of its piece would cross itself or a hole"


class Anchor(StrEnum):
    """Which part of an opening keeps its place when its width changes."""

    CENTRE = "centre line"
    FIRST = "one side"
    SECOND = "other side"


_SHARES = {Anchor.CENTRE: (0.5, 0.5), Anchor.FIRST: (0.0, 1.0), Anchor.SECOND: (1.0, 0.0)}


@dataclass(frozen=True)
class RefitOptions:
    """The maker's options for a drawing.

    `thickness` of the sheet and `rule` for its openings; `drawn` thicknesses (estimated when empty)
    with `tolerance`; `keep` for fingers; `only` these kinds; `held` ids of features, rows and
    pieces ("piece-2") that stay; `sure` ids of uncertain features to change nevertheless; `others`
    gives single features, by id, or drawn thicknesses a sheet of another thickness. `stays` says
    which part of an opening keeps its place, the centre line by default; `depths` gives slots
    another depth. `edges` says of stepped edges what they are. `scale` is the factor on the drawn
    size; held holes keep their drawn size.
    """

    thickness: float
    rule: FitRule
    drawn: tuple[float, ...] = ()
    tolerance: float | None = None
    keep: KeptSize = KeptSize.OUTSIDE
    proud: float = 0.0
    only: frozenset[DrawnFeatureKind] = frozenset(DrawnFeatureKind)
    held: frozenset[str] = frozenset()
    sure: frozenset[str] = frozenset()
    others: Mapping[str | float, float] = field(default_factory=dict)
    stays: Mapping[str, Anchor] = field(default_factory=dict)
    depths: Mapping[str, float] = field(default_factory=dict)
    edges: Mapping[str, EdgeInterpretation] = field(default_factory=dict)
    scale: float = 1.0

    def thickness_for(self, feature: DrawnFeature) -> float:
        """Return the thickness of the sheet that goes with a feature, mm."""
        if not self.others:
            return self.thickness
        return self.others.get(feature.id, self.others.get(feature.thickness, self.thickness))


class Outcome(Enum):
    """What a refit decided about a feature."""

    CHANGED = auto()
    FITS = auto()
    HELD = auto()
    UNCERTAIN = auto()
    NOT_ASKED = auto()
    NO_ROOM = auto()


class Decision(NamedTuple):
    """The new size of one feature, what was decided, and why in words."""

    feature: DrawnFeature
    new: float
    moved: bool
    outcome: Outcome
    why: str


@dataclass(frozen=True)
class Refit:
    """A refitted drawing: each feature's decision, and the new edges of the loops that changed."""

    analysis: DrawingAnalysis
    options: RefitOptions
    drawn_thicknesses: DrawnThicknesses
    features: DrawnFeatures
    decisions: tuple[Decision, ...]
    holes: tuple[Hole, ...]
    edges: Mapping[int, Edges]
    self_crossing: tuple[int, ...]
    """Pieces whose outlines cross or touch after the change and did not before, by what was held
    or typed: what follows the sheet is left instead."""

    @cached_property
    def kerf_in_drawing(self) -> float | None:
        """How much narrower openings are drawn than tabs and fingers are high, mm.

        None where the drawing has not both, or they are alike: then no kerf is in it. Several
        thicknesses are told apart.
        """
        certain = [each.feature for each in self.decisions if not each.feature.uncertainty]
        gaps = []
        for thickness in self.drawn_thicknesses.drawn:
            own = [each for each in certain if each.thickness == thickness]
            openings = [each.drawn for each in own if each.widening]
            heights = [each.drawn for each in own if not each.widening]
            if openings and heights:
                gaps.append(median(heights) - median(openings))
        return median(gaps) if gaps and median(gaps) > _NO_KERF else None

    def piece_of(self, side: int) -> int:
        """Return the number of the piece that a side belongs to, from 0."""
        sides = self.analysis.shapes.sides
        return int(sides.nested.piece_number[sides.loop[side]])

    def changed_paths(self) -> Iterator[ChangedPath]:
        """Yield the drawn paths with changed edges, repairs included, in the drawing's order.

        Nothing where nothing was found. Raises DrawingError where a side that two pieces share
        would have to be in two places.
        """
        if not self.decisions and not self.edges:
            return
        loops = self.analysis.nested.loops
        whole = sorted(
            (loops[number].links[0][0], number) for number in self.edges
            if len(loops[number].links) == 1
        )  # fmt: skip
        single = (each for _, number in whole for each in self._changed_in(number))
        yield from merge(sorted(self._mended().items()), single, key=itemgetter(0))

    def _changed_in(self, number: int) -> Iterator[ChangedPath]:
        """Yield the drawn paths of a loop whose edges are others now."""
        drawn_paths = self.analysis.drawing.paths
        loop = self.analysis.nested.loops[number]
        edges = self.edges.get(number, loop.segments)
        at = 0
        for drawn_path, backwards in loop.links:
            drawn = drawn_paths[drawn_path].segments
            if drawn is loop.segments:
                new = list(edges)
            else:
                run = slice(at, at + len(drawn))
                as_drawn = map(_as_drawn, edges[run], loop.segments[run], _run(drawn, backwards))
                new = _run(list(as_drawn), backwards)
            at += len(drawn)
            if new != list(drawn):
                yield drawn_path, new

    def _mended(self) -> dict[int, Sequence[Segment | None]]:
        """Return the changes in loops of several drawn paths, and the paths drawn twice."""
        loops, drawing = self.analysis.nested.loops, self.analysis.drawing
        shared = _shared_paths(self.analysis)
        said: dict[int, Sequence[Segment | None]] = {}
        found: dict[int, Sequence[Segment | None]] = {
            path: [None] * len(drawing.paths[path].segments)
            for path in self.analysis.assembled.doubled
        }
        for number, loop in enumerate(loops):
            if len(loop.links) == 1:
                continue
            own = dict(self._changed_in(number))
            for path in shared.intersection(path for path, _ in loop.links):
                new = list(own.get(path, drawing.paths[path].segments))
                if said.setdefault(path, new) != new:
                    raise DrawingError(
                        f"Two pieces of {drawing.name} share a side that would have to be in two "
                        "places.",
                        hint="Draw the side once for each piece, or cut from the project.",
                    )
            found.update(own)
        return found

    @property
    def names(self) -> frozenset[str]:
        """All names that can be held."""
        features = (_names(each.feature) for each in self.decisions)
        return frozenset(hole.id for hole in self.holes).union(*features)

    def written(self) -> bytes:
        """Return the drawing's file with the changes."""
        return self.analysis.drawing.source.written(self.analysis.drawing, self.changed_paths())


def _shared_paths(analysis: DrawingAnalysis) -> set[int]:
    """Return the drawn paths that are sides of two pieces."""
    used = Counter(path for loop in analysis.nested.loops for path, _ in loop.links)
    return {path for path, count in used.items() if count > 1}


def _run(edges: Sequence[Segment | None], backwards: bool) -> list[Segment | None]:
    if not backwards:
        return list(edges)
    return [edge and reverse(edge) for edge in reversed(edges)]


def _as_drawn(edge: Segment | None, closed: Segment, drawn: Segment | None) -> Segment | None:
    """Return a loop's edge with ends that did not move where they were drawn.

    A loop meets exactly, but a drawing's last digit stays.
    """
    if edge is None or drawn is None:
        return edge
    start, end = edge.start, edge.end
    if start == closed.start and is_near(closed.start, drawn.start):
        start = drawn.start
    if end == closed.end and is_near(closed.end, drawn.end):
        end = drawn.end
    return edge if (start, end) == (edge.start, edge.end) else with_end_points(edge, start, end)


def refit_drawing(analysis: DrawingAnalysis, options: RefitOptions) -> Refit:
    """Return the drawing refitted under the options."""
    best = analysis.drawn_for(options.thickness * options.scale)
    drawn = tuple(each * options.scale for each in options.drawn)
    drawn_thicknesses = DrawnThicknesses(drawn or ((best,) if best else ()), options.tolerance)
    found = recognise_features(analysis.shapes, drawn_thicknesses, options.edges)
    size_for = sizes_for(options)
    decisions = [decided(each, options, size_for) for each in found.features]
    holes = holes_of(analysis.nested, found)
    held = held_edges(analysis.nested, holes, options.held, options.scale)
    while True:
        offsets, conflicts = offsets_of(found, decisions, options)
        made = offset_sides(analysis.shapes.sides, offsets)
        stuck = conflicts | _owners(found, decisions, made.unmovable)
        broken: tuple[int, ...] = ()
        if stuck:
            decisions = [_without(each, stuck, _NO_ROOM) for each in decisions]
            continue
        edges: Mapping[int, Edges] = {**made.edges, **held} if held else made.edges
        own = (lambda _: None) if held else made.edges.corners
        broken = newly_crossing(analysis.nested, edges, own)
        crossing = {
            each.feature.id for each in decisions
            if each.feature.piece in broken and each.outcome is not Outcome.NO_ROOM
            and (each.moved or each.feature.id in options.depths)
        }  # fmt: skip
        if not crossing:
            break
        decisions = [_without(each, crossing, _CROSSES) for each in decisions]
    return Refit(
        analysis, options, drawn_thicknesses, found, tuple(decisions), holes, edges, broken
    )


def decided(
    feature: DrawnFeature, options: RefitOptions, size_for: Callable[[bool, float], float]
) -> Decision:
    """Return what becomes of a feature under the options, `size_for` giving its new size."""

    def unchanged(outcome: Outcome, why: str) -> Decision:
        return Decision(feature, feature.drawn, False, outcome, why)

    new = size_for(bool(feature.widening), options.thickness_for(feature))
    if feature.kind not in options.only:
        return unchanged(Outcome.NOT_ASKED, f"only {_listed(options.only)} are changed")
    if options.held and (held := sorted(_names(feature) & options.held)):
        same = feature.drawn / options.scale
        moved = abs(same - feature.drawn) >= SAME_SIZE
        return Decision(feature, same, moved, Outcome.HELD, f"{held[0]} is held")
    if feature.uncertainty and not _names(feature) & options.sure:
        return unchanged(Outcome.UNCERTAIN, f"not sure: {feature.uncertainty}")
    if abs(new - feature.drawn) < SAME_SIZE:
        return unchanged(Outcome.FITS, "it has that size already")
    return Decision(feature, new, True, Outcome.CHANGED, _reason(feature, options))


def sizes_for(options: RefitOptions) -> Callable[[bool, float], float]:
    """Return the function from a thickness to the new drawn size of an opening or a post."""

    @cache
    def size_for(is_opening: bool, thickness: float) -> float:
        sheet = Term("mating sheet", thickness)
        if is_opening:
            return options.rule.opening(sheet).drawn
        return options.rule.step(sheet, Term("proud", options.proud)).drawn

    return size_for


def _names(feature: DrawnFeature) -> set[str]:
    """Return all names that a feature can be held by."""
    return {feature.id, feature.row, f"piece-{feature.piece + 1}", feature.kind.value} - {""}


def _reason(feature: DrawnFeature, options: RefitOptions) -> str:
    if feature.kind is DrawnFeatureKind.FINGER:
        return f"its row fits the sheet; the {options.keep.value} stays"
    if feature.kind is DrawnFeatureKind.TAB:
        return "its end comes level with the sheet; its shoulder stays"
    return _opening_reason(options.stays.get(feature.id, Anchor.CENTRE))


@cache
def _opening_reason(stays: Anchor) -> str:
    """Return why an opening changes: one text for the thousands of a drawing."""
    return f"it takes the sheet with the clearance wanted; its {stays.value} stays"


def _listed(kinds: Iterable[DrawnFeatureKind]) -> str:
    return (
        " and ".join(f"{kind.value}s" for kind in DrawnFeatureKind if kind in kinds) or "no kinds"
    )


def offsets_of(
    found: DrawnFeatures, decisions: list[Decision], options: RefitOptions
) -> tuple[dict[int, float], set[str]]:
    """Return the offset of each side into the material, and the ids of features in conflict.

    Those pull a side two ways.
    """
    pulls: dict[int, tuple[float, str]] = {}
    conflicts: set[str] = set()
    rows: dict[str, float] = {}

    def pull(sides: Iterable[int], distance: float, name: str) -> None:
        for side in sides:
            if side in pulls and abs(pulls[side][0] - distance) > SAME_SIZE:
                conflicts.update((name, pulls[side][1]))
            pulls[side] = (distance, name)

    for each in decisions:
        if not each.moved:
            continue
        feature = each.feature
        gain = each.new - feature.drawn
        if feature.row:
            rows.setdefault(feature.row, each.new - found.rows[feature.row].drawn)
        elif feature.widening:
            shares = _SHARES[options.stays.get(feature.id, Anchor.CENTRE)]
            for side, share in zip(feature.widening, shares, strict=True):
                if side in pulls:
                    pull((side,), gain * share, feature.id)
                else:
                    pulls[side] = (gain * share, feature.id)
        else:
            pull(feature.rising, -gain, feature.id)
    for each in decisions if options.depths else ():
        deep = options.depths.get(each.feature.id)
        is_slot = each.feature.kind is DrawnFeatureKind.SLOT
        if deep is not None and is_slot and each.outcome is not Outcome.NO_ROOM:
            pull((each.feature.middle,), deep - each.feature.length, each.feature.id)
    for name, gain in rows.items():
        row = found.rows[name]
        if options.keep is KeptSize.OUTSIDE:
            pull(row.inner, gain, name)
            pull(row.corner_walls, -gain, name)
        else:
            pull(row.outer, -gain, name)
    return {side: distance for side, (distance, _) in pulls.items()}, conflicts


def _owners(found: DrawnFeatures, decisions: list[Decision], stuck: frozenset[int]) -> set[str]:
    """Return the ids of the features and rows that move any of these sides."""
    owners = {
        each.feature.id
        for each in decisions
        if stuck & {*each.feature.widening, *each.feature.rising, each.feature.middle}
    }
    rows = found.rows.values() if stuck else ()
    return owners | {row.id for row in rows if stuck & {*row.outer, *row.inner, *row.corner_walls}}


def _without(decision: Decision, stuck: set[str], why: str) -> Decision:
    feature = decision.feature
    if decision.outcome is Outcome.NO_ROOM or not stuck & {feature.id, feature.row}:
        return decision
    return Decision(feature, feature.drawn, False, Outcome.NO_ROOM, why)
