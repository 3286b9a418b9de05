"""Drives the window at random by its own actions, keys, clicks and drags, for a while.

    python tests/ui/monkey.py SEED SECONDS [--strict]

Exits 0 if nothing was raised, nothing crashed, and the window closed within two seconds; else it
tells what was done last. The same seed does the same things as far as the machine's pace allows.
It tells how often the interface thread stood still for more than a second. With `--strict` it
visits every demo and every form first, tells memory, widgets and threads before and after, each
with the same project and after a visit of every step, and fails for those too.
"""

import faulthandler
import gc
import os
import random
import sys
import tempfile
import threading
import time
import traceback
from pathlib import Path

import trimesh
from PIL import Image
from PySide6.QtCore import QEvent, QMimeData, QPoint, QPointF, QProcess, Qt, QTimer, QUrl
from PySide6.QtGui import QDrag, QDragEnterEvent, QDropEvent, QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QColorDialog,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QListWidget,
    QMenu,
    QMessageBox,
    QTreeWidget,
    QWidget,
)

from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.app.settings import Settings
from anzel.app.worker import take_short_turns, wait_for_threads
from anzel.core import memory
from anzel.core.error_boundary import reraise_unexpected
from anzel.output import export
from anzel.project.demos import DEMOS
from anzel.storage import project_file
from anzel.ui import theme
from anzel.ui.crash_safety import CrashSafety
from anzel.ui.housekeeping import Housekeeping
from anzel.ui.main_window import MainWindow

sys.path.insert(0, str(Path(__file__).parent))
from held import Held, holds_more

TEXTS = ("2.94", "0", "-5", "1/8 in", "120", "1e9", "abc", "", "0.0375 in", "3+4", "Schale", "½")
KEYS = (
    Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Delete, Qt.Key.Key_Space,
    Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_PageUp,
    Qt.Key.Key_PageDown, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Plus, Qt.Key.Key_Minus,
    Qt.Key.Key_R, Qt.Key.Key_P, Qt.Key.Key_H, Qt.Key.Key_S, Qt.Key.Key_F2, Qt.Key.Key_Backspace,
)  # fmt: skip
MODIFIERS = (
    Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
)  # fmt: skip
LEAVING = ("quit", "close")
"""The window is closed once, at the end."""
LOOKS, LOOKS_FOR = 0.003, 7000
"""How often it only looks for a while, and milliseconds: then garbage is collected."""
CLOSES_WITHIN, HANGS_AFTER = 2.0, 200.0
"""Seconds; one that hangs tells where."""


class Monkey:
    """Does things to a window; `done` tells the last of them."""

    def __init__(self, window, folder, seed):
        self.window, self.folder = window, folder
        self.random = random.Random(seed)
        self.done = []
        self.rests = False
        self.raised = []

    def note(self, text):
        """Remember what is done."""
        self.done.append(text)
        print(text, flush=True)

    def file(self, *_args, **_kwargs):
        """An answer of a file dialog: a file that is there, a new one, or none."""
        there = sorted(self.folder.iterdir())
        ending = self.random.choice((".svg", ".dxf", ".pdf", ".anzel", ".csv", ""))
        new = self.folder / f"new{self.random.randrange(20)}{ending}"
        chosen = self.random.choice([*map(str, there), str(new), str(new), ""])
        return (chosen, "")

    def answer_dialogs(self):
        """Keep modal dialogs and menus from waiting for ever, and look again soon: what is done
        here may open another one."""
        if self.rests:
            return
        QTimer.singleShot(60, self.answer_dialogs)
        popup, modal = QApplication.activePopupWidget(), QApplication.activeModalWidget()
        if popup is not None:
            actions = popup.actions() if isinstance(popup, QMenu) else []
            leaving = [self.window.actions_by_id[name] for name in LEAVING]
            actions = [action for action in actions if action not in leaving]
            if actions and self.random.random() < 0.5:
                self.random.choice(actions).trigger()
            popup.close()
        elif isinstance(modal, QDialog):
            if self.random.random() < 0.6:
                self.poke(modal)
            if self.random.random() < 0.4:
                (modal.accept if self.random.random() < 0.5 else modal.reject)()

    def act(self):
        """One thing at random."""
        kinds = (self.trigger, self.poke, self.press, self.type, self.go, self.resize, self.drop)
        weights = (4, 8, 4, 4, 4, 4, 1)
        self.random.choices(kinds, weights)[0]()

    def trigger(self):
        """One of the window's actions."""
        named = self.window.actions_by_id.items()
        may = [(n, a) for n, a in named if a.isEnabled() and n not in LEAVING]
        name, action = self.random.choice(may)
        self.note(f"trigger {name}")
        action.trigger()

    def go(self):
        """Another step, or another demo."""
        if self.random.random() < 0.25:
            demo = self.random.choice(DEMOS)
            self.note(f"begin {demo.name}")
            self.window.commands.begin(demo.make)
        step = self.random.choice(list(Step))
        self.note(f"go to {step.value}")
        self.window._session.navigation.go_to(step)

    def drop(self):
        """A file or two dropped on the window."""
        files = self.random.sample(sorted(self.folder.iterdir()), self.random.choice((1, 1, 2)))
        self.note(f"drop {', '.join(file.name for file in files)}")
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(file)) for file in files])
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        for event in (
            QDragEnterEvent(QPoint(300, 300), Qt.DropAction.CopyAction, data, left, none),
            QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, data, left, none),
        ):
            QApplication.sendEvent(self.window, event)

    def resize(self):
        """The window larger or smaller."""
        size = (self.random.randrange(900, 1700), self.random.randrange(600, 1100))
        self.note(f"resize {size}")
        self.window.resize(*size)

    def press(self):
        """A key."""
        target = QApplication.focusWidget() or self.window
        key, modifier = self.random.choice(KEYS), self.random.choice(MODIFIERS)
        self.note(f"press {key.name} {modifier.name} on {_name(target)}")
        QTest.keyClick(target, key, modifier)

    def type(self):
        """Text into a field, and Enter."""
        fields = [f for f in self.window.findChildren(QLineEdit) if f.isVisible() and f.isEnabled()]
        if fields:
            field, text = self.random.choice(fields), self.random.choice(TEXTS)
            self.note(f"type {text!r} into {_name(field)}")
            field.setFocus()
            field.selectAll()
            QTest.keyClicks(field, text)
            QTest.keyClick(field, Qt.Key.Key_Return)

    def poke(self, inside=None):
        """A widget clicked, chosen from, ticked, scrolled or dragged over."""
        widgets = [
            w for w in (inside or self.window).findChildren(QWidget)
            if w.isVisible() and w.isEnabled() and not w.visibleRegion().isEmpty()
        ]  # fmt: skip
        if not widgets:
            return
        chosen = self.random.choice(widgets)
        if isinstance(chosen, QComboBox) and chosen.count():
            index = self.random.randrange(chosen.count())
            self.note(f"choose {index} in {_name(chosen)}")
            chosen.setCurrentIndex(index)
            chosen.activated.emit(index)
        elif isinstance(chosen, QListWidget | QTreeWidget):
            self.tick(chosen)
        elif isinstance(chosen, QAbstractButton):
            self.note(f"click {_name(chosen)}")
            QTest.mouseClick(chosen, Qt.MouseButton.LeftButton)
        else:
            self.drag(chosen)

    def tick(self, rows):
        """An item of a list or tree clicked at its box, or double clicked."""
        model = rows.model()
        count = model.rowCount()
        if not count:
            return
        index = model.index(self.random.randrange(count), 0)
        if model.rowCount(index) and self.random.random() < 0.7:
            index = model.index(self.random.randrange(model.rowCount(index)), 0, index)
        rows.scrollTo(index)
        place = rows.visualRect(index)
        at = QPoint(place.left() + self.random.choice((8, 20)), place.center().y())
        self.note(f"click row {index.row()} of {_name(rows)}")
        QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=at)
        if self.random.random() < 0.3:
            QTest.mouseDClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=at)
        if self.random.random() < 0.3:
            QTest.keyClick(rows, Qt.Key.Key_Space)

    def drag(self, widget):
        """The mouse over a view: clicked, dragged, or its wheel turned."""

        def somewhere():
            return QPoint(self.random.randrange(max(widget.width(), 1)),
                          self.random.randrange(max(widget.height(), 1)))  # fmt: skip

        start, end = somewhere(), somewhere()
        kind = self.random.choice(("click", "drag", "wheel", "double"))
        self.note(f"{kind} {_name(widget)} at {start.toTuple()}")
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        if kind == "wheel":
            turn = QPoint(0, self.random.choice((120, -120)))
            event = QWheelEvent(
                QPointF(start), QPointF(widget.mapToGlobal(start)), turn, turn,
                Qt.MouseButton.NoButton, none, Qt.ScrollPhase.NoScrollPhase, False,
            )  # fmt: skip
            QApplication.postEvent(widget, event)
        elif kind == "double":
            QTest.mouseDClick(widget, left, pos=start)
        else:
            QTest.mousePress(widget, left, pos=start)
            if kind == "drag":
                for place in (start + (end - start) / 2, end):
                    there = QPointF(widget.mapToGlobal(place))
                    move = QMouseEvent(
                        QEvent.Type.MouseMove, QPointF(place), there, left, left, none
                    )  # fmt: skip
                    QApplication.postEvent(widget, move)  # as the loop does: errors are told
                QApplication.processEvents()
            QTest.mouseRelease(widget, left, pos=end if kind == "drag" else start)


def _name(widget):
    return f"{type(widget).__name__} “{widget.accessibleName() or getattr(widget, 'text', str)()}”"


def answer(monkey):
    """Dialogs that would wait for a person answer at random instead."""
    pick = monkey.random
    QFileDialog.getOpenFileName = QFileDialog.getSaveFileName = staticmethod(monkey.file)
    QFileDialog.getOpenFileNames = staticmethod(lambda *a, **k: ([monkey.file()[0]], ""))
    buttons = QMessageBox.StandardButton
    QMessageBox.question = staticmethod(
        lambda *a, **k: pick.choice((buttons.Save, buttons.Discard, buttons.Cancel, buttons.Yes))
    )
    for name in ("warning", "information", "critical"):
        setattr(QMessageBox, name, staticmethod(lambda *a, **k: buttons.Ok))
    QMessageBox.exec = lambda box: (box.buttons() and box.setResult(0)) or 0
    words = staticmethod(lambda *a, **k: (pick.choice(TEXTS), pick.random() < 0.7))
    QInputDialog.getText = words
    QInputDialog.getItem = staticmethod(lambda *a, **k: (pick.choice(a[3]), pick.random() < 0.7))
    QInputDialog.getInt = staticmethod(lambda *a, **k: (pick.randrange(1, 5), True))
    QProcess.startDetached = staticmethod(lambda *a: True)  # windows of their own would outlive it
    QDrag.exec = lambda drag, *a: Qt.DropAction.CopyAction  # a real one waits for the mouse
    QColorDialog.getColor = staticmethod(lambda *a, **k: theme.colour("accent"))


def files_in(folder):
    """Some of each kind of file there is."""
    for demo in DEMOS[:4]:
        project = demo.make()
        (folder / f"{demo.name}.anzel").write_bytes(project_file.to_bytes(project))
        pages = export.structure_pages(project)
        for ending in (".svg", ".dxf"):
            content = export.render(pages, project.pens, ending)
            (folder / f"{demo.name}{ending}").write_bytes(content)
    trimesh.creation.icosphere(subdivisions=1, radius=30).export(folder / "ball.stl")
    Image.new("L", (60, 40), 90).save(folder / "grey.png")
    (folder / "stocks.json").write_text("[]")
    (folder / "damaged.anzel").write_bytes(b"PK")
    (folder / "damaged.svg").write_bytes(b"<svg")


def folder_of_its_own():
    """A folder that holds all that the window keeps, and files to open."""
    folder = Path(tempfile.mkdtemp(prefix="anzel-monkey-"))
    for name in ("CONFIG", "DATA", "STATE"):
        os.environ[f"XDG_{name}_HOME"] = str(folder / name.lower())
    (folder / "files").mkdir()
    files_in(folder / "files")
    return folder


def hear_of_errors(monkey):
    """Note what is raised on any thread. Returns the list of it."""

    def hear(kind, error, where):
        monkey.raised.append("".join(traceback.format_exception(kind, error, where)))
        print(monkey.raised[-1], flush=True)

    sys.excepthook = hear
    threading.excepthook = lambda args: hear(args.exc_type, args.exc_value, args.exc_traceback)
    return monkey.raised


def drive(monkey, seconds):
    """Act for so long, or until something is raised; then leave every dialog."""
    faulthandler.dump_traceback_later(seconds + HANGS_AFTER, exit=True)  # anew, after the tour
    end = time.monotonic() + seconds
    while time.monotonic() < end and not monkey.raised:
        monkey.act()
        QTest.keyClick(monkey.window.windowHandle(), Qt.Key.Key_Shift)  # as if a person had done it
        is_looking = monkey.random.random() < LOOKS
        QTest.qWait(LOOKS_FOR if is_looking else monkey.random.choice((1, 1, 1, 5, 60)))
    while modal := QApplication.activeModalWidget():
        modal.close()


def main(seed, seconds):
    """Drive for so long. Returns what went wrong, in words."""
    faulthandler.enable()
    faulthandler.dump_traceback_later(seconds + HANGS_AFTER, exit=True)
    reraise_unexpected(True)
    take_short_turns()  # as the application does
    folder = folder_of_its_own()
    application = QApplication(["anzel", "-style", "Fusion"])
    theme.apply(application)
    session = Session(DEMOS[seed % len(DEMOS)].make())
    window = MainWindow(session, Settings(folder / "settings"))
    monkey = Monkey(window, folder / "files", seed)
    answer(monkey)
    window.show()
    gc.disable()  # as cli/window.py does
    memory.hold_little()
    Housekeeping(window)
    guard = CrashSafety(window, session)
    raised = hear_of_errors(monkey)
    held = Held(window, DEMOS[seed % len(DEMOS)])
    is_strict = "--strict" in sys.argv
    before = held.begin() if is_strict else None
    monkey.answer_dialogs()
    drive(monkey, seconds)
    freezes, longest = held.freezes, held.longest
    monkey.rests = True
    print(f"{freezes} freezes over 1 s, the longest {longest:.2f} s", flush=True)
    if before is not None:
        after = held.now()
        words = "MB, MB of helpers, widgets and threads"
        print(f"{words} before {before}, after {after}", flush=True)
        if freezes or holds_more(before, after):
            raised.append("it froze, or it holds more than before")
            print(raised[-1], flush=True)
    took = closed(window)
    guard.release()
    if took > CLOSES_WITHIN or window.isVisible():
        raised.append("closing")
    wait_for_threads(10)
    print(f"{len(monkey.done)} things done, closed in {took:.2f} s", flush=True)
    return raised


def closed(window):
    """Close the window. Returns the seconds that it took."""
    start = time.monotonic()
    window.commands.may_leave = lambda: True
    window.close()
    return time.monotonic() - start


if __name__ == "__main__":
    wrong = main(int(sys.argv[1]), float(sys.argv[2]))
    os._exit(1 if wrong else 0)
