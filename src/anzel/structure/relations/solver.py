"""The solver of relations: plates in, their placements out.

Each relation places one plate by others. Plates are placed in the order that follows from this;
those that go round in a circle are named. A plate's directions come first: each relation gives a
direction of the plate that one in space must meet, and what they leave free stays as it is. Its
position follows from linear equations, one for each relation and direction, whose least change
from where it is now is taken; what they leave free stays a number (derived).
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from math import cos, radians, sin
from types import MappingProxyType

import numpy as np

from anzel.core.findings import ParameterError
from anzel.geometry.placement import (
    LYING,
    Placement,
    Vector,
    add_scaled,
    cross,
    dot,
    norm,
    scaled,
    unit,
)
from anzel.structure.relations.records import (
    Against,
    Centred,
    Facing,
    Hinged,
    Relation,
    Side,
)
from anzel.structure.relations.sides import Plane, PlateBody

_MEETS = 1e-7
"""Directions that differ by less are the same; relations that miss by less, mm, hold."""
_TABLE = Plane((0.0, 0.0, 1.0), 0.0)


@dataclass(frozen=True)
class PlateFreedom:
    """What relations leave free of a plate: how it can turn, and directions to move along."""

    turns: int
    moves: tuple[Vector, ...]


@dataclass(frozen=True)
class Placed:
    """Where the plates stand, in the order found; what is free, and what is wrong by relation."""

    placements: Mapping[str, Placement]
    order: tuple[str, ...]
    freedoms: Mapping[str, PlateFreedom] = field(default_factory=dict)
    troubles: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class _Plane:
    """A plane in space: normal · p = height."""

    normal: Vector
    height: float


@dataclass
class _Demands:
    """What the relations of one plate ask: directions to meet, and equations for its position."""

    directions: list[tuple[str, Vector, Vector, bool]] = field(default_factory=list)
    """Relation, the plate's own direction, that in space, whether either sign will do."""
    points: list[tuple[str, Vector, Vector, float]] = field(default_factory=list)
    """Relation, a point of the plate, the normal in space, the height it must have there."""


@dataclass(frozen=True)
class Copy:
    """A plate that stands where another one does, moved: the member of a repeat."""

    needs: tuple[str, ...]
    place: Callable[[Mapping[str, Placement]], Placement]


def place_by_relations(
    bodies: Sequence[PlateBody], relations: Sequence[Relation],
    copies: Mapping[str, Copy] = MappingProxyType({}),
) -> Placed:  # fmt: skip
    """Return where all plates stand; `copies` are those among them that follow others.

    A relation that cannot hold beside the earlier ones of its plate is left out and told; plates
    that go round in a circle stand where they are.
    """
    by_name = {body.name: body for body in bodies}
    own: dict[str, list[Relation]] = {body.name: [] for body in bodies}
    for relation in relations:
        if relation.side.plate in own and relation.side.plate not in copies:
            own[relation.side.plate].append(relation)
    order, circles = _order(_needs(own, copies))
    troubles = {
        relation.id: f"These place one another in a circle: {' → '.join(circle)}."
        for circle in circles for name in circle[:-1] for relation in own[name]
        if set(relation.needs) & set(circle)
    }  # fmt: skip
    placements: dict[str, Placement] = {}
    freedoms: dict[str, PlateFreedom] = {}
    around = {name for circle in circles for name in circle}
    for name in order:
        if name in copies and name not in around:
            placements[name] = copies[name].place(placements)
            continue
        holding = [each for each in own[name] if each.id not in troubles]
        if not holding:
            placements[name] = by_name[name].start
            continue
        placements[name], freedoms[name], wrong = _place(
            by_name[name], holding, by_name, placements
        )
        troubles.update(wrong)
    return Placed(placements, order, freedoms, troubles)


def circle_with(relations: Sequence[Relation], names: Sequence[str]) -> tuple[str, ...]:
    """Return a circle of plates that place one another, the first one again last; () for none."""
    own: dict[str, list[Relation]] = {name: [] for name in names}
    for relation in relations:
        own.setdefault(relation.side.plate, []).append(relation)
    circles = _order(_needs(own, {}))[1]
    return circles[0] if circles else ()


def _needs(
    own: Mapping[str, Sequence[Relation]], copies: Mapping[str, Copy]
) -> dict[str, tuple[str, ...]]:
    """Return the plates that each plate is placed by."""
    return {
        name: copies[name].needs if name in copies
        else tuple(dict.fromkeys(need for relation in relations for need in relation.needs))
        for name, relations in own.items()
    }  # fmt: skip


def _order(
    needs: Mapping[str, Sequence[str]],
) -> tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]:
    """Return the plates so that each comes after those it is placed by, and all circles."""
    done: dict[str, None] = {}
    circles: list[tuple[str, ...]] = []
    for start in needs:
        path: list[str] = []
        waiting: list[tuple[str, bool]] = [(start, False)]
        while waiting:
            name, is_left = waiting.pop()
            if is_left:
                path.pop()
                done[name] = None
            elif name in path:
                circles.append((*path[path.index(name) :], name))
            elif name not in done:
                path.append(name)
                waiting.append((name, True))
                waiting += [(need, False) for need in needs[name] if need in needs]
    return tuple(done), tuple(circles)


def _place(
    body: PlateBody, relations: Sequence[Relation], bodies: Mapping[str, PlateBody],
    placements: Mapping[str, Placement],
) -> tuple[Placement, PlateFreedom, dict[str, str]]:  # fmt: skip
    """Return where one plate stands, what is free of it, and which relations cannot hold."""
    demands, troubles = _Demands(), {}
    for relation in relations:
        try:
            _add_demands(demands, relation, body, bodies, placements)
        except ParameterError as error:
            troubles[relation.id] = str(error)
    turned, turns, wrong = _directed(body, demands)
    origin, moves, missed = _moved(turned, [p for p in demands.points if p[0] not in wrong])
    for each in (*wrong, *missed):
        others = ", ".join(r.id for r in relations if r.id != each)
        troubles[each] = f"It cannot hold beside {others}. Take one of them off."
    return Placement(origin, turned.x_axis, turned.y_axis), PlateFreedom(turns, moves), troubles


def _add_demands(
    demands: _Demands, relation: Relation, body: PlateBody, bodies: Mapping[str, PlateBody],
    placements: Mapping[str, Placement],
) -> None:  # fmt: skip
    own = body.plane(relation.side.side)
    if isinstance(relation, Hinged):
        _add_hinge(demands, relation, own, body, bodies[relation.to.plate], placements)
        return
    target, is_middle = _in_space(relation.to, bodies, placements)
    if isinstance(relation, Against):
        is_same = relation.facing is Facing.SAME
        goal = target.normal if is_same else scaled(target.normal, -1.0)
        height = target.height + relation.distance
        either = own.is_middle and is_middle
    else:
        goal, either = target.normal, True
        height = _midway(relation, target, bodies, placements) + relation.distance
    demands.directions.append((relation.id, own.normal, goal, either))
    demands.points.append((relation.id, scaled(own.normal, own.height), target.normal, height))


def _midway(
    relation: Centred, first: _Plane, bodies: Mapping[str, PlateBody],
    placements: Mapping[str, Placement],
) -> float:  # fmt: skip
    """Return the height midway between two planes along the first one's normal."""
    second, _ = _in_space(relation.other, bodies, placements)
    same = dot(first.normal, second.normal)
    if abs(abs(same) - 1) > _MEETS:
        raise ParameterError(
            f"{relation.to.words} and {relation.other.words} are not parallel, so that nothing "
            "lies midway.", hint="Pick two that are.",
        )  # fmt: skip
    return (first.height + (second.height if same > 0 else -second.height)) / 2


def _add_hinge(
    demands: _Demands, relation: Hinged, own: Plane, body: PlateBody, mate: PlateBody,
    placements: Mapping[str, Placement],
) -> None:  # fmt: skip
    """Add what an angle about an edge asks: two directions, and two equations."""
    plane, at = mate.plane(relation.to.side), placements[mate.name]
    out, face = at.direction_to_world(plane.normal), at.normal
    fold = radians(180.0 - relation.angle)
    body_way = add_scaled(scaled(out, cos(fold)), face, sin(fold))
    normal = add_scaled(scaled(face, cos(fold)), out, -sin(fold))
    side = {"front": 1.0, "middle": 0.0, "back": -1.0}[relation.at]
    there = at.to_world(
        (plane.normal[0] * plane.height, plane.normal[1] * plane.height), side * mate.thickness / 2
    )
    here = add_scaled(scaled(own.normal, own.height), (0.0, 0.0, 1.0), side * body.thickness / 2)
    demands.directions += [
        (relation.id, (0.0, 0.0, 1.0), normal, False),
        (relation.id, own.normal, scaled(body_way, -1.0), False),
    ]
    demands.points += [
        (relation.id, here, way, dot(there, way)) for way in (unit(body_way), unit(normal))
    ]


def _in_space(
    side: Side, bodies: Mapping[str, PlateBody], placements: Mapping[str, Placement]
) -> tuple[_Plane, bool]:
    """Return a side as a plane in space, and whether it is a middle."""
    if not side.plate:
        return _Plane(_TABLE.normal, _TABLE.height), False
    if side.plate not in bodies:
        raise ParameterError(f"There is no plate “{side.plate}”.", hint="Take the relation off.")
    plane, at = bodies[side.plate].plane(side.side), placements[side.plate]
    normal = at.direction_to_world(plane.normal)
    return _Plane(normal, plane.height + dot(normal, at.origin)), plane.is_middle


def _directed(body: PlateBody, demands: _Demands) -> tuple[Placement, int, set[str]]:
    """Return the plate turned as asked, how many turns are free, and what cannot hold."""
    start = body.start
    met: list[tuple[Vector, Vector]] = []
    wrong: set[str] = set()
    for name, own, goal, either in demands.directions:
        way = goal
        now = _turned(start, met)
        if either and dot(now.direction_to_world(own), goal) < 0:
            way = scaled(goal, -1.0)
        if _can_meet(start, met, own, way):
            met = _with_direction(met, own, way)
        else:
            wrong.add(name)
    return _turned(start, met), (3, 1, 0)[len(met)], wrong


def _can_meet(
    start: Placement, met: Sequence[tuple[Vector, Vector]], own: Vector, goal: Vector
) -> bool:
    """Return whether a direction can be met beside those that are."""
    if len(met) == 2:
        now = _turned(start, met).direction_to_world(own)
        return norm(add_scaled(now, goal, -1.0)) < _MEETS
    return all(abs(dot(own, a) - dot(goal, b)) < _MEETS for a, b in met)


def _with_direction(
    met: list[tuple[Vector, Vector]], own: Vector, goal: Vector
) -> list[tuple[Vector, Vector]]:
    """Return the independent directions that are met; two of them fix the plate."""
    if len(met) == 2 or any(norm(cross(own, a)) < _MEETS for a, _ in met):
        return met
    return [*met, (own, goal)]


def _turned(start: Placement, met: Sequence[tuple[Vector, Vector]]) -> Placement:
    """Return the plate's directions with those met, as near as can be to where it starts."""
    if not met:
        return start
    own, goal = met[0]
    if len(met) == 2:
        beside, beside_goal = met[1]
    else:
        axes = [(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)]
        # the own axis that is most across the direction, in space, keeps its heading
        ways = [
            (axis, start.direction_to_world(axis)) for axis in axes if abs(dot(axis, own)) < 0.9
        ]
        beside, beside_goal = max(ways, key=lambda way: norm(cross(way[1], goal)))
    frame, target = _frame(own, beside), _frame(goal, beside_goal)
    x_axis, y_axis = (
        _sum(scaled(t, f[axis]) for f, t in zip(frame, target, strict=True)) for axis in (0, 1)
    )
    return Placement(start.origin, x_axis, y_axis)


def _frame(first: Vector, second: Vector) -> tuple[Vector, Vector, Vector]:
    """Return three square directions: the first, what of the second is square to it, the third."""
    across = unit(add_scaled(second, first, -dot(first, second)))
    return first, across, cross(first, across)


def _sum(vectors: object) -> Vector:
    total = np.sum(list(vectors), axis=0)  # type: ignore[call-overload]
    return (float(total[0]) + 0.0, float(total[1]) + 0.0, float(total[2]) + 0.0)


def _moved(
    turned: Placement, points: Sequence[tuple[str, Vector, Vector, float]]
) -> tuple[Vector, tuple[Vector, ...], set[str]]:
    """Return the origin, the directions that are free, and the relations that cannot hold."""
    held: list[tuple[Vector, float]] = []
    wrong: set[str] = set()
    origin = turned.origin
    for name, point, normal, height in points:
        wanted = height - dot(turned.direction_to_world(point), normal)
        trial = _nearest(turned.origin, [*held, (normal, wanted)])
        if all(abs(dot(trial, way) - level) < _MEETS for way, level in [*held, (normal, wanted)]):
            held.append((normal, wanted))
            origin = trial
        else:
            wrong.add(name)
    return origin, _free_moves([way for way, _ in held]), wrong


def _nearest(origin: Vector, held: Sequence[tuple[Vector, float]]) -> Vector:
    """Return the point nearest to the origin that has all the heights."""
    ways = np.array([way for way, _ in held])
    misses = np.array([level - dot(origin, way) for way, level in held])
    step = np.linalg.lstsq(ways, misses, rcond=1e-9)[0]
    # one more step takes away what rounding left
    left = misses - ways @ step
    step = step + np.linalg.lstsq(ways, left, rcond=1e-9)[0]
    x, y, z = (round(at + float(by), 12) for at, by in zip(origin, step, strict=True))
    return (x, y, z)


def _free_moves(held: Sequence[Vector]) -> tuple[Vector, ...]:
    """Return square directions that change none of the heights, along the axes where they can."""
    free: list[Vector] = []
    for axis in (LYING.x_axis, LYING.y_axis, LYING.normal):
        left = np.array(axis)
        rows = [*held, *free]
        if rows:
            basis = np.linalg.svd(np.array(rows), full_matrices=False)
            span = basis[2][basis[1] > _MEETS]
            left = left - span.T @ (span @ left)
        size = float(np.linalg.norm(left))
        if size > 1e-3:
            free.append(unit((float(left[0]), float(left[1]), float(left[2]))))
    return tuple(free)
