"""A found drawing written anew: its pieces as they will be cut, where they lie, split in halves."""

from anzel.geometry.rigid_transform import RigidTransform
from anzel.layout.layout import PlacedPiece, SheetPlan
from anzel.output.export import render
from anzel.output.pages import loose_page
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.structure.forms.imported_drawing import ImportedDrawings, refitted_pieces

_EDGE = 5.0


def drawing_with_halves(project: Project, name: str, ending: str) -> bytes:
    """Return one drawing of a project as an SVG, DXF or PDF file with split pieces in parts."""
    form = project.structure
    assert isinstance(form, ImportedDrawings)
    at = [each.file.name for each in form.drawings].index(name)
    own = {
        part.name for part in refitted_pieces(form, fit_context_of(project))
        if part.source[0] == at
    }  # fmt: skip
    pieces = [piece for piece in solved_structure_of(project).pieces if piece.name in own]
    boxes = [piece.region.bounds for piece in pieces]
    left, low = min(box[0] for box in boxes) - _EDGE, min(box[1] for box in boxes) - _EDGE
    right, top = max(box[2] for box in boxes) + _EDGE, max(box[3] for box in boxes) + _EDGE
    there = RigidTransform().translated(-left, -low)
    plan = SheetPlan(
        form.stock, 1, right - left, top - low,
        tuple(PlacedPiece(piece, there, 0.0) for piece in pieces),
    )  # fmt: skip
    page = loose_page(project, project.stock(form.stock), plan, name)
    return render([page], project.pens, ending)
