"""Shared fixtures. Hypothesis is derandomised, so that a red run can be repeated."""

import gc
import logging
import threading
from collections.abc import Iterator
from pathlib import Path
from threading import Event

import pytest
from hypothesis import HealthCheck, settings

from anzel.app import background
from anzel.app import session as sessions
from anzel.app.session import Session
from anzel.core.collecting import COLLECT_AFTER
from anzel.core.error_boundary import reraise_unexpected
from anzel.project.demos import herb_stand
from anzel.project.model import Project

collect_ignore = ["hostile/asking.py", "hostile/runner.py"]
"""A program of its own, in which no example of a docstring is to be looked for."""


def pytest_addoption(parser: pytest.Parser, pluginmanager: pytest.PytestPluginManager) -> None:
    """Know the options of Qt's plugins in a run without them (see packaging/no_qt.py)."""
    if not pluginmanager.hasplugin("pytest-qt"):
        parser.addini("qt_log_level_fail", "of pytest-qt")
    if not pluginmanager.hasplugin("xvfb"):
        for name in ("xvfb_width", "xvfb_height", "xvfb_colordepth"):
            parser.addini(name, "of pytest-xvfb")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Mark what runs apart from the tests of the core."""
    for item in items:
        if item.path.parent.name in ("ui", "hostile"):
            item.add_marker("window")


settings.register_profile(
    "anzel", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("anzel")
gc.set_threshold(*COLLECT_AFTER)


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing a test does reaches the maker's own settings."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


@pytest.fixture(autouse=True)
def faults_fail(request: pytest.FixtureRequest) -> Iterator[None]:
    """What is unexpected fails a test, unless it asks for `faults_worded`."""
    reraise_unexpected("faults_worded" not in request.fixturenames)
    yield
    reraise_unexpected(True)


@pytest.fixture(autouse=True)
def threads_end() -> Iterator[None]:
    """Fail where a test leaves a thread of Anzel's running."""
    before = set(threading.enumerate())
    yield
    left = [t for t in threading.enumerate() if t not in before and t.name.startswith("anzel-")]
    for thread in left:
        thread.join(10)
    assert not [thread.name for thread in left if thread.is_alive()], "threads are left running"


class _Warnings(logging.Handler):
    """Collects what is logged as a warning or worse."""

    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.found: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        if not record.name.startswith("ezdxf"):  # what matters of it is worded by our reader
            self.found.append(f"{record.name}: {record.getMessage()}")


@pytest.fixture(autouse=True)
def nothing_is_logged(request: pytest.FixtureRequest) -> Iterator[None]:
    """Fail for a warning in the log, unless a test asks for `warnings_logged`."""
    handler = _Warnings()
    logging.getLogger().addHandler(handler)
    yield
    logging.getLogger().removeHandler(handler)
    if "warnings_logged" not in request.fixturenames:
        assert handler.found == [], "warnings were logged"


@pytest.fixture
def warnings_logged() -> None:
    """Warnings in the log are part of the test."""


@pytest.fixture
def faults_worded() -> None:
    """What is unexpected is worded, as it is for makers."""


@pytest.fixture
def gate(monkeypatch: pytest.MonkeyPatch) -> Iterator[Event]:
    """Every change is pending until this is opened."""
    opened, worked_out = Event(), sessions._ripple_of

    def slowly(edit: str, before: Project, project: Project) -> str:
        opened.wait(20)
        return worked_out(edit, before, project)

    monkeypatch.setattr(sessions, "_ripple_of", slowly)
    monkeypatch.setattr(sessions, "is_solved", lambda project: False)
    monkeypatch.setattr(background, "PATIENCE", 0.01)
    yield opened
    opened.set()


@pytest.fixture
def project() -> Project:
    """The herb-pot stand."""
    return herb_stand()


@pytest.fixture
def session(project: Project) -> Session:
    """A session on the herb-pot stand."""
    return Session(project)
