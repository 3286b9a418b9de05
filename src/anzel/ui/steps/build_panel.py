"""The panel of the build step: one picked thing at a time, or the whole.

The page of a kind of thing is loaded and made when such a thing is first picked.
"""

from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from anzel.app.edits import opening_edits, sketch_edits
from anzel.app.edits.profile_curve_edits import WHICH
from anzel.app.picked_actions import piece_thing
from anzel.app.selection import ON_A_PLATE, Thing, ThingKind
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.project.derive import solved_structure_of
from anzel.structure.dimension import SEPARATOR
from anzel.ui.views.refit_paths import KeptRefitPaths
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import Panel
from anzel.ui.widgets.joint_page import JointPage
from anzel.ui.widgets.picked_buttons import PickedButtons
from anzel.ui.widgets.picked_line import PickedLine
from anzel.ui.widgets.thing_page import ThingPage
from anzel.ui.widgets.whole_page import WholePage

if TYPE_CHECKING:
    from anzel.ui.steps.drawing_controller import DrawingController
    from anzel.ui.widgets.openings_panel import OpeningsPanel
    from anzel.ui.widgets.piece_page import PiecePage
    from anzel.ui.widgets.plate_page import PlatePage
    from anzel.ui.widgets.profile_panel import ProfilePanel


def _share_a_page(things: tuple[Thing, ...]) -> bool:
    """Return whether several things are changed together on the page of the last one."""
    kinds = {thing.kind for thing in things}
    return things[0].kind in ON_A_PLATE or kinds in ({ThingKind.JOINT}, {ThingKind.PLATE})


class BuildPanel(Panel):
    """A page for each kind of thing; the line on top says which thing, and leads up."""

    draw_wanted = Signal()
    picture_wanted = Signal(str)

    def __init__(self, session: Session) -> None:
        self.line = PickedLine()
        super().__init__(self.line)
        self._session = session
        self.whole, self.joint = WholePage(session), JointPage(session)
        self._made: dict[ThingKind, QWidget] = {ThingKind.JOINT: self.joint}
        self.refit_paths = KeptRefitPaths()
        self._found: DrawingController | None = None
        self._actions = PickedButtons(session)
        self._bottom = self.body.count()
        self.add(self.whole, self.joint, self._actions)
        self.body.addStretch(1)
        self.line.up_wanted.connect(session.selection.go_up)
        self.line.stepped.connect(self._step)

    @property
    def plate(self) -> "PlatePage":
        """The page of a plate."""
        return cast("PlatePage", self._page(ThingKind.PLATE))

    @property
    def profile(self) -> "ProfilePanel":
        """The page of a lamp's curve."""
        return cast("ProfilePanel", self._page(ThingKind.CURVE))

    @property
    def found(self) -> "DrawingController":
        """Found drawings, with their view and their pages."""
        if self._found is None:
            from anzel.ui.steps.drawing_controller import DrawingController

            self._found = DrawingController(self._session, self.refit_paths)
            for page in (self._found.panel, self._found.feature):
                self._add(page)
            self._made[ThingKind.FEATURE] = self._found.feature
        return self._found

    @property
    def fields(self) -> dict[str, BoundField]:
        """The number fields of the whole and of the joint in hand, or of the picked plate."""
        if self._session.project.structure.has_free_plates:
            return self.plate.fields
        self.joint.prepare()
        return {**self.whole.form.fields, **self.joint.fields}

    def refresh(self) -> None:
        """Show what is picked now."""
        project, things = self._session.project, self._session.selection.things
        has_drawings = project.structure.has_drawings
        if has_drawings:
            self.found.refresh()
        whole: QWidget = self.found.panel if has_drawings else self.whole
        is_one_page = len(things) == 1 or (things and _share_a_page(things))
        page = self._page(things[0].kind) if is_one_page else whole
        page = page or whole
        for each in {self.whole, *self._made.values(), whole}:
            each.setVisible(each is page)
        if isinstance(page, ThingPage):
            page.refresh()
        self._actions.refresh()
        if page is whole and not things:
            self.line.show_picked(project.name)
        else:
            above = things[0].of if things[0].kind in ON_A_PLATE else project.name
            self.line.show_picked(self._title(things), above, can_step=len(things) == 1)

    def sketch_things(self, thing: Thing) -> list[Thing]:
        """Return all things of a kind on the plate of one."""
        ids = sketch_edits.things_on(self._session.project, thing.of)
        return [Thing(thing.kind, name, thing.of) for name in ids[thing.kind.value]]

    def focus_field(self, name: str) -> None:
        """Show a number of the form or of the picked plate, ready to be typed over."""
        selection, plate = self._session.selection, ""
        if SEPARATOR in name:
            plate, _, name = name.rpartition(SEPARATOR)
            selection.pick(piece_thing(self._session.project, plate))
            opening, _, number = name.partition(" ")
            if opening_edits.opening_of_joint(self._session.project, opening) is not None:
                self._openings().focus(opening, number)
                return
        elif not self._session.project.structure.has_free_plates:
            in_joint = name in self.joint.fields
            selection.pick_joint(selection.joint_id) if in_joint else selection.pick_whole()
        if name in self.fields:
            self.fields[name].focus()

    def _openings(self) -> "OpeningsPanel":
        """The openings of the picked plate or piece."""
        page = self._page(self._session.selection.things[0].kind)
        return cast("PlatePage | PiecePage", page).openings

    def _page(self, kind: ThingKind) -> QWidget | None:
        """Return the page of a kind of thing, made when first needed."""
        makers = {
            ThingKind.PLATE: self._make_plate, ThingKind.PIECE: self._make_piece,
            ThingKind.CURVE: self._make_profile, ThingKind.POINT: self._make_sketch,
        }  # fmt: skip
        kind = ThingKind.POINT if kind in ON_A_PLATE else kind
        if kind not in self._made and kind in makers:
            self._made[kind] = page = makers[kind]()
            self._add(page)
        return self._made.get(kind)

    def _make_plate(self) -> ThingPage:
        from anzel.ui.widgets.plate_page import PlatePage

        page = PlatePage(self._session)
        page.picture_wanted.connect(self.picture_wanted)
        return page

    def _make_piece(self) -> ThingPage:
        from anzel.ui.widgets.piece_page import PiecePage

        page = PiecePage(self._session)
        page.picture_wanted.connect(self.picture_wanted)
        return page

    def _make_profile(self) -> ThingPage:
        from anzel.ui.widgets.profile_panel import ProfilePanel

        page = ProfilePanel(self._session)
        page.large_wanted.connect(self.draw_wanted)
        return page

    def _make_sketch(self) -> ThingPage:
        from anzel.ui.widgets.sketch_page import SketchPage

        return SketchPage(self._session)

    def _add(self, page: QWidget) -> None:
        self.body.insertWidget(self._bottom, page)

    def _title(self, things: tuple[Thing, ...]) -> str:
        """Return what is picked in words."""
        if len(things) != 1 and len({thing.kind for thing in things}) > 1:
            return " and ".join(f"{thing.kind.value} {thing.name}" for thing in things[:2])
        if len(things) != 1:
            return f"{len(things)} {things[0].kind.value}s"
        thing = things[0]
        if thing.kind is ThingKind.JOINT:
            joints = solved_structure_of(self._session.project).joints
            title = next((joint.title for joint in joints if joint.id == thing.name), "")
            return f"{thing.name}  {title}"
        if thing.kind is ThingKind.CURVE:
            return WHICH[thing.name].capitalize()
        return field_title(thing.name) if thing.kind is ThingKind.FEATURE else thing.name

    def _step(self, by: int) -> None:
        """Pick the next or previous thing of the kind that is picked."""
        picked = self._session.selection.picked
        if picked is None:
            pieces = solved_structure_of(self._session.project).pieces
            if pieces and not self._session.project.structure.has_drawings:
                self._session.selection.pick(piece_thing(self._session.project, pieces[0].name))
            return
        siblings = self._siblings(picked)
        at = siblings.index(picked) if picked in siblings else -by
        self._session.selection.pick(siblings[(at + by) % len(siblings)])

    def _siblings(self, thing: Thing) -> list[Thing]:
        project = self._session.project
        match thing.kind:
            case ThingKind.JOINT:
                names = [joint.id for joint in solved_structure_of(project).joints]
            case ThingKind.CURVE:
                names = list(WHICH)
            case ThingKind.FEATURE:
                return self.found.features()
            case ThingKind.POINT | ThingKind.LEG | ThingKind.OPENING:
                return self.sketch_things(thing)
            case ThingKind.PLATE:
                names = self.whole.plate_names()
            case _:
                names = [piece.name for piece in solved_structure_of(project).pieces]
        return [Thing(thing.kind, name, thing.of) for name in names] or [thing]
