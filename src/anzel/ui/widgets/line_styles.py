"""The pens: for each operation a colour, a line width and a layer; and the sets that are kept."""

from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QColorDialog,
    QGridLayout,
    QInputDialog,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import project_edits
from anzel.app.number_display import number_format, shown, shown_plain_length
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.cutjob.operations import Operation
from anzel.ui.widgets.common_widgets import button, choice_row
from anzel.ui.widgets.measure_field import MeasureEdit
from anzel.ui.widgets.text_wide import TextWide
from anzel.ui.widgets.wheel_safe import Choice

_TITLES = ("line", "width", "layer")


class LineStyleRows(QWidget):
    """A row for each operation, bound to the session."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._sets = Choice()
        self._sets.setAccessibleName("Set of pens")
        self._sets.activated.connect(self._use)
        keep = button("Keep as…")
        keep.clicked.connect(self._keep)
        self._error = QLabel()
        self._error.setObjectName("Error")
        self._error.setWordWrap(True)
        self._error.hide()
        grid = QGridLayout()
        grid.setHorizontalSpacing(5)
        grid.setVerticalSpacing(3)
        for column, word in enumerate(_TITLES):
            label = QLabel(word)
            label.setObjectName("Quiet")
            grid.addWidget(label, 0, column)
        self._colours: dict[Operation, QPushButton] = {}
        self._widths: dict[Operation, MeasureEdit] = {}
        self._layers: dict[Operation, MeasureEdit] = {}
        for row, operation in enumerate(Operation, start=1):
            self._add_row(grid, row, operation)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(5)
        body.addLayout(choice_row(self._sets, keep))
        body.addLayout(grid)
        body.addWidget(self._error)

    def _add_row(self, grid: QGridLayout, row: int, operation: Operation) -> None:
        colour = button(operation.value)
        colour.setAccessibleName(f"Colour of {operation.value}")
        colour.clicked.connect(lambda: self._choose_colour(operation))
        width, layer = MeasureEdit(), MeasureEdit()
        TextWide(width, 54)
        for edit, field in ((width, "width"), (layer, "layer")):
            edit.setAccessibleName(f"{field.capitalize()} of {operation.value}")
            edit.committed.connect(lambda text, field=field: self._change(operation, field, text))
            edit.abandoned.connect(self.refresh)
        self._colours[operation], self._widths[operation] = colour, width
        self._layers[operation] = layer
        for column, widget in enumerate((colour, width, layer)):
            grid.addWidget(widget, row, column)

    def refresh(self) -> None:
        """Show the pens as they are now."""
        project = self._session.project_with_pending
        self._error.hide()
        self._sets.clear()
        for pens in project.pen_presets:
            changed = pens.name == project.pens.name and pens != project.pens
            self._sets.addItem(pens.name + (", changed" if changed else ""), pens.name)
        self._sets.setCurrentIndex(self._sets.findData(project.pens.name))
        for operation in Operation:
            pen = project.pens.pen(operation)
            self._colours[operation].setStyleSheet(f"border-bottom: 5px solid {pen.colour};")
            self._colours[operation].setToolTip(f"{operation.value}: {pen.colour}")
            self._widths[operation].setText(shown_plain_length(pen.width))
            self._layers[operation].setText(project.pens.layer(operation))

    def set_colour(self, operation: Operation, colour: str) -> None:
        """Give an operation a colour, or say why not."""
        self._session.attempt(
            f"Colour of {operation.value}",
            lambda project: project_edits.change_pen(project, operation, colour=colour),
        )

    def _choose_colour(self, operation: Operation) -> None:
        start = QColor(self._session.project.pens.colour(operation))
        picked = QColorDialog.getColor(start, self, f"Colour of {operation.value}")
        if picked.isValid():
            self.set_colour(operation, picked.name())

    def _change(self, operation: Operation, field: str, text: str) -> None:
        pens = self._session.project_with_pending.pens
        try:
            if field == "width":
                value: object = project_edits.typed_length(number_format().typed(text), field)
                unchanged = text.strip() == shown_plain_length(pens.pen(operation).width)
            else:
                value = text.strip()
                unchanged = value == pens.layer(operation)
            if not unchanged:
                project = project_edits.change_pen(
                    self._session.project_with_pending, operation, **{field: value}
                )
                self._session.change(f"{field.capitalize()} of {operation.value}", project)
        except MakerError as error:
            self._error.setText(shown(f"▲ {error}"))
            self._error.show()

    def _use(self, index: int) -> None:
        name = str(self._sets.itemData(index))
        self._session.attempt(
            f"Pens: {name}", lambda project: project_edits.use_pens(project, name)
        )

    def _keep(self) -> None:
        before = self._session.project.pens.name
        name, agreed = QInputDialog.getText(self, "Keep these pens", "Under the name", text=before)
        if agreed and name.strip():
            words = f"Pens kept as {name.strip()}"
            self._session.attempt(words, lambda project: project_edits.keep_pens(project, name))
