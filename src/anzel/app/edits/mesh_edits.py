"""Edits that bring in a mesh to be sliced."""

from anzel.app.edits import project_edits
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure, plain_number
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.project.new_project import with_form
from anzel.storage.mesh_reader import ImportedMesh
from anzel.structure.forms import new_form

_LOW, _HIGH = 15.0, 1000.0
_USUAL = 160.0
"""The height a mesh is given that is drawn in another measure than mm, it seems."""


def take_mesh(project: Project, imported_mesh: ImportedMesh) -> Project:
    """Return the project with the mesh as the body of its sliceform.

    The body is as tall as drawn if that can be cut, and has no more slices than there is room for.
    Raises ParameterError for a structure that is not sliced.
    """
    if not project.structure.has_sliced_body:
        raise ParameterError("Only a sliceform is cut from a mesh.", hint="Start a sliceform.")
    taken = project_edits.change_structure(
        project, body="mesh", mesh=imported_mesh.mesh, height=_height(imported_mesh)
    )
    most = taken.structure.ranges(fit_context_of(taken))
    counts = {n: min(getattr(taken.structure, n), int(most[n][1])) for n in ("first", "second")}
    return project_edits.change_structure(taken, **counts)


def slice_mesh(project: Project, imported_mesh: ImportedMesh) -> Project:
    """Return the project as `take_mesh`, but a sliceform replaces any other structure first."""
    if not project.structure.has_sliced_body:
        project = with_form(project, new_form("sliceform"))
    return take_mesh(project, imported_mesh)


def import_remarks(imported_mesh: ImportedMesh) -> tuple[str, ...]:
    """Return what the maker should know about a mesh: repairs, and a size that was not drawn."""
    drawn = imported_mesh.height
    if _height(imported_mesh) == drawn:
        return (*imported_mesh.repairs, f"{plain_measure(drawn)} high as drawn")
    made = f"made {plain_measure(_USUAL)}; set `height` for another size"
    return (*imported_mesh.repairs, f"{plain_number(drawn, 4)} high as drawn, {made}")


def _height(imported_mesh: ImportedMesh) -> float:
    return imported_mesh.height if _LOW <= imported_mesh.height <= _HIGH else _USUAL
