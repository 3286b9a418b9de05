"""The ripple of a change: the features of two solved structures compared, and told in one line."""

from collections import Counter, defaultdict
from dataclasses import dataclass

from anzel.core.number_format import format_length
from anzel.core.tolerances import RIPPLE
from anzel.structure.model import Feature, SolvedStructure

_NAMED = 3
"""So many resized pieces are named; the rest are counted."""
_Key = tuple[str, str, str, int]


@dataclass(frozen=True)
class ResizedFeatures:
    """Features of one kind that changed from one size to another.

    `where` holds the joint and piece of each.
    """

    kind: str
    side: str
    before: float
    after: float
    where: tuple[tuple[str, str], ...]

    @property
    def count(self) -> int:
        """The number of features."""
        return len(self.where)

    @property
    def pieces(self) -> int:
        """The number of pieces that have them."""
        return len({piece for _, piece in self.where})


@dataclass(frozen=True)
class Ripple:
    """The resized features, most first, and the pieces whose overall size changed."""

    resized_features: tuple[ResizedFeatures, ...]
    resized_pieces: tuple[str, ...]
    appeared: int
    vanished: int
    reshaped: int = 0
    """Pieces with another outline, or other lines on them, whatever has moved on them."""

    def __str__(self) -> str:
        parts = [_moved_words(moved) for moved in self.resized_features[:3]]
        if len(self.resized_features) > 3:
            more = len(self.resized_features) - 3
            parts.append(f"{more} more size{'s' if more > 1 else ''}")
        if self.appeared or self.vanished:
            appeared = f"{self.appeared} new feature{'s' * (self.appeared != 1)}"
            parts.append(f"{appeared}, {self.vanished} gone")
        if self.resized_pieces:
            more = len(self.resized_pieces) - _NAMED
            parts.append("new size: " + ", ".join(self.resized_pieces[:_NAMED]))
            parts[-1] += f" and {more} more" if more > 0 else ""
        if not parts and self.reshaped:
            return f"{self.reshaped} piece{'s' if self.reshaped > 1 else ''} changed"
        return " · ".join(parts) if parts else "no piece changed"


def details(found: Ripple, most: int = 6) -> str:
    """Return which joints on which pieces move by how much, one line each; the rest as a count."""
    lines = list(
        dict.fromkeys(
            f"{joint} {piece}: {_size_words(moved)}"
            for moved in found.resized_features
            for joint, piece in moved.where
        )
    )
    more = len(lines) - most
    return "\n".join([*lines[:most], *([f"and {more} more"] if more > 0 else [])])


def ripple(before: SolvedStructure, after: SolvedStructure) -> Ripple:
    """Return the differences between two solved structures."""
    old, new = _features(before), _features(after)
    groups: dict[tuple[str, str, float, float], list[tuple[str, str]]] = defaultdict(list)
    for key in old.keys() & new.keys():
        for side in ("width", "depth"):
            was, now = getattr(old[key], side).drawn, getattr(new[key], side).drawn
            if abs(now - was) > RIPPLE:
                kind = old[key].kind.value
                where = (old[key].joint, old[key].piece)
                groups[kind, side, round(was, 3), round(now, 3)].append(where)
    moved = [ResizedFeatures(*group, where=tuple(sorted(where))) for group, where in groups.items()]
    moved.sort(key=lambda m: (m.side != "width", -m.count, m.kind, m.after))
    return Ripple(
        tuple(moved),
        _resized(before, after),
        len(new.keys() - old.keys()),
        len(old.keys() - new.keys()),
        _reshaped(before, after),
    )


def _features(solved: SolvedStructure) -> dict[_Key, Feature]:
    """Return each feature by piece, joint, kind and its number among those."""
    seen: Counter[tuple[str, str, str]] = Counter()
    keyed = {}
    for piece in solved.pieces:
        for feature in piece.features:
            name = (piece.name, feature.joint, feature.kind.value)
            keyed[*name, seen[name]] = feature
            seen[name] += 1
    return keyed


def _resized(before: SolvedStructure, after: SolvedStructure) -> tuple[str, ...]:
    sizes = {piece.name: piece.region.size for piece in before.pieces}
    words = []
    for piece in after.pieces:
        width, height = piece.region.size
        was_width, was_height = sizes.get(piece.name, (width, height))
        if max(abs(width - was_width), abs(height - was_height)) > RIPPLE:
            words.append(f"{piece.name} {format_length(width, 1)} × {format_length(height, 1)}")
    return tuple(words)


def _reshaped(before: SolvedStructure, after: SolvedStructure) -> int:
    shapes = {piece.name: (piece.region, piece.lines, piece.pictures) for piece in before.pieces}
    return sum(
        shapes.get(piece.name) != (piece.region, piece.lines, piece.pictures)
        for piece in after.pieces
    )


_DEPTHS = {
    "slot": "depth", "mortise": "length", "tab": "height", "finger": "depth", "pocket": "height",
}  # fmt: skip


def _size_words(moved: ResizedFeatures) -> str:
    """Return one size before and after."""
    side = _DEPTHS[moved.kind] if moved.side == "depth" else "width"
    sizes = f"{format_length(moved.before)} → {format_length(moved.after)}"
    return f"{moved.kind} {side} {sizes}"


def _moved_words(moved: ResizedFeatures) -> str:
    side = f" {_DEPTHS[moved.kind]}" if moved.side == "depth" else ""
    plural = "s" if moved.count > 1 else ""
    where = f" on {moved.pieces} pieces" if moved.pieces > 1 else ""
    sizes = f"{format_length(moved.before)} → {format_length(moved.after)}"
    return f"{moved.count} {moved.kind}{side}{plural}{where}, {sizes}"
