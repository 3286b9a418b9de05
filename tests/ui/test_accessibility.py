"""What a screen reader is told: every control has a name, every painted view its contents."""

import pytest
from PySide6.QtGui import QAccessible
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QComboBox,
    QLineEdit,
    QSlider,
    QWidget,
)

from anzel.app.navigation import Step
from anzel.project.demos import DEMOS
from anzel.ui import accessibility
from anzel.ui.accessibility import PaintedView, Role
from anzel.ui.views.zoom_canvas import ZoomCanvas

NAME, DESCRIPTION = QAccessible.Text.Name, QAccessible.Text.Description
CONTROLS = (QAbstractButton, QAbstractItemView, QComboBox, QLineEdit, QSlider)


@pytest.fixture(autouse=True, scope="module")
def installed():
    accessibility.install()


def told_of(widget):
    """The interface that assistive technology sees."""
    return QAccessible.queryAccessibleInterface(widget)


def children(widget):
    interface = told_of(widget)
    return [interface.child(index) for index in range(interface.childCount())]


def shown_steps(window, session, qtbot):
    for step in Step:
        session.navigation.go_to(step)
        qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
        yield step, window._steps[step]


@pytest.mark.parametrize("name", ["herb-stand", "seedpod-lamp", "seed-caddy"])
def test_no_control_is_without_a_name_and_no_view_tells_nothing(window, session, qtbot, name):
    session.begin(next(demo for demo in DEMOS if demo.name == name).make())
    for step, page in shown_steps(window, session, qtbot):
        window.grab()
        for widget in page.findChildren(QWidget):
            if not widget.isVisibleTo(page):
                continue
            if isinstance(widget, CONTROLS) and not widget.objectName().startswith("qt_"):
                words = (told_of(widget).text(NAME), widget.accessibleDescription())
                assert any(words), (step, type(widget).__name__)
            if isinstance(widget, PaintedView | ZoomCanvas):
                assert isinstance(widget, PaintedView), type(widget).__name__
                assert told_of(widget).text(NAME), (step, type(widget).__name__)
                for child in children(widget):
                    assert child.text(NAME)
                    assert child.role() != Role.NoRole


def test_a_joint_is_heard_with_its_pieces_its_drawn_width_and_its_state(window, session, qtbot):
    session.selection.pick_joint("J1")
    window.grab()
    heard = children(window.build.flat)
    joint = next(child for child in heard if child.text(NAME).startswith("J1, slot of Upright A"))
    assert joint.text(NAME) == "J1, slot of Upright A for Upright B"
    assert joint.text(DESCRIPTION) == "drawn 2.83 × 35.27 mm"
    assert joint.state().selected
    assert window.build.flat.mapFromGlobal(joint.rect().center()).x() > 0
    assert told_of(window.build.flat).indexOfChild(joint) == heard.index(joint)
    other = next(child for child in heard if child.text(NAME).startswith("J2"))
    other.doAction("Press")
    qtbot.waitUntil(lambda: session.selection.joint_id == "J2")
    window.grab()
    assert other.state().selected
    assert not joint.state().selected


def test_the_standing_view_the_sheets_and_the_readings_are_heard(window, session, qtbot):
    qtbot.waitUntil(lambda: bool(children(window.build.standing)), timeout=15_000)
    standing = {child.text(NAME) for child in children(window.build.standing)}
    assert "J1, Upright A × Upright B" in standing
    session.navigation.go_to(Step.SHEETS)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    pieces = [c for c in children(window.sheets.view) if c.text(NAME) == "Top on sheet 1"]
    pieces[0].doAction("Press")
    qtbot.waitUntil(lambda: pieces[0].state().selected)
    session.navigation.go_to(Step.STOCK)
    names = [c.text(NAME) for c in children(window.stock.view)]
    assert "sold as 3.00 mm" in names
    assert "reading 2.930 mm" in names


def test_a_choice_says_what_it_is_beside_its_value(window, session):
    session.navigation.go_to(Step.STOCK)
    for choice in window.stock.findChildren(QComboBox):
        assert choice.accessibleDescription() == choice.accessibleName() != ""


def test_what_is_wrong_is_tied_to_its_field(window, qtbot):
    field = window.build.fields["height"]
    field.edit.setText("9999")
    field.edit.committed.emit("9999")
    assert "more than possible" in told_of(field.edit).text(DESCRIPTION)
    field.restore()
    assert told_of(field.edit).text(DESCRIPTION) == ""
