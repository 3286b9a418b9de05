"""Room: everything that belongs to what is picked is in sight, at every size of text."""

import pytest
from PySide6.QtWidgets import QApplication, QWidget

from anzel.app.navigation import Step
from anzel.app.selection import Thing, ThingKind
from anzel.project.demos import DEMOS, phone_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.ui.theme import Look, use_look


def things_of(session):
    """Return one thing of each kind that the build step can show, and the whole."""
    project = session.project
    yield ()
    if project.structure.has_drawings:
        session.selection.restart()
        return
    solved = solved_structure_of(project)
    kind = ThingKind.PLATE if project.structure.has_free_plates else ThingKind.PIECE
    joints = {joint.title.partition(" ")[1]: joint for joint in solved.joints}
    yield from ((Thing(ThingKind.JOINT, joint.id),) for joint in joints.values())
    yield (Thing(kind, solved.pieces[0].name),)
    if project.structure.has_profile_curves:
        yield (Thing(ThingKind.CURVE, "profile"),)


def panel_of(window, step):
    page = window._step(step)
    return page.panel if step is Step.BUILD else page._panel


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_nothing_of_what_is_picked_is_below_the_fold(window, session, qtbot, demo):
    window.resize(1280, 800)
    session.begin(demo.make())
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    for things in things_of(session):
        session.selection.pick(*things)
        QApplication.processEvents()
        area = window.build.panel.area
        needed, there = area.widget().sizeHint().height(), area.viewport().height()
        assert needed <= there, (things, needed, there)
    session.selection.pick_whole()
    for step in Step:
        session.navigation.go_to(step)
        qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
        if step is Step.SHEETS:
            window.sheets.view.pick_next(1)
            QApplication.processEvents()
        area = panel_of(window, step).area
        assert area.widget().sizeHint().height() <= area.viewport().height(), step


@pytest.fixture
def large(qapp):
    yield lambda scale: use_look(qapp, Look.LIGHT, scale)
    use_look(qapp, Look.LIGHT, 1.0)


@pytest.mark.parametrize(("scale", "room"), [(1.0, (911, 512)), (1.5, (1180, 700)),
                                             (1.8, (1280, 800))])  # fmt: skip
def test_nothing_is_cut_off_at_any_size_of_text(window, session, qtbot, large, scale, room):
    large(scale)
    for project in (DEMOS[0].make(), project_of("free"), project_of("rib-lamp")):
        session.begin(project)
        for step in Step:
            session.navigation.go_to(step)
            qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
            if step is Step.SHEETS:
                window.sheets.view.pick_next(1)
            QApplication.processEvents()
            needed = window.minimumSizeHint()
            assert (needed.width() <= room[0], needed.height() <= room[1]) == (True, True), (
                step, needed,
            )  # fmt: skip
            area = panel_of(window, step).area
            inner = area.widget()
            assert inner.minimumSizeHint().width() <= area.viewport().width(), step
            cut = [w for w in inner.findChildren(QWidget) if w.isVisible() and _is_cut(w)]
            assert cut == [], (step, [(type(w).__name__, w.accessibleName()) for w in cut])


def _is_cut(widget):
    """Whether a widget is narrower than it can bear, or reaches out of its parent."""
    parent = widget.parentWidget()
    too_narrow = widget.width() < widget.minimumSizeHint().width()
    return too_narrow or (
        parent is not None and widget.geometry().right() > parent.width() and parent.width() > 0
    )


@pytest.mark.parametrize(("scale", "room"), [(1.0, (911, 512)), (1.5, (1180, 700))])
def test_a_plate_is_drawn_large_in_a_small_window(window, session, qtbot, large, scale, room):
    large(scale)
    session.begin(phone_stand())
    session.navigation.draw("Left side")
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    for begin in (lambda: None, lambda: window.build.sketch.begin_path(is_outline=False)):
        begin()
        QApplication.processEvents()
        needed = window.minimumSizeHint()
        assert (needed.width() <= room[0], needed.height() <= room[1]) == (True, True), needed
