"""Background, the newest-first thread, settings, actions, lens and states."""

import gc
import threading
import time
import weakref
from functools import partial

import pytest
from tests.told import in_mm

from anzel.app import worker
from anzel.app.actions import ACTIONS, MENUS
from anzel.app.background import Background, Newest, StoppedError
from anzel.app.crash_reports import keep_report, reports_folder
from anzel.app.edits import project_edits, stock_edits
from anzel.app.navigation import Step
from anzel.app.settings import Settings
from anzel.app.views.fit_lens import lens_rows, row_of_test_piece
from anzel.app.views.step_status import StepState, findings_before_cutting, status_of
from anzel.app.watchdog import Watchdog
from anzel.app.worker import wait_for_threads
from anzel.core.error_boundary import CancelledError, set_report_keeper
from anzel.core.findings import MakerError, ParameterError
from anzel.materials.fits import KerfAt
from anzel.materials.stock import SheetSize
from anzel.project.derive import derived_test_piece, fit_context_of, layout_of, solved_structure_of
from anzel.test_pieces.model import TestPieceKind


def at_once(call):
    """Post on the thread it comes from."""
    call()


def ignored(_):
    """What arrives is not part of the test."""


def laid(project):
    """The project's layouts."""
    return [layout_of(project, stock.id) for stock in project.stocks_in_use]


def ran(work):
    """What a job did: (results, errors, said)."""
    results, errors, said = [], [], []
    background = Background(at_once)
    ended = threading.Event()
    background.start(
        work, said=said.append,
        done=lambda result: (results.append(result), ended.set()),
        failed=lambda error: (errors.append(error), ended.set()),
    )  # fmt: skip
    assert ended.wait(5)
    background.close()
    return results, errors, said


def test_nobody_waits_for_a_task_that_was_cancelled_before_it_began():
    background, entered, gate = Background(at_once), threading.Event(), threading.Event()

    def blocked(_):
        entered.set()
        return gate.wait(20)

    background.start(blocked, done=ignored, failed=ignored)
    assert entered.wait(5)
    task = background.start(ignored, done=ignored, failed=ignored)
    waiting = threading.Thread(target=task.wait, daemon=True)
    waiting.start()
    task.cancel()
    waiting.join(5)
    assert not waiting.is_alive()
    with pytest.raises(StoppedError):
        task.take()
    gate.set()
    background.close()


def test_a_job_gives_its_result_and_says_where_it_is():
    def work(progress):
        progress.report("half way")
        return 42

    assert ran(work) == ([42], [], ["half way"])


def test_what_follows_too_soon_to_be_read_is_not_said():
    def work(progress):
        for number in range(2000):
            progress.report(f"piece {number}")

    _, errors, said = ran(work)
    assert not errors
    assert said[0] == "piece 0"
    assert len(said) < 20


def test_a_maker_error_arrives_as_it_is():
    def work(progress):
        raise MakerError("no", hint="do")

    results, (error,), _ = ran(work)
    assert results == []
    assert error.hint == "do"


def test_an_unforeseen_error_is_put_into_words_and_reported(faults_worded):
    set_report_keeper(keep_report)
    _, (error,), _ = ran(lambda progress: 1 / 0)
    assert "Something went wrong" in str(error)
    (report,) = reports_folder().iterdir()
    assert str(report) in error.hint
    assert "ZeroDivisionError" in report.read_text()
    assert (report.stat().st_mode & 0o777, report.parent.stat().st_mode & 0o777) == (0o600, 0o700)


def test_a_cancelled_job_neither_finishes_nor_fails():
    background, started, go = Background(at_once), threading.Event(), threading.Event()
    told = []

    def work(progress):
        started.set()
        go.wait(5)
        progress.report("never heard")
        return "never given"

    running = background.start(work, done=told.append, failed=told.append, said=told.append)
    started.wait(5)
    running.cancel()
    go.set()
    background.close()
    assert told == []


def test_after_closing_nothing_is_started():
    background, told = Background(at_once), []
    background.close()
    assert background.start(told.append, done=told.append, failed=told.append).is_cancelled
    assert told == []


def test_of_two_jobs_of_a_kind_only_the_newer_arrives():
    """Also when the older one fails, or its result is already on its way."""
    waiting, started, go, last = [], threading.Event(), threading.Event(), threading.Event()
    background = Background(waiting.append)  # delivered later, as in the window
    newest, told = Newest(background), []

    def older(progress):
        started.set()
        go.wait(5)
        raise MakerError("overtaken")

    newest.start(older, done=told.append, failed=told.append).begin()
    assert started.wait(5)
    newest.start(lambda progress: "on its way", done=told.append, failed=told.append).begin()
    go.set()
    newest.start(
        lambda progress: [last.set(), "newest"][1], done=told.append, failed=told.append
    ).begin()
    assert newest.is_working
    assert last.wait(5)
    background._worker.submit(lambda: None).result(5)  # what was started before has ended
    for call in waiting:
        call()
    assert told == ["newest"]
    assert not newest.is_working
    background.close()


def test_pictures_that_have_begun_arrive_and_the_overtaken_are_never_made():
    begun, go, told = threading.Event(), threading.Event(), []
    made, ended = [], threading.Event()
    background = Background(at_once)
    newest = Newest(background, shows_each=True)

    def picture(number):
        def work(task):
            begun.set()
            go.wait(5)
            made.append(number)
            return number

        def arrived(result):
            told.append(result)
            if result == 4:
                ended.set()

        newest.start(work, done=arrived, failed=told.append)

    picture(1)
    begun.wait(5)
    for number in (2, 3, 4):
        picture(number)
    go.set()
    assert ended.wait(5)
    background.close()
    assert told == made == [1, 4]


def test_a_result_is_taken_or_arrives_but_not_both():
    waiting, told = [], []
    background = Background(waiting.append)
    task = background.start(lambda task: 42, done=told.append, failed=told.append)
    assert task.take(5) == 42
    wrong = background.start(
        lambda task: project_edits.typed_length("x", "height"), done=told.append, failed=told.append
    )
    with pytest.raises(MakerError):
        wrong.take(5)
    background.close()
    for call in waiting:
        call()
    assert told == []


def test_recent_files_are_newest_first_and_must_exist(tmp_path):
    settings = Settings(tmp_path)
    files = [tmp_path / f"{i}.anzel" for i in range(10)]
    for file in files:
        file.touch()
        settings.remember(file)
    settings.remember(files[5])
    recent = settings.recent_files()
    assert recent[:2] == [files[5], files[9]]
    assert len(recent) == 8
    files[9].unlink()
    assert files[9] not in settings.recent_files()


@pytest.mark.parametrize("content", ["", "{", "[]", '{"recent": 3}', '{"recent": [1, null]}'])
def test_damaged_settings_count_as_none(tmp_path, content):
    (tmp_path / "settings.json").write_text(content)
    assert Settings(tmp_path).recent_files() == []


def test_actions_have_unique_ids_and_keys_and_a_menu():
    assert len({action.id for action in ACTIONS}) == len(ACTIONS)
    keys = [action.keys for action in ACTIONS if action.keys]
    assert len(set(keys)) == len(keys)
    assert {action.menu for action in ACTIONS} == set(MENUS)


def test_menu_letters_are_unique_within_a_menu():
    for menu in MENUS:
        letters = [a.title[a.title.index("&") + 1].lower() for a in ACTIONS if a.menu == menu]
        assert len(set(letters)) == len(letters), (menu, letters)


def rows_of(project, joint):
    """The lens rows of a joint of the demo, by title."""
    solved = solved_structure_of(project)
    pieces = {piece.name: piece for piece in solved.pieces}
    chosen = next(j for j in solved.joints if j.id == joint)
    return {row.title: row for row in lens_rows(chosen, pieces, fit_context_of(project))}


def test_the_lens_shows_the_sum_behind_a_slot(project):
    row = rows_of(project, "J1")["Upright A, slot"]
    assert [(t.label, round(t.value, 3)) for t in row.size.terms] == [
        ("mating sheet", 2.94),
        ("clearance", 0.05),
        ("kerf", -0.16),
    ]
    assert row.size.drawn == pytest.approx(2.83)
    assert row.clearance == pytest.approx(0.05)
    assert row.clearances == pytest.approx((0.04, 0.06))  # readings 2.93 to 2.95


def test_the_lens_of_a_seat_shows_openings_first(project):
    titles = list(rows_of(project, "J2"))
    assert titles[:2] == ["Top, mortise width", "Top, mortise length"]
    assert set(titles[2:]) == {"Upright A, tab width", "Upright A, tab height"}


@pytest.mark.parametrize("kerf_at", KerfAt)
def test_clearance_in_the_lens_is_the_fits_whoever_minds_the_kerf(project, kerf_at):
    changed = project_edits.take_kerf_at(project, kerf_at)
    for joint in ("J1", "J2", "J3"):
        for row in rows_of(changed, joint).values():
            if not row.is_height:
                assert row.clearance == pytest.approx(0.05)


def test_the_lens_of_the_comb_says_what_each_slot_would_leave(project):
    comb = derived_test_piece(project, "birch-3", TestPieceKind.COMB)
    rows = [row_of_test_piece(comb, step, "slot", fit_context_of(project)) for step in comb.steps]
    left = [row.clearance for row in rows]
    assert left == pytest.approx([-0.10, -0.05, 0.0, 0.05, 0.10, 0.15, 0.20])
    assert rows[0].title == "slot engraved 2.68"


def test_steps_say_where_they_stand(project):
    assert status_of(project, Step.STOCK, None).words == "2 of 2 measured"
    assert status_of(project, Step.TEST, None).words == "tried 2026-09-15"
    untried = project.with_changes(trials=())
    assert in_mm(status_of(untried, Step.TEST, None).words) == "comb 2.68 … 2.98"
    assert status_of(project, Step.CUTTER, None).words == "kerf known in 2 of 2"
    assert status_of(project, Step.BUILD, None).state is StepState.SETTLED
    assert in_mm(status_of(project, Step.SHEETS, laid(project)).words) == "2 sheets, 13% used"


def test_trouble_is_marked_on_its_step(project):
    bare = stock_edits.change_stock(project, "birch-3", readings=())
    assert status_of(bare, Step.STOCK, None).state is StepState.PROBLEM
    assert [f.code for f in findings_before_cutting(bare, None)] == ["stock-not-measured"]
    small = stock_edits.change_stock(project, "birch-6", sheets=(SheetSize(width=60, height=60),))
    assert status_of(small, Step.SHEETS, laid(small)).words == "1 piece too large"


def test_a_thread_without_work_ends_and_the_next_call_has_another(monkeypatch):
    monkeypatch.setattr(worker, "_IDLE", 0.02)
    working = worker.Worker("a-worker")
    first = working.submit(threading.current_thread).result(5)
    first.join(5)
    assert not first.is_alive()
    second = working.submit(threading.current_thread).result(5)
    assert second is not first
    working.close()


@pytest.mark.parametrize("error", [CancelledError, partial(ParameterError, "Nothing lies there.")])
def test_what_a_task_had_worked_out_when_it_ended_early_goes_with_it(error):
    """Also without a collection of garbage: the window collects only while the maker rests."""

    class Large:
        pass

    made, waiting = [], []

    def work(task):
        large = Large()
        made.append(weakref.ref(large))
        try:
            raise ParameterError("Something is wrong inside.")
        except ParameterError:
            raise error()  # noqa: B904  (it has a context)

    background = Background(waiting.append)
    gc.disable()
    try:
        task = background.start(work, done=waiting.append, failed=lambda failed: None)
        task.begin()
        task.wait()
        while waiting:
            waiting.pop()()
        background.close()
        del task
        assert wait_for_threads(5)
        assert made[0]() is None
    finally:
        gc.enable()


def test_the_watchdog_names_what_shows_no_sign_of_life_and_logs_where_it_is(caplog):
    go_on, told = threading.Event(), []
    background = Background(at_once, "anzel-proof")
    watchdog = Watchdog(told.append, seconds=0.5)
    with caplog.at_level("INFO", logger="anzel"):
        task = background.start(lambda _: go_on.wait(20), done=ignored, failed=ignored)
        task.cancel()  # it holds its thread all the same
        while not told:
            watchdog.look()
        watchdog.look()
    assert len(told) == 1, "what was told is not told again"
    assert "the proof of assembly" in told[0]
    assert "go_on.wait" in caplog.text
    go_on.set()

    def reporting(task):
        for _ in range(40):
            time.sleep(0.02)
            task.report("still here")

    task = background.start(reporting, done=ignored, failed=ignored)
    while not task.is_over:
        watchdog.look()
    assert len(told) == 1, "what reports is alive"
    background.close()
