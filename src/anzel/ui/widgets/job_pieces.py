"""Which pieces go into this job: a list to tick, each with how many."""

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from anzel.app.edits import layout_edits
from anzel.app.session import Session
from anzel.project.alike_counts import piece_lines
from anzel.project.derive import pieces_of
from anzel.project.model import Project
from anzel.ui.widgets.common_widgets import button, choice_row, fit_rows
from anzel.ui.widgets.deferred_call import after_event

_MOST_ROWS = 8


class JobPieces(QWidget):
    """Bound to the project's amounts."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows = QListWidget()
        self.rows.setAccessibleName("Pieces in this job")
        self.rows.itemChanged.connect(self._ticked)
        every, none = button("All of them"), button("None of them")
        every.clicked.connect(
            lambda: session.attempt("All in this job", layout_edits.reset_copy_counts)
        )
        none.clicked.connect(self._none)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.rows)
        column.addLayout(choice_row(every, none))

    def refresh(self) -> None:
        """Show the pieces as they are now."""
        project = self._session.project
        self.rows.blockSignals(True)
        self.rows.clear()
        for line in piece_lines(project):
            count = line.count
            item = QListWidgetItem(f"{count} × {line.title}" if count > 1 else line.title)
            item.setToolTip(", ".join(line.names))
            item.setData(Qt.ItemDataRole.UserRole, list(line.names))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if count else Qt.CheckState.Unchecked)
            self.rows.addItem(item)
        self.rows.blockSignals(False)
        fit_rows(self.rows, _MOST_ROWS)

    def _ticked(self, item: QListWidgetItem) -> None:
        names = [str(name) for name in item.data(Qt.ItemDataRole.UserRole)]
        wanted = item.checkState() == Qt.CheckState.Checked
        after_event(self, partial(self._take, names, wanted))

    def _take(self, names: list[str], wanted: bool) -> None:
        """Pieces that are alike into the job, in their usual numbers, or out of it."""
        needed = {piece.name: piece.count for piece in pieces_of(self._session.project)}

        def edit(project: Project) -> Project:
            for name in names:
                project = layout_edits.set_copy_count(
                    project, name, needed.get(name, 1) if wanted else 0
                )
            return project

        self._session.attempt(f"{', '.join(names)} {'in' if wanted else 'left out'}", edit)

    def _none(self) -> None:
        self._session.attempt(
            "None in this job", lambda project: layout_edits.only_pieces(project, [])
        )
