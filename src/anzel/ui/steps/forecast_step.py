"""The forecast: how likely the joints come out right, and which measurement would better it."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QProgressBar, QVBoxLayout, QWidget

from anzel.app.background import Background, Newest
from anzel.app.navigation import Step
from anzel.app.number_display import shown, shown_share
from anzel.app.session import Session
from anzel.app.views.forecast_summary import (
    HELPER,
    ForecastSummary,
    advice_words,
    best_advice,
    summary_of,
)  # fmt: skip
from anzel.core.findings import MakerError
from anzel.materials.fits import FitName
from anzel.project.model import Project
from anzel.test_pieces.model import TestPieceKind
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.forecast_view import ForecastView
from anzel.ui.widgets.common_widgets import button, clear, quiet, section


class ForecastStep(StepPage):
    """Works the chances out in the background and shows them."""

    learn_wanted = Signal(TestPieceKind)

    def __init__(self, session: Session, jobs: Background) -> None:
        self.view = ForecastView()
        self._job = Newest(jobs)
        self._shown: tuple[Project, ForecastSummary] | None = None
        super().__init__(session, self.view)
        self.view.joint_picked.connect(session.selection.pick_joint)
        self.view.stepped.connect(session.selection.pick_next_joint)
        self.view.left.connect(session.selection.pick_whole)

    @property
    def is_working(self) -> bool:
        """Whether chances are being worked out."""
        return self._job.is_working

    def _fill_panel(self) -> None:
        self._big = QLabel()
        self._big.setObjectName("Big")
        self._says = quiet("")
        self._whole, self._one = _column(), _column()
        self._panel.add(self._whole, self._one)
        self.line.stepped.connect(self._session.selection.pick_next_joint)
        whole = self._whole.layout()
        assert isinstance(whole, QVBoxLayout)
        for widget in (self._big, self._says, section("All right, by fit class")):
            whole.addWidget(widget)
        grid = QGridLayout()
        self._bars: dict[FitName, tuple[QProgressBar, QLabel]] = {}
        for row, name in enumerate(FitName):
            bar, figure = QProgressBar(), QLabel()
            bar.setRange(0, 1000)
            bar.setTextVisible(False)
            bar.setAccessibleName(f"All joints right, {name.value}")
            grid.addWidget(QLabel(name.value), row, 0)
            grid.addWidget(bar, row, 1)
            grid.addWidget(figure, row, 2)
            self._bars[name] = (bar, figure)
        grid.setColumnStretch(1, 1)
        whole.addLayout(grid)
        self._joint = QGridLayout()
        one = self._one.layout()
        assert isinstance(one, QVBoxLayout)
        one.addLayout(self._joint)
        self._advice = QLabel()
        self._advice.setWordWrap(True)
        self._do = button("Do that now", "Primary")
        self._do.clicked.connect(self._follow_advice)
        whole.addWidget(section("What would help most"))
        whole.addWidget(self._advice)
        whole.addWidget(self._do)
        self._panel.body.addStretch(1)
        self._panel.add(
            quiet("The forecast rests on the spread of your readings and on how well the kerf is "
                  "known. All joints share the error of kerf and mean thickness; each meets its "
                  "own place on the sheet.")
        )  # fmt: skip

    def refresh(self) -> None:
        """Show the chances of the project as it is now, or start working them out."""
        project, joint = self._session.project, self._session.selection.picked_joint
        self._whole.setVisible(not joint)
        self._one.setVisible(bool(joint))
        whole = "All joints right, at the first cut"
        self.line.show_picked(f"{joint} alone" if joint else whole, whole if joint else "",
                              can_step=bool(joint))  # fmt: skip
        if self._shown is not None and self._shown[0] == project:
            self._show(self._shown[1])
            return
        self.view.show_chances(project, None, self._session.selection.joint_id)
        self._job.start(
            lambda _: HELPER.call(summary_of, project),
            done=lambda found: self._arrived(project, found),
            failed=self._failed,
        )

    def _arrived(self, project: Project, found: ForecastSummary) -> None:
        if project == self._session.project:
            self._shown = (project, found)
            self._show(found)

    def _failed(self, error: MakerError) -> None:
        self._says.setText(shown(f"▲ {error}"))

    def _show(self, found: ForecastSummary) -> None:
        project, now = self._session.project, found.now
        self.view.show_chances(project, found, self._session.selection.joint_id)
        self._big.setText(f"{shown_share(now.all_go, 1)}")
        self._says.setText(
            f"{len(now.joints)} joints, {project.fits.in_use.value}. "
            f"None too tight: {shown_share(now.none_too_tight, 1)}."
        )
        for name, (bar, figure) in self._bars.items():
            chance = found.by_fit[name].all_go
            bar.setValue(round(chance * 1000))
            figure.setText(f"{shown_share(chance, 1)}")
        self._show_joint(found)
        self._advice.setText(shown(advice_words(project, now)))
        self._do.setVisible(best_advice(now) is not None)

    def _show_joint(self, found: ForecastSummary) -> None:
        """The picked joint in every class."""
        clear(self._joint)
        for column, title in enumerate(("too tight", "right", "too loose"), start=1):
            self._joint.addWidget(quiet(title), 0, column)
        for row, name in enumerate(FitName, start=1):
            joints = found.by_fit[name].joints
            joint = next((j for j in joints if j.joint == self._session.selection.joint_id), None)
            if joint is None:
                continue
            words = (
                name.value,
                *(f"{shown_share(v, 1)}" for v in (joint.too_tight, joint.right, joint.too_loose)),
            )
            for column, text in enumerate(words):
                label = QLabel(text)
                label.setObjectName("Quiet" if column != 2 else "")
                self._joint.addWidget(label, row, column)

    def _follow_advice(self) -> None:
        """Go where the measurement that helps most is made."""
        advice = best_advice(self._shown[1].now) if self._shown else None
        stocks = {stock.id for stock in self._session.project.stocks}
        if advice is None or advice.stock_id not in stocks:  # the forecast of another project
            return
        self._session.selection.pick_stock(advice.stock_id)
        if advice.what == "readings":
            self._session.navigation.go_to(Step.STOCK)
        else:
            self.learn_wanted.emit(TestPieceKind.STRIPS)


def _column() -> QWidget:
    """Return a part of the panel."""
    made = QWidget()
    column = QVBoxLayout(made)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(5)
    return made
