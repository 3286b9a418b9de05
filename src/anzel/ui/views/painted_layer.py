"""What a view has painted, kept as a picture until something of it changes.

A large picture is painted a little at a time, so that the window never stands still for it.
"""

from collections.abc import Callable, Iterable, Iterator
from time import monotonic, perf_counter
from weakref import WeakSet

from PySide6.QtCore import QObject, QTimer
from PySide6.QtGui import QPainter, QPixmap, QTransform
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

from anzel.app.number_display import number_format
from anzel.ui.painting import PaintingPause
from anzel.ui.theme import colour, is_dark, text_scale

PaintStep = Callable[[QPainter], None]
_AT_A_TIME = 0.012
"""Seconds of painting before the window does something else."""
_LOOK_MS, _LONGEST = 4, 0.3
"""Between two looks whether all is painted, and the seconds that work waits for it."""

_unfinished: "WeakSet[PaintedLayer]" = WeakSet()


class PaintedLayer:
    """A picture as large as its view, on paper."""

    def __init__(self, view: QWidget) -> None:
        self._view = view
        self._more = QTimer(view)
        self._more.setSingleShot(True)
        self._more.setInterval(1)
        self._more.timeout.connect(view.update)
        self._key: object = None
        self._left: Iterator[PaintStep] = iter(())
        self._new = QPixmap()
        self._picture, self._picture_transform = QPixmap(), QTransform()

    @property
    def is_on_view(self) -> bool:
        """Whether it can be seen: its window may be gone."""
        return isValid(self._view) and self._view.isVisible()

    def paint_on(
        self,
        painter: QPainter,
        key: tuple[object, ...],
        transform: QTransform,
        steps: Callable[[], Iterable[PaintStep]],
    ) -> None:
        """Paint the picture, made anew step by step where its key is another one.

        The key names all that is painted but the view's size, the look and the way of numbers.
        `transform` leads from mm to pixels. Until the picture is finished the one before it is
        shown, moved to where it belongs now.
        """
        size, ratio = self._view.size(), self._view.devicePixelRatioF()
        whole = (*key, transform, size, ratio, is_dark(), text_scale(), number_format())
        if whole != self._key:
            self._key, self._left = whole, iter(steps())
            self._new = QPixmap(size * ratio)
            self._new.setDevicePixelRatio(ratio)
            self._new.fill(colour("paper"))
            _unfinished.add(self)
        if self in _unfinished and self._go_on(painter):
            _unfinished.discard(self)
            self._picture, self._picture_transform = self._new, transform
        is_first = self._picture.isNull()
        if not is_first and self._picture_transform != transform:
            painter.save()
            painter.setTransform(self._picture_transform.inverted()[0] * transform, combine=True)
            painter.drawPixmap(0, 0, self._picture)
            painter.restore()
        else:
            painter.drawPixmap(0, 0, self._new if is_first else self._picture)

    def _go_on(self, painter: QPainter) -> bool:
        """Paint some more. Returns whether that is all."""
        end = perf_counter() + _AT_A_TIME
        inner = QPainter(self._new)
        inner.setRenderHints(painter.renderHints())
        try:
            for step in self._left:
                step(inner)
                if perf_counter() > end:
                    self._more.start()
                    return False
        except BaseException:
            self._key = None
            _unfinished.discard(self)  # the view tells what is wrong: nothing more is on its way
            raise
        finally:
            inner.end()
        return True


def all_are_painted() -> bool:
    """Return whether every picture on view is finished."""
    return not any(layer.is_on_view for layer in _unfinished)


class AfterPainting(QTimer):
    """Makes calls once what has changed is painted, so that work does not compete with that."""

    def __init__(self, pause: PaintingPause, parent: QObject) -> None:
        super().__init__(parent)
        self._pause = pause
        self._calls: list[Callable[[], None]] = []
        self._since = 0.0
        self.setInterval(_LOOK_MS)
        self.timeout.connect(self._look)

    def post(self, call: Callable[[], None]) -> None:
        """Make a call then; this is for the main thread."""
        self._calls.append(call)
        if not self.isActive():
            self._since = monotonic()
            self.start()

    def _look(self) -> None:
        waits = self._pause.isActive() or not all_are_painted()
        if waits and monotonic() < self._since + _LONGEST:
            return
        self.stop()
        calls, self._calls = self._calls, []
        for call in calls:
            call()
