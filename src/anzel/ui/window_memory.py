"""What a window remembers until the next start: its size and place, splitters, step and project."""

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray
from PySide6.QtWidgets import QMainWindow, QSplitter

from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.app.settings import Settings, WindowState
from anzel.scene.camera import Camera

if TYPE_CHECKING:
    from anzel.ui.main_window import MainWindow


def remember_window(
    window: QMainWindow, session: Session, settings: Settings, camera: Camera
) -> None:
    """Keep where a window is, as it closes."""
    path = session.document.path
    splitters = {
        splitter.objectName(): splitter.sizes()
        for splitter in window.findChildren(QSplitter)
        if splitter.objectName()
    }
    settings.remember_window(
        WindowState(
            geometry=bytes(window.saveGeometry().toBase64().data()).decode(),
            splitters=splitters,
            step=session.navigation.step.value,
            project=str(path.resolve()) if path is not None else "",
            view=(camera.azimuth, camera.elevation, camera.parallel),
            grid_step=session.navigation.grid_step,
        )
    )


def restore_window(window: "MainWindow", state: WindowState) -> None:
    """Put a window where the last one was; places off every screen are corrected by Qt."""
    if state.view is not None:
        window.build.standing.look_along(*state.view)
    if state.geometry:
        window.restoreGeometry(QByteArray.fromBase64(state.geometry.encode()))
    for splitter in window.findChildren(QSplitter):
        sizes = state.splitters.get(splitter.objectName(), [])
        if len(sizes) == splitter.count():
            splitter.setSizes(sizes)


def last_step(state: WindowState) -> Step:
    """Return the step that was shown last."""
    return Step(state.step) if state.step in list(Step) else Step.BUILD


def last_project(state: WindowState) -> Path | None:
    """Return the project that was open last, if it is still there."""
    path = Path(state.project) if state.project else None
    return path if path is not None and path.is_file() else None
