"""The few windows that open over the main one: what to start from, and about."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
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
from anzel.app.parts import parts_as_html
from anzel.project.demos import DEMOS
from anzel.project.model import Project
from anzel.project.new_project import empty_table, project_of
from anzel.structure.forms import FORMS, about_form
from anzel.ui.modal import run
from anzel.ui.theme import icon as app_icon
from anzel.ui.theme import icon_pixmap
from anzel.ui.widgets.common_widgets import heading, quiet

_GALLERY = resources.files("anzel.ui.resources").joinpath("gallery")
_ABOUT_WIDTH = 420
_PICTURE = QSize(176, 132)


@dataclass(frozen=True)
class ProjectStart:
    """Something to start from: its name, a line on it, its picture, and the project it makes."""

    name: str
    about: str
    picture: str
    make: Callable[[], Project]


def demo_starts() -> list[ProjectStart]:
    """Return the workshop's projects."""
    return [ProjectStart(demo.title, demo.about, demo.form, demo.make) for demo in DEMOS]


def form_starts() -> list[ProjectStart]:
    """Return every form, on sheets yet to be measured."""
    return [
        *(
            ProjectStart(_title(name), about_form(name), name, partial(project_of, name))
            for name in FORMS
        ),
        ProjectStart("Empty table", "One plain plate, to go on from by hand", "free", empty_table),
    ]


def _title(form: str) -> str:
    return form.replace("-", " ").capitalize()


class StartChooser(QDialog):
    """Choose what to start from, by its picture."""

    def __init__(self, parent: QWidget, title: str, about: str, starts: list[ProjectStart]) -> None:
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
    def chosen(self) -> ProjectStart:
        """The one that is picked."""
        return self._starts[self.list.currentRow()]

    @classmethod
    def ask(
        cls, parent: QWidget, title: str, about: str, starts: list[ProjectStart]
    ) -> ProjectStart | None:
        """Return the one chosen, or None."""
        dialog = cls(parent, title, about, starts)
        return dialog.chosen if run(dialog) == QDialog.DialogCode.Accepted else None


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


class About(QDialog):
    """What this is, and whose work it ships."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("About Anzel")
        self.resize(_ABOUT_WIDTH, 520)
        mark = QLabel()
        mark.setPixmap(icon_pixmap("anzel", size=72))
        words = quiet(
            "Slot-together structures from flat sheet, sized to the thickness you measured "
            "and the kerf your cutter takes.\n\n"
            "Anzel is free software under the MIT licence. Icons and demo projects are its own; "
            "the Mossgate Workshop is invented. Others made these parts:"
        )
        self.parts = parts = QTextBrowser()
        parts.setAccessibleName("Parts that others made, with their licences")
        parts.setHtml(parts_as_html())
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        for widget in (mark, heading(f"Anzel {__version__}"), words, parts, buttons):
            column.addWidget(widget)
