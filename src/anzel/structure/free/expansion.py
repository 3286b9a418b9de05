"""A free structure with all its formulas, relations and repeats worked out.

What comes out is a free structure of plain numbers: every plate where it stands, every member of
a repeat a plate of its own, every joint at each of its places.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import TYPE_CHECKING

from anzel.core.findings import Finding, Severity
from anzel.core.tolerances import PARALLEL
from anzel.geometry.placement import Placement, Vector, cross, norm, scaled, unit
from anzel.shape.outline_building import straight_legs
from anzel.structure.free.outline_shapes import SketchedOutline
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.corner_lap import CornerLap
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.registry import (
    AnyKind,
    joint_with_renamed_plates,
    plates_of,
    reversed_along,
)
from anzel.structure.joints.stack_lap import StackLap
from anzel.structure.joints.three_lap import ThreeLap
from anzel.structure.model import FitContext
from anzel.structure.plane_intersection import oriented
from anzel.structure.relations.records import RepeatWay
from anzel.structure.relations.repeats import Member, copies_of, members_of, repeated_plates
from anzel.structure.relations.sides import PlateBody
from anzel.structure.relations.solver import Placed, place_by_relations

if TYPE_CHECKING:
    from anzel.structure.forms.free_structure import FreeStructure


@dataclass(frozen=True)
class Expanded:
    """A structure worked out.

    `plates` are all plates with plain numbers, `placements` where each stands, `joints` all joints.
    `likes` gives for each member of a repeat but the first the plate that it is like. `structure`
    is the maker's own, with the values of formulas in place. `troubles` are what is wrong, by the
    path of a formula, the name of a number or the id of a relation.
    """

    structure: "FreeStructure"
    plates: tuple[FreePlate, ...]
    joints: tuple[AnyKind, ...]
    placements: Mapping[str, Placement]
    placed: Placed
    """What the relations gave, with what is free of each plate."""
    members: Mapping[str, Member]
    likes: Mapping[str, str] = field(default_factory=dict)
    troubles: Mapping[str, str] = field(default_factory=dict)

    def findings(self) -> tuple[Finding, ...]:
        """Return a finding for each relation that does not hold."""
        return tuple(
            Finding(
                "relation", Severity.PROBLEM, f"{relation.id}, {relation.words}",
                self.placed.troubles[relation.id], pieces=(relation.side.plate,),
            )
            for relation in self.structure.relations if relation.id in self.placed.troubles
        )  # fmt: skip


def expanded(free: "FreeStructure", fit_context: FitContext) -> Expanded:
    """Return the structure worked out for the sheets as they measure."""
    whole, troubles = free.settled(fit_context)
    made = _expanded(whole, fit_context)
    return replace(made, troubles={**troubles, **made.troubles}) if troubles else made


@lru_cache(maxsize=16)  # the same whether its formulas have been worked out before or not
def _expanded(whole: "FreeStructure", fit_context: FitContext) -> Expanded:
    """Return a structure whose formulas are worked out with its relations and repeats."""
    members = members_of(whole.repeats)
    plates = _with_members(whole, members)
    likes = {name: member.plate for name, member in members.items() if name != member.plate}
    if not whole.relations and not members:
        placements = {plate.name: plate.placement for plate in plates}
        placed = Placed(placements, tuple(placements))
    else:
        bodies = {plate.name: body_of(plate, fit_context) for plate in plates}
        placed = place_by_relations(
            tuple(bodies.values()), whole.relations, copies_of(members, bodies)
        )
    standing = tuple(
        plate if (at := placed.placements[plate.name]) == plate.placement else plate.placed(at)
        for plate in plates
    )
    return Expanded(
        whole, standing, _all_joints(whole, members, placed.placements), placed.placements, placed,
        members, likes, placed.troubles,
    )  # fmt: skip


def body_of(plate: FreePlate, fit_context: FitContext) -> PlateBody:
    """Return what the solver of relations needs of a plate."""
    thickness = fit_context.of(plate.stock).measured_thickness
    edges = (
        tuple(straight_legs(plate.outline.sketch).items())
        if isinstance(plate.outline, SketchedOutline) else ()
    )  # fmt: skip
    return PlateBody(plate.name, plate.outline.region(), thickness, plate.placement, edges)


def _with_members(free: "FreeStructure", members: Mapping[str, Member]) -> tuple[FreePlate, ...]:
    """Return the plates and the members of repeats; one with a plate of its own keeps that."""
    own = {plate.name: plate for plate in free.plates}
    made = list(free.plates)
    for name, member in members.items():
        if name not in own and member.plate in own:
            made.append(own[member.plate].with_changes(name=name))
    return tuple(made)


def joint_places(
    free: "FreeStructure", members: Mapping[str, Member]
) -> Iterator[tuple[AnyKind, str, tuple[str, ...]]]:
    """Yield every joint at each of its places: it, its id there, and the plates that it joins."""
    single = {joint for repeat in free.repeats for joint in repeat.single}
    left_out = {f"{repeat.plate} {number}" for repeat in free.repeats for number in repeat.left_out}
    declared = {frozenset(plates_of(joint)) for joint in free.joints}
    for joint in free.joints:
        plates = plates_of(joint)
        if not left_out.isdisjoint(plates):
            continue
        yield joint, joint.id, plates
        if joint.id in single or members.keys().isdisjoint(plates):
            continue
        for number, names in enumerate(repeated_plates(plates, members)):
            if number and frozenset(names) not in declared:
                yield joint, f"{joint.id} {number + 1}", names


def _all_joints(
    free: "FreeStructure", members: Mapping[str, Member], placements: Mapping[str, Placement]
) -> tuple[AnyKind, ...]:
    """Return every joint at each of its places."""
    if not members:
        return free.joints
    rings = {name for name, member in members.items() if member.repeat.way is RepeatWay.RING}
    made: list[AnyKind] = []
    for joint, joint_id, names in joint_places(free, members):
        if joint_id == joint.id:
            made.append(joint)
            continue
        plates = plates_of(joint)
        renamed = dict(zip(plates, names, strict=True))
        there = joint_with_renamed_plates(joint, renamed, joint_id)
        if not rings.isdisjoint(names):
            turned = next(at for at, name in enumerate(names) if name in rings)
            there = _as_at_first(there, names, joint, plates, placements, turned)
        made.append(there)
    return tuple(made)


def _as_at_first(
    there: AnyKind, names: Sequence[str], joint: AnyKind, plates: Sequence[str],
    placements: Mapping[str, Placement], turned: int,
) -> AnyKind:  # fmt: skip
    """Return a repeated joint so that it cuts its plates as the first one does.

    The line where two plates cross runs along an axis of space, which does not turn with them; so
    it is compared in the plate that does, the `turned` one of them.
    """
    mate = 1 if turned == 0 else 0
    first = _line_in(
        placements[plates[turned]], placements[plates[mate]], getattr(joint, "up", None)
    )
    here = _line_in(placements[names[turned]], placements[names[mate]], None)
    if first is None or here is None:
        return there
    (own, _), (same, in_space) = first, here
    is_reversed = own[0] * same[0] + own[1] * same[1] < 0
    if isinstance(there, CornerLap | CrossLap | StackLap | ThreeLap):
        return replace(there, up=scaled(in_space, -1.0) if is_reversed else in_space)
    return reversed_along(there) if is_reversed else there


def _line_in(
    plate: Placement, mate: Placement, up: Vector | None
) -> tuple[tuple[float, float], Vector] | None:
    """Return the direction of the line where two plates cross: in the first one, and in space."""
    axis = cross(plate.normal, mate.normal)
    if norm(axis) < PARALLEL:
        return None
    axis = oriented(unit(axis), up)
    return plate.direction_to_plate(axis), axis
