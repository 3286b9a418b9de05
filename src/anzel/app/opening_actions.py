"""What a maker does with openings added to plates, whatever makes the plates."""

from anzel.app.edits import opening_edits
from anzel.app.session import Session
from anzel.project.model import Project
from anzel.structure.openings.plate_opening import OpeningKind


def add_opening(session: Session, plate: str, kind: OpeningKind, edge: str = "bottom") -> str:
    """Put an opening on a plate; return its id, or "" where that is impossible.

    One that fits a sheet takes the plate's own, until another is chosen.
    """
    made: list[str] = []

    def edit(project: Project) -> Project:
        sheet = opening_edits.stock_of(project, plate)
        project, opening_id = opening_edits.add_opening(project, plate, kind, edge, sheet)
        made.append(opening_id)
        return project

    done = session.attempt(f"{kind.value.capitalize()} on {plate}", edit)
    return made[-1] if done else ""
