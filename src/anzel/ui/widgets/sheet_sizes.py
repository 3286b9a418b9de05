"""The sheets of a stock that are there: one line a size, width × height × how many."""

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from anzel.app.edits import project_edits, stock_edits
from anzel.app.number_display import number_format, shown, shown_plain_length, shown_plain_number
from anzel.app.session import Session
from anzel.core.findings import MakerError, ParameterError
from anzel.project.model import Project
from anzel.ui.widgets.common_widgets import button, clear
from anzel.ui.widgets.measure_field import MeasureEdit

_UNCOUNTED = ("", "?", "plenty", "∞")


class SheetSizes(QWidget):
    """Fields for every size of the picked stock."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(4)
        self._error = QLabel()
        self._error.setObjectName("Error")
        self._error.setWordWrap(True)
        self._error.hide()
        more = button("Another size", "Flat")
        more.clicked.connect(lambda: self._try("Another size", stock_edits.add_sheet_size))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._grid)
        column.addWidget(self._error)
        column.addWidget(more)
        self._shown: tuple[object, ...] = ()

    def refresh(self) -> None:
        """Show the sizes as they are now."""
        stock = self._session.project.stock(self._session.selection.stock_id)
        key = (stock.id, stock.sheets, number_format())
        if key == self._shown:
            return
        self._shown = key
        clear(self._grid)
        for column, word in enumerate(("width", "height", "how many", "each costs")):
            label = QLabel(word)
            label.setObjectName("Quiet")
            self._grid.addWidget(label, 0, column)
        for row, size in enumerate(stock.sheets):
            count = "plenty" if size.count is None else str(size.count)
            texts = {
                "width": shown_plain_length(size.width), "height": shown_plain_length(size.height),
                "count": count, "price": shown_plain_number(size.price),
            }  # fmt: skip
            for column, (field, text) in enumerate(texts.items()):
                self._grid.addWidget(self._edit(row, field, text), row + 1, column)
            remove = button("−", "Flat")
            remove.setAccessibleName(f"Take size {row + 1} off")
            remove.setEnabled(len(stock.sheets) > 1)
            remove.clicked.connect(lambda _=False, row=row: self._remove(row))
            self._grid.addWidget(remove, row + 1, 4)

    def _edit(self, row: int, field: str, text: str) -> MeasureEdit:
        edit = MeasureEdit(text)
        edit.setAccessibleName(f"Sheet size {row + 1}, {field}")
        edit.committed.connect(lambda typed: self._commit(row, field, typed, text))
        edit.abandoned.connect(lambda: edit.setText(text))
        return edit

    def _commit(self, row: int, field: str, typed: str, before: str) -> None:
        if typed.strip() == before:
            return

        def change(project: Project, stock_id: str) -> Project:
            value: object
            if field == "count":
                value = _count(typed)
            elif field == "price":
                value = project_edits.typed_number(typed, field)
            else:
                value = project_edits.typed_length(number_format().typed(typed), field)
            return stock_edits.change_sheet_size(project, stock_id, row, **{field: value})

        self._try(f"Sheet {field} {before} → {typed.strip()}", change)

    def _remove(self, row: int) -> None:
        self._try("Size taken off", lambda p, s: stock_edits.remove_sheet_size(p, s, row))

    def _try(self, label: str, edit: Callable[[Project, str], Project]) -> None:
        session = self._session
        try:
            session.change(label, edit(session.project_with_pending, session.selection.stock_id))
            self._error.hide()
        except MakerError as error:
            self._error.setText(shown(f"▲ {error}"))
            self._error.show()


def _count(text: str) -> int | None:
    if text.strip() in _UNCOUNTED:
        return None
    try:
        return int(text)
    except ValueError as error:
        raise ParameterError(
            f"“{text.strip()}” is not a number of sheets.", hint="Type digits, or plenty.",
            field="count",
        ) from error  # fmt: skip
