"""Edits of several plates of a free structure at once: in line, evenly apart, mirrored, alike."""

from collections.abc import Sequence

from anzel.app.edits import free_structure_edits
from anzel.app.edits.free_structure_edits import change_plate, changed, free_of, plate_of
from anzel.app.edits.relation_edits import (
    expanded_of,
    next_id,
    standing,
    standing_plate,
)
from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.rigid_transform import RigidTransform
from anzel.project.alike_counts import piece_lines
from anzel.project.model import Project
from anzel.structure.free.outline_shapes import (
    AnyShape,
    Circle,
    ImportedOutline,
    Profile,
    Rectangle,
)
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.registry import joint_with_renamed_plates, plates_of

AXES = ("x", "y", "z")


def align(project: Project, names: Sequence[str], axis: str) -> Project:
    """Return the project with plates in line with the last of them along an axis: x, y or z."""
    goal = getattr(standing_plate(project, names[-1]), axis)
    for name in names[:-1]:
        project = _moved_to(project, name, axis, goal)
    return project


def space_evenly(project: Project, names: Sequence[str]) -> Project:
    """Return the project with plates evenly apart along the axis that they spread over most.

    The two outermost stay. Raises ParameterError for fewer than three.
    """
    if len(names) < 3:
        raise ParameterError("Evenly apart takes three plates or more.", hint="Pick more plates.")
    plates = [standing_plate(project, name) for name in names]
    spread = {
        axis: max(getattr(p, axis) for p in plates) - min(getattr(p, axis) for p in plates)
        for axis in AXES
    }
    axis = max(spread, key=spread.__getitem__)
    plates.sort(key=lambda plate: getattr(plate, axis))
    start, step = getattr(plates[0], axis), spread[axis] / (len(plates) - 1)
    for number, plate in enumerate(plates[1:-1], 1):
        project = _moved_to(project, plate.name, axis, round(start + number * step, 6))
    return project


def _moved_to(project: Project, name: str, axis: str, goal: float) -> Project:
    """Return the project with a plate moved along one axis; raise where a relation holds it."""
    made = change_plate(project, name, **{axis: goal})
    if abs(getattr(standing_plate(made, name), axis) - goal) > 1e-6:
        raise ParameterError(
            f"{name} is held there by a relation.", hint="Take the relation off, or its pick."
        )
    return made


def mirror(project: Project, names: Sequence[str]) -> tuple[Project, tuple[str, ...]]:
    """Return the project with mirrored copies of plates, and their names.

    They are mirrored left and right about the middle of the whole structure.
    """
    whole = expanded_of(project)
    ends = [
        whole.placements[plate.name].to_world(corner)[0]
        for plate in whole.plates for corner in plate.outline.region().outer.corners
    ]  # fmt: skip
    middle = (min(ends) + max(ends)) / 2 if ends else 0.0
    made = []
    for name in names:
        plate = standing_plate(project, name)
        copy = _mirrored(plate, whole.placements[name], middle)
        project, new = free_structure_edits.add_plate(project, copy)
        made.append(new)
    return project, tuple(made)


def _mirrored(plate: FreePlate, at: Placement, middle: float) -> FreePlate:
    """Return a plate mirrored about an upright plane across x, its front still the front."""

    def over(way: Vector) -> Vector:
        return (-way[0], way[1], way[2])

    x, y, z = at.origin
    back = over(at.x_axis)
    there = Placement((2 * middle - x, y, z), (-back[0], -back[1], -back[2]), over(at.y_axis))
    return plate.with_changes(outline=_turned_over(plate.outline)).placed(there)


def _turned_over(outline: AnyShape) -> AnyShape:
    """Return an outline mirrored about its upright middle line."""
    if isinstance(outline, Rectangle | Circle):
        return outline
    if isinstance(outline, Profile):
        return outline.with_changes(points=[(-x, y, s) for x, y, s in reversed(outline.points)])
    region = outline.region().moved(RigidTransform.rotation(0.0, over=True))
    return ImportedOutline(outline=region)


def duplicate(project: Project, names: Sequence[str]) -> tuple[Project, tuple[str, ...]]:
    """Return the project with copies of plates, moved aside, and their names.

    Joints between plates that are copied together are copied too.
    """
    project = standing(project)
    made: dict[str, str] = {}
    for name in names:
        project, made[name] = free_structure_edits.copy_plate(project, name)
    joints = list(free_of(project).joints)
    ids = [joint.id for joint in joints]
    for joint in free_of(project).joints:
        if made.keys() >= set(plates_of(joint)):
            ids.append(next_id("J", ids))
            joints.append(joint_with_renamed_plates(joint, made, ids[-1]))
    return changed(project, joints=tuple(joints)), tuple(made.values())


def alike_plates(project: Project, names: Sequence[str]) -> tuple[str, ...]:
    """Return the pieces that are alike to any of those named, these too, in order."""
    wanted = set(names)
    lines = piece_lines(project)
    return tuple(name for line in lines if wanted.intersection(line.names) for name in line.names)


def use_stock(project: Project, names: Sequence[str], stock_id: str) -> Project:
    """Return the project with several plates cut from a stock."""
    for name in names:
        plate_of(project, name)
    plates = tuple(
        plate.with_changes(stock=stock_id) if plate.name in names else plate
        for plate in free_of(project).plates
    )
    return changed(project, plates=plates)
