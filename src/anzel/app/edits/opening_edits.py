"""Edits of openings and corners that a maker adds to plates, whatever makes the plates.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Iterator
from functools import lru_cache
from typing import Any

import shapely

from anzel.app.edits.record_numbers import typed_value
from anzel.core.findings import ParameterError
from anzel.geometry.regions import Region
from anzel.project.derive import fit_context_of, settled_form, solved_structure_of
from anzel.project.model import Project
from anzel.shape.sketch import Corner, Sketch
from anzel.shape.sketch_changes import sketch_of_region
from anzel.structure.dimension import Dimension
from anzel.structure.forms.form import Form
from anzel.structure.model import FitContext, Plate
from anzel.structure.openings.alike import OnPlates, alike_plates, openings_on
from anzel.structure.openings.edge_frame import EdgeFrame, frame_of
from anzel.structure.openings.opening_dimensions import opening_dimensions
from anzel.structure.openings.plate_opening import (
    FITTING,
    SIDES,
    OpeningKind,
    PlateCorner,
    PlateOpening,
    Start,
)

_ROOM = 0.2
_SHARE = 0.25
"""A new opening is as wide as this share of its plate's smaller side."""


def opening_of(project: Project, opening_id: str) -> PlateOpening:
    """Return the opening of that id.

    Raises ParameterError listing the known ones.
    """
    for opening in project.structure.own_openings:
        if opening.id == opening_id:
            return opening
    known = ", ".join(each.id for each in project.structure.own_openings) or "none"
    raise ParameterError(f"There is no opening “{opening_id}”.", hint=f"There are: {known}.")


def opening_of_joint(project: Project, joint_id: str) -> PlateOpening | None:
    """Return the opening that makes a joint; None for the joints of plates."""
    wanted = joint_id.partition(" ")[0]
    return next((each for each in project.structure.own_openings if each.id == wanted), None)


def openings_of(project: Project, plate: str) -> tuple[PlateOpening, ...]:
    """Return the openings on a plate, those for all alike plates too."""
    return tuple(each for each in project.structure.own_openings if is_for(project, each, plate))


def is_for(project: Project, added: OnPlates, plate: str) -> bool:
    """Whether what a maker added is for a plate: its own, or one of all alike."""
    return added.plate == plate or (added.alike and plate in alike_to(project, added.plate))


def add_opening(
    project: Project, plate: str, kind: OpeningKind, edge: str = "bottom", sheet: str = ""
) -> tuple[Project, str]:
    """Return the project with an opening at the middle of an edge of a plate, and its id.

    Raises ParameterError for a found drawing, and where it has no room.
    """
    if project.structure.has_drawings:
        raise ParameterError(
            "A found drawing keeps its own openings.",
            hint="Bring it in as plates of a free structure to add some.",
        )
    number = 1 + max((int(o.id[1:]) for o in project.structure.own_openings), default=0)
    opening = PlateOpening.validated(
        id=f"O{number}", plate=plate, kind=kind, edge=edge, sheet=sheet if kind in FITTING else ""
    )
    structure, refused = project.structure, None
    region = _plate(project, plate).region
    frame = frame_of(region, edge, structure.edges_of(plate), plate)
    for wanted in _ways(opening, region, frame):
        openings = (*structure.own_openings, wanted)
        made = project.with_changes(structure=structure.with_changes(own_openings=openings))
        try:
            return _need_possible(made, wanted), wanted.id
        except ParameterError as error:
            refused = refused or error
    assert refused is not None
    raise refused


def _ways(opening: PlateOpening, region: Region, frame: EdgeFrame) -> Iterator[PlateOpening]:
    """Yield where a new opening may go.

    The plate's middle comes first, then between the edge and the first hole, then where most room
    is; one at an edge may go to another edge.
    """
    size = round(min(region.size) * _SHARE, 1)
    usual = opening.with_changes(
        width=size, depth=size, pitch=2 * size, row_pitch=2 * size, inward_from_middle=True
    )
    if opening.is_at_edge:
        for edge in dict.fromkeys((opening.edge, *SIDES)):
            for share in (1.0, 0.4, 0.15):
                yield usual.with_changes(edge=edge, width=share * size, depth=share * size)
        return
    if opening.kind is OpeningKind.POLYGON:  # a hexagon is twice as wide as its side
        usual = usual.with_changes(width=size / 2)
    yield usual
    spans = region.spans(frame.at(frame.length / 2), frame.inward)
    for start, end in spans[:1]:
        room = round((end - start) / 2, 1)
        yield usual.with_changes(
            inward_from_middle=False, inward=round((start + end) / 2, 1),
            width=min(usual.width, room), depth=room,
        )  # fmt: skip
    circle = shapely.maximum_inscribed_circle(region.shape, tolerance=_ROOM)
    along, inward = frame.distances_of(circle.coords[0])
    room = round(float(circle.length) / 2, 1)
    yield usual.with_changes(
        along_from=Start.START, along=round(along, 1), inward_from_middle=False,
        inward=round(inward, 1), width=room, depth=room, pitch=6 * room, row_pitch=6 * room,
    )  # fmt: skip


def change_opening(project: Project, opening_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with an opening changed.

    Raises ParameterError where it cannot be made so.
    """
    opening = opening_of(project, opening_id).with_changes(**changes)
    structure = project.structure.with_opening(opening_id, **changes)
    return _need_possible(project.with_changes(structure=structure), opening)


def type_opening(project: Project, opening_id: str, field: str, text: str) -> Project:
    """Return the project with one number of an opening from typed text."""
    if field not in opening_of(project, opening_id).numbers:
        known = ", ".join(opening_of(project, opening_id).numbers)
        raise ParameterError(f"{opening_id} has no “{field}”.", hint=f"It has: {known}.")
    return change_opening(project, opening_id, **{field: typed_value(text, field)})


def remove_opening(project: Project, opening_id: str) -> Project:
    """Return the project without an opening."""
    opening = opening_of(project, opening_id)
    openings = tuple(each for each in project.structure.own_openings if each is not opening)
    structure = project.structure.with_changes(own_openings=openings)
    return project.with_changes(structure=structure)


def stock_of(project: Project, plate: str) -> str:
    """Return the stock that a plate is cut from."""
    return _plate(project, plate).stock_id


def plate_behind(project: Project, piece: str) -> str:
    """Return the plate that a piece is cut from, which its slots may leave in parts."""
    names = [plate.name for plate in fitted_plates(project)]
    return piece if piece in names else next((n for n in names if piece[:-1] == n), piece)


def region_of_plate(project: Project, plate: str) -> Region:
    """Return the outline of a plate before its joints."""
    return _plate(project, plate).region


def outline_of(project: Project, plate: str) -> Sketch | None:
    """Return the outline of a plate before its joints; None where there is no such plate."""
    if project.structure.has_drawings:
        return None
    found = (each.region for each in fitted_plates(project) if each.name == plate)
    return next((sketch_of_region(region) for region in found), None)


def dimensions_of(project: Project, plate: str) -> list[Dimension]:
    """Return the dimension lines of the openings added to a plate."""
    mine = [each for each in project.structure.own_openings if each.plate == plate]
    if not mine:
        return []
    return opening_dimensions(_plate(project, plate), mine, project.structure.edges_of(plate))


def alike_to(project: Project, plate: str) -> tuple[str, ...]:
    """Return the plates that are like one, that one first."""
    return alike_plates(fitted_plates(project), plate)


def alike_count(project: Project, plate: str) -> int:
    """Return how many plates are like one, with it."""
    return len(alike_to(project, plate))


def edges_for(project: Project, plate: str) -> tuple[str, ...]:
    """Return the edges that an opening on a plate can be placed from."""
    return (*SIDES, *project.structure.edges_of(plate))


def corner_of(project: Project, plate: str) -> PlateCorner | None:
    """Return what is wished for the free corners of a plate that a form makes."""
    for wish in project.structure.own_corners:
        if wish.plate == plate:
            return wish
    for wish in project.structure.own_corners:
        if is_for(project, wish, plate):
            return wish
    return None


def change_corners(project: Project, plate: str, corner: Corner, *, alike: bool) -> Project:
    """Return the project with another wish for the free corners of a form's plate."""
    present = corner_of(project, plate)
    kept = tuple(each for each in project.structure.own_corners if each is not present)
    wish = PlateCorner(plate=plate, alike=alike, corner=corner)
    corners = (*kept, wish) if corner.size else kept
    structure = project.structure.with_changes(own_corners=corners)
    made = project.with_changes(structure=structure)
    solved_structure_of(made)
    return made


def fitted_plates(project: Project) -> tuple[Plate, ...]:
    """Return the plates of a project before their joints, with what lies on them."""
    return _fitted(settled_form(project), fit_context_of(project))


@lru_cache(maxsize=4)  # the present structure and the last few of undo
def _fitted(form: Form, fit_context: FitContext) -> tuple[Plate, ...]:
    return form.fitted(fit_context)[0]


def _plate(project: Project, name: str) -> Plate:
    for plate in fitted_plates(project):
        if plate.name == name:
            return plate
    raise ParameterError(f"There is no plate “{name}”.")


def _need_possible(project: Project, opening: PlateOpening) -> Project:
    """Return the project.

    Raises ParameterError where the opening cannot be made, or parts its plate.
    """
    plates, fit_context = fitted_plates(project), fit_context_of(project)
    by_name = {plate.name: plate for plate in plates}
    if opening.sheet:
        project.stock(opening.sheet)
    for spec in openings_on(plates, (opening,), project.structure.edges_of):
        spec.solve(by_name, fit_context)
    for finding in solved_structure_of(project).findings:
        if finding.code == "opening" and finding.where == opening.plate:
            raise ParameterError(
                f"{opening.plate}: {finding.message}", hint=finding.hint, field="width"
            )
    return project
