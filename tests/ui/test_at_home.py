"""The first start, stopping long work, dragging out, printing, settings that last."""

from pathlib import Path
from threading import Event

import numpy as np
import pytest
from pypdf import PdfReader
from PySide6.QtCore import QEvent, QPoint, QPointF, QSizeF, Qt
from PySide6.QtGui import QMouseEvent, QPageSize
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtWidgets import QApplication, QDialog

from anzel.app.navigation import Step
from anzel.app.parts import LINKED
from anzel.app.settings import Settings, TargetFolder
from anzel.app.views.cut_preview import CutFileChoice
from anzel.core.error_boundary import CancelledError
from anzel.core.number_format import Unit
from anzel.output.cut_file_reader import read_cut_file
from anzel.output.for_knife import for_knife
from anzel.output.job_sheet import job_sheet_bytes
from anzel.output.pdf_pixels import page_pixels, page_sizes
from anzel.output.tiled_pdf import paper_bytes
from anzel.storage import project_file
from anzel.storage.atomic_file import FileError
from anzel.ui import printing
from anzel.ui.crash_safety import CrashSafety
from anzel.ui.desktop_progress import progress_message
from anzel.ui.dialogs import About
from anzel.ui.drag_out import FileDrag
from anzel.ui.file_choice import PROJECTS, choose_target
from anzel.ui.first_start import FirstStart
from anzel.ui.print_commands import JOB_SHEET, TEMPLATES, PrintCommands
from anzel.ui.window_memory import restore_window

ROOT = Path(__file__).parents[2]


def paper_sized(printer, width, height):
    """Set the paper of a printer, in mm."""
    size = QPageSize(QSizeF(min(width, height), max(width, height)), QPageSize.Unit.Millimeter)
    printer.setPageSize(size)


@pytest.fixture
def settings(tmp_path):
    """The settings of the window."""
    return Settings(tmp_path / "config")


@pytest.fixture
def first(window, session, settings, qtbot):
    dialog = FirstStart(window, session, settings, window.commands, window.use_preferences)
    qtbot.addWidget(dialog)
    return dialog


def test_a_first_start_leads_to_measuring_ones_own_sheet(first, window, session, settings):
    first.unit.activated.emit(first.unit.findData(Unit.FRACTIONS))
    assert settings.preferences.unit is Unit.FRACTIONS
    first.ways["table"].click()
    assert first.result() == QDialog.DialogCode.Accepted
    assert session.navigation.step is Step.STOCK
    assert [plate.name for plate in session.project.structure.plates] == ["Plate"]
    assert project_file.from_bytes(project_file.to_bytes(session.project)) == session.project


def test_the_first_start_is_shown_once(settings):
    assert settings.is_new
    settings.prefer(text_size=1.25)
    assert not settings.is_new


def test_long_work_can_be_stopped_and_says_so(window, session, qtbot):
    gate, failed = Event(), []
    window.jobs.start(lambda task: gate.wait(20), done=lambda _: None, failed=failed.append)
    qtbot.waitUntil(window.ripple.stop.isVisible, timeout=5_000)
    window.ripple.stop.click()
    gate.set()
    assert [str(error) for error in failed] == ["Stopped, as you wished."]
    qtbot.waitUntil(lambda: not window.ripple.stop.isVisible(), timeout=5_000)


def test_the_desktop_is_told_of_long_work():
    program, state = progress_message(True).arguments()
    assert program == "application://anzel.desktop"
    assert state == {"progress": 0.0, "progress-visible": True}


def test_a_piece_and_all_sheets_are_dragged_out_as_files(window, session, qtbot):
    handle = window.picked.make_handle(window.build.panel.line)
    session.selection.pick_joint("J2")
    name, content = handle._make()()
    data = handle.mime_data(name, content)
    path = Path(data.urls()[0].toLocalFile())
    assert path.name == "J2  Upright A → Top.svg"
    assert {piece.name for piece in read_cut_file(path).pieces} == {"Upright A", "Top"}
    session.navigation.go_to(Step.SHEETS)
    session.selection.pick_whole()
    sheets = window.picked.make_handle(window.sheets.line, sheets=True)
    name, content = sheets._make()()
    path = Path(sheets.mime_data(name, content).urls()[0].toLocalFile())
    assert len(read_cut_file(path).pieces) == 3


def test_a_sheet_is_dragged_out_by_its_title(window, session, qtbot, monkeypatch):
    dragged = []
    monkeypatch.setattr(FileDrag, "_drag", lambda self, made: dragged.append(made))
    session.navigation.go_to(Step.SHEETS)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    view = window.sheets.view
    spread = view._table.sheets[0]
    at = view.to_view(spread.x, spread.y + spread.plan.height).toPoint() + QPoint(20, -7)
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    moved = QMouseEvent(QEvent.Type.MouseMove, QPointF(at), QPointF(view.mapToGlobal(at)),
                        Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton,
                        Qt.KeyboardModifier.NoModifier)  # fmt: skip
    QApplication.sendEvent(view, moved)
    qtbot.waitUntil(lambda: bool(dragged), timeout=10_000)
    name, content = dragged[0]
    assert name == "Herb-pot stand, birch-3 sheet 1.svg"
    assert b"Upright A" in content
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at)


@pytest.fixture
def printer(tmp_path):
    made = QPrinter(QPrinter.PrinterMode.HighResolution)
    made.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    made.setOutputFileName(str(tmp_path / "printed.pdf"))
    made.setResolution(300)
    paper_sized(made, 210, 297)
    return made


@pytest.mark.parametrize("what", [TEMPLATES, JOB_SHEET])
def test_what_is_printed_is_as_large_as_the_file(window, session, qtbot, printer, tmp_path, what):
    printed = PrintCommands(window, session, window.jobs, window.commands.tell)
    printed.send(printer, what, CutFileChoice(Path()))
    qtbot.waitUntil(lambda: "Printed at 100 %" in session.status.text, timeout=20_000)
    project = session.project
    content = (
        job_sheet_bytes(project) if what == JOB_SHEET
        else paper_bytes(CutFileChoice(Path()).pages(for_knife(project)), project.pens, (210, 297))
    )  # fmt: skip
    pages = PdfReader(tmp_path / "printed.pdf").pages
    assert len(pages) == len(page_sizes(content))
    size = sorted(float(side) * 25.4 / 72 for side in pages[0].mediabox[2:])
    assert size == pytest.approx([210, 297], abs=0.5)
    ink = _ink(tmp_path / "printed.pdf")
    drawn = _ink(content)
    assert ink == pytest.approx(drawn, abs=1.0)  # the same marks in the same places, in mm


def _ink(pdf):
    """Return the box of all marks on the first page, mm."""
    content = pdf.read_bytes() if isinstance(pdf, Path) else pdf
    dark = np.argwhere(page_pixels(content, 0, 100)[..., :3].min(axis=2) < 250)[:, ::-1]
    return (*(dark.min(axis=0) * 25.4 / 100), *(dark.max(axis=0) * 25.4 / 100))


def test_a_page_larger_than_the_paper_is_refused(printer, session):
    paper_sized(printer, 105, 148)
    with pytest.raises(FileError, match="does not go on paper of"):
        printing.print_pdf(printer, job_sheet_bytes(session.project))


def test_printing_is_told_page_by_page_and_can_be_stopped(printer, session, monkeypatch):
    content, told, aborted = job_sheet_bytes(session.project), [], []
    pages = len(page_sizes(content))
    assert printing.print_pdf(printer, content, told.append) == pages
    assert told == [f"Printing page {n} of {pages} …" for n in range(1, pages + 1)]

    def stop(_):
        raise CancelledError

    monkeypatch.setattr(printer, "abort", lambda: aborted.append(1), raising=False)
    with pytest.raises(CancelledError):
        printing.print_pdf(printer, content, stop)
    assert aborted == [1]


def test_unsaved_work_is_kept_as_often_as_is_wished(window, session, settings, tmp_path):
    safety = CrashSafety(window, session, tmp_path)
    assert safety._timer.interval() == 5_000
    settings.prefer(autosave_seconds=60)
    window.use_preferences()
    assert safety._timer.interval() == 60_000
    safety.release()


def test_files_go_beside_the_project_if_that_is_wished(window, session, tmp_path, monkeypatch):
    asked = []
    monkeypatch.setattr(
        "anzel.ui.file_choice.QFileDialog.getSaveFileName",
        lambda parent, title, start, *_: (asked.append(start), ("", ""))[1],
    )
    session.save(tmp_path / "stand.anzel")
    Settings().prefer(target_folder=TargetFolder.PROJECT)
    choose_target(window, "Write", "stand.svg", PROJECTS)
    assert asked == [str(tmp_path / "stand.svg")]


def test_the_view_comes_back(window, session, settings):
    window.build.standing.look_along(30.0, 40.0, True)
    window.remember()
    window.build.standing.look_from("front")
    restore_window(window, settings.window)
    camera = window.build.standing.camera
    assert (camera.azimuth, camera.elevation, camera.parallel) == (30.0, 40.0, True)


def test_every_part_that_others_made_is_named_with_its_licence(window, qtbot):
    notices = (ROOT / "NOTICES.md").read_text()
    locked = {
        line.split("==")[0].lower()
        for line in (ROOT / "requirements.lock").read_text().splitlines() if "==" in line
    }  # fmt: skip
    about = About(window)
    qtbot.addWidget(about)
    shown = about.findChild(type(about.parts)).toPlainText()
    named = " ".join(part.name for part in LINKED).lower().replace("-", "").replace("_", "")
    for package in locked - {"setuptools", "pyside6-essentials"}:
        assert package.replace("-", "").replace("_", "") in named, package
    for part in LINKED:
        assert f"| {part.name} | {part.licence} |" in notices
        assert part.name in shown
    assert "LGPL" in shown
