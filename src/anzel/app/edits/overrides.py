"""What the command line changes for one run only: thickness, kerf, fit, clearance, parameters."""

from collections.abc import Sequence
from dataclasses import dataclass

from anzel.app.edits import cutter_edits, project_edits, stock_edits
from anzel.core.findings import ParameterError
from anzel.project.model import Project
from anzel.project.possible import need_possible


@dataclass(frozen=True)
class Overrides:
    """The typed overrides: `thickness` and `kerf` are ID=MM, or MM for all.

    `parameters` are PARAM=VALUE.
    """

    thickness: Sequence[str] = ()
    kerf: Sequence[str] = ()
    fit: str | None = None
    clearance: str | None = None
    parameters: Sequence[str] = ()

    def apply(self, project: Project) -> Project:
        """Return the project with the overrides.

        Raises ParameterError naming the one at fault.
        """
        for text in self.thickness:
            for stock_id, value in _by_stock(project, text, "thickness"):
                project = stock_edits.change_stock(project, stock_id, readings=(value,))
        for text in self.kerf:
            for stock_id, value in _by_stock(project, text, "kerf"):
                project = cutter_edits.change_kerf(project, stock_id, value)
        if self.fit is not None:
            project = project_edits.choose_fit(project, self.fit)
        if self.clearance is not None:
            wanted = project_edits.typed_length(self.clearance, "clearance")
            project = project_edits.change_clearance(project, wanted)
            for stock in project.stocks:  # as typed, whatever trials have taught
                project = stock_edits.change_stock(project, stock.id, fit_shift=0.0)
        measured = project
        for text in self.parameters:
            field, equals, value_text = text.partition("=")
            if not equals:
                raise ParameterError(f"“{text}” is not PARAM=VALUE.")
            project = project_edits.set_from_text(project, field.strip(), value_text)
        need_possible(measured, project)
        return project


def _by_stock(project: Project, text: str, field: str) -> list[tuple[str, float]]:
    """Return (stock id, mm) for ID=MM, or for every stock when there is a number alone."""
    stock_id, equals, value = text.rpartition("=")
    length = project_edits.typed_length(value, field)
    if not equals:
        return [(stock.id, length) for stock in project.stocks]
    return [(project.stock(stock_id.strip()).id, length)]
