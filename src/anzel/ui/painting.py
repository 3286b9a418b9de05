"""Painting that cannot crash the window.

An exception that leaves a paint event with its painter still active ends the process in Qt. So
every view paints inside `painting`: the painter always ends, and what went wrong is told in the
view's own place.
"""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QPaintDevice, QPainter
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown
from anzel.core.error_boundary import error_boundary
from anzel.core.findings import MakerError
from anzel.ui.theme import colour

_MARGIN, _MOMENT_MS = 12, 8
_APART = 8.0
"""Between two figures of an axis, pixels."""


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """Yield a smooth painter on a widget or picture, and end it whatever happens."""
    painter = QPainter(device)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    try:
        with error_boundary("it drew a view"):
            yield painter
    except MakerError as error:
        if isinstance(device, QWidget):
            _tell(painter, device, error)
    finally:
        painter.end()


def paint_ticks(
    painter: QPainter, places: Iterable[tuple[float, str]], y: float, ends: tuple[float, float]
) -> None:
    """Draw figures centred under places of an axis; those that would touch one before are left out.

    `ends` are where the figures may begin and end, in pixels.
    """
    metrics = painter.fontMetrics()
    free_from = ends[0]
    for x, figures in places:
        wide = metrics.horizontalAdvance(figures)
        if x - wide / 2 >= free_from and x + wide / 2 <= ends[1]:
            painter.drawText(QPointF(x - wide / 2, y + metrics.ascent()), figures)
            free_from = x + wide / 2 + _APART


def paint_words(painter: QPainter, at: QPointF, text: str, room: float) -> None:
    """Draw words from a place on; what there is no room for is cut off with dots."""
    room = max(int(room), 0)
    words = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
    painter.drawText(at, words)


def _tell(painter: QPainter, widget: QWidget, error: MakerError) -> None:
    """Cover what was drawn halfway with what is wrong."""
    painter.resetTransform()
    painter.setClipping(False)
    box = QRectF(widget.rect())
    painter.fillRect(box, colour("paper"))
    painter.setPen(colour("warn"))
    flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
    inner = box.adjusted(_MARGIN, _MARGIN, -_MARGIN, -_MARGIN)
    painter.drawText(inner, int(flags), shown(f"▲ {error}"))


class PaintingPause(QTimer):
    """Has a widget painted once the keys and clicks that wait meanwhile were taken.

    A change fills lists and has all views painted anew; each alone is quick.
    """

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self._widget = widget
        self.setSingleShot(True)
        self.setInterval(_MOMENT_MS)
        self.timeout.connect(lambda: widget.setUpdatesEnabled(True))

    def begin(self) -> None:
        """Hold painting up for a moment; one change after the other does not make it longer."""
        if not self.isActive():
            self._widget.setUpdatesEnabled(False)
            self.start()
