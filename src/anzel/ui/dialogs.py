"""The few windows that open over the main one: new, help and about."""

from html import escape
from importlib import resources

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from anzel import __version__
from anzel.app.actions import ACTIONS, MENUS
from anzel.project.demos import DEMOS, Demo
from anzel.ui.theme import COLOURS, icon_pixmap
from anzel.ui.widgets.parts import heading, quiet

_HELP = resources.files("anzel.ui.resources").joinpath("help", "help.html")
_ABOUT_WIDTH = 420


class DemoChooser(QDialog):
    """Choose what to start from."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Start from")
        self.setMinimumWidth(430)
        self.list = QListWidget()
        self.list.setAccessibleName("Demo projects")
        self.list.setSpacing(2)
        self.list.setFixedHeight(130)
        for demo in DEMOS:
            item = QListWidgetItem(f"{demo.make().name}\n{demo.about}")
            item.setData(Qt.ItemDataRole.UserRole, demo.name)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.itemActivated.connect(self.accept)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(heading("A structure from the Mossgate Workshop"))
        column.addWidget(quiet("It becomes your own: change its sheets, sizes and fits."))
        column.addWidget(self.list)
        column.addWidget(buttons)

    @classmethod
    def ask(cls, parent: QWidget) -> Demo | None:
        """The demo chosen, or None."""
        dialog = cls(parent)
        if dialog.exec() != QDialog.DialogCode.Accepted:
            return None
        return DEMOS[dialog.list.currentRow()]


class HelpPage(QDialog):
    """How the work goes, the arithmetic, and every shortcut from the action table."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.resize(760, 640)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Help")
        self.text.setHtml(help_html())
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(self.text)
        column.addWidget(buttons)


class About(QDialog):
    """What this is, and whose work it ships."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("About Anzel")
        self.setFixedWidth(_ABOUT_WIDTH)
        mark = QLabel()
        mark.setPixmap(icon_pixmap("anzel", size=72))
        words = quiet(
            "Slot-together structures from flat sheet, sized to the thickness you measured "
            "and the kerf your cutter takes.\n\n"
            "Anzel is free software under the MIT licence. It ships the typeface Hanken Grotesk "
            "(SIL Open Font License 1.1). Icons and demo projects are its own; the Mossgate "
            "Workshop is invented."
        )
        words.setMinimumHeight(words.heightForWidth(_ABOUT_WIDTH - 30))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        for widget in (mark, heading(f"Anzel {__version__}"), words, buttons):
            column.addWidget(widget)


def help_html() -> str:
    """The help page with the shortcuts filled in."""
    rows = []
    for menu in MENUS:
        entries = [action for action in ACTIONS if action.menu == menu and action.keys]
        if entries:
            rows.append(f"<tr><td colspan=2><br><b>{_plain(menu)}</b></td></tr>")
        rows += [
            f"<tr><td width=170><code>{escape(a.keys)}</code></td><td>{_plain(a.title)}</td></tr>"
            for a in entries
        ]
    page = _HELP.read_text(encoding="utf-8")
    page = page.replace("@accent", COLOURS.accent).replace("@soft", COLOURS.soft)
    return page.replace("@shortcuts", "".join(rows))


def _plain(text: str) -> str:
    return escape(text.replace("&", "").rstrip("…"))
