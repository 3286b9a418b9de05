"""A field for one measure: typed with units and arithmetic, stepped with the arrow keys.

What was typed is tried on Enter or on leaving. If it cannot be, the field says why and how to mend
it, keeps the text, and everything else stays as it was; Escape brings the good value back.
"""

from collections.abc import Callable
from functools import cache

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QWidget

from anzel.app.number_display import number_format, shown
from anzel.core.error_boundary import error_boundary
from anzel.core.findings import MakerError, QuantityError
from anzel.core.units import parse_length
from anzel.ui.accessibility import announce
from anzel.ui.widgets.text_wide import TextWide

Try = Callable[[str], None]
"""Takes typed text into the project; raises MakerError if it cannot be."""
_KEYS = QKeySequence.StandardKey
_CONVERTED = ("mm", "mm/s")
"""Units of values that are shown and typed in inches where the maker wants inches."""


class _UndoKeys(QObject):
    """Leaves undo and redo to the window, unless the text itself has been changed.

    It watches the one field with the focus: a field's own `event` would be called for everything.
    """

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if (
            event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
            and isinstance(watched, QLineEdit)
            and not watched.isModified()
            and (event.matches(_KEYS.Undo) or event.matches(_KEYS.Redo))
        ):
            event.ignore()
            return True
        return False


@cache
def _undo_keys() -> _UndoKeys:
    return _UndoKeys()


class MeasureEdit(QLineEdit):
    """The text part: commits on Enter and on leaving, steps with up and down."""

    committed = Signal(str)
    abandoned = Signal()
    stepped = Signal(int)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        match event.key():
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self.committed.emit(self.text())
            case Qt.Key.Key_Escape:
                self.abandoned.emit()
            case Qt.Key.Key_Up | Qt.Key.Key_Down:
                fine = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
                size = 1 if fine else 10
                self.stepped.emit(size if event.key() == Qt.Key.Key_Up else -size)
            case _:
                super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.installEventFilter(_undo_keys())
        if event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.ShortcutFocusReason):
            self.selectAll()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.removeEventFilter(_undo_keys())
        if event.reason() != Qt.FocusReason.PopupFocusReason:
            self.committed.emit(self.text())


class MeasureField(QWidget):
    """Label, text and unit on one line, and below them what is wrong, if anything is."""

    def __init__(
        self, label: str, attempt: Try, *, step: float = 1.0, unit: str = "mm", wide: int = 86
    ) -> None:
        super().__init__()
        self._attempt, self._step, self._good, self._good_trouble = attempt, step, "", ""
        self._own_unit = unit
        self.edit = MeasureEdit()
        self.edit.setAccessibleName(label)
        self.edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._label = QLabel(label)
        self._label.setBuddy(self.edit)
        self._unit = QLabel(unit)
        self._unit.setObjectName("Quiet")
        self._error = QLabel()
        self._error.setObjectName("Error")
        self._error.setWordWrap(True)
        self._error.hide()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(2)
        grid.addWidget(self._label, 0, 0)
        grid.addWidget(self.edit, 0, 1)
        grid.addWidget(self._unit, 0, 2)
        grid.addWidget(self._error, 1, 0, 1, 3)
        grid.setColumnStretch(0, 1)
        TextWide(self.edit, wide)
        self._unit.setMinimumWidth(32)
        self.show_own_unit()
        self.edit.committed.connect(self._commit)
        self.edit.abandoned.connect(self.restore)
        self.edit.stepped.connect(self._step_by)

    @property
    def error(self) -> str:
        """What the field says is wrong, or nothing."""
        return self._error.text()

    def show_unit(self, text: str) -> None:
        """Another word after the value: a unit, or the most it can be."""
        if not self._unit.text().startswith("="):
            self._unit.setText(text)

    def show_value(self, text: str, formula: str = "", trouble: str = "") -> None:
        """Show the project's value, unless something else is being typed right now.

        Where it follows a sum the sum is shown, with the value after it; a sum that cannot be
        worked out is told, and its last value stays.
        """
        typing = self.edit.hasFocus() and self.edit.text() != self._good
        self._good = formula or shown(text)
        self.show_own_unit()
        self._good_trouble = f"{trouble} {shown(text)} stays." if trouble else ""
        if formula and not trouble:
            self._unit.setText(f"= {shown(text)}")
        if not typing or not self.error:
            self.restore()

    def show_own_unit(self) -> None:
        """Show the unit that a bare number is in, where it can be another one."""
        if self._own_unit in _CONVERTED:
            self._unit.setText(shown(f"⟦{self._own_unit}⟧"))
        else:
            self._unit.setText(self._own_unit)

    def restore(self) -> None:
        """Back to the good value, with nothing wrong but what was."""
        self.edit.setText(self._good)
        self._say(self._good_trouble)

    def focus(self) -> None:
        """Put the cursor here, ready to type over."""
        self.edit.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _commit(self, text: str) -> None:
        if text.strip() == self._good:
            self._say(self._good_trouble)
            return
        self._take(text)

    def _take(self, text: str) -> None:
        try:
            with error_boundary(f"it took “{text}”"):
                self._attempt(self._typed(text))
        except MakerError as error:
            self._say(shown(str(error)))

    def _typed(self, text: str) -> str:
        """Return typed text with the unit that it is meant in."""
        if self._own_unit not in _CONVERTED or not text.strip():
            return text
        meant = number_format().typed(text)
        return (
            meant
            if self._own_unit == "mm" or number_format().is_metric
            else f"{parse_length(meant):.9g}"
        )

    def _step_by(self, size: int) -> None:
        steps = size * self._step / 10
        try:
            if self._own_unit in _CONVERTED:
                current = parse_length(number_format().typed(self.edit.text().replace("−", "-")))
                self._take(number_format().stepped(current, steps))
            else:
                current = float(self.edit.text().replace("−", "-").replace(",", "."))
                self._take(f"{round(current + steps, 4):g}")
        except (ValueError, QuantityError):  # what is no number is taken first, and told
            self._commit(self.edit.text())

    def _say(self, text: str) -> None:
        was_wrong = bool(self.error)
        self._error.setText(f"▲ {text}" if text else "")
        self._error.setVisible(bool(text))
        self.edit.setAccessibleDescription(text)
        if text:
            announce(self.edit)
        if was_wrong == bool(text):
            return
        self.edit.setProperty("wrong", bool(text))
        self.edit.style().unpolish(self.edit)
        self.edit.style().polish(self.edit)
