"""Helper processes: results, errors, progress, stops, and a helper that dies."""

import operator
import os
import queue
import signal
import socket
import subprocess
import sys
import threading
import time

import pytest
from tests.told import refused

from anzel.app.background import Background, StoppedError
from anzel.app.foreign_files import read_apart
from anzel.app.proving import proof_there
from anzel.core.error_boundary import CancelledError
from anzel.core.findings import MakerError, ParameterError
from anzel.helpers import process
from anzel.helpers.fork_server import Forked, ForkServer
from anzel.helpers.process import FORK_SERVER, Helper, HelperFaultError, HelperLostError
from anzel.nesting import solving
from anzel.nesting.quick_solver import solve_quickly, strategies_for
from anzel.project.demos import fern_lantern, herb_stand, seed_caddy, seedpod_lamp
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import project_of


@pytest.fixture(scope="module")
def helper():
    made = Helper("tests", "anzel.app.proving")
    yield made
    made._end()


def test_it_returns_tells_and_raises_as_a_call_does(helper):
    said = []
    found, assembly = helper.call(proof_there, herb_stand(), said=said.append)
    assert (found, assembly.proof.ok) == ((), True)
    assert any("proving" in each for each in said)
    with pytest.raises(ParameterError, match="acrylic") as caught:
        helper.call(Project.stock, herb_stand(), "acrylic")
    assert "birch-3" in caught.value.hint
    with pytest.raises(HelperFaultError, match="ZeroDivisionError") as fault:
        helper.call(operator.truediv, 1, 0)
    assert "Traceback" in fault.value.__notes__[0]


LAMP = project_of("rib-lamp", ribs=36, radius=170.0)


@pytest.mark.parametrize(
    ("work", "stays"), [((proof_there, LAMP), True), ((time.sleep, 30.0), False)]
)
def test_it_stops_what_is_not_wanted_any_more(helper, work, stays, monkeypatch):
    if stays:  # one that listens may be slow: it is nicer than whatever runs beside it
        monkeypatch.setattr(process, "_STOP_WITHIN", 4.0)
    helper.call(solved_structure_of, LAMP)
    before = helper.process_id
    stopped = threading.Event()
    threading.Timer(0.2, stopped.set).start()
    begun = time.monotonic()
    with pytest.raises(CancelledError):
        helper.call(*work, is_stopped=stopped.is_set)
    assert time.monotonic() - begun < 5.0
    assert helper.call(operator.mul, 1, 2) == 2
    assert (helper.process_id == before) is stays, "what does not listen is ended"


def test_who_hears_the_progress_may_stop_it_and_the_next_answer_is_its_own(helper):
    def said(text):
        raise CancelledError

    with pytest.raises(CancelledError):
        helper.call(proof_there, LAMP, said=said)
    assert helper.call(operator.mul, 3, 4) == 12


def test_a_helper_that_ends_is_told_and_started_again(helper):
    with pytest.raises(HelperLostError):
        helper.call(os._exit, 3)
    assert helper.call(operator.mul, 2, 2) == 4


def test_helpers_killed_while_nothing_is_asked_of_them_are_not_missed(helper):
    assert helper.call(operator.mul, 2, 2) == 4
    for is_whole in (False, True):
        lost = [helper.process_id] + [FORK_SERVER.process_id] * is_whole
        for number in lost:
            os.kill(number, signal.SIGKILL)
        while any(map(is_running, lost)) or not helper._connection.poll():
            time.sleep(0.01)
        assert helper.call(operator.mul, 2, 3) == 6


@pytest.mark.parametrize(
    ("limits", "call", "words"),
    [
        ({"memory": 200 * 1024**2}, (bytearray, 2 * 1024**3), "far more memory"),
        ({"seconds": 0.3}, (time.sleep, 60.0), "longer than 0.3 seconds"),
    ],
)
def test_what_takes_more_than_it_may_is_refused_and_the_helper_works_on(limits, call, words):
    made = Helper("tests", "anzel.app.foreign_files", **limits)
    begun = time.monotonic()
    with refused(MakerError, match=words):
        made.call(*call)
    assert time.monotonic() - begun < 30.0
    assert made.call(operator.mul, 3, 5) == 15
    os.kill(made.process_id, signal.SIGKILL)


def test_a_process_that_took_over_an_old_number_is_left_alone(helper):
    assert helper.call(operator.mul, 2, 2) == 4
    with subprocess.Popen(["sleep", "60"]) as innocent:
        ended = Forked(helper.process_id, os.pidfd_open(helper.process_id))
        os.kill(helper.process_id, signal.SIGKILL)
        while is_running(ended.number):
            time.sleep(0.01)
        Forked(innocent.pid, ended.handle).kill()
        assert innocent.poll() is None
        innocent.kill()


def test_a_task_that_is_stopped_stops_what_its_work_has_a_helper_do():
    posted = queue.SimpleQueue()
    failed, begun = [], threading.Event()
    background = Background(posted.put)

    def work(_):
        begun.set()
        return read_apart(time.sleep, 60.0)

    task = background.start(work, done=failed.append, failed=failed.append)
    task.begin()
    assert begun.wait(10)
    task.stop()
    after = background.start(lambda _: "written", done=failed.append, failed=failed.append)
    assert after.take(20) == "written", "nothing waits for what was stopped"
    assert [type(each) for each in failed] == [StoppedError]
    background.close()


def test_a_helper_ends_with_the_process_that_started_it():
    program = """if True:
        import operator, os
        from anzel.helpers.process import Helper
        helper = Helper("tests", "anzel.helpers.serving")
        helper.call(operator.mul, 1, 2)
        print(helper.process_id, flush=True)
        os._exit(0)
    """
    told = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True)
    number = int(told.stdout)
    end_of_wait = time.monotonic() + 10
    while is_running(number) and time.monotonic() < end_of_wait:
        time.sleep(0.02)
    assert not is_running(number)


def is_running(number):
    """Whether there is a process of that number that has not ended."""
    try:
        with open(f"/proc/{number}/stat") as stat:
            return stat.read().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


@pytest.mark.parametrize("make", [herb_stand, fern_lantern, seedpod_lamp, seed_caddy])
@pytest.mark.parametrize("both", [False, True])
def test_a_layout_is_the_same_wherever_it_is_solved(make, both, monkeypatch):
    project, calls = make(), []
    problem = layout_of(project, project.stocks_in_use[0].id).problem
    share = solving.Helper("squeezing", "anzel.nesting.squeeze")
    monkeypatch.setattr(solving, "SQUEEZING", share)
    if both:
        share.start()
    call = share.call
    monkeypatch.setattr(share, "call", lambda *a, **k: calls.append(1) or call(*a, **k))
    with solving.solving_aside(lambda: False):
        aside = solving.solution_of(problem)
        with solving._SQUEEZING_IS_FREE:  # as while it squeezes
            assert solving.solution_of(problem) == aside
    assert aside == solve_quickly(problem)
    is_shared = len(problem.loose) > solving._TOO_FEW and len(strategies_for(problem)) > 1
    assert bool(calls) is (both and is_shared)


@pytest.mark.parametrize("ahead", ["anzel.nesting.quick_solver", "anzel.no_such_module"])
def test_a_fork_server_that_is_started_ahead_forks_whatever_it_could_import(ahead):
    server = ForkServer()
    server.start(ahead)
    assert server.process_id is not None
    ours, theirs = socket.socketpair()
    with ours, theirs:
        forked = server.fork("anzel.nesting.quick_solver", theirs)
        assert is_running(forked.number)
        forked.kill()
    server._end()
