"""The controller of found drawings in the build step.

Their view, their panel, and the picked feature.
"""

from PySide6.QtCore import QObject

from anzel.app.edits import drawing_edits
from anzel.app.session import Session
from anzel.ui.views.fit_lens_view import FitLensView
from anzel.ui.views.refit_view import RefitView
from anzel.ui.widgets.drawing_panel import DrawingPanel


class DrawingController(QObject):
    """Connects view, panel and fit lens; made when a project first has found drawings."""

    def __init__(self, session: Session, lens: FitLensView) -> None:
        super().__init__()
        self._session, self._lens = session, lens
        self._picked = ("", "")
        self.view = RefitView()
        self.panel = DrawingPanel(session)
        self.view.feature_picked.connect(self.pick)
        self.view.switched.connect(self.panel.switch)
        self.view.piece_switched.connect(self.panel.switch_piece)
        self.panel.picked.connect(self.pick)

    def pick(self, name: str, feature_id: str) -> None:
        """Show a feature in the lens and on the drawing."""
        self._picked = (name, feature_id)
        self.refresh()

    def refresh(self) -> None:
        """Show everything as it is now."""
        project = self._session.project
        drawings = drawing_edits.drawing_views(project)
        self.panel.refresh(drawings)
        tint = project.tints.get(drawing_edits.imported_drawings(project).stock, "#e8d3ad")
        each = next((d for d in drawings if d.name == self._picked[0]), drawings[0])
        ids = [d.feature.id for d in each.refit.decisions]
        if self._picked[1] not in ids:
            self._picked = (each.name, ids[0] if ids else "")
        self.view.show_drawings(drawings, tint, self._picked)
        self.panel.feature.show_feature(each, self._picked[1])
        row = drawing_edits.lens_row(project, each, self._picked[1]) if ids else None
        self._lens.show_row(row, project.tints, project.fits.in_use.value)
