"""The bar under a plate while an outline is taken from its picture."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits.project_edits import typed_length
from anzel.app.number_display import shown
from anzel.core.number_format import plain_length
from anzel.tracing.tracing import TraceSettings
from anzel.ui.widgets.common_widgets import button, quiet
from anzel.ui.widgets.flow_layout import FlowLayout
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.wheel_safe import Slider

_TENTHS = 10


class TraceBar(QWidget):
    """Sliders for dark and smooth, how near the fit is, and what becomes of the shapes."""

    changed = Signal()
    outline_taken = Signal()
    openings_taken = Signal()
    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._settings = TraceSettings()
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 4, 10, 6)
        column.setSpacing(3)
        self.dark = self._slider("Dark from", 1, 254, round(self._settings.threshold), column)
        self.smooth = self._slider(
            "Smoothed", 0, 8 * _TENTHS, round(_TENTHS * self._settings.smoothness), column
        )
        row = FlowLayout(spacing=6)
        self.within = MeasureField("Within", self._take_within, wide=52)
        self.within.show_value(plain_length(self._settings.within))
        row.addWidget(self.within)
        self.outline = button("Take as the outline", "Primary")
        self.outline.clicked.connect(self.outline_taken.emit)
        self.openings = button("Take as openings")
        self.openings.clicked.connect(self.openings_taken.emit)
        leave = button("Leave", "Flat")
        leave.clicked.connect(self.left.emit)
        for widget in (self.outline, self.openings, leave):
            row.addWidget(widget)
        column.addLayout(row)
        self.says = quiet("")
        column.addWidget(self.says)

    def _slider(self, words: str, low: int, high: int, value: int, column: QVBoxLayout) -> Slider:
        slider = Slider()
        slider.setRange(low, high)
        slider.setValue(value)
        slider.setAccessibleName(words)
        slider.valueChanged.connect(self._slid)
        line = QHBoxLayout()
        label = quiet(words)
        label.setWordWrap(False)
        line.addWidget(label)
        line.addWidget(slider, 1)
        column.addLayout(line)
        return slider

    @property
    def settings(self) -> TraceSettings:
        """How the picture is traced now."""
        return self._settings

    def begin(self, *, has_pixels: bool) -> None:
        """Show the bar; a drawing has no dark and light to choose from."""
        self.setVisible(True)
        for widget in (self.dark, self.smooth, self.within):
            widget.setEnabled(has_pixels)
        self.show_words("Looking for closed shapes …")

    def show_words(self, words: str) -> None:
        """Say what was found, or what is wrong."""
        self.says.setText(shown(words))

    def _slid(self) -> None:
        self._settings = self._settings.with_changes(
            threshold=float(self.dark.value()), smoothness=self.smooth.value() / _TENTHS
        )
        self.changed.emit()

    def _take_within(self, text: str) -> None:
        self._settings = self._settings.with_changes(within=typed_length(text, "within"))
        self.within.show_value(plain_length(self._settings.within))
        self.changed.emit()
