"""Fields bound to the session: each shows one value of the project and edits it."""

from collections.abc import Callable

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QInputDialog

from anzel.app.edits.formula_edits import formula_at, name_of_length, trouble_at
from anzel.app.session import Session
from anzel.core.findings import MakerError, ParameterError
from anzel.core.immutable import field_title
from anzel.core.number_format import MILLIMETRES
from anzel.project.model import Project
from anzel.ui.modal import run_menu
from anzel.ui.widgets.measure_field import MeasureField

Get = Callable[[Project], str]
Set = Callable[[Project, str], Project]


class BoundField(MeasureField):
    """A measure field that reads from and writes to the session's project.

    `path` is that of a number that may follow a sum.
    """

    def __init__(
        self,
        session: Session,
        label: str,
        get: Get,
        put: Set,
        *,
        step: float = 1.0,
        unit: str = "mm",
        path: Callable[[], str] | None = None,
    ) -> None:
        def attempt(text: str) -> None:
            try:
                project = put(session.project_with_pending, text)
            except ParameterError as error:
                raise _named_as_labelled(error, label) from error
            session.change(f"{label} {get(session.project_with_pending)} → {get(project)}", project)
            self.refresh()

        super().__init__(label, attempt, step=step, unit=unit)
        self._session, self._get, self._put, self._path = session, get, put, path
        if path is not None:
            self.edit.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
            self.edit.customContextMenuRequested.connect(self._show_menu)

    def _show_menu(self, at: QPoint) -> None:
        """The usual menu of a text, and the offer of a name for the number."""
        menu = self.edit.createStandardContextMenu()
        menu.addSeparator()
        menu.addAction("Give it a name…", self._ask_name)
        run_menu(menu, self.edit.mapToGlobal(at))

    def _ask_name(self) -> None:
        label = self.edit.accessibleName()
        name, is_taken = QInputDialog.getText(self, "A name for it", f"{label} is called")
        if is_taken and name.strip():
            self.give_name(name)

    def give_name(self, name: str) -> None:
        """Make the number a named one, which the field follows from now on."""
        assert self._path is not None
        path, figure = self._path(), self._get(self._session.project)
        self._session.attempt(
            f"{self.edit.accessibleName()} is called {name.strip()}",
            lambda project: name_of_length(
                project, name, path, MILLIMETRES.write(figure), self._put
            ),
        )
        self.refresh()

    def refresh(self) -> None:
        """Show the value as the maker wants it.

        As it is, where what is picked is called otherwise in the pending change, or is not in it
        any more.
        """
        try:
            self._show(self._session.shown)
        except MakerError:
            self._show(self._session.project)

    def _show(self, project: Project) -> None:
        """Show the value, and the sum that it follows if there is one."""
        path = self._path() if self._path is not None else ""
        formula = formula_at(project.structure, path) if path else ""
        trouble = trouble_at(project, path) if formula else ""
        self.show_value(self._get(project), formula, trouble)


def _named_as_labelled(error: ParameterError, label: str) -> ParameterError:
    """Return an error that calls the field as its label does."""
    title = field_title(error.field)
    if not error.field or not error.message.startswith((f"{title} ", f"{title}:")):
        return error
    words = label + error.message[len(title) :]
    return ParameterError(words, hint=error.hint, field=error.field)
