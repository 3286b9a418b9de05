"""Local shapes that a loop's sides form, of any size: notches, posts, rectangular holes and steps.

- *notch*: a floor between two walls that run into the material;
- *post*: an end between two sides that run out of it;
- *hole*: four sides, closed, the material round it;
- *step*: a wall from one level of an edge to another.
"""

from dataclasses import dataclass

import numpy as np

from anzel.drawings.containment import Flags
from anzel.geometry.regions import Indices
from anzel.geometry.segments import Floats
from anzel.refit.sides import Sides, cross_products

_SQUARE = 30.0
"""How far a floor or an end may be from square to its walls, degrees."""
_PARALLEL = np.cos(np.radians(1.5))
_SMOOTH = 15.0
"""A round floor goes on from its walls to this, degrees."""


@dataclass(frozen=True)
class Openings:
    """Notches, posts or holes.

    The middle `side` of each (a hole's first long one), its width, its length (a notch's depth, a
    post's height), and whether it is `round`.
    """

    side: Indices
    wide: Floats
    long: Floats
    round: Flags

    def __len__(self) -> int:
        return len(self.side)

    def where(self, kept: Flags) -> "Openings":
        """Return those that a mask keeps."""
        return Openings(self.side[kept], self.wide[kept], self.long[kept], self.round[kept])


@dataclass(frozen=True)
class Steps:
    """Walls between two levels of an edge: `side`, `height`, and whether they lead outwards."""

    side: Indices
    height: Floats
    outwards: Flags


@dataclass(frozen=True)
class LocalShapes:
    """All local shapes of a drawing."""

    sides: Sides
    notches: Openings
    posts: Openings
    holes: Openings
    steps: Steps

    def without(self, loops: frozenset[int], held: frozenset[int]) -> "LocalShapes":
        """Return the shapes that are neither on some loops nor at some sides."""
        if not loops and not held:
            return self
        sides = self.sides
        gone = np.isin(sides.loop, list(loops))
        gone[list(held)] = True

        def kept(side: Indices) -> Flags:
            return np.asarray(~gone[side])

        notches, holes = (each.where(kept(each.side)) for each in (self.notches, self.holes))
        end = self.posts.side  # what stands between held openings is no post either
        posts = self.posts.where(kept(end) & kept(sides.before[end]) & kept(sides.after[end]))
        steps, on = self.steps, kept(self.steps.side)
        left = Steps(steps.side[on], steps.height[on], steps.outwards[on])
        return LocalShapes(sides, notches, posts, holes, left)


def local_shapes(sides: Sides) -> LocalShapes:
    """Return the local shapes with their sizes."""
    turn_out = sides.turns()
    turn_in = turn_out[sides.before]
    facing, wide = _facing(sides)
    square = np.abs(np.abs(turn_in) - 90) < _SQUARE
    square &= np.abs(np.abs(turn_out) - 90) < _SQUARE
    straight = sides.is_line & square & facing
    notch = straight & (turn_in < 0) & (turn_out < 0)
    post = straight & (turn_in > 0) & (turn_out > 0)
    round_ = ~sides.is_line & facing & (np.abs(turn_in) < _SMOOTH) & (np.abs(turn_out) < _SMOOTH)
    round_ &= _turns_right(sides)
    in_hole = _rectangular(sides, notch, round_)
    posts = (post | _curved_post(sides, square, turn_out)) & _shouldered(sides, turn_out)
    walls = np.minimum(sides.length[sides.before], sides.length[sides.after])
    return LocalShapes(
        sides,
        _openings((notch | round_) & ~in_hole, wide, walls, round_),
        _openings(posts, wide, walls, round_),
        _holes(sides, in_hole, wide, round_),
        _steps(sides, square, turn_in, turn_out),
    )


def _facing(sides: Sides) -> tuple[Flags, Floats]:
    """Return whether the neighbours of each side face each other, and their distance.

    They face each other where they are straight and run opposite ways. Both arrays are (n,).
    """
    one, other = sides.along[sides.before], sides.along[sides.after]
    lines = sides.is_line[sides.before] & sides.is_line[sides.after]
    lines &= sides.before != sides.after
    opposite = (one * other).sum(axis=1) < -_PARALLEL
    across = np.abs(cross_products(sides.run, (one - other) / 2))
    return lines & opposite, across


def _turns_right(sides: Sides) -> Flags:
    """Return (n,) whether the wall after a side lies to the right of the wall before it."""
    wall = sides.along[sides.before]
    return np.asarray(cross_products(wall, sides.run) < 0)


def _shouldered(sides: Sides, turn: Floats) -> Flags:
    """Return (n,) whether the walls on both sides of a side rise from a shoulder."""
    rises = turn[sides.before[sides.before]] < -_SQUARE
    return np.asarray(rises & (turn[sides.after] < -_SQUARE))


def _curved_post(sides: Sides, square: Flags, turn: Floats) -> Flags:
    """Return (n,) whether a curve is the end of a post, as on a round piece with fingers."""
    lines = sides.is_line[sides.before] & sides.is_line[sides.after]
    turns = (turn[sides.before] > 0) & (turn > 0)
    return np.asarray(~sides.is_line & lines & square & turns)


def _openings(which: Flags, wide: Floats, long: Floats, round_: Flags) -> Openings:
    side = np.flatnonzero(which)
    return Openings(side, wide[side], long[side], round_[side])


def _rectangular(sides: Sides, notch: Flags, round_: Flags) -> Flags:
    """Return (n,) whether a side is one of four that make a rectangular or round-ended hole."""
    rings = len(sides.nested.loops)
    count = np.bincount(sides.loop, minlength=rings)
    floors = np.bincount(sides.loop, weights=notch, minlength=rings)
    rounds = np.bincount(sides.loop, weights=round_, minlength=rings)
    whole = sides.nested.is_hole & (count == 4) & ((floors == 4) | (rounds == 2))
    return np.asarray(whole[sides.loop])


def _holes(sides: Sides, in_hole: Flags, wide: Floats, round_: Flags) -> Openings:
    """Return every hole by the first of its long sides; a round-ended one by the straight one."""
    long_side = in_hole & ~round_ & (sides.length >= sides.length[sides.after])
    long_side |= in_hole & round_[sides.after]
    side = np.flatnonzero(long_side)
    _, once = np.unique(sides.loop[side], return_index=True)
    side = side[once]
    ends_round = round_[sides.after[side]]
    narrow = wide[sides.after[side]]
    long = np.where(ends_round, sides.length[side] + narrow, sides.length[side])
    return Openings(side, narrow, long, ends_round)


def _steps(sides: Sides, square: Flags, turn_in: Floats, turn_out: Floats) -> Steps:
    turning = square & (turn_in * turn_out < 0) & sides.is_line
    before, after = sides.before, sides.after
    same = (sides.along[before] * sides.along[after]).sum(axis=1) > _PARALLEL
    same &= sides.is_line[before] & sides.is_line[after]
    curves = ~sides.is_line[before] & ~sides.is_line[after]
    side = np.flatnonzero(turning & (same | curves))
    return Steps(side, sides.length[side], turn_in[side] < 0)
