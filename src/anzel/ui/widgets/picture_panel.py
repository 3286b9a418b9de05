"""The picture behind a plate: brought in, placed, turned, scaled, faded, locked, and traced."""

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits import picture_edits, record_numbers
from anzel.app.foreign_files import read_apart
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.ui.file_choice import choose_file
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, button, quiet
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.wheel_safe import Slider

PICTURES_AND_DRAWINGS = "Pictures (*.png *.jpg *.jpeg *.svg)"
_TITLES = {"turn": "Turned", "x": "Middle along x", "y": "Middle along y"}


class PicturePanel(FoldingSection):
    """A fold of the page of a plate; `wanted` says what needs the view: scale, level, trace."""

    wanted = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__("Picture behind it")
        self._session, self._plate = session, ""
        self.choose = button("Choose a picture…")
        self.choose.clicked.connect(self._choose)
        self.add(self.choose)
        self._rest = QWidget()
        rest = QVBoxLayout(self._rest)
        rest.setContentsMargins(0, 0, 0, 0)
        rest.setSpacing(5)
        self._name = quiet("")
        rest.addWidget(self._name)
        self.fields = {name: self._field(name) for name in picture_edits.NUMBERS}
        for field in self.fields.values():
            rest.addWidget(field)
        self.fade = Slider()
        self.fade.setRange(0, 100)
        self.fade.setAccessibleName("How much the picture is faded, percent")
        self.fade.sliderReleased.connect(lambda: self._change(fade=self.fade.value() / 100))
        rest.addWidget(quiet("Faded"))
        rest.addWidget(self.fade)
        self.locked = QCheckBox("Stays where it is")
        self.locked.toggled.connect(lambda on: self._change(locked=on))
        rest.addWidget(self.locked)
        self._add_ways(rest)
        self.add(self._rest)

    def _add_ways(self, rest: QVBoxLayout) -> None:
        ways = {
            "Scale by two points": lambda: self.wanted.emit("scale"),
            "Level by two points": lambda: self.wanted.emit("level"),
            "Outline from it": lambda: self.wanted.emit("trace"),
            "Take it away": self._remove,
        }
        for first in (0, 2):
            row = QHBoxLayout()
            for words in list(ways)[first : first + 2]:
                each = button(words)
                each.clicked.connect(ways[words])
                row.addWidget(each)
            rest.addLayout(row)

    def show_plate(self, plate: str) -> None:
        """Show the picture of a plate as it is now."""
        self._plate = plate
        picture = picture_edits.picture_of(self._session.project, plate)
        self._rest.setVisible(picture is not None)
        self.choose.setText("Choose a picture…" if picture is None else "Choose another…")
        if picture is None:
            return
        self._name.setText(picture.file.name)
        for field in self.fields.values():
            field.refresh()
        for widget in (self.fade, self.locked):
            widget.blockSignals(True)
        self.fade.setValue(round(100 * picture.fade))
        self.locked.setChecked(picture.locked)
        for widget in (self.fade, self.locked):
            widget.blockSignals(False)

    def place(self, path: Path) -> None:
        """Put the picture of a file behind the plate."""
        plate = self._plate

        def placed(_: None) -> None:
            self.head.setChecked(True)
            if self._session.navigation.drawn_plate != plate:
                self._session.navigation.draw(plate)

        self._session.attempt_aside(
            f"{path.name} behind {plate}",
            lambda p: (read_apart(picture_edits.place_picture, p, plate, path), None), placed,
        )  # fmt: skip

    def _choose(self) -> None:
        path = choose_file(self, "A picture behind the plate", PICTURES_AND_DRAWINGS)
        if path is not None:
            self.place(path)

    def _field(self, name: str) -> BoundField:
        return BoundField(
            self._session, _TITLES.get(name, field_title(name)),
            lambda project: picture_edits.figure_on(project, self._plate, name),
            lambda project, text: picture_edits.type_picture(project, self._plate, name, text),
            step=0.1 if name == "turn" else 1.0, unit=record_numbers.unit_of(name),
        )  # fmt: skip

    def _change(self, **changes: object) -> None:
        plate = self._plate
        words = f"Picture {', '.join(changes)}"
        self._session.attempt(
            words, lambda p: picture_edits.change_picture(p, plate, **changes)
        )  # fmt: skip

    def _remove(self) -> None:
        plate = self._plate
        after_event(self, lambda: self._session.attempt(
            f"Picture behind {plate} taken away", lambda p: picture_edits.remove_picture(p, plate)
        ))  # fmt: skip
