"""Step 3: flat pieces and the standing structure side by side; what is picked, at the right."""

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QListWidget,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from anzel.app.listeners import Changed
from anzel.app.number_display import shown_length
from anzel.app.session import Session
from anzel.app.views.fit_lens import LensRow, lens_rows
from anzel.geometry.placement import Vector
from anzel.layout.rows import in_rows
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.scene.camera import EYES, VIEWS
from anzel.ui.views.fit_lens_view import FitLensView
from anzel.ui.views.plan_view import PlanContent, PlanView
from anzel.ui.views.view3d import View3D
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import Panel, button, fit_rows, heading
from anzel.ui.widgets.fit_choice import FitChoice
from anzel.ui.widgets.form_fields import FormFields
from anzel.ui.widgets.wheel_safe import Choice, Slider

if TYPE_CHECKING:
    from anzel.project.model import Project
    from anzel.ui.steps.drawing_controller import DrawingController
    from anzel.ui.widgets.free_panel import FreePanel
    from anzel.ui.widgets.profile_panel import ProfilePanel

_ROWS = 5
"""Joints listed without scrolling."""


class BuildStep(QWidget):
    """The structure: views and settings, linked by the picked joint."""

    write_wanted = Signal(str)
    bring_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._lens_index = 0
        self._free: FreePanel | None = None
        self._profile: ProfilePanel | None = None
        self._found: DrawingController | None = None
        self.flat = PlanView("Flat pieces")
        self.standing = View3D()
        self.lens = FitLensView()
        splitter = QSplitter(Qt.Orientation.Horizontal)
        splitter.setHandleWidth(5)
        splitter.setObjectName("build")
        splitter.addWidget(self.flat)
        splitter.addWidget(self._standing_side())
        splitter.setSizes([400, 420])
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self._views = QStackedWidget()
        self._views.addWidget(splitter)
        row.addWidget(self._views, 1)
        row.addWidget(self._panel())
        self.flat.joint_picked.connect(session.selection.pick_joint)
        self.flat.stepped.connect(session.selection.pick_next_joint)
        self.flat.dimension_clicked.connect(lambda field: self.fields[field].focus())
        self.standing.joint_picked.connect(session.selection.pick_joint)
        self.standing.plate_picked.connect(self._pick_plate)
        self.standing.plate_moved.connect(self._carried)
        self.standing.offer_taken.connect(lambda number: self.free.take(number))
        session.subscribe(self._changed)
        self.refresh()

    def _standing_side(self) -> QWidget:
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.standing, 1)
        bar = QHBoxLayout()
        bar.setContentsMargins(10, 4, 10, 6)
        bar.setSpacing(2)
        together = QLabel("together")
        apart = QLabel("apart")
        self.slider = Slider()
        self.slider.setRange(0, 100)
        self.slider.setAccessibleName("Pull apart")
        self.slider.valueChanged.connect(lambda value: self.standing.pull_apart(value / 100))
        for label in (together, apart):
            label.setObjectName("Quiet")
        bar.addWidget(together)
        bar.addWidget(self.slider, 1)
        bar.addWidget(apart)
        bar.addSpacing(8)
        for view in VIEWS:
            choice = button(view, "Flat")
            choice.setToolTip(f"Look from the {view}" if view != "above" else "Look from above")
            choice.clicked.connect(lambda _=False, view=view: self.standing.look_from(view))
            bar.addWidget(choice)
        column.addLayout(bar)
        column.addLayout(self._second_bar())
        return side

    def _second_bar(self) -> QHBoxLayout:
        """Cutting open, and how people see it."""
        bar = QHBoxLayout()
        bar.setContentsMargins(10, 0, 10, 6)
        bar.setSpacing(2)
        whole, opened = QLabel("whole"), QLabel("cut open")
        self.cut = Slider()
        self.cut.setRange(0, 95)
        self.cut.setAccessibleName("Cut open towards you")
        self.cut.valueChanged.connect(lambda value: self.standing.cut_open(value / 100))
        for widget in (whole, self.cut, opened):
            bar.addWidget(widget, int(widget is self.cut))
        whole.setObjectName("Quiet")
        opened.setObjectName("Quiet")
        bar.addSpacing(8)
        for who in EYES:
            choice = button(who, "Flat")
            choice.setToolTip(f"As somebody {who} at the table sees it, true to distance")
            choice.clicked.connect(lambda _=False, who=who: self.standing.look_from(who))
            bar.addWidget(choice)
        self.parallel = button("parallel", "Flat")
        self.parallel.setCheckable(True)
        self.parallel.setToolTip("Parallel lines stay parallel")
        self.parallel.clicked.connect(self.standing.in_parallel)
        bar.addWidget(self.parallel)
        self.lamp = button("lit", "Flat")
        self.lamp.setCheckable(True)
        self.lamp.setToolTip("The bulb on, in the dusk: roughly what glows and what shadows fall")
        self.lamp.clicked.connect(self.standing.turn_lamp)
        bar.addWidget(self.lamp)
        return bar

    def _panel(self) -> Panel:
        panel = Panel()
        self._title = heading("")
        self._joints = QListWidget()
        self._joints.setAccessibleName("Joints")
        self._joints.setUniformItemSizes(True)
        self._joints.currentRowChanged.connect(self._pick_row)
        self._sizes = Choice()
        self._sizes.setAccessibleName("Size shown in the fit lens")
        self._sizes.activated.connect(self._choose_size)
        self.fit = FitChoice(self._session)
        panel.add(self._title, self._joints, self._sizes, self.lens, self.fit)
        self._form = FormFields(self._session)
        self._own = QVBoxLayout()  # what only some forms have
        panel.body.addLayout(self._own)
        panel.add(self._form)
        panel.body.addStretch(1)
        return panel

    @property
    def profile(self) -> "ProfilePanel":
        """The profiles of a rib lamp, made when first needed."""
        if self._profile is None:
            from anzel.ui.widgets.profile_panel import ProfilePanel

            self._profile = ProfilePanel(self._session)
            self._profile.large_wanted.connect(self._draw_large)
            self._own.addWidget(self._profile)
        return self._profile

    @property
    def found(self) -> "DrawingController":
        """Found drawings, made when first needed."""
        if self._found is None:
            from anzel.ui.steps.drawing_controller import DrawingController

            self._found = DrawingController(self._session, self.lens)
            self._found.panel.write_wanted.connect(self.write_wanted)
            self._found.panel.bring_wanted.connect(self.bring_wanted)
            self._views.addWidget(self._found.view)
            self._own.addWidget(self._found.panel)
        return self._found

    @property
    def free(self) -> "FreePanel":
        """A free structure's plates and joints, made when first needed."""
        if self._free is None:
            from anzel.ui.widgets.free_panel import FreePanel

            self._free = FreePanel(self._session)
            self._free.setVisible(self._session.project.structure.has_free_plates)
            self._own.addWidget(self._free)
        return self._free

    @property
    def fields(self) -> dict[str, BoundField]:
        """The number fields of the form, or of the free plate, in hand, by parameter."""
        return self.free.fields if self.standing.movable else self._form.fields

    def _changed(self, changed: Changed) -> None:
        if changed is Changed.SELECTION:
            self._lens_index = 0
        if changed in (Changed.PROJECT, Changed.SELECTION):
            self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._show_flat()

    def refresh(self) -> None:
        """Show the structure and the pick as they are now."""
        project = self._session.project
        if project.structure.has_drawings:
            self._show_found(project)
            return
        self._views.setCurrentIndex(0)
        solved, tints = solved_structure_of(project), project.tints
        self._show_flat()
        bulb = project.structure.bulb(fit_context_of(project))
        self.standing.movable = project.structure.has_free_plates
        offered: tuple[Vector, ...] = ()
        if self.standing.movable:
            from anzel.app.edits.free_structure_edits import suggestions_of

            offered = tuple(offer.at for offer in suggestions_of(project))
        self.standing.show_build(
            solved, fit_context_of(project), tints, self._session.selection.joint_id,
            plate=self._session.selection.plate_name, offered=offered,
            bulb=bulb, lit_through=project.lit_through,
        )  # fmt: skip
        self.lamp.setVisible(bulb is not None)
        self._title.setText(project.name)
        self._joints.blockSignals(True)
        self._joints.show()
        self._joints.clear()
        for joint in solved.joints:
            width = shown_length(joint.features[-1].width.drawn)
            self._joints.addItem(f"{joint.id}   {joint.title}   {width}")
            if joint.id == self._session.selection.joint_id:
                self._joints.setCurrentRow(self._joints.count() - 1)
        self._joints.blockSignals(False)
        fit_rows(self._joints, _ROWS)
        self._show_sizes()
        self._show_form(project)

    def _show_found(self, project: "Project") -> None:
        """Drawings in place of a structure: they do not say what stands where."""
        self._title.setText(project.name)
        self._views.setCurrentWidget(self.found.view)
        for widget in (self._joints, self._sizes, self.fit):
            widget.hide()
        self._show_form(project)
        self.found.refresh()

    def _show_form(self, project: "Project") -> None:
        """The panel that goes with the kind of form."""
        if self._found is not None:
            self._found.panel.setVisible(project.structure.has_drawings)
        is_free, is_lamp = project.structure.has_free_plates, project.structure.has_profile_curves
        self._form.setVisible(not is_free)
        if is_free:
            self.free.refresh()
        else:
            self._form.refresh()
        if is_lamp:
            self.profile.refresh()
        if self._free is not None:
            self._free.setVisible(is_free)
        if self._profile is not None:
            self._profile.setVisible(is_lamp)

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.StyleChange:
            fit_rows(self._joints, _ROWS)

    def _show_flat(self) -> None:
        project = self._session.project
        aspect = self.flat.width() / max(self.flat.height(), 1)
        plan = in_rows(solved_structure_of(project).pieces, aspect)
        dimensions = project.structure.dimensions(fit_context_of(project))
        self.flat.show_content(
            PlanContent(
                plan, project.tints, dimensions=dimensions, picked=self._session.selection.joint_id,
                caption="Flat, as drawn",
            )
        )  # fmt: skip

    def _rows(self) -> tuple[LensRow, ...]:
        project, joint = self._session.project, self._session.selection.joint
        if joint is None:
            return ()
        pieces = {piece.name: piece for piece in solved_structure_of(project).pieces}
        return lens_rows(joint, pieces, fit_context_of(project))

    def _show_sizes(self) -> None:
        rows = self._rows()
        self._lens_index = min(self._lens_index, max(len(rows) - 1, 0))
        self._sizes.clear()
        self._sizes.addItems([row.title for row in rows])
        self._sizes.setCurrentIndex(self._lens_index)
        self._show_lens(rows)

    def _show_lens(self, rows: tuple[LensRow, ...]) -> None:
        project = self._session.project
        for widget in (self._sizes, self.lens, self.fit):
            widget.setVisible(not self._session.selection.plate_name)
        self.fit.refresh()
        joint = self._session.selection.joint
        fit = joint.fit if joint is not None and joint.fit is not None else project.fits.in_use
        row = rows[self._lens_index] if rows else None
        self.lens.show_row(row, project.tints, fit.value)

    def _choose_size(self, index: int) -> None:
        self._lens_index = index
        self._show_lens(self._rows())

    def _pick_row(self, row: int) -> None:
        joints = solved_structure_of(self._session.project).joints
        if 0 <= row < len(joints):
            self._session.selection.pick_joint(joints[row].id)

    def _pick_plate(self, piece: str) -> None:
        from anzel.app.edits.free_structure_edits import plate_behind

        self._session.pick_plate(plate_behind(self._session.project, piece))

    def show_piece(self, name: str) -> None:
        """Show a piece: pick its plate, or the first joint it is in, and bring it near."""
        from anzel.app.edits.free_structure_edits import plate_behind

        project = self._session.project
        if project.structure.has_free_plates:
            self._session.pick_plate(plate_behind(project, name))
        else:
            joints = solved_structure_of(project).joints
            first = next((joint.id for joint in joints if name in joint.pieces), "")
            if first:
                self._session.selection.pick_joint(first)
        self.flat.show_piece(name)

    def _draw_large(self) -> None:
        from anzel.ui.draw_dialog import DrawDialog

        DrawDialog(self, self._session).exec()

    def _carried(self, name: str, by: Vector) -> None:
        """A plate was carried somewhere else."""
        from anzel.app.edits.free_structure_edits import move_plate

        if not self._session.attempt(f"{name} moved", lambda p: move_plate(p, name, by)):
            self.refresh()
