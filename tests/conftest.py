"""Shared fixtures. Hypothesis is derandomised, so that a red run can be repeated."""

from collections.abc import Iterator
from pathlib import Path
from threading import Event

import pytest
from hypothesis import HealthCheck, settings

from anzel.app import background
from anzel.app import session as sessions
from anzel.app.session import Session
from anzel.core.error_boundary import reraise_unexpected
from anzel.project.demos import herb_stand
from anzel.project.model import Project

settings.register_profile(
    "anzel", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("anzel")


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
