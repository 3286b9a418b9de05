"""Edits of the living hinges that found drawings have: by how much each is bent."""

from dataclasses import dataclass

from anzel.app.edits.drawing_edits import (
    change_drawing,
    drawing_of,
    imported_drawings,
    number_of_drawing,
)
from anzel.app.edits.project_edits import typed_number
from anzel.core.findings import ParameterError
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.structure.artwork.drawn_hinges import USUAL_ANGLE, drawn_hinges
from anzel.structure.forms.imported_drawing import hinge_id, refitted_pieces


@dataclass(frozen=True)
class HingeView:
    """A living hinge of a found drawing: its id, its piece, degrees, and the radius inside, mm."""

    id: str
    piece: str
    angle: float
    inner_radius: float | None


def hinges_of(project: Project, name: str) -> tuple[HingeView, ...]:
    """Return the living hinges of a drawing, and how they are bent."""
    form = imported_drawings(project)
    at = number_of_drawing(project, name)
    angles = dict(form.drawings[at].bends)
    thickness = fit_context_of(project).of(form.stock).measured_thickness
    found = []
    for part in refitted_pieces(form, fit_context_of(project)):
        if part.source[0] != at:
            continue
        for number, hinge in enumerate(drawn_hinges(part.region, part.lines), start=1):
            angle = angles.get(hinge_id(part, number), USUAL_ANGLE)
            radius = hinge.inner_radius(angle, thickness) if angle else None
            found.append(HingeView(hinge_id(part, number), part.name, angle, radius))
    return tuple(found)


def bend_hinge(project: Project, name: str, hinge: str, text: str) -> Project:
    """Return the project with a hinge of a drawing bent by typed degrees; 0 leaves it flat.

    Raises ParameterError for no hinge of the drawing, and for what is no such angle.
    """
    if hinge not in [each.id for each in hinges_of(project, name)]:
        raise ParameterError(f"{name} has no hinge “{hinge}”.", field="bend")
    angle = typed_number(text.strip().removesuffix("°"), "bend")
    others = tuple(pair for pair in drawing_of(project, name).bends if pair[0] != hinge)
    return change_drawing(project, name, bends=(*others, (hinge, angle)))
