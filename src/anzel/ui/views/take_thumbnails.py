"""Thumbnails of several structures by one camera: drawn to one scale, turned together."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPixmap, QWheelEvent
from PySide6.QtWidgets import QLabel, QWidget

from anzel.app.background import Background, Newest
from anzel.core.findings import MakerError
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.scene.camera import Camera
from anzel.scene.render_request import RenderRequest
from anzel.ui.main_thread import MainThread
from anzel.ui.views.render_colours import render_style, to_qimage

if TYPE_CHECKING:
    from anzel.scene.offscreen import RenderedPicture

_TURN = 0.45
_KEYS = {
    Qt.Key.Key_Left: (-18.0, 0.0), Qt.Key.Key_Right: (18.0, 0.0),
    Qt.Key.Key_Up: (0.0, 18.0), Qt.Key.Key_Down: (0.0, -18.0),
}  # fmt: skip


@dataclass(frozen=True)
class _ThumbnailRequest:
    """Pictures of several structures, `nearer` than where the largest fills its own."""

    each: tuple[RenderRequest, ...]
    nearer: float


class TurnedLabel(QLabel):
    """A picture that says how it is turned: by dragging, the arrow keys or the wheel."""

    turned = Signal(float, float)
    zoomed = Signal(float)

    def __init__(self, size: QSize, name: str) -> None:
        super().__init__()
        self.setFixedSize(size)
        self.setWordWrap(True)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._from: QPointF | None = None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            moved = event.position() - self._from
            self._from = event.position()
            self.turned.emit(moved.x(), moved.y())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._from = None

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoomed.emit(1.0012 ** event.angleDelta().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in _KEYS:
            x, y = _KEYS[key]
            self.turned.emit(-x, y)
        else:
            super().keyPressEvent(event)


class TakeThumbnails:
    """Draws structures on a thread of its own; `arrived` gets a picture for each."""

    def __init__(
        self,
        parent: QWidget,
        size: QSize,
        *,
        arrived: Callable[[list[QPixmap]], None],
        failed: Callable[[MakerError], None],
    ) -> None:
        self._size, self._ratio = size, parent.devicePixelRatioF()
        self._arrived = arrived
        self._shown: tuple[Project, ...] = ()
        self._camera, self._nearer, self._apart = Camera(), 1.0, 0.0
        self._asked: _ThumbnailRequest | None = None
        self.is_drawn = False
        self._failed = failed
        self._drawing = Background(MainThread(parent).post, "anzel-thumbnails")
        self._newest = Newest(self._drawing, shows_each=True)
        self._renderers = cache(_open_renderers)

    def show(self, projects: Sequence[Project]) -> None:
        """Draw other structures."""
        self._shown = tuple(projects)
        self._ask()

    def look_from(self, view: str) -> None:
        """All from a named direction, everything in view."""
        self._camera, self._nearer = self._camera.looking_from(view), 1.0
        self._ask()

    def turn(self, x: float, y: float) -> None:
        """All turned together, by as many pixels of dragging."""
        self._camera = self._camera.orbited(-x * _TURN, y * _TURN)
        self._ask()

    def zoom(self, factor: float) -> None:
        """All nearer, or further away."""
        self._nearer = min(max(self._nearer * factor, 0.3), 20.0)
        self._ask()

    def pull_apart(self, share: float) -> None:
        """All pulled apart."""
        self._apart = share
        self._ask()

    def close(self) -> None:
        """Draw no more."""
        self._drawing.close()

    def _ask(self) -> None:
        if not self._shown:
            return
        width, height = (
            round(side * self._ratio) for side in (self._size.width(), self._size.height())
        )
        each = tuple(
            RenderRequest(
                solved_structure_of(project), fit_context_of(project), self._apart, self._camera,
                True, render_style(project.tints), (width, height),
            )
            for project in self._shown
        )  # fmt: skip
        self._asked, self.is_drawn = _ThumbnailRequest(each, self._nearer), False
        asked, renderers = self._asked, self._renderers
        self._newest.start(lambda task: renderers()(asked), done=self._take, failed=self._failed)

    def _take(self, pictures: "tuple[RenderedPicture, ...]") -> None:
        made = []
        for picture in pictures:
            pixmap = QPixmap.fromImage(to_qimage(picture))
            pixmap.setDevicePixelRatio(self._ratio)
            made.append(pixmap)
        self.is_drawn = True
        self._arrived(made)


def _open_renderers() -> "Callable[[_ThumbnailRequest], tuple[RenderedPicture, ...]]":
    """Return a function that renders each structure by a renderer of its own, with its meshes."""
    from anzel.scene.offscreen import OffscreenRenderer
    from anzel.scene.renderer_process import RendererProcess

    renderers: list[OffscreenRenderer] = []

    def take(asked: _ThumbnailRequest) -> "tuple[RenderedPicture, ...]":
        while len(renderers) < len(asked.each):
            renderers.append(OffscreenRenderer(RendererProcess()))
        pairs = list(zip(renderers, asked.each, strict=False))
        fitted = [renderer.fitted(wanted) for renderer, wanted in pairs]
        # one scale for all: from as far away as the largest needs
        away = max(camera.distance for camera in fitted) / asked.nearer
        return tuple(
            renderer.render(replace(wanted, camera=replace(camera, distance=away), fit=False))
            for (renderer, wanted), camera in zip(pairs, fitted, strict=True)
        )

    return take
