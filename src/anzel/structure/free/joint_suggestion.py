"""A suggestion of a joint: the plates, and the ways to join them."""

from dataclasses import dataclass

from anzel.geometry.placement import Vector
from anzel.structure.joints.corner_kinds import corner_kind
from anzel.structure.joints.registry import KINDS, AnyKind, kind_of


@dataclass(frozen=True)
class JointSuggestion:
    """A possible joint; `ways` are the joints to choose from, the best first.

    Where there is none, `why` says so and what would help.
    """

    pieces: tuple[str, ...]
    ways: tuple[AnyKind, ...]
    at: Vector
    why: str = ""

    def words(self, way: int = 0) -> str:
        """Return the pieces and a way, for a list; what is not the best comes after an or."""
        if not self.ways:
            return f"{' + '.join(self.pieces)}: {self.why}"
        how = corner_kind(self.ways[way]) or KINDS[kind_of(self.ways[way])].words
        return f"{' + '.join(self.pieces)}: {how}" if way == 0 else f"        or: {how}"
