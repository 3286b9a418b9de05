"""The picked feature of a found drawing: which sheet goes into it, what of it stays, how deep."""

from PySide6.QtWidgets import QGridLayout, QLabel, QWidget

from anzel.app.edits import drawing_edits, project_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown_length
from anzel.app.session import Session
from anzel.refit.features import DrawnFeatureKind
from anzel.refit.finger_rows import CHOICES, EdgeInterpretation
from anzel.refit.refit import Anchor
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.wheel_safe import Choice


class FeaturePanel(QWidget):
    """A few settings that hold for one feature and its like on identical pieces."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._name = self._id = ""
        self.mate, self.stays = Choice(), Choice()
        self.mate.setAccessibleName("Sheet that goes into it")
        self.mate.activated.connect(lambda at: self._take("mates", self.mate.itemData(at)))
        self.stays.setAccessibleName("What stays when its width changes")
        for anchor in Anchor:
            self.stays.addItem(f"{anchor.value} stays", anchor)
        self.stays.activated.connect(lambda at: self._take("stays", self.stays.itemData(at)))
        self.deep = MeasureField("Depth", self._take_depth)
        self.edge = Choice()
        self.edge.setAccessibleName("What its edge is taken for")
        self.edge.activated.connect(lambda at: self._take_edge(self.edge.itemData(at)))
        self._edge = ""
        self._takes = QLabel("Takes")
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(3)
        grid.addWidget(self._takes, 0, 0)
        grid.addWidget(self.mate, 0, 1)
        grid.addWidget(self.stays, 0, 2)
        grid.addWidget(self.deep, 1, 0, 1, 3)
        grid.addWidget(self.edge, 2, 0, 1, 3)

    def show_feature(self, each: DrawingView, feature_id: str) -> None:
        """Show the settings of a feature; nothing where none is picked."""
        self.setVisible(bool(feature_id))
        if not feature_id:
            return
        self._name, self._id = each.name, feature_id
        feature = drawing_edits.decision_of(each, feature_id).feature
        own = drawing_edits.imported_drawings(self._session.project).stock
        self.mate.clear()
        for stock in self._session.project.stocks:
            self.mate.addItem(stock.name, None if stock.id == own else stock.id)
        self.mate.setCurrentIndex(self.mate.findData(dict(each.drawing.mates).get(feature_id)))
        anchor = dict(each.drawing.stays).get(feature_id, Anchor.CENTRE)
        self.stays.setCurrentIndex(list(Anchor).index(anchor))
        self.stays.setVisible(bool(feature.widening))
        self.deep.setVisible(feature.kind is DrawnFeatureKind.SLOT)
        self._show_edge(each, feature.edge)
        deep = dict(each.drawing.depths).get(feature_id, feature.length)
        self.deep.show_value(shown_length(deep))

    def _show_edge(self, each: DrawingView, edge: str) -> None:
        """Show what the edge of a tab or finger is taken for, and why."""
        self._edge = edge
        self.edge.setVisible(bool(edge))
        reading = next((e for e in each.refit.features.edges if e.id == edge), None)
        if reading is None:
            return
        self.edge.clear()
        self.edge.addItem(f"{reading.taken_for.value.capitalize()}: {reading.why}", None)
        for what in CHOICES:
            self.edge.addItem(f"Take it for {what.value}", what)
        chosen = dict(each.drawing.edges).get(edge)
        if chosen is not None:
            self.edge.setItemText(0, "Let Anzel decide what its edge is")
            self.edge.setCurrentIndex(1 + CHOICES.index(EdgeInterpretation(chosen)))

    def _take_edge(self, what: str | None) -> None:
        name, edge = self._name, self._edge
        wanted = EdgeInterpretation(what) if what else None
        self._session.attempt(
            f"{edge}: {what or 'as Anzel decides'}",
            lambda p: drawing_edits.take_edge_for(p, name, edge, wanted),
        )

    def _take(self, field: str, value: str | None) -> None:
        name, feature_id = self._name, self._id
        wanted = None if value is Anchor.CENTRE else value
        self._session.attempt(
            f"{feature_id}: {value or 'its own sheet'}",
            lambda p: drawing_edits.set_feature(p, name, feature_id, field, wanted),
        )

    def _take_depth(self, text: str) -> None:
        name, feature_id = self._name, self._id
        deep = project_edits.typed_length(text, "depth")
        project = drawing_edits.set_feature(
            self._session.project_with_pending, name, feature_id, "depths", deep
        )
        self._session.change(f"{feature_id} {shown_length(deep)} deep", project)
