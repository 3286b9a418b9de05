"""What differs between two states of a project, in words."""

from anzel.core.findings import MakerError
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.project.ripple import details, ripple
from anzel.storage.recovery_store import RecoverableProject

PARTS = {
    "name": "the name", "stocks": "sheets and their readings", "cutters": "cutters",
    "cutter_in_use": "the cutter in use", "kerf_at": "who minds the kerf", "fits": "fits",
    "structure": "the structure", "test_pieces": "test pieces", "sheets": "how pieces lie",
    "job": "the cut job", "pens": "pens", "pen_presets": "kept pens", "trials": "trials",
    "in_hand": "test pieces in hand", "takes": "takes", "bounds": "bounds",
    "assembly": "wishes for the assembly", "shown_unit": "the unit", "practice_seed": "practice",
}  # fmt: skip
"""The parts of a project, as the maker calls them."""
_MOST_LINES = 8


def differences(earlier: Project, now: Project) -> list[str]:
    """Return lines that say what is otherwise in an earlier state than now; none where nothing is.

    Raises
    ------
    ParameterError
        Where a structure cannot be solved.
    """
    parts = [
        PARTS[field] for field in Project.model_fields
        if getattr(earlier, field) != getattr(now, field)
    ]  # fmt: skip
    if not parts:
        return []
    lines = [f"Otherwise there: {', '.join(parts)}."]
    found = ripple(solved_structure_of(now), solved_structure_of(earlier))
    lines.append(f"Taking it: {found}.")
    return [*lines, *details(found).splitlines()]


def unsaved_difference(unsaved: RecoverableProject) -> str:
    """Return in words how unsaved work differs from the file that it belongs to."""
    if unsaved.saved_as is None:
        return "It was never saved."
    saved = unsaved.saved_project()
    if saved is None:
        return f"It belongs to {unsaved.saved_as}, which is not there or cannot be read."
    try:
        lines = differences(unsaved.project(), saved)
    except MakerError as error:
        lines = [str(error)]
    return "\n".join([f"It differs from {unsaved.saved_as}.", *lines[:_MOST_LINES]])
