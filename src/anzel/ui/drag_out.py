"""Dragging what is picked out of the window, as a file."""

from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QEvent, QMimeData, QObject, QPointF, Qt, QUrl
from PySide6.QtGui import QDrag, QMouseEvent
from PySide6.QtWidgets import QApplication, QWidget

from anzel.app.background import Background
from anzel.core.findings import MakerError

FileContent = tuple[str, bytes]
"""The name of a file and what is in it."""


class FileDrag(QObject):
    """Drags a file out of a widget, once it is made."""

    def __init__(
        self, handle: QWidget, jobs: Background, failed: Callable[[MakerError], None]
    ) -> None:
        super().__init__(handle)
        self._handle, self._jobs, self._failed = handle, jobs, failed
        self._folder: TemporaryDirectory[str] | None = None

    def begin(self, work: Callable[[], FileContent]) -> None:
        """Make the file aside, and drag it once it is there."""
        self._jobs.start(lambda _: work(), done=self._drag, failed=self._failed)

    def _drag(self, made: FileContent) -> None:
        drag = QDrag(self._handle)
        drag.setMimeData(self.mime_data(*made))
        drag.exec(Qt.DropAction.CopyAction)

    def mime_data(self, name: str, content: bytes) -> QMimeData:
        """Return a file for others to take; it stays until the window closes."""
        if self._folder is None:
            self._folder = TemporaryDirectory(prefix="anzel-")
            self._handle.destroyed.connect(self._folder.cleanup)
        path = Path(self._folder.name) / name.replace("/", "-")
        path.write_bytes(content)
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        return data


class DragOut(FileDrag):
    """Makes a widget the handle of a file, which is made when it is dragged."""

    def __init__(
        self, handle: QWidget, jobs: Background, make: Callable[[], Callable[[], FileContent]],
        failed: Callable[[MakerError], None],
    ) -> None:  # fmt: skip
        """`make` is called on the interface thread; what it returns makes the file aside."""
        super().__init__(handle, jobs, failed)
        self._make = make
        self._pressed: QPointF | None = None
        handle.setCursor(Qt.CursorShape.OpenHandCursor)
        handle.setToolTip("Drag it out of the window to have it as a file")
        handle.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QMouseEvent):
            if event.type() == QEvent.Type.MouseButtonPress:
                self._pressed = event.position()
            elif event.type() == QEvent.Type.MouseButtonRelease:
                self._pressed = None
            elif event.type() == QEvent.Type.MouseMove and self._pressed is not None:
                moved = (event.position() - self._pressed).manhattanLength()
                if moved > QApplication.startDragDistance():
                    self._pressed = None
                    self.begin(self._make())
        return False
