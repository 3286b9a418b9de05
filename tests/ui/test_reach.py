"""Everybody can read it, hear it and reach it by keys; nothing is lost underneath."""

import re
import sys

import pytest
from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QAction, QColor
from PySide6.QtWidgets import (
    QApplication,
    QLineEdit,
)
from tests.common import CONTOURS

from anzel.app.actions import ACTIONS
from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.project.demos import DEMOS
from anzel.ui.action_keys import keys_in_use
from anzel.ui.dialogs import StartChooser, demo_starts, form_starts
from anzel.ui.help_dialog import HelpPage, topics
from anzel.ui.theme import colours, text_scale
from anzel.ui.views.screen_paths import contour_path


@pytest.mark.parametrize("view", ["flat", "standing"])
def test_focus_is_a_thin_frame_round_the_view(window, qtbot, view):
    """Seen once: the frame was filled with the marks' colour and hid everything."""
    widget = getattr(window.build, view)
    widget.setFocus()
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    picture = widget.grab().toImage()
    accent = QColor(colours().accent)
    assert picture.pixelColor(0, 100) == accent
    assert picture.pixelColor(6, 6) == QColor(colours().paper)
    assert picture.pixelColor(6, widget.height() // 2) != accent


def test_every_action_has_a_callback_a_menu_and_a_line_in_the_help(window):
    in_menus = {action for menu in window.menuBar().actions() for action in menu.menu().actions()}
    keys = keys_in_use({})
    page = topics(keys)["Shortcuts"]
    for action in ACTIONS:
        entry = window.actions_by_id[action.id]
        assert isinstance(entry, QAction)
        assert entry in in_menus
        assert not keys[action.id] or f"<code>{keys[action.id]}</code>" in page


def test_steps_by_keys_and_each_is_shown(window, qtbot, session):
    for index, step in enumerate(Step):
        key = Qt.Key(Qt.Key.Key_1 + index)
        qtbot.keyClick(window, key, Qt.KeyboardModifier.AltModifier)
        assert session.navigation.step is step
        assert window._stack.currentWidget() is window._steps[step]


def test_everything_that_takes_input_has_a_name_to_be_read_aloud(window, session):
    for step in Step:
        session.navigation.go_to(step)
    for widget in window.findChildren(QLineEdit):
        inner = widget.objectName() == "qt_spinbox_lineedit" or not widget.isVisibleTo(window)
        assert inner or widget.accessibleName(), widget
    for view in (
        window.build.flat,
        window.build.standing,
        window.build.panel.joint.lens,
        window.test.view,
    ):
        assert view.accessibleName()


def test_text_scales_and_comes_back(window):
    before = window.ripple.says.fontMetrics().height()
    for _ in range(3):
        window.actions_by_id["text-larger"].trigger()
    assert text_scale() == pytest.approx(1.33, abs=0.01)
    assert window.ripple.says.fontMetrics().height() > before
    for _ in range(3):
        window.actions_by_id["text-smaller"].trigger()
    assert text_scale() == pytest.approx(1.0, abs=0.02)


def test_a_long_ripple_never_widens_the_window(window, session):
    width = window.width()
    session.status.show("slot " * 400)
    QApplication.processEvents()
    assert window.width() == width
    assert window.minimumSizeHint().width() < 1300


def test_the_dialogs_show_their_text(qtbot, window):
    for starts in (demo_starts(), form_starts()):
        chooser = StartChooser(window, "Which?", "Any.", starts)
        assert chooser.list.count() == len(starts)
        assert not chooser.list.item(0).icon().isNull()
        assert chooser.chosen is starts[0]


def test_the_help_has_topics_with_pictures_and_is_searched(qtbot, window):
    page = HelpPage(window, keys_in_use({}))
    qtbot.addWidget(page)
    page.show()
    for row in range(page.contents.count()):
        page.contents.setCurrentRow(row)
        for source in re.findall(r'src="([^"]*)"', page.text.toHtml()):
            picture = page.text.loadResource(2, QUrl(source))
            assert not picture.isNull(), source
    qtbot.keyClicks(page.search, "drawn width clearance")
    left = [page.contents.item(row).text() for row in range(page.contents.count())
            if not page.contents.item(row).isHidden()]  # fmt: skip
    assert left == ["The sum in the lens"]
    assert page.contents.currentItem().text() == left[0]
    assert "drawn width" in page.text.toPlainText()


@pytest.mark.parametrize("contour", CONTOURS.values(), ids=CONTOURS.keys())
def test_outlines_on_screen_have_their_true_size(contour):
    box = contour_path(contour).boundingRect()
    left, low, right, high = contour.bounds
    assert (box.left(), box.top()) == pytest.approx((left, low), abs=0.01 + 1e-4 * (right - left))
    assert (box.width(), box.height()) == pytest.approx((right - left, high - low), rel=1e-3)


def test_events_lose_no_references():
    """Qt for Python 6.12.0 dropped a reference to None on each event; Python 3.11 dies of that."""
    before = sys.getrefcount(None)
    for _ in range(500):
        QApplication.processEvents()
    assert sys.getrefcount(None) > before - 100


def test_a_session_can_be_on_any_demo(qtbot):
    for demo in DEMOS:
        session = Session(demo.make())
        assert session.selection.joint is not None or session.project.structure.form == "found"
