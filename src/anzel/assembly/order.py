"""Order of assembly, found by taking apart.

From all bodies in place, a set is taken away along one direction, and what is left and what was
taken away are taken apart in turn; put together it goes the other way round. The sets are those
that blocking closes (see `blocking`): one body alone where it is free, else the least group that
must go with it.

A way to infinity stays free when others are gone. So if all bodies come apart by such moves at all,
so does every part of them, and no choice along the way can spoil it [derived, after Wilson and
Latombe 1994]: the search never goes back, and choices are only about a good order.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import islice, product

import networkx
import numpy as np

from anzel.assembly.blocking import Blocking, mask_of, members, until_apart
from anzel.assembly.bodies import Bodies, common_box, opposite
from anzel.assembly.closing_rings import closing_ring
from anzel.assembly.directions import directions_for_locked
from anzel.assembly.records import AssemblyProof, AssemblyStep, Level, Locked, Move, level_of
from anzel.assembly.wishes import NO_WISHES, AssemblyWishes
from anzel.core.wording import counted
from anzel.geometry.placement import Vector
from anzel.geometry.segments import Floats

Said = Callable[[str], None]
_MOST_TRIALS = 1500
"""So many sets are tried along directions that no joint names."""


def _unheard(text: str) -> None:
    """Nobody listens to the progress."""


@dataclass(frozen=True)
class Removal:
    """A set of bodies, as a bit mask, that goes away along a direction."""

    taken: int
    direction: Vector

    @property
    def way_in(self) -> Vector:
        """The direction in which it goes in."""
        return opposite(self.direction)


def prove(
    bodies: Bodies, wishes: AssemblyWishes = NO_WISHES, said: Said = _unheard, *,
    thorough: bool = True,
) -> AssemblyProof:  # fmt: skip
    """Return an order in which bodies go together by straight moves, proven on their solids.

    Bodies that have no such order are `locked`; unless the search is `thorough`, only directions
    that their joints name were tried for them. `said` is called with the progress and may raise to
    end the search.
    """
    if not bodies.all:
        return AssemblyProof(())
    return _Search(bodies, wishes, said, thorough).result()


@dataclass
class _Search:
    bodies: Bodies
    wishes: AssemblyWishes
    said: Said
    thorough: bool
    locked: list[Locked] = field(default_factory=list)
    groups: int = 0

    def __post_init__(self) -> None:
        self.blocking = Blocking(self.bodies)
        self.names = [body.name for body in self.bodies.all]
        number = {name: at for at, name in enumerate(self.names)}
        self.graph = networkx.Graph()
        self.graph.add_nodes_from(range(len(self.names)))
        self.graph.add_edges_from(self.bodies.joined)
        known = self.wishes.among(frozenset(self.names))
        self.before = [(1 << number[a], 1 << number[b]) for a, b in known.before]
        self.kept = [mask_of([number[name] for name in group]) for group in known.groups]
        self.told = {number[each.piece]: each.direction for each in known.directions}
        self.done = 0

    def result(self) -> AssemblyProof:
        steps = self._taken_apart((1 << len(self.names)) - 1, "")
        return AssemblyProof(tuple(steps), tuple(self.locked))

    def _taken_apart(self, whole: int, group: str) -> list[AssemblyStep]:
        """Return the steps that put some bodies together, by themselves."""
        later: list[list[AssemblyStep]] = []
        last: Removal | None = None
        while whole & (whole - 1):
            removal = self._best(whole, last)
            if removal is None:
                ring = closing_ring(self.blocking, members(whole), self.graph)
                if ring is None or not self._may_leave(mask_of(list(ring)), whole):
                    self.locked.append(self._locked(whole))
                    break
                steps, whole = self._ring_steps(ring, whole, group)
                later.append(steps)
                continue
            rest = whole & ~removal.taken
            step = AssemblyStep(
                self._names(removal.taken), (self._move(removal, rest),), group
            )  # fmt: skip
            if removal.taken & (removal.taken - 1):
                self.groups += 1
                later.append([*self._taken_apart(removal.taken, f"group-{self.groups}"), step])
            else:
                later.append([step])
            last, whole = removal, rest
            self._tell(0 if removal.taken & (removal.taken - 1) else removal.taken)
        self._tell(whole)
        first = [AssemblyStep(self._names(whole), (), group)] if whole else []
        return [*first, *(step for steps in reversed(later) for step in steps)]

    def _best(self, whole: int, last: Removal | None) -> Removal | None:
        """Return the best set to take away next, if any can be."""
        loosening = self._loosening(whole)
        found = self._single(whole, last, loosening)
        if found is not None and (not found.taken & loosening or len(members(whole)) == 2):
            return found
        groups = self._groups(whole, last)
        other = self._by_other_ways if self.thorough else lambda whole: None
        return groups or found or other(whole)

    def _single(self, whole: int, last: Removal | None, loosening: int) -> Removal | None:
        """Return the best body that goes away alone."""
        candidates, middle = [], self._middle(whole)
        for body in members(whole):
            alone = self.blocking.lumps[body] & whole == 1 << body
            if alone and self._may_leave(1 << body, whole):
                first = bool(loosening >> body & 1)
                for direction in self._ways(body):
                    removal = Removal(1 << body, direction)
                    key = (first, *self._cost(removal, body, last, middle))
                    candidates.append((key, body, removal))
        for _, body, removal in sorted(candidates, key=lambda each: each[:2]):
            self._tell(0)
            if self.blocking.is_free(body, removal.direction, whole & ~removal.taken):
                return removal
        return None

    def _groups(self, whole: int, last: Removal | None) -> Removal | None:
        """Return the best group that goes away together: few, joined, and from above."""
        best: tuple[tuple[float, ...], Removal] | None = None
        seen, middle = set(), self._middle(whole)
        for body in members(whole):
            for direction in self._ways(body):
                taken = self._closure(body, direction, whole)
                taken, direction = self._upside(taken, direction, whole)
                if taken == whole or not taken & (taken - 1) or (taken, direction) in seen:
                    continue
                seen.add((taken, direction))
                if not self._may_leave(taken, whole):
                    continue
                removal, rest = Removal(taken, direction), whole & ~taken
                loose = self._parts(taken) + self._parts(rest) - 2
                cost = self._cost(removal, body, last, middle)
                key = (loose, *cost[:2], len(members(taken)), *cost[2:])
                if best is None or key < best[0]:
                    best = key, removal
            self._tell(0)
        return best[1] if best else None

    def _upside(self, taken: int, direction: Vector, whole: int) -> tuple[int, Vector]:
        """Return the other side of a parting where the lowest body would be put in from below."""
        rest = whole & ~taken
        if level_of(opposite(direction)) is not Level.BELOW or not rest:
            return taken, direction
        heights = [float(self.bodies.all[at].middle[2]) for at in members(taken)]
        least = min(float(self.bodies.all[at].middle[2]) for at in members(rest))
        if max(heights) < least:
            return rest, opposite(direction)
        return taken, direction

    def _by_other_ways(self, whole: int) -> Removal | None:
        """Return a set that goes away in a direction that no joint names."""
        numbers = members(whole)
        if self.blocking.lumps[numbers[0]] & whole == whole:
            return None  # they overlap as they stand
        bodies = [self.bodies.all[at] for at in numbers]
        if any(body.is_bent for body in bodies):
            return None  # its many facets face many ways, and it is put on by bending it
        trials = product(directions_for_locked(bodies), numbers)
        for direction, body in islice(trials, _MOST_TRIALS):
            self._tell(0)
            taken = self._closure(body, direction, whole)
            is_told = taken == 1 << body and body in self.told
            if taken != whole and not is_told and self._may_leave(taken, whole):
                return Removal(taken, direction)
        return None

    def _closure(self, body: int, direction: Vector, whole: int) -> int:
        """Return what goes with a body: what is in its way, and the groups that stay whole."""
        taken = self.blocking.closure(body, direction, whole)
        grown = True
        while grown:
            grown = False
            for group in self._kept_within(whole):
                if group & taken and group & ~taken:
                    for each in members(group & ~taken):
                        taken |= self.blocking.closure(each, direction, whole)
                    grown = True
        return taken

    def _kept_within(self, whole: int) -> list[int]:
        """Return the wished groups that must not be parted yet."""
        within = [group & whole for group in self.kept]
        return [group for group in within if group & (group - 1) and group != whole]

    def _may_leave(self, taken: int, whole: int) -> bool:
        """Return whether the maker's wishes let a set go away now."""
        rest = whole & ~taken
        if any(taken & first and rest & then for first, then in self.before):
            return False
        return not any(group & taken and group & rest for group in self._kept_within(whole))

    def _ways(self, body: int) -> tuple[Vector, ...]:
        """Return the directions to try for a body: those of its joints, or the one wished for."""
        told = self.told.get(body)
        if told is not None:
            return (opposite(told),)
        return self.bodies.all[body].ways

    def _cost(
        self, removal: Removal, body: int, last: Removal | None, middle: Floats
    ) -> tuple[float, ...]:
        """Return what a removal costs, by weight: turning over, from below, unlike the last, ...

        What lies highest and furthest out goes first, so that it came last.
        """
        level = level_of(removal.way_in)
        below = level is Level.BELOW
        turned = last is not None and below != (level_of(last.way_in) is Level.BELOW)
        this = self.bodies.all[body]
        unlike = last is None or this.like not in {
            self.bodies.all[at].like for at in members(last.taken)
        }
        swerved = last is None or removal.direction != last.direction
        out = float(np.linalg.norm(this.middle - middle))
        top = float(this.box[1][2])
        return (turned, level, unlike, swerved, -round(top, 3), -round(out, 3), body)

    def _middle(self, whole: int) -> Floats:
        middle: Floats = common_box([self.bodies.all[at] for at in members(whole)]).mean(axis=0)
        return middle

    def _loosening(self, whole: int) -> int:
        """Return, as a bit mask, the bodies without which the rest would be in more parts."""
        return mask_of(list(networkx.articulation_points(self.graph.subgraph(members(whole)))))

    def _parts(self, mask: int) -> int:
        parts: int = networkx.number_connected_components(self.graph.subgraph(members(mask)))
        return parts

    def _move(self, removal: Removal, rest: int) -> Move:
        """Return the way in, from where a plane square to it parts what moves from the rest."""
        moving, staying = (
            [self.bodies.all[at] for at in members(mask)] for mask in (removal.taken, rest)
        )
        distance = until_apart(moving, staying, np.array(removal.direction))
        return Move(self._names(removal.taken), removal.way_in, distance)

    def _ring_steps(
        self, ring: dict[int, tuple[Vector, float]], whole: int, group: str
    ) -> tuple[list[AssemblyStep], int]:  # fmt: skip
        """Return the step in which a ring closes, and what is there before it."""
        moves = tuple(
            Move((self.names[at],), direction, distance)
            for at, (direction, distance) in ring.items()
        )
        step = AssemblyStep(tuple(move.pieces[0] for move in moves), moves, group)
        return [step], whole & ~mask_of(list(ring))

    def _locked(self, whole: int) -> Locked:
        names = self._names(whole)
        overlapping = [pair for pair in self.blocking.overlaps if all(whole >> n & 1 for n in pair)]
        if overlapping:
            one, other = (self.names[at] for at in overlapping[0])
            return Locked(names, f"{one} and {other} would be in the same place")
        held = [
            f"{self.names[a]} with {self.names[b]}"
            for a, b in sorted(self.bodies.joined)
            if whole >> a & 1 and whole >> b & 1
        ]
        many = counted(len(names), "piece holds", "pieces hold")
        bent = next((self.names[at] for at in members(whole) if self.bodies.all[at].is_bent), "")
        if bent:
            why = f"no straight way found: {bent} bends, and is put on by bending it"
            return Locked(names, why, bent=True)
        where = f", {', '.join(held[:4])}{' …' * (len(held) > 4)}" if held else ""
        why = f"no straight way found: {many} one another{where}"
        return Locked(names, why)

    def _names(self, mask: int) -> tuple[str, ...]:
        return tuple(self.names[at] for at in members(mask))

    def _tell(self, finished: int) -> None:
        self.done += len(members(finished))
        self.said(f"proving the order: {self.done} of {len(self.names)} …")
