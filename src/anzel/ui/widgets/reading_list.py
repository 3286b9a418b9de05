"""The readings of a sheet, those that count and those struck out."""

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemDelegate, QListWidget, QListWidgetItem, QWidget

from anzel.app.number_display import number_format, shown, shown_plain_length
from anzel.core.number_format import NumberFormat
from anzel.materials.stock import Stock
from anzel.ui.theme import colour
from anzel.ui.widgets.deferred_call import after_event

_HIGHEST = 132


class ReadingList(QListWidget):
    """Delete takes the current one out, double click corrects it.

    On a struck one, Enter or double click lets it count again. Each says of which stock: another
    one may be picked while a reading is typed.
    """

    removed = Signal(str, int)
    corrected = Signal(str, int, str)
    restored = Signal(str, int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Readings")
        self.setMaximumHeight(_HIGHEST)
        self.setUniformItemSizes(True)
        self._counting, self._stock_id = 0, ""
        self._shown: tuple[Stock, NumberFormat] | None = None
        self._later: Stock | None = None
        self.itemChanged.connect(self._corrected)
        self.itemActivated.connect(self._activated)

    def show_stock(self, stock: Stock) -> None:
        """Show a stock's readings; while one is being corrected, once that is done."""
        if self.state() is QListWidget.State.EditingState:
            self._later = stock
            return
        if (stock, number_format()) == self._shown:
            return
        self._shown, self._stock_id = (stock, number_format()), stock.id
        row = self.currentRow()
        self.blockSignals(True)
        self.clear()
        self._counting = len(stock.readings)
        doubtful = {each.index: shown(each.why) for each in stock.suspect_readings}
        for index, reading in enumerate(stock.readings):
            item = QListWidgetItem(_figures(reading))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            if index in doubtful:
                item.setForeground(colour("warn"))
                item.setToolTip(doubtful[index])
            self.addItem(item)
        for struck in stock.struck:
            item = QListWidgetItem(f"{_figures(struck.value)}   {struck.reason}")
            crossed = item.font()
            crossed.setStrikeOut(True)
            item.setFont(crossed)
            item.setForeground(colour("soft"))
            item.setToolTip("This reading is struck out. Double-click it to count it again")
            self.addItem(item)
        if 0 <= row < self.count():
            self.setCurrentRow(row)
        self.blockSignals(False)

    @property
    def picked_reading(self) -> int | None:
        """The index of the picked reading, if it is one that counts."""
        row = self.currentRow()
        return row if 0 <= row < self._counting else None

    def picked_of(self, stock: Stock) -> int | None:
        """Return the index of the picked reading, if it is one of this stock as it is now."""
        index = self.picked_reading
        is_there = index is not None and index < len(stock.readings)
        return index if is_there and stock.id == self._stock_id else None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        delete = event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace)
        if delete and self.picked_reading is not None:
            self.removed.emit(self._stock_id, self.currentRow())
        else:
            super().keyPressEvent(event)

    def closeEditor(self, editor: QWidget, hint: QAbstractItemDelegate.EndEditHint) -> None:
        super().closeEditor(editor, hint)
        later, self._later = self._later, None
        if later is not None:
            after_event(self, lambda: self.show_stock(later))

    def _corrected(self, item: QListWidgetItem) -> None:
        row, text = self.row(item), item.text()
        held = self._shown[0].readings if self._shown is not None else ()
        if row < len(held) and text.strip() == _figures(held[row]):
            return
        if row < self._counting:
            self._shown = None  # shown anew in any case: what was typed may be refused
            after_event(self, partial(self.corrected.emit, self._stock_id, row, text))

    def _activated(self, item: QListWidgetItem) -> None:
        struck = self.row(item) - self._counting
        if struck >= 0:
            after_event(self, partial(self.restored.emit, self._stock_id, struck))


def _figures(reading: float) -> str:
    return shown_plain_length(reading)
