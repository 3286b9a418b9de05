"""The controller of the picture behind a plate: two places clicked, shapes proposed and taken."""

from math import dist

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from anzel.app.background import Background, Newest
from anzel.app.edits import picture_edits
from anzel.app.edits.project_edits import typed_length
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.core.number_format import plain_length
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.plate_picture import PlatePicture
from anzel.ui.views.picture_layer import Proposal
from anzel.ui.views.sketch_view import SketchView
from anzel.ui.widgets.common_widgets import button, quiet
from anzel.ui.widgets.flow_layout import FlowLayout
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.trace_bar import TraceBar


class PictureController(QObject):
    """Connects the view, two bars under it, and the session."""

    def __init__(self, session: Session, view: SketchView, background: Background) -> None:
        super().__init__()
        self._session, self._view = session, view
        self._newest = Newest(background)
        self._places: list[Point] = []
        self._what = ""
        self._plate = ""
        self.trace = TraceBar()
        self.points = self._points_bar()
        for bar in (self.trace, self.points):
            bar.setVisible(False)
        self.trace.changed.connect(self._propose)
        self.trace.left.connect(self.leave)
        self.trace.outline_taken.connect(self._take_outline)
        self.trace.openings_taken.connect(self._take_openings)
        view.place_clicked.connect(self._clicked)
        view.places_left.connect(self.leave)
        view.picture_moved.connect(self._moved)

    def _points_bar(self) -> QWidget:
        bar = QWidget()
        row = FlowLayout(spacing=8)
        row.setContentsMargins(10, 4, 10, 6)
        bar.setLayout(row)
        self._says = quiet("")
        self.apart = MeasureField("They are apart by", self._take_apart, wide=70)
        leave = button("Leave", "Flat")
        leave.clicked.connect(self.leave)
        for widget in (self._says, self.apart, leave):
            row.addWidget(widget)
        return bar

    @property
    def is_working(self) -> bool:
        """Whether places are clicked or shapes are proposed."""
        return bool(self._what)

    def begin(self, what: str) -> None:
        """Begin to “scale” or “level” by two places, or to “trace”."""
        self.leave()
        self._what, self._plate = what, self._session.navigation.drawn_plate
        self._view.takes_places = True
        self._view.setFocus()
        if what == "trace":
            picture = self._picture()
            self.trace.begin(has_pixels=picture is not None and not picture.is_drawing)
            self._propose()
            return
        self.points.setVisible(True)
        self.apart.setVisible(False)
        self._says.setText("Click the first of two places in the picture.")

    def leave(self) -> None:
        """Do none of it any more; nothing has changed."""
        self._newest.cancel()
        self._what, self._places = "", []
        self._view.takes_places, self._view.places = False, ()
        self._view.show_proposal(None)
        for bar in (self.trace, self.points):
            bar.setVisible(False)

    def check(self, plate: str) -> None:
        """Leave off where another plate is shown, or the picture is gone."""
        if self._what and (plate != self._plate or self._picture() is None):
            self.leave()

    def _picture(self) -> PlatePicture | None:
        return picture_edits.picture_of(self._session.project, self._plate)

    def _clicked(self, x: float, y: float) -> None:
        if self._what == "trace":
            self._view.pick_proposal(x, y)
            return
        self._places = [*self._places[-1:], (x, y)] if len(self._places) < 2 else [(x, y)]
        self._view.places = tuple(self._places)
        self._view.update()
        if len(self._places) < 2:
            self._says.setText("Click the second place.")
            return
        if self._what == "level":
            one, other = self._places
            plate = self._plate
            self.leave()
            self._session.attempt(
                "Picture levelled", lambda p: picture_edits.level_by_points(p, plate, one, other)
            )
            return
        self._says.setText("How far apart are they truly?")
        self.apart.setVisible(True)
        self.apart.show_value(plain_length(dist(*self._places)))
        self.apart.focus()

    def _take_apart(self, text: str) -> None:
        if len(self._places) < 2:  # left already; the field only loses the keyboard
            return
        apart, (one, other), plate = typed_length(text, "apart"), self._places, self._plate
        project = picture_edits.scale_by_points(
            self._session.project_with_pending, plate, one, other, apart
        )
        self._session.change("Picture scaled", project)
        self.leave()

    def _moved(self, dx: float, dy: float) -> None:
        plate = self._session.navigation.drawn_plate
        picture = picture_edits.picture_of(self._session.project, plate)
        if picture is not None:
            x, y = picture.x + dx, picture.y + dy
            self._session.attempt(
                "Picture moved", lambda p: picture_edits.change_picture(p, plate, x=x, y=y)
            )

    def _propose(self) -> None:
        """Look for closed shapes aside; those of the newest settings arrive."""
        picture, settings = self._picture(), self.trace.settings
        if picture is None:
            return
        self._newest.start(
            lambda task: picture_edits.proposed_regions(
                picture, settings, lambda: task.is_cancelled
            ),
            done=self._proposed, failed=self._failed,
        )  # fmt: skip

    def _proposed(self, regions: tuple[Region, ...]) -> None:
        many = f"{len(regions)} closed shape{'s' * (len(regions) != 1)}"
        legs = sum(len(contour.segments) for region in regions[:1] for contour in region.contours)
        self.trace.show_words(
            f"{many}; the picked one has {legs} legs. Click others to pick them." if regions
            else "No closed shape: move the first slider."
        )  # fmt: skip
        self._view.show_proposal(Proposal(regions, frozenset({0} if regions else ())))

    def _failed(self, error: MakerError) -> None:
        self._view.show_proposal(None)
        self.trace.show_words(str(error))

    def _picked(self) -> list[Region]:
        proposal = self._view.proposal
        if proposal is None:
            return []
        return [proposal.regions[number] for number in sorted(proposal.picked)]

    def _take_outline(self) -> None:
        picked, plate = self._picked(), self._plate
        if picked and self._session.attempt(
            "Outline from the picture", lambda p: picture_edits.take_outline(p, plate, picked[0])
        ):
            self.leave()

    def _take_openings(self) -> None:
        picked, plate = self._picked(), self._plate
        if picked and self._session.attempt(
            "Openings from the picture", lambda p: picture_edits.take_openings(p, plate, picked)
        ):
            self.leave()
