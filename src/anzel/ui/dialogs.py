"""The few windows that open over the main one: new, help and about."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial
from html import escape
from importlib import resources

from PySide6.QtCore import QSize
from PySide6.QtGui import QIcon, QPixmap
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
from anzel.app.number_display import shown
from anzel.project.demos import DEMOS
from anzel.project.model import Project
from anzel.project.new_project import project_of
from anzel.structure.forms import FORMS, about_form
from anzel.ui.theme import colours, icon_pixmap
from anzel.ui.theme import icon as app_icon
from anzel.ui.widgets.common_widgets import heading, quiet

_HELP = resources.files("anzel.ui.resources").joinpath("help", "help.html")
_GALLERY = resources.files("anzel.ui.resources").joinpath("gallery")
_ABOUT_WIDTH = 420
_PICTURE = QSize(176, 132)


@dataclass(frozen=True)
class Start:
    """Something to start from: its name, a line on it, its picture, and the project it makes."""

    name: str
    about: str
    picture: str
    make: Callable[[], Project]


def demo_starts() -> list[Start]:
    """Return the workshop's projects."""
    return [
        Start(demo.make().name, demo.about, demo.make().structure.form, demo.make) for demo in DEMOS
    ]


def form_starts() -> list[Start]:
    """Return every form, on sheets yet to be measured."""
    return [
        Start(_title(name), about_form(name), name, partial(project_of, name)) for name in FORMS
    ]


def _title(form: str) -> str:
    return form.replace("-", " ").capitalize()


class StartChooser(QDialog):
    """Choose what to start from, by its picture."""

    def __init__(self, parent: QWidget, title: str, about: str, starts: list[Start]) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(720, 700)
        self._starts = starts
        self.list = QListWidget()
        self.list.setAccessibleName(title)
        self.list.setViewMode(QListWidget.ViewMode.IconMode)
        self.list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.list.setMovement(QListWidget.Movement.Static)
        self.list.setIconSize(_PICTURE)
        self.list.setGridSize(_PICTURE + QSize(34, 62))
        self.list.setWordWrap(True)
        for start in starts:
            item = QListWidgetItem(gallery_icon(start.picture), f"{start.name}\n{start.about}")
            item.setToolTip(start.about)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.itemActivated.connect(self.accept)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(heading(title))
        column.addWidget(quiet(about))
        column.addWidget(self.list, 1)
        column.addWidget(buttons)

    @property
    def chosen(self) -> Start:
        """The one that is picked."""
        return self._starts[self.list.currentRow()]

    @classmethod
    def ask(cls, parent: QWidget, title: str, about: str, starts: list[Start]) -> Start | None:
        """Return the one chosen, or None."""
        dialog = cls(parent, title, about, starts)
        return dialog.chosen if dialog.exec() == QDialog.DialogCode.Accepted else None


def gallery_icon(form: str) -> QIcon:
    """Return a form's shipped picture."""
    picture = QPixmap()
    shipped = _GALLERY.joinpath(f"{form}.png")
    if not shipped.is_file():  # a form of another package
        return app_icon("anzel", size=96)
    picture.loadFromData(shipped.read_bytes())
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)  # not tinted when picked
    return icon


class HelpPage(QDialog):
    """How the work goes, the arithmetic, and every shortcut from the action table."""

    def __init__(self, parent: QWidget, keys: Mapping[str, str]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.resize(760, 640)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Help")
        self.text.setHtml(help_html(keys))
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


def help_html(keys: Mapping[str, str]) -> str:
    """Return the help page with the keys in use filled in."""
    rows = []
    for menu in MENUS:
        entries = [action for action in ACTIONS if action.menu == menu and keys[action.id]]
        if entries:
            rows.append(f"<tr><td colspan=2><br><b>{_plain(menu)}</b></td></tr>")
        rows += [
            f"<tr><td width=170><code>{escape(keys[entry.id])}</code></td>"
            f"<td>{escape(entry.words)}</td></tr>"
            for entry in entries
        ]
    page = _HELP.read_text(encoding="utf-8")
    page = page.replace("@accent", colours().accent).replace("@soft", colours().soft)
    return shown(page).replace("@shortcuts", "".join(rows))


def _plain(text: str) -> str:
    return escape(text.replace("&", "").rstrip("…"))
