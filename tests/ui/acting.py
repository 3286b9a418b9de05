"""What a maker does with mouse and keys."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import QApplication


def click(qtbot, view, position: QPointF):
    """A left click in a view."""
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(*map(round, position.toTuple())))


def marks_of(standing):
    """Where the standing view shows the marks of joints, by name."""
    names, places = standing._marks()
    return {name: QPointF(*at) for name, at in zip(names, places.tolist(), strict=True)}


def tick(item, checked=True, column=None):
    """Tick an item of a list or tree, and let what follows happen."""
    state = Qt.CheckState.Checked if checked else Qt.CheckState.Unchecked
    item.setCheckState(*(() if column is None else (column,)), state)
    QApplication.processEvents()


def type_into(qtbot, field, text):
    """Replace a field's text and press Enter."""
    field.focus()
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, text)
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
