"""The controller of found drawings in the build step: their view, their page, and a feature's."""

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.edits import drawing_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.ui.views.fit_lens_view import FitLensView
from anzel.ui.views.refit_paths import KeptRefitPaths
from anzel.ui.views.refit_view import RefitView
from anzel.ui.widgets.common_widgets import quiet
from anzel.ui.widgets.drawing_panel import DrawingPanel
from anzel.ui.widgets.feature_panel import FeaturePanel


class FeaturePage(QWidget):
    """The picked feature: the fit lens on it, why it is changed or not, and its settings."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.lens, self.settings, self._why = FitLensView(), FeaturePanel(session), quiet("")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self.lens, self._why, self.settings):
            column.addWidget(widget)

    def show_feature(self, each: DrawingView, feature_id: str) -> None:
        """Show a feature of a drawing."""
        project = self._session.project
        row = drawing_edits.lens_row(project, each, feature_id)
        self.lens.show_row(row, project.tints, project.fits.in_use.value)
        self._why.setText(shown(drawing_edits.decision_of(each, feature_id).why))
        self.settings.show_feature(each, feature_id)


class DrawingController(QObject):
    """Connects view and pages; made when a project first has found drawings."""

    def __init__(self, session: Session, paths: KeptRefitPaths) -> None:
        super().__init__()
        self._session, self._paths = session, paths
        self.view = RefitView()
        self.panel = DrawingPanel(session)
        self.feature = FeaturePage(session)
        self.view.feature_picked.connect(self.pick)
        self.view.switched.connect(self.panel.switch)
        self.view.piece_switched.connect(self.panel.switch_piece)
        self.panel.picked.connect(self.pick)
        self.panel.chosen.connect(self.refresh)

    def pick(self, name: str, feature_id: str) -> None:
        """Pick a feature of a drawing everywhere."""
        self._session.selection.pick(Thing(ThingKind.FEATURE, feature_id, name))

    def features(self) -> list[Thing]:
        """Return every feature of every drawing."""
        return [
            Thing(ThingKind.FEATURE, decision.feature.id, each.name)
            for each in drawing_edits.drawing_views(self._session.project)
            for decision in each.refit.decisions
        ]

    def refresh(self) -> None:
        """Show everything as it is now, unless the project with drawings was left meanwhile."""
        project, selection = self._session.project, self._session.selection
        if not project.structure.has_drawings:
            return
        drawings = drawing_edits.drawing_views(project)
        thing = selection.one(ThingKind.FEATURE)
        if thing is not None and thing not in self.features():
            selection.pick_whole()
            return
        tint = project.tints.get(drawing_edits.imported_drawings(project).stock, "#e8d3ad")
        name, feature_id = (thing.of, thing.name) if thing is not None else ("", "")
        paths = self._paths.of(project, drawings)
        self.view.show_drawings(drawings, paths, tint, (name, feature_id))
        if thing is None:
            self.panel.refresh(drawings)
        else:
            each = next(d for d in drawings if d.name == name)
            self.feature.show_feature(each, feature_id)
