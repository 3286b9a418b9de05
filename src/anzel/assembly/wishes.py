"""What the maker wishes of the order of assembly; the proof keeps to it."""

from collections.abc import Mapping
from typing import Annotated, Self

from pydantic import Field, model_validator

from anzel.core.immutable import Immutable
from anzel.geometry.placement import Vector, norm, unit

_MOST = 2000
Name = Annotated[str, Field(min_length=1, max_length=200)]


class WayIn(Immutable):
    """A piece goes in along this direction of the world."""

    piece: Name
    direction: Vector

    @model_validator(mode="after")
    def _has_length(self) -> Self:
        if not norm(self.direction) > 1e-9:
            raise ValueError("a direction has a length")
        return self


class AssemblyWishes(Immutable):
    """Pairs of which the first goes in before the second, groups, and ways in."""

    before: tuple[tuple[Name, Name], ...] = Field(default=(), max_length=_MOST)
    groups: tuple[tuple[Name, ...], ...] = Field(default=(), max_length=_MOST)
    """Pieces that are put together first and then go in as one."""
    directions: tuple[WayIn, ...] = Field(default=(), max_length=_MOST)

    @property
    def is_empty(self) -> bool:
        """Whether nothing is wished for."""
        return not (self.before or self.groups or self.directions)

    def renamed(self, names: Mapping[str, str]) -> "AssemblyWishes":
        """Return them for pieces that have other names now."""
        return AssemblyWishes(
            before=tuple((names.get(a, a), names.get(b, b)) for a, b in self.before),
            groups=tuple(tuple(names.get(name, name) for name in group) for group in self.groups),
            directions=tuple(
                each.with_changes(piece=names.get(each.piece, each.piece))
                for each in self.directions
            ),
        )

    def among(self, names: frozenset[str]) -> "AssemblyWishes":
        """Return those whose pieces are there; ways in as unit vectors."""
        within = (tuple(name for name in group if name in names) for group in self.groups)
        return AssemblyWishes(
            before=tuple(pair for pair in self.before if names.issuperset(pair)),
            groups=tuple(group for group in within if len(group) > 1),
            directions=tuple(
                each.with_changes(direction=unit(each.direction))
                for each in self.directions
                if each.piece in names
            ),
        )


NO_WISHES = AssemblyWishes()
