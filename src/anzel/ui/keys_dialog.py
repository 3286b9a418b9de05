"""The keys of every command: changed here, with conflicts told."""

from collections.abc import Callable

from PySide6.QtGui import QKeySequence
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QKeySequenceEdit,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from anzel.app.actions import ACTIONS, MENUS
from anzel.app.settings import Settings
from anzel.ui.action_keys import keys_in_use, sequence_of
from anzel.ui.widgets.common_widgets import button, heading, quiet

_TEXT = QKeySequence.SequenceFormat.NativeText
_STORED = QKeySequence.SequenceFormat.PortableText


class KeysDialog(QDialog):
    """A list of all commands with their keys; the picked one's are typed below it."""

    def __init__(self, parent: QWidget, settings: Settings, used: Callable[[], None]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        self.resize(520, 620)
        self._settings, self._used = settings, used
        self.rows = QTreeWidget()
        self.rows.setAccessibleName("Commands and their keys")
        self.rows.setHeaderLabels(["Command", "Keys"])
        self.rows.header().setAccessibleName("Command, keys")
        self.rows.setColumnWidth(0, 330)
        self.rows.currentItemChanged.connect(lambda *_: self._picked())
        self.typed = QKeySequenceEdit()
        self.typed.setAccessibleName("Keys of the picked command")
        self.typed.setClearButtonEnabled(True)
        self.typed.editingFinished.connect(self._take)
        usual = button("As usual")
        usual.clicked.connect(self._as_usual)
        self.says = quiet("Pick a command, then type its keys.")
        line = QHBoxLayout()
        line.addWidget(self.typed, 1)
        line.addWidget(usual)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(heading("Keys"))
        column.addWidget(self.rows, 1)
        column.addLayout(line)
        column.addWidget(self.says)
        column.addWidget(buttons)
        self._fill()

    def set_keys(self, action_id: str, keys: str | None) -> bool:
        """Give an action other keys, "" for none or None for the usual ones.

        Returns False, and says why, where another action has them.
        """
        held = dict(self._settings.preferences.keys)
        held.pop(action_id, None)
        wanted = keys_in_use(held)[action_id] if keys is None else keys
        other = next(
            (a for a in ACTIONS if a.id != action_id and wanted
             and keys_in_use(held)[a.id] == wanted), None
        )  # fmt: skip
        if other is not None:
            self.says.setText(f"▲ {wanted} is for “{other.words}”. Change that one first.")
            return False
        if keys is not None:
            held[action_id] = keys
        self._settings.prefer(keys=held)
        self._used()
        self.says.setText("")
        return True

    def _fill(self) -> None:
        self.rows.clear()
        keys = keys_in_use(self._settings.preferences.keys)
        for menu in MENUS:
            group = QTreeWidgetItem([menu.replace("&", "")])
            self.rows.addTopLevelItem(group)
            for action in ACTIONS:
                if action.menu == menu:
                    text = QKeySequence(keys[action.id]).toString(_TEXT)
                    row = QTreeWidgetItem([action.words, text])
                    row.setData(0, 0x100, action.id)
                    group.addChild(row)
            group.setExpanded(True)

    def _action_id(self) -> str:
        row = self.rows.currentItem()
        return str(row.data(0, 0x100) or "") if row is not None else ""

    def _picked(self) -> None:
        action_id = self._action_id()
        self.typed.setEnabled(bool(action_id))
        if action_id:
            keys = keys_in_use(self._settings.preferences.keys)[action_id]
            self.typed.setKeySequence(QKeySequence(keys))

    def _take(self) -> None:
        typed = self.typed.keySequence().toString(_STORED)
        self._change(typed)

    def _as_usual(self) -> None:
        self._change(None)

    def _change(self, keys: str | None) -> None:
        action_id = self._action_id()
        if action_id and self.set_keys(action_id, keys):
            now = keys_in_use(self._settings.preferences.keys)[action_id]
            if (row := self.rows.currentItem()) is not None:
                row.setText(1, sequence_of(now).toString(_TEXT))
        self._picked()
