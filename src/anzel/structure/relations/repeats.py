"""The members of repeats: where each stands, and which joints it has."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import product

from anzel.geometry.placement import (
    EAST,
    NORTH,
    UP,
    Placement,
    Vector,
    add_scaled,
    cross,
    dot,
    scaled,
)
from anzel.geometry.rigid_transform import RigidTransform
from anzel.structure.relations.records import Direction, PlateRepeat, RepeatWay, member_name
from anzel.structure.relations.sides import PlateBody
from anzel.structure.relations.solver import Copy


@dataclass(frozen=True)
class Member:
    """One member of a repeat: its repeat, the plate it is like, and its number from 1."""

    repeat: PlateRepeat
    plate: str
    number: int

    @property
    def name(self) -> str:
        """The name of its plate."""
        return member_name(self.plate, self.number)


def members_of(repeats: Sequence[PlateRepeat]) -> dict[str, Member]:
    """Return the members of all repeats by name, the first of each too."""
    found: dict[str, Member] = {}
    for repeat in repeats:
        for plate, count in repeat.members.items():
            for number in range(1, count + 1):
                if number == 1 or number not in repeat.left_out:
                    member = Member(repeat, plate, number)
                    found.setdefault(member.name, member)
    return found


def copies_of(members: Mapping[str, Member], bodies: Mapping[str, PlateBody]) -> dict[str, Copy]:
    """Return where each member but the first of its repeat stands, for the solver of relations."""
    copies: dict[str, Copy] = {}
    for name, member in members.items():
        if member.number == 1:
            continue
        about = member.repeat.about
        about_body = bodies.get(about) if member.repeat.way is RepeatWay.RING else None
        needs = (member.plate, about) if about_body is not None else (member.plate,)
        copies[name] = Copy(needs, partial(_stands, member, about_body))
    return copies


def _stands(
    member: Member, about: PlateBody | None, placements: Mapping[str, Placement]
) -> Placement:
    """Return where a member stands."""
    start, repeat = placements[member.plate], member.repeat
    index = member.number - 1
    if repeat.way is RepeatWay.RING:
        steps = repeat.count if repeat.is_closed else max(repeat.count - 1, 1)
        angle = repeat.spread * index / steps
        if about is None:
            return _turned(start, (repeat.x, repeat.y, 0.0), UP, angle)
        its = placements[about.name]
        left, low, right, high = about.region.bounds
        through = its.to_world(((left + right) / 2, (low + high) / 2))
        axis = its.normal if max(its.normal, key=abs) > 0 else scaled(its.normal, -1.0)
        return _turned(start, through, axis, angle)
    along, across = index, 0
    if repeat.way is RepeatWay.GRID:
        across, along = divmod(index, repeat.count)
    pitch, direction = repeat.pitch, repeat.direction
    if repeat.way is RepeatWay.CROSSED and member.plate == repeat.with_plate:
        pitch, direction = repeat.row_pitch, repeat.row_direction
    origin = add_scaled(start.origin, _way(direction, start), along * pitch)
    if across:
        origin = add_scaled(origin, _way(repeat.row_direction, start), across * repeat.row_pitch)
    return Placement(origin, start.x_axis, start.y_axis)


def _way(direction: Direction, start: Placement) -> Vector:
    return {
        Direction.RIGHTWARDS: EAST, Direction.BACKWARDS: NORTH, Direction.UPWARDS: UP,
        Direction.FACE: start.normal, Direction.WIDTH: start.x_axis,
        Direction.HEIGHT: start.y_axis,
    }[direction]  # fmt: skip


def _turned(start: Placement, through: Vector, axis: Vector, degrees: float) -> Placement:
    """Return a placement turned about a line in space (Rodrigues' rotation formula)."""
    turn = RigidTransform.rotation(degrees)

    def about(vector: Vector) -> Vector:
        beside = scaled(axis, dot(axis, vector) * (1 - turn.cosine))
        made = add_scaled(add_scaled(beside, vector, turn.cosine), cross(axis, vector), turn.sine)
        return (made[0] + 0.0, made[1] + 0.0, made[2] + 0.0)

    origin = add_scaled(through, about(add_scaled(start.origin, through, -1.0)))
    return Placement(origin, about(start.x_axis), about(start.y_axis))


def repeated_plates(
    plates: Sequence[str], members: Mapping[str, Member]
) -> Iterator[tuple[str, ...]]:
    """Yield the plates of a joint, and those of its likes at the other members of their repeats.

    Plates of one repeat keep their distance in it, round a closed ring too; plates of different
    repeats, and boards that cross, are joined each with each.
    """
    groups: dict[tuple[str, str], list[Member]] = {}
    for name in plates:
        if name in members:
            groups.setdefault(_group(members[name]), []).append(members[name])
    seen = {frozenset(plates)}
    yield tuple(plates)
    for steps in product(*(_steps(each) for each in groups.values())):
        step_of = dict(zip(groups, steps, strict=True))
        made = [
            _shifted(members[name], step_of[_group(members[name])]) if name in members else name
            for name in plates
        ]
        names = [name for name in made if name in members or name in plates]
        if len(names) == len(plates) == len(set(names)) and frozenset(names) not in seen:
            seen.add(frozenset(names))
            yield tuple(names)


def _group(member: Member) -> tuple[str, str]:
    """Return what is shifted as one: a repeat, or one of the two sides of crossed boards."""
    crossed = member.repeat.way is RepeatWay.CROSSED
    return member.repeat.id, member.plate if crossed else ""


def _extent(member: Member) -> tuple[int, int]:
    """Return how many members there are along a row, and how many rows."""
    count = member.repeat.members[member.plate]
    return (member.repeat.count, member.repeat.rows) if _is_grid(member) else (count, 1)


def _is_grid(member: Member) -> bool:
    return member.repeat.way is RepeatWay.GRID


def _place_in(member: Member) -> tuple[int, int]:
    """Return how far along its row a member is, and which row that is, from 0."""
    across, along = divmod(member.number - 1, _extent(member)[0])
    return along, across


def _steps(group: Sequence[Member]) -> list[tuple[int, int]]:
    """Return by how much the members of a joint can be shifted together."""
    extents, places = _extent(group[0]), [_place_in(member) for member in group]
    if group[0].repeat.is_closed:
        return [(by, 0) for by in range(extents[0])]
    along, across = (
        range(-min(place[axis] for place in places),
              extents[axis] - max(place[axis] for place in places))
        for axis in (0, 1)
    )  # fmt: skip
    return list(product(along, across))


def _shifted(member: Member, step: tuple[int, int]) -> str:
    along, across = _place_in(member)
    most = _extent(member)[0]
    number = (along + step[0]) % most + (across + step[1]) * most + 1
    return member_name(member.plate, number)
