"""The panel of the picked copy of a piece on its sheet.

Its placement in numbers, its sheet, pinned or not, and the copy count.
"""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.edits import layout_edits, project_edits
from anzel.app.number_display import shown_length
from anzel.app.session import Session
from anzel.app.views.layout_editor import LayoutEditor
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_length, plain_number
from anzel.layout.layout import PlacedPiece
from anzel.ui.widgets.common_widgets import quiet
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.wheel_safe import Choice


class PlacementPanel(QWidget):
    """Fields for one copy; `put` says where it shall lie."""

    put = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._table = LayoutEditor((), 1.0, 1.0)
        self._where: tuple[int, int] | None = None
        self._says = quiet("")
        self._x = MeasureField("From the left", lambda text: self._move(text, 0), step=1.0)
        self._y = MeasureField("From below", lambda text: self._move(text, 1), step=1.0)
        self._turn = MeasureField("Turned", self._turn_to, step=15.0, unit="°")
        self._many = MeasureField("In this job", self._set_amount, step=1.0, unit="×")
        self._sheet = Choice()
        self._sheet.setAccessibleName("Sheet of the picked piece")
        self._sheet.activated.connect(self._send)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self._says, *self._fields, self._sheet):
            column.addWidget(widget)

    @property
    def _fields(self) -> tuple[MeasureField, ...]:
        return (self._x, self._y, self._turn, self._many)

    @property
    def laid(self) -> PlacedPiece | None:
        """The picked copy."""
        return None if self._where is None else self._table.laid(self._where)

    def show_copy(self, table: LayoutEditor, where: tuple[int, int] | None) -> None:
        """Show a copy; nothing is changed for None."""
        self._table, self._where = table, where
        laid = self.laid
        if laid is None or where is None:
            return
        x, y, _, _ = laid.region.bounds
        self._x.show_value(plain_length(x))
        self._y.show_value(plain_length(y))
        self._turn.show_value(plain_number(laid.turn))
        count = self._session.project.sheets.count_of(laid.piece.name, laid.piece.count)
        self._many.show_value(str(count))
        pinned = "Pinned where it lies." if laid.pinned else "Free to be laid elsewhere."
        self._says.setText(pinned)
        self._offer_sheets(where)

    def _offer_sheets(self, where: tuple[int, int]) -> None:
        self._sheet.clear()
        own = self._table.sheets[where[0]].plan.stock_id
        for number, spread in enumerate(self._table.sheets):
            plan = spread.plan
            if plan.stock_id == own:
                words = plan.container if plan.is_scrap else f"sheet {plan.number}"
                self._sheet.addItem(f"On {words}", number)
        for number, spread in enumerate(self._table.spare, len(self._table.sheets)):
            if spread.plan.stock_id == own:
                width, height = (shown_length(side, 0) for side in spread.plan.polygon.bounds[2:])
                self._sheet.addItem(f"On another sheet of {width} × {height}", number)
        self._sheet.setCurrentIndex(self._sheet.findData(where[0]))
        self._sheet.setEnabled(self._sheet.count() > 1)

    def _set_amount(self, text: str) -> None:
        laid = self.laid
        if laid is None:
            return
        try:
            count = int(text)
        except ValueError as error:
            raise ParameterError(f"“{text}” is not a number of pieces.", field="count") from error
        project = layout_edits.set_copy_count(
            self._session.project_with_pending, laid.piece.name, count
        )
        self._session.change(f"{laid.piece.name}: {count} in this job", project)

    def _move(self, text: str, axis: int) -> None:
        if self._where is None or self.laid is None:
            return
        wanted = project_edits.typed_length(text, "place")
        way = wanted - self.laid.region.bounds[axis]
        shift = (way, 0.0) if axis == 0 else (0.0, way)
        self.put.emit(self._table.drag_preview(self._where, *shift).place)

    def _turn_to(self, text: str) -> None:
        if self._where is None or self.laid is None:
            return
        turn = project_edits.typed_number(text, "turn") - self.laid.turn
        self.put.emit(self._table.drag_preview(self._where, 0.0, 0.0, turn).place)

    def _send(self, index: int) -> None:
        if self._where is not None:
            target = int(self._sheet.itemData(index))
            if target != self._where[0]:
                self.put.emit(self._table.sent_to_sheet(self._where, target).place)
