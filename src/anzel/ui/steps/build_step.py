"""The build step: flat pieces and the standing structure side by side, and what is picked."""

from collections.abc import Set
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget

from anzel.app.edits import (
    drawing_edits,
    free_structure_edits,
    joint_edits,
    opening_edits,
    relation_edits,
)
from anzel.app.listeners import Changed
from anzel.app.picked_actions import piece_thing
from anzel.app.placing import outline_of, place, side_under
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.geometry.placement import Vector
from anzel.layout.rows import in_rows
from anzel.project.assembly import proven_partings
from anzel.project.bounds import framed_box
from anzel.project.derive import fit_context_of, settled_form, solved_structure_of
from anzel.project.model import Project
from anzel.structure.model import Piece
from anzel.structure.relations.records import Side
from anzel.ui.modal import run
from anzel.ui.steps.build_panel import BuildPanel
from anzel.ui.steps.standing_side import StandingSide
from anzel.ui.steps.step_page import FollowingPage
from anzel.ui.views.plan_view import PlanContent, PlanShapes, PlanView
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.free_panel import FreePanel
from anzel.ui.widgets.side_by_side import SideBySide

if TYPE_CHECKING:
    from anzel.ui.steps.sketch_controller import SketchController

_USUAL_SIZES, _DRAWN_SIZES = [400, 420], [560, 260]
"""Of the flat and the standing view, pixels; a plate that is drawn has more room."""


class BuildStep(FollowingPage):
    """The structure: views and a panel, linked by what is picked."""

    write_wanted = Signal(str)
    bring_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._is_wired = False
        self.flat, self.side = PlanView("Flat pieces"), StandingSide()
        self.standing, self.slider, self.lamp = self.side.view, self.side.slider, self.side.lamp
        self.panel = BuildPanel(session)
        self._left = QStackedWidget()
        self._left.addWidget(self.flat)
        self._sketch: SketchController | None = None
        self._rows: tuple[tuple[Piece, ...], float, PlanShapes] | None = None
        titles = ("Flat pieces", "Standing structure")
        self.both = SideBySide("build", self._left, self.side, titles)
        self._views = QStackedWidget()
        self._views.addWidget(self.both)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._views, 1)
        row.addWidget(self.panel)
        self.flat.joint_picked.connect(self._pick_joint)
        self.flat.piece_picked.connect(self._pick_piece)
        self.flat.resized.connect(self._show_flat)
        self.flat.stepped.connect(session.selection.pick_next_joint)
        self.flat.dimension_clicked.connect(self.panel.focus_field)
        self.standing.joint_picked.connect(self._pick_joint)
        self.standing.piece_picked.connect(self._pick_piece)
        self.standing.plate_moved.connect(self._carried)
        self.standing.offer_taken.connect(lambda number: self.free.take(number))
        self.standing.side_picked.connect(self._pick_side)
        for view in (self.flat, self.standing):
            view.left.connect(self._leave)
            view.pieces_picked.connect(self._pick_several)
        self.panel.draw_wanted.connect(self._draw_large)
        self.panel.picture_wanted.connect(self._work_on_picture)
        session.prepare = self._work_out
        self._follow()
        self.refresh()

    @property
    def free(self) -> FreePanel:
        """What belongs to a free structure as a whole."""
        return self.panel.whole.free

    @property
    def fields(self) -> dict[str, BoundField]:
        """The number fields in hand, by parameter."""
        return self.panel.fields

    def _show_changes(self, changes: Set[Changed]) -> None:
        super()._show_changes(changes)
        if Changed.ASSEMBLY in changes:
            self.standing.part_on(proven_partings(self._session.project))

    def refresh(self) -> None:
        """Show the structure and the pick as they are now."""
        project, selection = self._session.project, self._session.selection
        self.panel.refresh()
        if project.structure.has_drawings:
            self._show_found()
            return
        self._views.setCurrentIndex(0)
        if self._session.navigation.drawn_plate:
            self.sketch.refresh()
        is_drawn = bool(self._session.navigation.drawn_plate)
        if is_drawn is not (self._left.currentWidget() is not self.flat):
            self._left.setCurrentWidget(self.sketch.page if is_drawn else self.flat)
            self.both.setSizes(_DRAWN_SIZES if is_drawn else _USUAL_SIZES)
        self._show_flat()
        bulb = settled_form(project).bulb(fit_context_of(project))
        self.standing.movable = project.structure.has_free_plates
        offered: tuple[Vector, ...] = ()
        if self.standing.movable:
            offered = tuple(offer.at for offer in joint_edits.suggestions_of(project))
        chosen = (*selection.names(ThingKind.PLATE), *selection.names(ThingKind.PIECE))
        plates = chosen or tuple(filter(None, (selection.plate_name,)))
        self.standing.leave_out(self._session.visibility.hidden)
        self.standing.show_build(
            solved_structure_of(project), fit_context_of(project), project.tints,
            selection.names(ThingKind.JOINT), pieces=plates, offered=offered,
            bulb=bulb, lit_through=project.lit_through,
            frame=framed_box(project.bounds, solved_structure_of(project)),
            proven=proven_partings(project),
        )  # fmt: skip
        self.lamp.setVisible(bulb is not None)
        self._show_placing()

    def _show_placing(self) -> None:
        """Whether sides are being picked, and the one that was picked first."""
        placing, project = self._session.placing, self._session.project
        self.standing.picks_sides = placing.is_on
        self.side.say(placing.words if placing.is_on else "")
        first = placing.first
        self.standing.show_side(outline_of(project, first) if first is not None else ())

    def _pick_side(self, piece: str, at: Vector) -> None:
        """A side was picked: the first one waits, the second places it."""
        project, placing = self._session.project, self._session.placing
        try:
            plate = piece and self._plate_at(piece)
            second = side_under(project, plate, at) if plate else Side()
        except MakerError as error:
            self._session.status.warn(error)
            return
        first = placing.take(second)
        if first is not None:
            words = f"{first.words} to {second.words}"
            self._session.attempt(words, lambda p: place(p, first, second))
            self.refresh()

    def _plate_at(self, piece: str) -> str:
        """Return the plate of a piece: members of repeats are plates of their own here."""
        placements = relation_edits.expanded_of(self._session.project).placements
        return piece if piece in placements else piece_thing(self._session.project, piece).name

    def _leave(self) -> None:
        """End picking sides, or pick the whole."""
        if self._session.placing.is_on:
            self._session.placing.stop()
        else:
            self._session.selection.pick_whole()

    @property
    def sketch(self) -> "SketchController":
        """A plate drawn large, made when first needed."""
        if self._sketch is None:
            from anzel.ui.steps.sketch_controller import SketchController

            self._sketch = SketchController(self._session)
            self._sketch.view.dimension_clicked.connect(self.panel.focus_field)
            self._left.addWidget(self._sketch.page)
        return self._sketch

    def _work_on_picture(self, what: str) -> None:
        """Scale or level the picture behind the picked plate, or take its outline."""
        plate = self._session.selection.plate_name
        piece = self._session.selection.one(ThingKind.PIECE)
        if piece is not None:
            plate = opening_edits.plate_behind(self._session.project, piece.name)
        self._session.navigation.draw(plate)
        self.sketch.pictures.begin(what)

    def release(self) -> None:
        """End all background work of the views."""
        self.standing.release()
        if self._sketch is not None:
            self._sketch.release()

    def _show_found(self) -> None:
        """Drawings in place of a structure: they do not say what stands where."""
        found = self.panel.found
        if not self._is_wired:
            self._is_wired = True
            found.panel.write_wanted.connect(self.write_wanted)
            found.panel.bring_wanted.connect(self.bring_wanted)
            found.view.left.connect(self._session.selection.pick_whole)
            self._views.addWidget(found.view)
        self._views.setCurrentWidget(found.view)

    def _show_flat(self) -> None:
        project, selection = self._session.project, self._session.selection
        shapes = self._shapes_of(project)
        dimensions = settled_form(project).all_dimensions(fit_context_of(project))
        self.flat.show_content(
            PlanContent(
                shapes.plan, project.tints, dimensions=dimensions,
                picked=frozenset(selection.names(ThingKind.JOINT)),
                pieces=frozenset(
                    (*selection.names(ThingKind.PIECE), *selection.names(ThingKind.PLATE))
                ),
                caption="Flat, as drawn", bounds=project.bounds,
            ),
            shapes,
        )  # fmt: skip

    def _shapes_of(self, project: Project) -> PlanShapes:
        """Return the flat pieces in rows; while a change is worked out this is called aside."""
        pieces = solved_structure_of(project).pieces
        aspect = self.flat.width() / max(self.flat.height(), 1)
        kept = self._rows
        if kept is not None and kept[0] is pieces and kept[1] == aspect:
            return kept[2]
        plan = in_rows(pieces, aspect)  # of another width the rows are often the same
        shapes = kept[2] if kept is not None and kept[2].plan == plan else PlanShapes(plan)
        self._rows = pieces, aspect, shapes
        return shapes

    def _work_out(self, project: Project) -> None:
        """Work out what is shown of a project that is about to arrive."""
        if project.structure.has_drawings:
            drawings = drawing_edits.drawing_views(project)
            self.panel.refit_paths.of(project, drawings)
            for each in drawings:
                drawing_edits.kept_sizes(project, each)
        else:
            self._shapes_of(project)
            joint_edits.suggestions_of(project)

    def _pick_joint(self, joint_id: str, is_added: bool) -> None:
        self._pick(Thing(ThingKind.JOINT, joint_id), is_added)

    def _pick_piece(self, piece: str, is_added: bool) -> None:
        for thing in self._pieces_there([piece]):
            self._pick(thing, is_added)

    def _pick_several(self, names: list[str]) -> None:
        self._session.selection.pick(*self._pieces_there(names))

    def _pieces_there(self, names: list[str]) -> list[Thing]:
        """Return pieces by name; the picture that was clicked may be of a project that was left."""
        project = self._session.project
        there = {piece.name for piece in solved_structure_of(project).pieces}
        return list(dict.fromkeys(piece_thing(project, name) for name in names if name in there))

    def _pick(self, thing: Thing, is_added: bool) -> None:
        selection = self._session.selection
        selection.toggle(thing) if is_added else selection.pick(thing)

    def show_piece(self, name: str) -> None:
        """Pick a piece and bring it near."""
        self._pick_piece(name, False)
        self.flat.show_piece(name)

    def _draw_large(self) -> None:
        from anzel.ui.draw_dialog import DrawDialog

        run(DrawDialog(self, self._session))

    def _carried(self, name: str, by: Vector) -> None:
        """A plate was carried somewhere else."""
        if not self._session.attempt(
            f"{name} moved", lambda p: free_structure_edits.move_plate(p, name, by)
        ):
            self.refresh()
