"""What a proof of assembly says: steps with their moves, and what is locked."""

from dataclasses import dataclass
from enum import IntEnum

from anzel.geometry.placement import Vector

_STEEP = 0.5
"""A way whose share of up or down is larger than this counts as from below or above."""


class Level(IntEnum):
    """From where a way leads in, what is easiest first."""

    ABOVE = 0
    SIDE = 1
    BELOW = 2


def level_of(way_in: Vector) -> Level:
    """Return whether a way in leads downwards, upwards, or to the side."""
    if abs(way_in[2]) <= _STEEP:
        return Level.SIDE
    return Level.BELOW if way_in[2] > 0 else Level.ABOVE


def way_in_words(direction: Vector) -> str:
    """Return a way in as a maker would say it, who stands in the south and looks north.

    >>> way_in_words((0.0, 0.0, -1.0)), way_in_words((-1.0, 0.0, 0.0))
    ('from above', 'from the right')
    """
    x, y, z = direction
    side = "from the right" if x < 0 else "from the left"
    if abs(y) > abs(x):
        side = "from behind" if y < 0 else "from the front"
    level = "from above" if z < 0 else "from below"
    if abs(z) > 0.9:
        return level
    return f"{side} and {level.split()[1]}" if abs(z) > 0.3 else side


@dataclass(frozen=True)
class Move:
    """Pieces that go in together, `distance` mm along a unit direction, and end in their place."""

    pieces: tuple[str, ...]
    direction: Vector
    distance: float


@dataclass(frozen=True)
class AssemblyStep:
    """What comes in at once.

    The first pieces of all, and of a group, have no moves. A step with a `group` builds that group
    by itself; a later step that names all its pieces brings the group in.
    """

    pieces: tuple[str, ...]
    moves: tuple[Move, ...] = ()
    group: str = ""

    @property
    def levels(self) -> frozenset[Level]:
        """From where its pieces come."""
        return frozenset(level_of(move.direction) for move in self.moves)


@dataclass(frozen=True)
class Locked:
    """Pieces that hold one another, and why no straight way was found, in words.

    Where one of them is `bent`, it is put on by bending it, which straight moves cannot tell.
    """

    pieces: tuple[str, ...]
    why: str
    bent: bool = False


@dataclass(frozen=True)
class AssemblyProof:
    """A proven order of assembly; where pieces are locked, they stand as one in it."""

    steps: tuple[AssemblyStep, ...]
    locked: tuple[Locked, ...] = ()

    @property
    def ok(self) -> bool:
        """Whether every piece has a proven way in."""
        return not self.locked

    def lies_turned_over(self, number: int) -> bool:
        """Return whether what is built in a step lies turned over, so that all goes in downwards.

        Ways from the side leave it as it lies.
        """
        group = self.steps[number].group
        for step in reversed(self.steps[: number + 1]):
            if step.group == group and step.levels in ({Level.ABOVE}, {Level.BELOW}):
                return step.levels == {Level.BELOW}
        return False

    def turns_over(self, number: int) -> bool:
        """Return whether it must be turned over, or upright again, before a step."""
        steps = self.steps[:number]
        before = [at for at, step in enumerate(steps) if step.group == self.steps[number].group]
        lay = bool(before) and self.lies_turned_over(before[-1])
        return bool(before) and self.lies_turned_over(number) is not lay

    def step_of(self, piece: str) -> int | None:
        """Return the number of the step, from 0, in which a piece is first there; None of none."""
        return next((at for at, step in enumerate(self.steps) if piece in step.pieces), None)


NOTHING = AssemblyProof(())
"""Nothing to put together."""
