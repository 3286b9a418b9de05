"""The picked joint: the fit lens on one of its sizes, its fit, and its few settings."""

from PySide6.QtWidgets import QVBoxLayout

from anzel.app.edits import opening_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.views.fit_lens import LensRow, lens_rows, outside_words
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.ui.views.fit_lens_view import FitLensView
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import quiet
from anzel.ui.widgets.fit_choice import FitChoice
from anzel.ui.widgets.form_fields import FormFields
from anzel.ui.widgets.joint_change_fields import JointChangeFields
from anzel.ui.widgets.joint_fields import JointFields
from anzel.ui.widgets.opening_fields import OpeningFields
from anzel.ui.widgets.thing_page import ThingPage
from anzel.ui.widgets.wheel_safe import Choice


class JointPage(ThingPage):
    """Everything about one joint."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown, self._lens_index = "", 0
        self.sizes = Choice()
        self.sizes.setAccessibleName("Size shown in the fit lens")
        self.sizes.activated.connect(self._choose_size)
        self.lens = FitLensView()
        self.outside = quiet("")
        self.fit = FitChoice(session)
        self._form = FormFields(session, of_joint=True)
        self.free = JointFields(session)
        self.alone = JointChangeFields(session)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.opening = OpeningFields(session)
        for widget in (self.sizes, self.lens, self.outside, self.fit, self._form, self.alone,
                       self.free, self.opening):  # fmt: skip
            column.addWidget(widget)

    @property
    def fields(self) -> dict[str, BoundField]:
        """The number fields of the joint, by parameter."""
        is_free = self._session.project.structure.has_free_plates
        return self.free.fields if is_free else self._form.fields

    def prepare(self) -> None:
        """Make the fields of the form in hand, whatever is shown."""
        if not self._session.project.structure.has_free_plates:
            self._form.refresh()

    def refresh(self) -> None:
        """Show the joint in hand as it is now."""
        session = self._session
        if session.selection.joint_id != self._shown:
            self._shown, self._lens_index = session.selection.joint_id, 0
        is_free = session.project.structure.has_free_plates
        opening = opening_edits.opening_of_joint(session.project, session.selection.joint_id)
        self._form.setVisible(not is_free and opening is None)
        self.free.setVisible(is_free)
        (self.free if is_free else self._form).refresh()
        self.alone.refresh()
        if opening is None:
            self.opening.show_nothing()
        else:
            self.opening.show_opening(opening.id)
        rows = self._rows()
        self._lens_index = min(self._lens_index, max(len(rows) - 1, 0))
        self.sizes.clear()
        self.sizes.addItems([row.title for row in rows])
        self.sizes.setCurrentIndex(self._lens_index)
        self._show_lens(rows)

    def _rows(self) -> tuple[LensRow, ...]:
        project, joint = self._session.project, self._session.selection.joint
        if joint is None:
            return ()
        pieces = {piece.name: piece for piece in solved_structure_of(project).pieces}
        return lens_rows(joint, pieces, fit_context_of(project))

    def _show_lens(self, rows: tuple[LensRow, ...]) -> None:
        project, joint = self._session.project, self._session.selection.joint
        self.fit.refresh()
        fit = joint.fit if joint is not None and joint.fit is not None else project.fits.in_use
        row = rows[self._lens_index] if rows else None
        self.lens.show_row(row, project.tints, fit.value)
        self.outside.setVisible(row is not None)
        if row is not None:
            kerf = fit_context_of(project).of(row.own.stock_id).kerf
            self.outside.setText(shown(outside_words(row, kerf)))

    def _choose_size(self, index: int) -> None:
        self._lens_index = index
        self._show_lens(self._rows())
