"""A large picture is painted a little at a time, and ends as if it had been painted at once."""

import time
from functools import partial

import pytest
from PySide6.QtGui import QColor, QPainter, QPixmap, QTransform
from PySide6.QtWidgets import QWidget

from anzel.ui.views import painted_layer
from anzel.ui.views.painted_layer import PaintedLayer, all_are_painted

MARKS = 12


class Slow(QWidget):
    """A view whose picture takes long; `begun` counts how often it was begun."""

    def __init__(self):
        super().__init__()
        self.layer, self.begun, self.seconds = PaintedLayer(self), 0, 0.01
        self.shift, self.tint = 0.0, "red"
        self.resize(100, 60)

    def paintEvent(self, _event):
        painter = QPainter(self)
        transform = QTransform.fromTranslate(self.shift, 0)
        self.layer.paint_on(painter, (self.tint,), transform, self.steps)
        painter.end()

    def steps(self):
        self.begun += 1
        for number in range(MARKS):
            yield partial(self.mark, number=number)

    def mark(self, painter, number):
        time.sleep(self.seconds)
        painter.fillRect(round(self.shift) + 8 * number, 10, 4, 20, QColor(self.tint))


def test_it_is_painted_a_little_at_a_time_and_once(qtbot):
    view = Slow()
    qtbot.addWidget(view)
    view.show()
    view.grab()
    assert not all_are_painted()
    qtbot.waitUntil(all_are_painted, timeout=10_000)
    picture = view.grab().toImage()
    assert picture.pixelColor(8 * (MARKS - 1) + 2, 15) == QColor("red")
    assert view.begun == 1
    view.seconds, view.tint = 0.0, "blue"
    view.grab()
    view.tint = "red"
    assert view.grab().toImage() == picture


def test_meanwhile_the_last_picture_is_moved_to_where_it_belongs(qtbot):
    view = Slow()
    qtbot.addWidget(view)
    view.show()
    view.grab()
    qtbot.waitUntil(all_are_painted, timeout=10_000)
    view.shift = 3.0
    moved = view.grab().toImage()
    assert not all_are_painted()
    assert moved.pixelColor(8 * (MARKS - 1) + 5, 15) == QColor("red")
    qtbot.waitUntil(all_are_painted, timeout=10_000)
    assert view.grab().toImage().pixelColor(8 * (MARKS - 1) + 5, 15) == QColor("red")


def test_one_that_is_overtaken_is_begun_anew(qtbot):
    view = Slow()
    qtbot.addWidget(view)
    view.show()
    view.grab()
    view.tint = "blue"
    qtbot.waitUntil(lambda: view.begun == 2 and all_are_painted(), timeout=10_000)
    assert view.grab().toImage().pixelColor(10, 15) == QColor("blue")


def test_one_that_fails_is_not_waited_for(qtbot):
    view, sheet = Slow(), QPixmap(10, 10)
    qtbot.addWidget(view)

    def fails(_painter):
        raise ZeroDivisionError

    painter = QPainter(sheet)
    with pytest.raises(ZeroDivisionError):
        view.layer.paint_on(painter, ("wrong",), QTransform(), lambda: [fails])
    painter.end()
    assert view.layer not in painted_layer._unfinished
