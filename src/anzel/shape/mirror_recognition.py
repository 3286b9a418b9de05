"""Recognition of paths that are symmetric about an upright, level or slanted axis.

The axis is the middle line between two points of a path, so it needs no line of its own.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import dist

import numpy as np

from anzel.geometry.rigid_transform import Point
from anzel.shape.equations import evaluated, relation_equations
from anzel.shape.sketch import ClosedPath, LegKind, Relation, RelationKind, Sketch
from anzel.shape.sketch_solver import all_equations
from anzel.shape.sketch_variables import SketchVariables

_SAME = 1e-7
"""Points that are nearer to one another than this, mm, are one."""
_FOLLOWS = 1e-9
"""A row of which a smaller share is left beside others follows from them."""
_UPRIGHT, _LEVEL, _SLANTED = range(3)


@dataclass(frozen=True)
class _Axis:
    """The middle line between two points of a path; point `at` mirrors on point `turn - at`."""

    path: ClosedPath
    turn: int
    pair: tuple[str, str]
    middle: Point
    normal: Point

    @property
    def direction(self) -> int:
        """Whether it is upright, level or slanted."""
        if abs(self.normal[1]) <= _SAME:
            return _UPRIGHT
        return _LEVEL if abs(self.normal[0]) <= _SAME else _SLANTED

    def mirrored(self, point: Point) -> Point:
        """Return a point on the other side."""
        (nx, ny), (mx, my) = self.normal, self.middle
        off = 2 * ((point[0] - mx) * nx + (point[1] - my) * ny)
        return (point[0] - off * nx, point[1] - off * ny)

    def lies_on(self, other: "_Axis") -> bool:
        """Whether both are one line."""
        ahead = (other.middle[0] - other.normal[1], other.middle[1] + other.normal[0])
        return all(dist(self.mirrored(p), p) <= _SAME for p in (other.middle, ahead))


def with_mirror_relations(sketch: Sketch, name: str) -> Sketch:
    """Return the sketch with relations that keep a path as symmetric as it is.

    The axis is the outline's where the path is mirrored on that, else one of the path. Upright goes
    before level; a slanted axis counts for a path without others. Relations that follow from what
    holds already are left out. Legs that mirror on one another are no longer said to be equal: that
    follows, and alone it would let them lean the same way.
    """
    path = next(path for path in sketch.paths if path.id == name)
    axes = _axes(path)
    if not axes:
        return sketch
    own, shared = axes[0], None
    if path is not sketch.paths[0]:
        pairs = ((mine, its) for mine in axes for its in _axes(sketch.paths[0]))
        own, shared = next((p for p in pairs if p[0].lies_on(p[1])), (own, None))
    equal = _equal_by_mirroring(own)
    kept = [each for each in sketch.relations if (each.kind, {*each.of}) not in equal]
    relations = _relations(own, own if shared is None else shared)
    return _with_independent(sketch.with_changes(relations=kept), relations)


def _axes(path: ClosedPath) -> list[_Axis]:
    """Return the axes that a path is symmetric about, the foremost first."""
    found = [axis for turn in range(len(path.points)) if (axis := _axis(path, turn)) is not None]
    has_level = any(axis.direction != _SLANTED for axis in found)
    return sorted(
        (axis for axis in found if axis.direction != _SLANTED or not has_level),
        key=lambda axis: axis.direction,
    )


def _axis(path: ClosedPath, turn: int) -> _Axis | None:
    """Return the axis about which points and legs mirror on those counted the other way round."""
    places = [(point.x, point.y) for point in path.points]
    count = len(places)
    at = next((at for at in range(count) if at != (turn - at) % count), None)
    if at is None or (away := dist(places[at], places[turn - at])) <= _SAME:
        return None
    one, other = places[at], places[turn - at]
    axis = _Axis(
        path, turn, (path.points[at].id, path.points[turn - at].id),
        ((one[0] + other[0]) / 2, (one[1] + other[1]) / 2),
        ((other[0] - one[0]) / away, (other[1] - one[1]) / away),
    )  # fmt: skip
    is_mirrored = all(
        dist(axis.mirrored(place), places[turn - at]) <= _SAME for at, place in enumerate(places)
    ) and all(_legs_mirror(axis, at) for at in range(count))
    return axis if is_mirrored else None


def _legs_mirror(axis: _Axis, at: int) -> bool:
    leg, other = axis.path.legs[at], axis.path.legs[axis.turn - at - 1]
    if leg.kind is not other.kind or leg.clockwise != other.clockwise:
        return False
    if leg.centre is not None and other.centre is not None:
        return dist(axis.mirrored(leg.centre), other.centre) <= _SAME
    return leg.controls is None or other.controls is None or all(
        dist(axis.mirrored(mine), its) <= _SAME
        for mine, its in zip(leg.controls, reversed(other.controls), strict=True)
    )  # fmt: skip


def _equal_by_mirroring(axis: _Axis) -> list[tuple[RelationKind, set[str]]]:
    legs = axis.path.legs
    return [
        (RelationKind.EQUAL, {leg.id, legs[axis.turn - at - 1].id}) for at, leg in enumerate(legs)
    ]


def _relations(own: _Axis, axis: _Axis) -> Iterator[Relation]:
    """Yield what keeps the path of one axis symmetric about another one on the same line."""
    symmetric, path, turn = RelationKind.SYMMETRIC, own.path, own.turn
    count = len(path.points)
    if own is axis and axis.direction != _SLANTED:
        across = RelationKind.LEVEL if axis.direction == _UPRIGHT else RelationKind.UPRIGHT
        yield Relation(kind=across, of=axis.pair)
    for at, point in enumerate(path.points):
        partner = path.points[turn - at].id
        if (turn - at) % count >= at and point.id not in axis.pair:
            yield Relation(kind=symmetric, of=(point.id, partner, *axis.pair))
    for at, leg in enumerate(path.legs):
        partner = path.legs[turn - at - 1].id
        if leg.kind is LegKind.ARC and (turn - at - 1) % count > at:
            yield Relation(kind=symmetric, of=(leg.id, partner, *axis.pair))


def _with_independent(sketch: Sketch, relations: Iterator[Relation]) -> Sketch:
    """Return the sketch with those relations that do not follow from all before them.

    The rows of the Jacobian are made orthogonal one after the other, so that is seen by what is
    left of a row (Golub and Van Loan, Matrix Computations, 2013, 5.2.8).
    """
    from scipy.linalg import qr  # loading it would delay the window

    variables = SketchVariables(sketch)
    before = all_equations(sketch, variables)
    basis = np.zeros((0, variables.start.size))
    if before:
        orthogonal, triangle, _ = qr(
            evaluated(before, variables.start)[1].T, mode="economic", pivoting=True
        )
        pivots = np.abs(np.diag(triangle))
        basis = orthogonal[:, pivots > _FOLLOWS * pivots.max(initial=1e-30)].T
    kept: list[Relation] = []
    for relation in relations:
        _, rows = evaluated(relation_equations(relation, variables), variables.start)
        is_new = False
        for row in rows:
            left = row - basis.T @ (basis @ row)
            left -= basis.T @ (basis @ left)
            if np.linalg.norm(left) > _FOLLOWS * np.linalg.norm(row):
                basis = np.vstack([basis, left / np.linalg.norm(left)])
                is_new = True
        if is_new:
            kept.append(relation)
    return sketch.with_changes(relations=(*sketch.relations, *kept))
