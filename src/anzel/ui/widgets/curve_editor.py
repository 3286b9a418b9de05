"""A curve with the picked point's numbers under it."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits.project_edits import typed_length
from anzel.core.number_format import plain_length
from anzel.ui.widgets.curve_canvas import Curve, CurveCanvas, Paper
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.text_wide import TextWide


class CurveEditor(QWidget):
    """Points dragged on the canvas or typed below it; `changed` carries the new points."""

    changed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.canvas = CurveCanvas()
        self.canvas.changed.connect(self.changed)
        self.canvas.picked.connect(lambda _: self._show_numbers())
        self.out = MeasureField("Out", lambda text: self._put(0, text))
        self.up = MeasureField("Up", lambda text: self._put(1, text))
        self.smooth = QCheckBox("smooth here")
        self.smooth.setToolTip("Curved through this point, or a corner there")
        self.smooth.clicked.connect(self._set_smooth)
        row = QHBoxLayout()
        row.setSpacing(8)
        for widget in (self.out, self.up):
            TextWide(widget.edit, 62)
            row.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.canvas, 1)
        column.addLayout(row)
        column.addWidget(self.smooth)

    def show_curve(self, points: Curve, paper: Paper) -> None:
        """Show a curve on its paper."""
        self.canvas.show_curve(points, paper)
        self._show_numbers()

    def _show_numbers(self) -> None:
        point = self.canvas.point
        if point is not None:
            self.out.show_value(plain_length(point[0], 4))
            self.up.show_value(plain_length(point[1], 4))
            self.smooth.setChecked(point[2])

    def _put(self, axis: int, text: str) -> None:
        """One number of the picked point.

        Raises ParameterError for text that is no length.
        """
        value = typed_length(text, "out" if axis == 0 else "up")
        if self.canvas.point is not None:
            x, y, smooth = self.canvas.point
            self.canvas.put((value, y, smooth) if axis == 0 else (x, value, smooth))

    def _set_smooth(self, smooth: bool) -> None:
        if self.canvas.point is not None:
            x, y, _ = self.canvas.point
            self.canvas.put((x, y, smooth))
