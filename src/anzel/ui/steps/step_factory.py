"""The factory of the steps' pages; each is loaded when it is first shown."""

from typing import TYPE_CHECKING

from anzel.app.background import Background
from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.ui.steps.step_page import FollowingPage

if TYPE_CHECKING:
    from anzel.ui.main_window import MainWindow


def make_step(
    step: Step, session: Session, jobs: Background, window: "MainWindow"
) -> FollowingPage:
    """Return the page of a step, its wishes connected to the window."""
    makers = {
        Step.STOCK: _stock, Step.CUTTER: _cutter, Step.TEST: _test, Step.FORECAST: _forecast,
        Step.ASSEMBLE: _assemble, Step.SHEETS: _sheets, Step.PRACTICE: _practice,
    }  # fmt: skip
    return makers[step](session, jobs, window)


def _stock(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.stock_step import StockStep

    return StockStep(session)


def _cutter(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.cutter_step import CutterStep

    page = CutterStep(session)
    page.learn_wanted.connect(window.learn)
    return page


def _test(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.test_step import TestStep

    page = TestStep(session, jobs)
    page.write_wanted.connect(window.write_test_piece)
    return page


def _forecast(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.forecast_step import ForecastStep

    page = ForecastStep(session, jobs)
    page.learn_wanted.connect(window.learn)
    return page


def _assemble(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.assemble_step import AssembleStep

    page = AssembleStep(session, jobs)
    page.write_wanted.connect(window.write_assembly)
    return page


def _sheets(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.sheets_step import SheetsStep

    page = SheetsStep(session, jobs, window.squeezing)
    page.file.write_wanted.connect(window.write_sheets)
    page.file.print_wanted.connect(window.print_sheets)
    page.bench_wanted.connect(window.put_together)
    window.picked.make_handle(page.line, sheets=True)
    page.view.sheet_dragged.connect(lambda plan: window.picked.drag_sheet(page.view, plan))
    return page


def _practice(session: Session, jobs: Background, window: "MainWindow") -> FollowingPage:
    from anzel.ui.steps.practice_step import PracticeStep

    page = PracticeStep(session, jobs)
    page.begin_wanted.connect(window.begin_practice)
    return page
