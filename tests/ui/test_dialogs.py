"""Every dialog: controls with names, room at every size of text, in both looks."""

import pytest
from PySide6.QtWidgets import QApplication, QDialog, QPushButton, QWidget
from tests.ui.test_accessibility import CONTROLS, NAME, told_of

from anzel.project.new_project import project_of
from anzel.ui.accessibility import PaintedView
from anzel.ui.action_keys import keys_in_use
from anzel.ui.dialogs import About, StartChooser, form_starts
from anzel.ui.draw_dialog import DrawDialog
from anzel.ui.find_dialog import FindDialog
from anzel.ui.first_start import FirstStart
from anzel.ui.help_dialog import HelpPage
from anzel.ui.history_dialog import HistoryDialog
from anzel.ui.keys_dialog import KeysDialog
from anzel.ui.scale_dialog import ScaleDialog
from anzel.ui.settings_dialog import SettingsDialog
from anzel.ui.takes_dialog import TakesDialog
from anzel.ui.theme import Look, use_look

DIALOGS = {
    "start": lambda w, s, k: StartChooser(w, "Which form?", "Any.", form_starts()),
    "help": lambda w, s, k: HelpPage(w, keys_in_use({})),
    "about": lambda w, s, k: About(w),
    "settings": lambda w, s, k: SettingsDialog(w, s, k, w.use_preferences),
    "keys": lambda w, s, k: KeysDialog(w, k, w.use_preferences),
    "find": lambda w, s, k: FindDialog(w, s, w.places.go_to_match),
    "history": lambda w, s, k: HistoryDialog(w, s),
    "first start": lambda w, s, k: FirstStart(w, s, k, w.commands, w.use_preferences),
    "scale": lambda w, s, k: ScaleDialog(w, s, w.jobs),
    "takes": lambda w, s, k: TakesDialog(w, s, w.jobs),
    "draw": lambda w, s, k: DrawDialog(w, s),
}


@pytest.fixture(params=DIALOGS)
def dialog(request, window, session, qtbot):
    """Each of the dialogs, shown."""
    if request.param in ("draw", "takes"):
        session.begin(project_of("rib-lamp"))
        qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    made = DIALOGS[request.param](window, session, window._settings)
    qtbot.addWidget(made)
    made.show()
    qtbot.waitUntil(lambda: not getattr(made, "is_working", False), timeout=30_000)
    yield made
    made.done(0)


def test_no_control_of_a_dialog_is_without_a_name(dialog):
    assert isinstance(dialog, QDialog)
    assert dialog.windowTitle()
    for widget in dialog.findChildren(QWidget):
        if not widget.isVisibleTo(dialog) or widget.objectName().startswith("qt_"):
            continue
        if isinstance(widget, CONTROLS):
            words = (told_of(widget).text(NAME), widget.accessibleDescription())
            assert any(words), type(widget).__name__
        if isinstance(widget, PaintedView):
            assert told_of(widget).text(NAME), type(widget).__name__


def test_a_dialog_fits_a_small_screen_at_any_size_of_text(dialog, qapp):
    sizes = ((Look.LIGHT, 1.0, (1024, 640)), (Look.DARK, 1.5, (1280, 760)))
    for look, scale, room in (*sizes, (Look.DARK, 1.8, (1280, 800))):
        use_look(qapp, look, scale)
        QApplication.processEvents()
        needed = dialog.minimumSizeHint()
        assert (needed.width() <= room[0], needed.height() <= room[1]) == (True, True), needed
        dialog.adjustSize()
        dialog.resize(min(dialog.width(), room[0]), min(dialog.height(), room[1]))
        QApplication.processEvents()
        for widget in dialog.findChildren(QPushButton):
            if widget.isVisible():
                assert widget.width() >= widget.minimumSizeHint().width(), widget.text()
                right = widget.mapTo(dialog, widget.rect().bottomRight())
                assert dialog.rect().contains(right), widget.text()
    use_look(qapp, Look.LIGHT, 1.0)
