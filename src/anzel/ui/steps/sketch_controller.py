"""The controller of a plate that is drawn large: its view, and points dragged with a preview."""

from contextlib import suppress
from dataclasses import replace
from functools import partial

from PySide6.QtCore import QObject, QRectF, QTimer
from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from anzel.app import sketch_actions
from anzel.app.background import Background, Newest
from anzel.app.edits import opening_edits, picture_edits, sketch_edits
from anzel.app.edits.project_edits import typed_length
from anzel.app.opening_actions import add_opening
from anzel.app.picked_actions import piece_thing
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.core.findings import MakerError, ParameterError
from anzel.core.number_format import plain_length
from anzel.geometry.rigid_transform import Point
from anzel.project.bounds import framed_piece
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.shape.outline_building import region_of
from anzel.shape.path_drawing import with_drawn_path
from anzel.shape.sketch import Sketch
from anzel.shape.sketch_changes import ends_of, split_leg
from anzel.shape.sketch_solver import Freedom, SketchSolver, freedom_of, solved
from anzel.structure.dimension import Dimension
from anzel.structure.free.sketch_dimensions import sketch_dimensions
from anzel.structure.neighbours import neighbours_of
from anzel.structure.openings.plate_opening import OpeningKind
from anzel.ui.main_thread import MainThread
from anzel.ui.steps.picture_controller import PictureController
from anzel.ui.views.sketch_content import SketchContent
from anzel.ui.views.sketch_view import SketchView
from anzel.ui.views.unfinished_path import UnfinishedPath
from anzel.ui.widgets.common_widgets import button, quiet
from anzel.ui.widgets.flow_layout import FlowLayout
from anzel.ui.widgets.leg_bar import LegBar
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.openings_panel import add_fitting, add_plain

Places = dict[str, Point]
"""Where dragged points shall be, by id."""
_PICTURE_MS = 3
"""A preview of a dragged point waits so long for what else is to be painted, ms."""


class SketchController(QObject):
    """Connects the view of a plate to the session; solves aside while a point is dragged."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._solving = Background(MainThread(self).post, "anzel-sketch")
        self._newest = Newest(self._solving, shows_each=True)
        self._preview: Sketch | None = None
        self._solver: tuple[Sketch, tuple[str, ...], SketchSolver] | None = None
        self._places: Places = {}
        self._solved_for: Places = {}
        self._content: SketchContent | None = None
        self._sizes_of_openings: tuple[Dimension, ...] = ()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_PICTURE_MS)
        self._soon.timeout.connect(self._show_preview)
        self._is_dropped = False
        self._path_plate = ""
        self._freedom: tuple[Sketch, Freedom] | None = None
        self.view = SketchView()
        self.view.step = session.navigation.grid_step
        self.pictures = PictureController(session, self.view, self._solving)
        self.page = self._page()
        selection = session.selection
        self.view.picked.connect(
            lambda thing, added: selection.toggle(thing) if added else selection.pick(thing)
        )
        self.view.band_drawn.connect(self._pick_within)
        self.view.left.connect(self._leave)
        self.view.dragged.connect(self._drag)
        self.view.leg_dragged.connect(self._drag_leg)
        self.view.dropped.connect(self._drop)
        self.view.cancelled.connect(self._cancel)
        self.view.nudged.connect(self._nudge)
        self.view.split_wanted.connect(self._split)
        self.view.stepped.connect(self._step)
        self.view.path_changed.connect(self.leg_bar.refresh)
        self.view.path_closed.connect(self._close_path)
        self.view.path_left.connect(self.leave_path)
        self.leg_bar.changed.connect(self.view.update)
        self.leg_bar.closed.connect(self._close_path)
        self.leg_bar.left.connect(self.leave_path)

    @property
    def plate(self) -> str:
        """The plate that is drawn."""
        return self._session.navigation.drawn_plate

    @property
    def sketch(self) -> Sketch | None:
        """Its sketch, or the outline that a form makes; None while there is none."""
        project = self._session.project
        if project.structure.has_free_plates:
            return sketch_edits.sketch_if_there(project, self.plate)
        return opening_edits.outline_of(project, self.plate)

    @property
    def _is_of_form(self) -> bool:
        """Whether a form makes the plate, so that only openings and corners are the maker's."""
        return not self._session.project.structure.has_free_plates

    def _page(self) -> QWidget:
        """The view over a bar: what can be added, what is free, the way back."""
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.view, 1)
        self._bar = QWidget()
        around = QVBoxLayout(self._bar)
        around.setContentsMargins(10, 4, 10, 6)
        bar = FlowLayout(spacing=8)
        around.addLayout(bar)
        self.add = button("Add an opening")
        self._menu = QMenu(self.add)
        self._menu.aboutToShow.connect(self.fill_menu)
        self.add.setMenu(self._menu)
        bar.addWidget(self.add)
        self._says = quiet("")
        self._says.setWordWrap(False)
        self.grid = MeasureField("Grid", self._take_grid, wide=48)
        self.grid.show_value(plain_length(self.view.step))
        back = button("Back to all pieces", "Flat")
        back.clicked.connect(lambda: self._session.navigation.draw(""))
        for widget in (self._says, self.grid, back):
            bar.addWidget(widget)
        bar.push_last()
        column.addWidget(self._bar)
        self.leg_bar = LegBar()
        self.leg_bar.show_path(None)
        for under in (self.leg_bar, self.pictures.points, self.pictures.trace):
            column.addWidget(under)
        return page

    def fill_menu(self) -> QMenu:
        """Fill the menu of openings with those that the plate can have."""
        menu = self._menu
        menu.clear()
        if self._is_of_form:
            add_plain(menu, self.place_opening)
        else:
            for kind in sketch_actions.OPENINGS:
                menu.addAction(kind.capitalize(), partial(self.add_opening, kind))
        add_fitting(menu, self.place_opening)
        if not self._is_of_form:
            menu.addSeparator()
            menu.addAction("Drawn corner by corner", partial(self.begin_path, is_outline=False))
            menu.addAction("The outline anew, corner by corner",
                           partial(self.begin_path, is_outline=True))  # fmt: skip
        return menu

    def place_opening(self, kind: OpeningKind) -> None:
        """Put an opening on the plate, placed from the picked leg or the bottom edge."""
        legs = [t.name for t in self._session.selection.things if t.kind is ThingKind.LEG]
        edges = opening_edits.edges_for(self._session.project, self.plate)
        edge = next((leg for leg in legs if leg in edges), "bottom")
        made = add_opening(self._session, self.plate, kind, edge)
        if made:
            self._session.selection.pick(piece_thing(self._session.project, self.plate))

    def _take_grid(self, text: str) -> None:
        step = typed_length(text, "grid")
        if step <= 0:
            raise ParameterError("The grid needs a step of more than 0.", field="grid")
        self.view.step = self._session.navigation.grid_step = step
        self.grid.show_value(plain_length(step))

    def add_opening(self, kind: str) -> None:
        """Put an opening into the plate."""
        sketch_actions.add_opening(self._session, self.plate, kind)

    def begin_path(self, *, is_outline: bool) -> None:
        """Draw an opening or the outline corner by corner, by clicking or typing."""
        self._show_path(UnfinishedPath(is_outline=is_outline))
        self._path_plate = self.plate
        self.view.setFocus()

    def leave_path(self) -> None:
        """Draw no path any more; nothing has changed."""
        if self.view.unfinished is not None and len(self.view.unfinished.corners) > 1:
            self._session.status.show("The path was left out")
        self._show_path(None)

    def _show_path(self, path: UnfinishedPath | None) -> None:
        self.view.unfinished = path
        self._bar.setVisible(path is None)
        self.leg_bar.show_path(path)
        self.view.update()

    def _close_path(self) -> None:
        """Make an opening or the outline of the path; say under it what is wrong."""
        path, sketch, plate = self.view.unfinished, self.sketch, self.plate
        if path is None or path.start is None or sketch is None:
            return
        try:
            made, name = with_drawn_path(sketch, path.start, path.legs, is_outline=path.is_outline)
            sketch_edits.change_sketch(self._session.project, plate, made)
        except ParameterError as error:
            self.leg_bar.show_error(error)
            return
        self._show_path(None)
        words = "Outline drawn" if path.is_outline else f"{name.capitalize()} drawn"
        self._change(words, made)
        if not path.is_outline:
            self._session.pick_made(Thing(ThingKind.OPENING, name, plate))

    def refresh(self) -> None:
        """Show the plate and what is picked on it as they are now."""
        sketch = self.sketch
        self.pictures.check(self.plate)
        if self.view.unfinished is not None and self._path_plate != self.plate:
            self.leave_path()
        if sketch is None:
            self._session.navigation.draw("")
            return
        self.grid.setVisible(not self._is_of_form)
        if self._is_of_form:
            self._says.setText("The form makes its outline; openings and corners are yours")
            self._show(sketch, frozenset())
            return
        if self._freedom is None or self._freedom[0] is not sketch:
            self._freedom = (sketch, freedom_of(sketch))
        free = self._freedom[1]
        ways = f"{free.count} way{'s' * (free.count != 1)}"
        self._says.setText(f"Still free in {ways}" if free.count else "All of it holds")
        self._show(sketch, free.points)

    def _show(self, sketch: Sketch, free: frozenset[str]) -> None:
        """Show the plate with all that is about it."""
        project, plate = self._session.project, self.plate
        solved = solved_structure_of(project)
        piece = next((piece for piece in solved.pieces if piece.name == plate), None)
        is_cut = self._is_of_form and piece is not None
        try:
            region = piece.region if piece is not None and is_cut else region_of(sketch)
        except MakerError:
            return  # the last good outline stays
        openings = opening_edits.openings_of(project, plate)
        is_changed = piece is not None and bool(piece.features or openings)
        tint = project.tints.get(opening_edits.stock_of(project, plate), "#e8d3ad")
        self._sizes_of_openings = tuple(opening_edits.dimensions_of(project, plate))
        self._content = SketchContent(
            plate, sketch, region, tint,
            produced=piece.region if piece is not None and is_changed and not is_cut else None,
            dimensions=self._dimensions(sketch),
            picked=self._session.selection.things, free=free, is_fixed=self._is_of_form,
            picture=picture_edits.picture_of(project, plate),
            lines=piece.lines if piece is not None else (),
            frame=framed_piece(project.bounds, region),
            neighbours=neighbours_of(solved, fit_context_of(project), plate),
        )  # fmt: skip
        self.view.show_content(self._content)

    def _dimensions(self, sketch: Sketch) -> tuple[Dimension, ...]:
        sizes = sketch_dimensions(self.plate, sketch, with_angles=True)
        return (*sizes, *self._sizes_of_openings)

    def _show_preview(self) -> None:
        """Show where a dragged point has come to; what is about the plate stays."""
        sketch, content = self._preview, self._content
        if sketch is None or content is None:
            return
        if self._places != self._solved_for and not self._is_dropped:
            self._solve()
        with suppress(MakerError):  # what a drag has come to is no outline; the last good one stays
            region, dimensions = region_of(sketch), self._dimensions(sketch)
            self.view.show_content(
                replace(content, sketch=sketch, region=region, dimensions=dimensions)
            )

    def _drag(self, name: str, x: float, y: float) -> None:
        sketch = self.sketch
        if sketch is None:
            return
        self._drag_to(sketch, {name: (x, y)})

    def _drag_leg(self, leg: str, dx: float, dy: float) -> None:
        """Move a leg: both of its ends by the same way."""
        sketch = self.sketch
        if sketch is None:
            return
        places = sketch.places()
        ends = ends_of(sketch, leg)
        self._drag_to(sketch, {end: (places[end][0] + dx, places[end][1] + dy) for end in ends})

    def _drag_to(self, sketch: Sketch, places: Places) -> None:
        self._is_dropped, self._places = False, places
        if self._solver is None or self._solver[:2] != (sketch, tuple(places)):
            self._solver = (sketch, tuple(places), SketchSolver(sketch, places))
        if not self._newest.is_working and not self._soon.isActive():
            self._solve()

    def _solve(self, *, is_preview: bool = True) -> None:
        """Solve aside for where the point is now; one solution after the other is shown."""
        if self._solver is None or not self._places:
            return
        self._solved_for = places = self._places
        solver = self._solver[2]
        self._newest.start(
            lambda _: solver.solve(places, is_preview=is_preview),
            done=self._arrived, failed=self._refused,
        )  # fmt: skip

    def _arrived(self, sketch: Sketch) -> None:
        self._preview = sketch
        if not self._soon.isActive():  # no more pictures than a screen can show
            self._soon.start()
        if self._is_dropped and not self._newest.is_working:
            self._keep()

    def _refused(self, error: MakerError) -> None:
        self._session.status.warn(error)
        if self._is_dropped and not self._newest.is_working:
            self._keep()

    def _drop(self) -> None:
        """Keep where the point was let go, once it is solved to the last digit."""
        self._is_dropped = True
        self._solve(is_preview=False)

    def _keep(self) -> None:
        made, self._preview, self._is_dropped = self._preview, None, False
        if made is not None:
            self._change("Moved", made)

    def _cancel(self) -> None:
        self._newest.cancel()
        self._preview, self._is_dropped = None, False
        self.refresh()

    def _nudge(self, name: str, x: float, y: float) -> None:
        sketch = self.sketch
        if sketch is not None:
            plate = self.plate
            self._session.attempt(
                "Point moved",
                lambda p: sketch_edits.change_sketch(p, plate, solved(sketch, {name: (x, y)})),
            )

    def _split(self, leg: str, t: float) -> None:
        made: list[str] = []

        def edit(sketch: Sketch) -> Sketch:
            changed, point = split_leg(sketch, leg, t)
            made.append(point)
            return changed

        thing = Thing(ThingKind.LEG, leg, self.plate)
        if sketch_actions.change(self._session, (thing,), "Leg split", edit):
            self._session.pick_made(Thing(ThingKind.POINT, made[-1], self.plate))

    def _change(self, words: str, sketch: Sketch) -> None:
        plate = self.plate
        if not self._session.attempt(words, lambda p: sketch_edits.change_sketch(p, plate, sketch)):
            self.refresh()

    def _leave(self) -> None:
        """One level up: to the plate, and from there to all pieces."""
        selection = self._session.selection
        if selection.one(ThingKind.PLATE, ThingKind.PIECE) is not None or not selection.things:
            self._session.navigation.draw("")
        selection.go_up()

    def _pick_within(self, box: QRectF) -> None:
        """Pick the points within a rubber band."""
        sketch = self.sketch
        if sketch is None or self._is_of_form:
            return
        inside = [name for name, at in sketch.places().items() if box.contains(*at)]
        self._session.selection.pick(*(Thing(ThingKind.POINT, name, self.plate) for name in inside))

    def _step(self, by: int) -> None:
        """Pick the next point, leg or opening, or the one before."""
        sketch = self.sketch
        if sketch is None or self._is_of_form:
            return
        found = sketch_edits.things_on(self._session.project, self.plate)
        things = [
            Thing(ThingKind(kind), name, self.plate) for kind, ids in found.items() for name in ids
        ]
        picked = self._session.selection.picked
        at = things.index(picked) + by if picked in things else 0
        self._session.selection.pick(things[at % len(things)])

    def release(self) -> None:
        """End solving for good."""
        self._solving.close()
