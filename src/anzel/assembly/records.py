"""What a proof of assembly says: steps with their moves, and what is locked."""

from dataclasses import dataclass

from anzel.geometry.placement import Vector


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
    def is_from_below(self) -> bool:
        """Whether the whole must be turned over, so that nothing is pushed up from the table."""
        return any(rank(move.direction) == 2 for move in self.moves)

    @property
    def is_from_above(self) -> bool:
        """Whether something goes in from above."""
        return any(rank(move.direction) == 0 for move in self.moves)


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

    def step_of(self, piece: str) -> int:
        """Return the number of the step, from 0, in which a piece is first there."""
        return next(at for at, step in enumerate(self.steps) if piece in step.pieces)


_STEEP = 0.5
"""A way whose share of up or down is larger than this counts as from below or above."""


def is_from_below(way_in: Vector) -> bool:
    """Return whether a way in leads upwards."""
    return way_in[2] > _STEEP


def rank(way_in: Vector) -> int:
    """Return 0 for a way in from above, 1 from a side, 2 from below."""
    return 0 if way_in[2] < -_STEEP else 2 if is_from_below(way_in) else 1


NOTHING = AssemblyProof(())
"""Nothing to put together."""
