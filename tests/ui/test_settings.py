"""Settings: units, look, keys and what a window remembers."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel
from tests.ui.acting import type_into

from anzel.app.edits import project_edits
from anzel.app.navigation import Step
from anzel.app.number_display import number_format
from anzel.app.settings import Look, Settings, WindowState
from anzel.core.number_format import Unit
from anzel.ui import theme
from anzel.ui.keys_dialog import KeysDialog
from anzel.ui.settings_dialog import SettingsDialog
from anzel.ui.window_memory import last_project, last_step, remember_window, restore_window


@pytest.fixture
def settings(window):
    return window._settings


@pytest.fixture
def dialog(window, session, settings, qtbot):
    made = SettingsDialog(window, session, settings, window.use_preferences)
    qtbot.addWidget(made)
    return made


def choose(dialog, name, value):
    choice = dialog.choices[name]
    choice.setCurrentIndex(choice.findData(value))
    choice.activated.emit(choice.currentIndex())


def test_every_step_follows_the_unit_and_nothing_stored_changes(window, session, dialog, qtbot):
    before = session.project
    for unit in (Unit.INCHES, Unit.FRACTIONS, Unit.MILLIMETRES):
        choose(dialog, "unit", unit)
        for step in Step:
            session.navigation.go_to(step)
            qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
            labels = [label.text() for label in window._steps[step].findChildren(QLabel)
                      if label.isVisibleTo(window)]  # fmt: skip
            wrong = "in" if unit is Unit.MILLIMETRES else "mm"
            assert wrong not in labels, step
            window.grab()
    assert session.project is before


def test_the_rail_tells_its_numbers_in_the_unit_shown(window, session, dialog):
    session.change("Not tried", session.project.with_changes(trials=()))
    rail = window._rail._buttons[Step.TEST]
    assert "comb 2.68" in rail.toolTip()
    choose(dialog, "unit", Unit.INCHES)
    assert "comb 0.1055" in rail.toolTip()
    assert "comb 0.1055" in rail.accessibleName()


def test_a_bare_number_is_in_the_unit_shown_and_a_typed_unit_always_counts(
    window, session, dialog, qtbot
):
    choose(dialog, "unit", Unit.INCHES)
    field = window.build.fields["height"]
    assert field.edit.text() == "4.3307"
    type_into(qtbot, field, "5")
    assert session.project.structure.height == pytest.approx(127.0)
    type_into(qtbot, field, "130 mm")
    assert session.project.structure.height == pytest.approx(130.0)
    qtbot.keyClick(field.edit, Qt.Key.Key_Up)
    assert session.project.structure.height == pytest.approx(
        131.27, abs=0.003
    )  # from what is shown
    assert "in" in window.actions_by_id["undo"].text() or "5.1181" in window.ripple.says.text()


def test_what_cannot_be_is_told_in_the_unit_shown(window, session, dialog, qtbot):
    choose(dialog, "unit", Unit.INCHES)
    field = window.build.fields["height"]
    type_into(qtbot, field, "900")
    assert "Between 1.8" in field.error
    assert "31.496 will do" in field.error


def test_a_project_may_have_a_unit_of_its_own_and_it_is_undone(window, session, dialog):
    choose(dialog, "shown_unit", Unit.FRACTIONS)
    assert number_format().unit is Unit.FRACTIONS
    session.undo()
    assert number_format().unit is Unit.MILLIMETRES


def test_the_look_and_the_text_follow_the_choice(window, dialog, settings):
    choose(dialog, "look", Look.DARK)
    assert theme.colours() == theme.DARK
    choose(dialog, "text_size", 1.5)
    assert theme.text_scale() == 1.5
    choose(dialog, "look", Look.LIGHT)
    choose(dialog, "text_size", 1.0)
    assert theme.colours() == theme.LIGHT
    assert settings.preferences.look is Look.LIGHT


def test_keys_are_changed_and_a_conflict_is_told(window, session, settings, qtbot):
    dialog = KeysDialog(window, settings, window.use_preferences)
    qtbot.addWidget(dialog)
    assert not dialog.set_keys("apart", "Ctrl+S")
    assert "“Save”" in dialog.says.text()
    assert dialog.set_keys("scale", "Ctrl+Alt+G")
    assert window.actions_by_id["scale"].shortcut().toString() == "Ctrl+Alt+G"
    assert Settings(settings._folder).preferences.keys == {"scale": "Ctrl+Alt+G"}
    assert dialog.set_keys("scale", None)
    assert window.actions_by_id["scale"].shortcut().toString() == "Ctrl+L"


def test_a_window_comes_back_where_it_was(window, session, settings, tmp_path):
    path = tmp_path / "mine.anzel"
    session.save(path)
    session.navigation.go_to(Step.SHEETS)
    window.resize(1200, 720)
    remember_window(window, session, settings, window.build.standing.camera)
    state = Settings(settings._folder).window
    assert (last_step(state), last_project(state)) == (Step.SHEETS, path.resolve())
    window.resize(1300, 820)
    restore_window(window, state)
    assert (window.width(), window.height()) == (1200, 720)
    path.unlink()
    assert last_project(state) is None
    assert last_step(WindowState(step="no such step")) is Step.BUILD


def test_what_is_damaged_in_the_settings_counts_as_never_said(tmp_path):
    (tmp_path / "settings.json").write_text(
        '{"preferences": {"unit": "ell", "look": "dark", "text_size": 99}, "window": 7}'
    )
    preferences = Settings(tmp_path).preferences
    assert (preferences.unit, preferences.look) == (Unit.MILLIMETRES, Look.DARK)
    assert preferences.text_size == 1.0
    assert Settings(tmp_path).window == WindowState()


def test_a_units_change_of_the_project_is_an_edit(project):
    assert project_edits.show_in(project, Unit.INCHES).shown_unit is Unit.INCHES
