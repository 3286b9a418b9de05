"""Whether the numbers of a form are possible together.

A sheet or fit that leaves them too little room makes them give way, which is told; a change of the
numbers themselves is refused.
"""

from anzel.project.derive import fit_context_of, settled_form
from anzel.project.model import Project
from anzel.structure.forms.field_ranges import out_of_range


def need_possible(before: Project | None, project: Project) -> None:
    """Raise ParameterError for a number of the form that a change has put out of its range.

    What had given way to a measured sheet before, and was left as it was, is not its fault.
    """
    if before is not None and before.structure == project.structure:
        return
    form, old = settled_form(project), settled_form(before) if before is not None else None
    given = out_of_range(old, fit_context_of(before)) if old is not None and before else {}
    for field, error in out_of_range(form, fit_context_of(project)).items():
        is_left = type(old) is type(form) and getattr(old, field) == getattr(form, field)
        if not is_left or field not in given:
            raise error
