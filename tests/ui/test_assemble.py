"""The step Assemble: the order shown, played, wished for, and written."""

import pytest
from PySide6.QtWidgets import QInputDialog, QPushButton

from anzel.app.navigation import Step
from anzel.app.selection import Thing, ThingKind
from anzel.project.demos import DEMOS
from anzel.ui import export_commands


def demo(name):
    return next(each for each in DEMOS if each.name == name).make()


@pytest.fixture
def page(window, session, qtbot):
    def opened(project):
        session.begin(project)
        session.navigation.go_to(Step.ASSEMBLE)
        proven = lambda: window.is_settled and bool(window.assemble.proof.steps)  # noqa: E731
        qtbot.waitUntil(proven, timeout=60_000)
        return window.assemble

    return opened


def rows(page):
    return [page.steps.item(at).text() for at in range(page.steps.count())]


def test_time_runs_through_the_proven_order(page, window, qtbot):
    step = page(demo("herb-stand"))
    assert [row.split(None, 1)[0] for row in rows(step)] == ["1", "2", "3"]
    assert rows(step)[2].endswith("Top from above")
    step.time.go_to(1.5)
    assert step.view.hidden == {"Top"}
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    up = step.view._shown.offsets["Upright B"]
    assert up[2] > 10, "half way in"
    assert step.view._shown.offsets["Upright A"] == (0.0, 0.0, 0.0)
    step.time.step(1)
    assert step.time.time == 2.0
    step.time.toggle()
    qtbot.waitUntil(lambda: step.time.time == 3.0, timeout=10_000)
    assert not step.time.is_playing
    assert step._says.text() == "All is in its place."
    assert step.view.hidden == frozenset()


def test_a_piece_picked_anywhere_tells_when_it_goes_in(page, window, session, qtbot):
    step = page(demo("fern-lantern"))
    session.navigation.go_to(Step.BUILD)
    session.selection.pick(Thing(ThingKind.PIECE, "Base"))
    session.navigation.go_to(Step.ASSEMBLE)
    number = next(at for at, row in enumerate(rows(step)) if "Base" in row)
    assert step.steps.item(number).isSelected()
    assert step.time.time == number
    assert "from below" in step._piece.text()
    assert step._says.text().startswith("Turn it over.")


def test_wishes_are_kept_undone_and_taken_back(page, window, session, qtbot):
    step = page(demo("fern-lantern"))
    step._pick("Top", False)
    step.wishes.before.setCurrentText("Base")
    step.wishes.before.activated.emit(step.wishes.before.currentIndex())
    assert session.project.assembly.before == (("Top", "Base"),)
    qtbot.waitUntil(lambda: window.is_settled and bool(step.proof.steps), timeout=60_000)
    order = [row.split()[1] for row in rows(step)]
    assert order.index("Top") < order.index("Base")
    step.wishes.list.setCurrentRow(0)
    step.wishes._back.click()
    assert session.project.assembly.is_empty
    session.undo()
    assert not session.project.assembly.is_empty


def test_what_holds_one_another_is_mended_from_what_is_offered(page, window, session, qtbot):
    project = demo("garden-wren")
    plain = project.structure.with_changes(own_joints=(), first=4, second=5)
    step = page(project.with_changes(structure=plain))
    assert step.line.title.text() == "No straight way found"
    assert not step.booklet.isEnabled()
    step._locked.findChild(QPushButton).click()
    qtbot.waitUntil(lambda: step._mends is not None, timeout=240_000)
    offered = [b for b in step._locked.findChildren(QPushButton) if b.text().startswith("Try: ")]
    offered[0].click()
    qtbot.waitUntil(lambda: window.is_settled and step.proof.ok, timeout=120_000)
    change = session.project.structure.own_joints[0]
    assert change.swapped
    session.selection.pick_joint(change.joint)
    session.navigation.go_to(Step.BUILD)
    alone = window.build.panel.joint.alone
    assert alone.swapped.isChecked()
    alone.swapped.click()
    assert session.project.structure.own_joints == ()
    left_out = [{"joint": change.joint, "left_out": True}]
    session.change(
        "left out",
        session.project.with_changes(structure=plain.with_changes(own_joints=left_out)),
    )
    session.navigation.go_to(Step.ASSEMBLE)
    step._locked.findChild(QPushButton).click()
    assert session.project.structure.own_joints == ()


def test_a_booklet_and_solids_are_written_aside(
    page, window, session, qtbot, monkeypatch, tmp_path
):
    page(demo("herb-stand"))
    monkeypatch.setattr(QInputDialog, "getItem", lambda *a, **k: ("A5", True))
    monkeypatch.setattr(
        export_commands, "choose_target", lambda w, title, name, *kinds: tmp_path / name
    )
    for what, ending in (("booklet", ".pdf"), ("solids", ".3mf"), ("pictures", "04.svg")):
        window.write_assembly(what)
        qtbot.waitUntil(
            lambda ending=ending: any(p.name.endswith(ending) for p in tmp_path.iterdir()),
            timeout=60_000,
        )
    assert len(list(tmp_path.glob("*.svg"))) == 4
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
