"""Bodies: the produced pieces as rigid solids that are moved.

A *body* is made of *flats*, each a flat shape with a thickness and a placement. Pieces of a plate
have one, bent pieces one for each facet.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import shapely

from anzel.core.tolerances import ROUNDING, SQUARE
from anzel.geometry.placement import UP, Placement, Vector, dot, unit
from anzel.geometry.prepared import prepared_for_points
from anzel.geometry.segments import Floats
from anzel.structure.alike_pieces import alike_pieces
from anzel.structure.model import FitContext, Piece, SolvedStructure
from anzel.structure.solids import flat_solid, placed_solid, produced_shape, standing_parts, united

if TYPE_CHECKING:
    import manifold3d

_WELL_INSIDE = 0.3
"""Places this far inside a shape, mm, have more than float dust round them."""
_PLACES = 160
_SAME_WAY = 6
"""Directions that agree in so many decimals are one."""
AXES: tuple[Vector, ...] = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), UP)


@dataclass(frozen=True, eq=False)
class Flat:
    """A flat shape, extruded by half its thickness to either side of its placement's plane."""

    shape: shapely.Geometry
    thickness: float
    placement: Placement

    @cached_property
    def solid(self) -> "manifold3d.Manifold":
        """The solid in its place."""
        return self.placed(flat_solid(self.shape, self.thickness))

    def placed(self, solid: "manifold3d.Manifold") -> "manifold3d.Manifold":
        """Return a solid of the flat's own coordinates in the world."""
        return placed_solid(solid, self.placement)

    @cached_property
    def corners(self) -> Floats:
        """(n, 3) the corners of its convex hull, in the world."""
        ring = np.asarray(self.shape.convex_hull.exterior.coords)[:-1]
        at = self.placement
        flat = np.asarray(at.origin) + ring @ np.array([at.x_axis, at.y_axis])
        half = np.asarray(at.normal) * self.thickness / 2
        return np.concatenate([flat - half, flat + half])

    @cached_property
    def own_bounds(self) -> Floats:
        """(2, 3) its bounds in its own coordinates."""
        low_x, low_y, high_x, high_y = self.shape.bounds
        half = self.thickness / 2
        return np.array([(low_x, low_y, -half), (high_x, high_y, half)])

    @cached_property
    def inside(self) -> shapely.Geometry:
        """What of its shape is well inside, made ready to be asked for points."""
        inside = self.shape.buffer(-_WELL_INSIDE, join_style="mitre").simplify(_WELL_INSIDE / 10)
        return prepared_for_points(inside)

    @cached_property
    def places_inside(self) -> Floats:
        """(n, 3) places well inside it along its edge, in the world."""
        edge = self.inside.boundary
        step = max(edge.length / _PLACES, _WELL_INSIDE)
        places = shapely.get_coordinates(edge.interpolate(np.arange(0.0, edge.length, step)))
        at = self.placement
        world: Floats = np.asarray(at.origin) + places @ np.array([at.x_axis, at.y_axis])
        return world

    def bounds_of(self, points: Floats) -> Floats:
        """Return (2, 3) the bounds of points of the world in the flat's own coordinates."""
        at = self.placement
        own = (points - np.asarray(at.origin)) @ np.array([at.x_axis, at.y_axis, at.normal]).T
        return np.array([own.min(axis=0), own.max(axis=0)])


@dataclass(frozen=True, eq=False)
class RigidBody:
    """A rigid piece: its name, its flats, the name of what it is like, and directions to try."""

    name: str
    flats: tuple[Flat, ...]
    like: str = ""
    ways: tuple[Vector, ...] = ()

    @cached_property
    def solid(self) -> "manifold3d.Manifold":
        """The solid of all its flats."""
        return united([flat.solid for flat in self.flats])

    @cached_property
    def corners(self) -> Floats:
        """(n, 3) the corners of the convex hulls of its flats."""
        return np.concatenate([flat.corners for flat in self.flats])

    @cached_property
    def box(self) -> Floats:
        """(2, 3) its lowest and its highest coordinates."""
        return np.array([self.corners.min(axis=0), self.corners.max(axis=0)])

    @property
    def is_bent(self) -> bool:
        """Whether its flats face several ways: a plate that was bent when it was put on."""
        first, *others = (flat.placement.normal for flat in self.flats)
        return any(abs(dot(first, other)) < 1 - SQUARE for other in others)

    @property
    def middle(self) -> Floats:
        """(3,) the middle of its box."""
        middle: Floats = self.box.mean(axis=0)
        return middle


def common_box(bodies: Iterable[RigidBody]) -> Floats:
    """Return (2, 3) the lowest and the highest coordinates of some bodies."""
    boxes = np.array([body.box for body in bodies])
    return np.array([boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)])


@dataclass(frozen=True, eq=False)
class Bodies:
    """All bodies, and which of them are joined: pairs of their numbers."""

    all: tuple[RigidBody, ...]
    joined: frozenset[tuple[int, int]] = field(default_factory=frozenset)

    def named(self, names: Sequence[str]) -> "Bodies":
        """Return some of them by name, in their order."""
        kept = [at for at, body in enumerate(self.all) if body.name in names]
        number = {at: n for n, at in enumerate(kept)}
        joined = {(number[a], number[b]) for a, b in self.joined if {a, b} <= number.keys()}
        return Bodies(tuple(self.all[at] for at in kept), frozenset(joined))


def bodies_of(solved: SolvedStructure, fit_context: FitContext) -> Bodies:
    """Return the produced pieces of a structure as bodies.

    Interference of press fits is allowed at its joint and nowhere else when the structure was
    solved with `without_interference`.
    """
    like = {
        name: each.piece.name for each in alike_pieces(solved.pieces) for name in each.names
    }  # fmt: skip
    number = {piece.name: at for at, piece in enumerate(solved.pieces)}
    joined = set()
    ways: dict[str, list[Vector]] = {
        piece.name: [UP, *_ways_of([piece.name], solved)] for piece in solved.pieces
    }
    for joint in solved.joints:
        if not set(joint.pieces) <= number.keys():
            continue
        for first, second in joint.separations:
            joined.add((number[first], number[second]))
        own = [joint.axis, *_ways_of(joint.pieces, solved)]
        for feature in joint.features:
            own.append(_along(solved.piece(feature.piece), feature.along))
        for name in joint.pieces:
            ways[name] += own
    made = [
        RigidBody(
            piece.name, _flats(piece, fit_context), like[piece.name], distinct(ways[piece.name])
        )
        for piece in solved.pieces
    ]
    return Bodies(tuple(made), frozenset(joined))


def without_interference(fit_context: FitContext) -> FitContext:
    """Return a fit context in which no clearance is less than nought."""
    return replace(fit_context, least_clearance=0.0)


def distinct(ways: Sequence[Vector]) -> tuple[Vector, ...]:
    """Return each direction and its opposite once, as unit vectors; upwards first, sideways next.

    >>> distinct([(0.0, 0.0, -2.0), (0.0, 0.0, 1.0)])
    ((0.0, 0.0, 1.0), (0.0, 0.0, -1.0))
    """
    kept: dict[Vector, Vector] = {}
    for way in ways:
        one = _snapped(unit(way))
        for each in (one, opposite(one)):
            x, y, z = (round(part, _SAME_WAY) + 0.0 for part in each)
            kept.setdefault((x, y, z), each)
    return tuple(sorted(kept.values(), key=lambda way: -round(way[2], _SAME_WAY)))


def opposite(way: Vector) -> Vector:
    """Return the opposite of a direction, without negative noughts."""
    return (0.0 - way[0], 0.0 - way[1], 0.0 - way[2])


def _snapped(way: Vector) -> Vector:
    """Return a direction with the float dust beside the world's axes taken off."""
    x, y, z = (float(round(p)) if abs(p - round(p)) < ROUNDING else p for p in way)
    return (x, y, z)


def _ways_of(names: Sequence[str], solved: SolvedStructure) -> list[Vector]:
    """Return the normals of pieces; a bent one has too many, and its joints name its ways."""
    pieces = (solved.piece(name) for name in names)
    return [piece.placement.normal for piece in pieces if not piece.bent]


def _along(piece: Piece, along: tuple[float, float]) -> Vector:
    return piece.placement.direction_to_world((*along, 0.0))


def _flats(piece: Piece, fit_context: FitContext) -> tuple[Flat, ...]:
    shape = produced_shape(piece, fit_context)
    return tuple(
        Flat(part, piece.thickness, at)
        for each, at in standing_parts(piece, shape)
        for part in shapely.get_parts(each)
        if part.geom_type == "Polygon"
    )
