"""The standing structure with what changes how it is shown: apart, cut open, from where."""

from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from anzel.scene.camera import EYES, VIEWS
from anzel.ui.views.view3d import View3D
from anzel.ui.widgets.common_widgets import button
from anzel.ui.widgets.flow_layout import FlowLayout
from anzel.ui.widgets.wheel_safe import Slider

_SLIDER_WIDTH = 74
_TIGHT = "padding: 3px 5px;"


class StandingSide(QWidget):
    """The standing view over its bar."""

    def __init__(self) -> None:
        super().__init__()
        self.view = View3D()
        self._bar = FlowLayout(spacing=2)
        self._bar.setContentsMargins(8, 4, 8, 6)
        self.slider = self._add_slider("together", "apart", "Pull apart", 100)
        self.slider.valueChanged.connect(lambda value: self.view.pull_apart(value / 100))
        self.cut = self._add_slider("whole", "cut open", "Cut open towards you", 95)
        self.cut.valueChanged.connect(lambda value: self.view.cut_open(value / 100))
        for place in (*VIEWS, *EYES):
            self._add_place(place)
        self.parallel = button("parallel", "Flat")
        self.parallel.setCheckable(True)
        self.parallel.setToolTip("Parallel lines stay parallel")
        self.parallel.clicked.connect(self.view.in_parallel)
        self.lamp = button("lit", "Flat")
        self.lamp.setCheckable(True)
        self.lamp.setToolTip("The bulb on, in the dusk: roughly what glows and what shadows fall")
        self.lamp.clicked.connect(self.view.turn_lamp)
        for choice in (self.parallel, self.lamp):
            choice.setStyleSheet(_TIGHT)
            self._bar.addWidget(choice)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.says = QLabel()
        self.says.setObjectName("Section")
        self.says.setContentsMargins(10, 4, 10, 4)
        self.says.setWordWrap(True)
        self.says.hide()
        column.addWidget(self.view, 1)
        column.addWidget(self.says)
        column.addLayout(self._bar)

    def say(self, words: str) -> None:
        """Say what to do in the view; nothing hides the line."""
        self.says.setText(words)
        self.says.setVisible(bool(words))

    def _add_slider(self, least: str, most: str, name: str, to: int) -> Slider:
        slider = Slider()
        slider.setRange(0, to)
        slider.setFixedWidth(_SLIDER_WIDTH)
        slider.setAccessibleName(name)
        group = QWidget()
        row = QHBoxLayout(group)
        row.setContentsMargins(2, 0, 4, 0)
        row.setSpacing(4)
        for widget in (QLabel(least), slider, QLabel(most)):
            if isinstance(widget, QLabel):
                widget.setObjectName("Quiet")
            row.addWidget(widget)
        self._bar.addWidget(group)
        return slider

    def _add_place(self, place: str) -> None:
        """A button that looks from a named direction, or as somebody at the table does."""
        choice = button(place, "Flat")
        if place in EYES:
            choice.setToolTip(f"As somebody {place} at the table sees it, true to distance")
        else:
            choice.setToolTip(f"Look from the {place}" if place != "above" else "Look from above")
        choice.setStyleSheet(_TIGHT)
        choice.clicked.connect(lambda: self.view.look_from(place))
        self._bar.addWidget(choice)
