"""Which pieces are alike, so that one outline cut several times serves for all of them.

Two pieces are alike when one is the other moved and turned, also turned over: same stock, same
outline and holes. Those with lines or pictures on them are alike only as they lie, with the same
lines.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Line, Segment
from anzel.structure.model import Piece

_ALIKE = 1e-6
"""Pieces whose points differ by less, mm, are alike: far below what any cutter does."""
_SAMPLES = (0.0, 0.25, 0.5, 0.75)
"""Places along a segment that tell lines, arcs and cubics apart."""
Points = NDArray[np.complex128]


@dataclass(frozen=True)
class AlikePieces:
    """One piece, and all pieces that are like it, itself first."""

    piece: Piece
    members: tuple[Piece, ...]

    @property
    def count(self) -> int:
        """How many are to be cut."""
        return sum(member.count for member in self.members)

    @property
    def names(self) -> tuple[str, ...]:
        """The names of all of them."""
        return tuple(member.name for member in self.members)


def alike_pieces(pieces: Sequence[Piece]) -> tuple[AlikePieces, ...]:
    """Return the pieces in groups of those that are alike, in the order of their first ones."""
    groups: list[tuple[_Outline, list[Piece]]] = []
    for piece in pieces:
        outline = _Outline.of(piece)
        own = next((members for other, members in groups if other.is_like(outline)), None)
        if own is None:
            groups.append((outline, [piece]))
        else:
            own.append(piece)
    return tuple(AlikePieces(members[0], tuple(members)) for _, members in groups)


@dataclass(frozen=True)
class _Outline:
    """A piece as points along its outer contour and its holes."""

    piece: Piece
    outer: Points
    holes: tuple[Points, ...]
    area: float

    @classmethod
    def of(cls, piece: Piece) -> "_Outline":
        region: Region = piece.region
        holes = tuple(map(_points_along, region.holes))
        return cls(piece, _points_along(region.outer), holes, region.area)

    def is_like(self, other: "_Outline") -> bool:
        mine, its = self.piece, other.piece
        if (mine.stock_id, mine.thickness) != (its.stock_id, its.thickness):
            return False
        if len(self.outer) != len(other.outer) or len(self.holes) != len(other.holes):
            return False
        if abs(self.area - other.area) > _ALIKE * max(self.area, 1.0):
            return False
        if mine.bent or its.bent or mine.pictures or its.pictures:
            return False
        if mine.lines or its.lines:
            return mine.lines == its.lines and self._is_at(other, 1.0, 0.0)
        return self._is_moved(other) or self._turned_over._is_moved(other)

    @property
    def _turned_over(self) -> "_Outline":
        """The same piece seen from its back, its points in the same order of rotation."""
        outer, *holes = (_reversed(-run.conjugate()) for run in (self.outer, *self.holes))
        return _Outline(self.piece, outer, tuple(holes), self.area)

    def _is_moved(self, other: "_Outline") -> bool:
        motions = _motions(self.outer, other.outer)
        return any(self._has_same_holes(other, turn, shift) for turn, shift in motions)

    def _is_at(self, other: "_Outline", turn: complex, shift: complex) -> bool:
        moved = self.outer * turn + shift
        return _is_same_run(moved, other.outer) and self._has_same_holes(other, turn, shift)

    def _has_same_holes(self, other: "_Outline", turn: complex, shift: complex) -> bool:
        left = list(other.holes)
        for hole in self.holes:
            moved = hole * turn + shift
            same = next((at for at, its in enumerate(left) if _is_same_run(moved, its)), None)
            if same is None:
                return False
            del left[same]
        return True


def _reversed(run: Points) -> Points:
    """Return a run the other way round: the end of each segment is the next one's start."""
    return np.roll(run[::-1], 1)


def _motions(one: Points, other: Points) -> Iterator[tuple[complex, complex]]:
    """Yield each turn and shift, as complex numbers, that brings one run of points to another."""
    middle, its_middle = one.mean(), other.mean()
    mine, its = one - middle, other - its_middle
    step = len(_SAMPLES)
    far = int(np.argmax(np.abs(its[::step]))) * step
    radius = abs(its[far])
    for at in range(0, len(mine), step):
        if abs(abs(mine[at]) - radius) > _ALIKE or radius < _ALIKE:
            continue
        turn = its[far] / mine[at]
        turn /= abs(turn)
        if np.abs(np.roll(mine, far - at) * turn - its).max() < _ALIKE:
            yield complex(turn), complex(its_middle - middle * turn)
    if radius < _ALIKE and np.abs(mine - its).max() < _ALIKE:
        yield 1.0, complex(its_middle - middle)


def _is_same_run(one: Points, other: Points) -> bool:
    """Return whether two closed runs of points are one, wherever they start."""
    if len(one) != len(other):
        return False
    if len(one) == len(_SAMPLES):  # a circle starts anywhere
        middle, its = one.mean(), other.mean()
        same = abs(abs(one[0] - middle) - abs(other[0] - its)) < _ALIKE
        return bool(same and abs(middle - its) < _ALIKE)
    starts = np.flatnonzero(np.abs(one[:: len(_SAMPLES)] - other[0]) < _ALIKE) * len(_SAMPLES)
    return any(np.abs(np.roll(one, -start) - other).max() < _ALIKE for start in starts.tolist())


def _points_along(contour: Contour) -> Points:
    """Return places along every edge of a contour; straight edges in line are one edge."""
    points = [s.point_at(share) for s in _edges(contour) for share in _SAMPLES]
    return np.array([complex(x, y) for x, y in points])


def _edges(contour: Contour) -> list[Segment]:
    made: list[Segment] = []
    for segment in contour.segments:
        if made and _in_line(made[-1], segment):
            made[-1] = Line(made[-1].start, segment.end)
        else:
            made.append(segment)
    if len(made) > 2 and _in_line(made[-1], made[0]):
        made[0] = Line(made[-1].start, made[0].end)
        del made[-1]
    return made


def _in_line(one: Segment, other: Segment) -> bool:
    if not (isinstance(one, Line) and isinstance(other, Line)):
        return False
    (ax, ay), (bx, by), (cx, cy) = one.start, one.end, other.end
    area = (bx - ax) * (cy - by) - (by - ay) * (cx - bx)
    along = (bx - ax) * (cx - bx) + (by - ay) * (cy - by)
    return along > 0 and abs(area) < 1e-9 * along
