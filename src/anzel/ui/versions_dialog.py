"""The versions of a project that were saved: when, what differs from now, and one to take."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QVBoxLayout,
    QWidget,
)

from anzel.app.background import Background, Newest, Task
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.views.version_difference import differences
from anzel.core.findings import MakerError
from anzel.project.model import Project
from anzel.storage.version_store import SavedVersion
from anzel.ui.widgets.common_widgets import heading, quiet

Compared = tuple[Project, list[str]]


class VersionsDialog(QDialog):
    """The versions at the left, newest first; what differs in the picked one at the right."""

    def __init__(
        self, parent: QWidget, session: Session, jobs: Background,
        versions: tuple[SavedVersion, ...], why: str = "",
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setWindowTitle("Earlier versions")
        self.resize(680, 420)
        self._now = None if why else session.project
        self._versions, self._comparing = versions, Newest(jobs)
        self.project: Project | None = None
        """The picked version, once it was read."""
        self.rows = QListWidget()
        self.rows.setAccessibleName("Versions")
        self.rows.setFixedWidth(220)
        self.rows.setSpacing(4)
        for version in versions:
            self.rows.addItem(f"{version.when:%d %B %Y, %H:%M:%S}")
        self.says = QLabel()
        self.says.setAccessibleName("What differs")
        self.says.setWordWrap(True)
        self.says.setMargin(8)
        self.says.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.take = self._buttons.addButton(
            "Take this version", QDialogButtonBox.ButtonRole.AcceptRole
        )
        self._buttons.accepted.connect(self.accept)
        self._buttons.rejected.connect(self.reject)
        self.rows.currentRowChanged.connect(self._compare)
        self.rows.itemActivated.connect(lambda _: self.take.click())
        self.finished.connect(lambda _: self._comparing.cancel())
        about = "The last ten that were saved, the older the further apart. Taking one is an edit: "
        about += "it can be undone, and your file stays as it is until you save."
        if why:
            about = f"{why}\n\nThese versions of it were kept. The file itself stays as it is."
        self._lay_out(about)
        self.rows.setCurrentRow(0)

    def _lay_out(self, about: str) -> None:
        words = quiet(about)
        words.setWordWrap(True)
        column = QVBoxLayout(self)
        column.addWidget(heading("Earlier versions"))
        column.addWidget(words)
        row = QHBoxLayout()
        row.addWidget(self.rows)
        row.addWidget(self.says, 1)
        column.addLayout(row, 1)
        column.addWidget(self._buttons)

    @property
    def version(self) -> SavedVersion:
        """The one that is picked."""
        return self._versions[max(self.rows.currentRow(), 0)]

    @property
    def is_working(self) -> bool:
        """Whether the picked one is being read."""
        return self._comparing.is_working

    def _compare(self) -> None:
        version, now = self.version, self._now
        self.project = None
        self.take.setEnabled(False)
        self.says.setText("Reading it …")

        def work(task: Task[Compared]) -> Compared:
            project = version.project()
            return project, [] if now is None else differences(project, now)

        self._comparing.start(work, done=self._show, failed=self._cannot)

    def _show(self, compared: Compared) -> None:
        self.project, lines = compared
        self.take.setEnabled(True)
        self.take.setDefault(True)
        usual = "It can be read." if self._now is None else "Nothing differs from now."
        self.says.setText(shown("\n".join(lines) or usual))

    def _cannot(self, error: MakerError) -> None:
        self.says.setText(shown(f"▲ {error}"))
