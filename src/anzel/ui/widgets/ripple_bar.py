"""The status line: what the last change moved, what was noticed, and whether it goes together."""

from PySide6.QtCore import QElapsedTimer, Qt, QTimer
from PySide6.QtWidgets import QLabel, QMenu, QPushButton, QSizePolicy, QStatusBar

from anzel.app.background import Background, Newest
from anzel.app.listeners import Changed
from anzel.app.number_display import shown, shown_quantity
from anzel.app.proving import Proof, prove_aside
from anzel.app.session import Session
from anzel.app.views.step_status import findings_before_cutting
from anzel.core.findings import MakerError
from anzel.project.assembly import summary
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.ui.accessibility import announce
from anzel.ui.desktop_progress import tell_desktop
from anzel.ui.modal import run_menu

_AWAITED_MS = 150
"""A change that takes longer than this is told of while it is worked out."""
_SLOW_MS = 500
_SOON_MS = 120
"""Changes that follow one another this quickly, before the proof, are proved once, at the end."""


class RippleBar(QStatusBar):
    """Says the ripple at the left; findings and proof at the right."""

    def __init__(
        self, session: Session, jobs: Background, proving: Background, changes: Background
    ) -> None:  # fmt: skip
        super().__init__()
        self.setSizeGripEnabled(False)
        self._session = session
        self._job = Newest(proving)
        self._backgrounds = (jobs, proving, changes)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._since_change = QElapsedTimer()
        self._soon.timeout.connect(self._prove)
        self.says = QLabel()
        self.says.setAccessibleName("What the last change moved")
        self.says.setTextFormat(Qt.TextFormat.PlainText)
        self.says.setContentsMargins(10, 0, 0, 0)
        # a long ripple is cut off (and told whole by its tip), never widens the window
        self.says.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.proof = QLabel("proving …")
        self.proof.setObjectName("Quiet")
        self._findings = QPushButton()
        self._findings.setObjectName("Flat")
        self._findings.clicked.connect(self._show_findings)
        self._slow = QTimer(self)
        self._slow.setSingleShot(True)
        self._slow.setInterval(_SLOW_MS)
        self._slow.timeout.connect(lambda: self._show_busy(self._is_busy))
        self._awaited = QTimer(self)
        self._awaited.setSingleShot(True)
        self._awaited.setInterval(_AWAITED_MS)
        self._awaited.timeout.connect(self._say_pending)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("Flat")
        self.stop.setAccessibleName("Stop what is being worked out")
        self.stop.clicked.connect(self._stop_all)
        self.stop.hide()
        for background in self._backgrounds:
            background.watched = self._watch
        self.addWidget(self.says, 1)
        self.addPermanentWidget(self.stop)
        self.addPermanentWidget(self._findings)
        self.addPermanentWidget(self.proof)
        session.subscribe(self._changed)
        self._changed(Changed.PROJECT)

    def _say_pending(self) -> None:
        if self._session.is_working:
            self.says.setText(shown(f"{self._session.pending_edit} … working it out"))

    def _changed(self, changed: Changed) -> None:
        if changed is Changed.PENDING:
            self._awaited.start()
            return
        self.says.setText(
            shown(self._session.status.text) or "Change a reading or a size and see what it moves."
        )
        self.says.setToolTip(shown(self._session.status.text))
        self.says.setAccessibleDescription(shown(self._session.status.text))
        announce(self.says)
        if changed is Changed.PROJECT:
            follows = self.is_proving and not self._since_change.hasExpired(_SOON_MS)
            self._soon.start(_SOON_MS if follows else 0)
            self._since_change.start()
        if changed in (Changed.LAYOUT, Changed.ASSEMBLY):
            self._count()

    @property
    def is_proving(self) -> bool:
        """Whether a proof is under way."""
        return self._job.is_working or self._soon.isActive()

    @property
    def _is_busy(self) -> bool:
        return any(background.is_working for background in self._backgrounds)

    def _stop_all(self) -> None:
        for background in self._backgrounds:
            background.stop()

    def _watch(self) -> None:
        """Offer to stop what takes longer than half a second, and tell the desktop of it."""
        if not self._is_busy:
            self._slow.stop()
            self._show_busy(False)
        elif not self._slow.isActive():
            self._slow.start()

    def _show_busy(self, busy: bool) -> None:
        if busy != self.stop.isVisibleTo(self):
            self.stop.setVisible(busy)
            tell_desktop(busy)

    def _prove(self) -> None:
        """Count what was noticed; check in the background that the pieces do not overlap."""
        project = self._session.project
        self._count()
        self._job.start(
            lambda _: prove_aside(project),
            done=lambda found: self._show_proof(found, project),
            failed=self._not_proved,
            said=lambda text: self.proof.setText(f"{text}  "),
        )

    def _count(self) -> None:
        count = len(findings_before_cutting(self._session.project, self._session.layouts))
        words = f"▲ {count} finding{'s' * (count != 1)}" if count else "no findings"
        self._findings.setText(words)
        self._findings.setEnabled(bool(count))

    def _show_proof(self, proof: Proof, project: Project) -> None:
        if project != self._session.project:
            return
        found, assembly = proof
        self._session.assembly_arrived()
        worst = max(found, key=lambda each: each.volume, default=None)
        if worst is None:
            joints = len(solved_structure_of(project).joints)
            said = f"{_all_joints(joints)} together" if joints else "no piece overlaps another"
            if assembly.proof.ok:
                self.proof.setText(f"✓ {said}, {summary(assembly.proof)}  ")
            else:
                self.proof.setText(f"▲ {summary(assembly.proof)}  ")
        elif any(project.clearance_in(stock.id) < 0 for stock in project.stocks_in_use):
            self.proof.setText(
                f"{project.fits.in_use.value}: bites {shown_quantity(worst.volume, 'mm³', 1)}  "
            )
        else:
            names = " and ".join(worst.pieces)
            self.proof.setText(f"▲ {names} overlap by {shown_quantity(worst.volume, 'mm³', 2)}  ")

    def _not_proved(self, error: MakerError) -> None:
        self.proof.setText(shown(f"▲ not proved: {error.message}  "))

    def _show_findings(self) -> None:
        menu = QMenu(self)
        for finding in findings_before_cutting(self._session.project, self._session.layouts):
            menu.addAction(shown(str(finding)))
        run_menu(menu, self._findings.mapToGlobal(self._findings.rect().topLeft()))


def _all_joints(count: int) -> str:
    return f"all {count} joints go" if count != 1 else "the joint goes"
