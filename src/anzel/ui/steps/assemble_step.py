"""The assemble step: the structure at any moment of being built, by its proven order."""

from collections.abc import Set
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, Signal
from PySide6.QtWidgets import QAbstractItemView, QLabel, QVBoxLayout, QWidget

from anzel.app.background import Background, Newest
from anzel.app.edits import project_edits
from anzel.app.listeners import Changed
from anzel.app.number_display import shown
from anzel.app.proving import HELPER, mends_there
from anzel.app.selection import ThingKind
from anzel.app.session import Session
from anzel.app.views.assembly_play import Moment, moment_of, piece_words, step_words
from anzel.assembly.records import NOTHING, AssemblyProof
from anzel.project.assembly import known_assembly, summary
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.view3d import View3D
from anzel.ui.widgets.common_widgets import button, clear, fill_rows, named_list, quiet, section
from anzel.ui.widgets.time_bar import TimeBar
from anzel.ui.widgets.wishes_panel import WishesPanel

if TYPE_CHECKING:
    from anzel.project.mends import Mend

_ROWS = 11


class AssembleStep(StepPage):
    """Shows how the pieces go in, one after the other; the maker may wish for another order."""

    write_wanted = Signal(str)
    """What to write: a booklet, pictures of the steps, or solids."""

    def __init__(self, session: Session, jobs: Background) -> None:
        self.view, self.time = View3D(), TimeBar()
        self.view.setAccessibleName("Structure as it is built")
        self._says = QLabel()
        self._says.setObjectName("Section")
        self._says.setContentsMargins(12, 8, 12, 8)
        self._says.setWordWrap(True)
        self._job = Newest(jobs)
        self._mends: tuple[Project, tuple[Mend, ...]] | None = None
        self._below = False
        self._chosen: tuple[str, ...] = ()
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._says)
        column.addWidget(self.view, 1)
        column.addWidget(self.time)
        super().__init__(session, left)
        self.time.moved.connect(lambda _: self._show_moment())
        self.view.piece_picked.connect(self._pick)
        self.view.left.connect(session.selection.pick_whole)

    @property
    def proof(self) -> AssemblyProof:
        """The order as far as it is proven."""
        found = known_assembly(self._session.project)
        return found.proof if found is not None else NOTHING

    @property
    def is_working(self) -> bool:
        """Whether time runs, mends are looked for, or the picture is not there yet."""
        drawn = self.view.is_drawn or not self.view.isVisible()
        return self.time.is_playing or self._job.is_working or not drawn

    def release(self) -> None:
        """End the drawing."""
        self.time.stop()
        self.view.release()

    def _fill_panel(self) -> None:
        self.steps = named_list("Steps of assembly")
        self.steps.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.steps.itemSelectionChanged.connect(self._row_picked)
        self._piece = quiet("")
        self.wishes = WishesPanel(self._session)
        self._locked = QWidget()
        self._mend_rows = QVBoxLayout(self._locked)
        self._mend_rows.setContentsMargins(0, 0, 0, 0)
        self.booklet = button("Booklet without words…", "Primary")
        self.pictures = button("Pictures of the steps…")
        self.solids = button("Solids for others…")
        for what, widget in (("booklet", self.booklet), ("pictures", self.pictures),
                             ("solids", self.solids)):  # fmt: skip
            widget.clicked.connect(lambda _=False, what=what: self.write_wanted.emit(what))
        self._panel.add(self._locked, self.steps, self._piece, self.wishes)
        self._panel.body.addStretch(1)
        self._panel.add(section("Hand it on"), self.booklet, self.pictures, self.solids)

    def _show_changes(self, changes: Set[Changed]) -> None:
        if changes & {Changed.SELECTION, Changed.STEP}:
            self._choose_picked()
        if changes & {Changed.PROJECT, Changed.SELECTION, Changed.ASSEMBLY, Changed.STEP}:
            self.refresh()

    def hideEvent(self, event: QEvent) -> None:
        self.time.stop()

    def refresh(self) -> None:
        """Show the order as it is proven now, or that it is being proven."""
        project, proof = self._session.project, self.proof
        known = known_assembly(project)
        title = "Not proved yet" if known is None else _title(proof)
        self.line.show_picked(title)
        self.time.set_steps(len(proof.steps))
        words = [f"{at + 1}   {step_words(step)}" for at, step in enumerate(proof.steps)]
        chosen = self._chosen_steps(proof)
        self.steps.blockSignals(True)
        fill_rows(self.steps, words, _ROWS, chosen)
        self.steps.blockSignals(False)
        for widget in (self.booklet, self.pictures):
            widget.setEnabled(proof.ok and len(proof.steps) > 1)
        if len(chosen) == 1:
            self._show_step(chosen[0])
        self._show_pieces(proof)
        self._show_locked(project, proof)
        self._show_moment()

    def _chosen_steps(self, proof: AssemblyProof) -> list[int]:
        """Return the steps in which the chosen pieces first are there."""
        found = {proof.step_of(name) for name in self._chosen}
        return sorted(number for number in found if number is not None)

    def _choose_picked(self) -> None:
        """What is picked anywhere is chosen here."""
        selection = self._session.selection
        names = (*selection.names(ThingKind.PIECE), *selection.names(ThingKind.PLATE))
        self._chosen = names or self._chosen

    def _row_picked(self) -> None:
        """Steps were picked in the list: the one is shown, and wishes are for their pieces."""
        proof = self.proof
        rows = sorted(self.steps.row(item) for item in self.steps.selectedItems())
        self._chosen = tuple(dict.fromkeys(n for row in rows for n in proof.steps[row].pieces))
        if len(rows) == 1:
            self._show_step(rows[0])
        self._show_pieces(proof)

    def _show_step(self, number: int) -> None:
        """Show the start of a step, unless the moment is within it already."""
        if not number <= self.time.time < number + 1 and not self.time.is_playing:
            self.time.go_to(number)

    def _pick(self, name: str, is_added: bool) -> None:
        row = self.proof.step_of(name)
        if row is not None:
            if not is_added:
                self.steps.clearSelection()
            self.steps.item(row).setSelected(True)

    def _show_pieces(self, proof: AssemblyProof) -> None:
        names = self._chosen
        self._piece.setText(piece_words(proof, names[0]) if len(names) == 1 else "")
        self.wishes.show_pieces(names, proof)

    def _show_moment(self) -> None:
        project, proof = self._session.project, self.proof
        solved = solved_structure_of(project)
        moment = (
            moment_of(proof, solved, self.time.time) if proof.steps
            else Moment(0, frozenset(), {}, (), ())
        )  # fmt: skip
        self.view.leave_out(moment.hidden)
        self.view.show_build(
            solved, fit_context_of(project), project.tints, (), pieces=moment.new,
        )  # fmt: skip
        self.view.stand(moment.placed, moment.ways)
        self._mark_row(moment.step)
        is_done = self.time.time >= len(proof.steps)
        below = not is_done and proof.lies_turned_over(moment.step)
        if below is not self._below:
            self._below = below
            self.view.look_from_below(below)
        self._says.setText(self._words(proof, moment))

    def _mark_row(self, number: int) -> None:
        """Show the step under way in the list, without picking it."""
        for at in range(self.steps.count()):
            item = self.steps.item(at)
            type_face = item.font()
            if type_face.bold() is not (at == number):
                type_face.setBold(at == number)
                item.setFont(type_face)
        if 0 <= number < self.steps.count():
            self.steps.scrollToItem(self.steps.item(number))

    def _words(self, proof: AssemblyProof, moment: Moment) -> str:
        if not proof.steps:
            return ""
        if self.time.time >= len(proof.steps):
            return "All is in its place."
        step = proof.steps[moment.step]
        over = _turned(proof, moment.step)
        return f"{over}{moment.step + 1}   {step_words(step)}"

    def _show_locked(self, project: Project, proof: AssemblyProof) -> None:
        """What holds one another, and what would help: looked for when it is wanted."""
        known = known_assembly(project)
        clear(self._mend_rows)
        open_joints = [each.joint for each in project.structure.own_joints if each.left_out]
        found = known is not None and bool(known.findings)
        self._locked.setVisible(found or bool(open_joints))
        for joint in open_joints:
            again = button(f"Join {joint} again")
            again.clicked.connect(lambda _=False, joint=joint: self._join_again(joint))
            self._mend_rows.addWidget(again)
        if known is None or not known.findings:
            return
        for finding in known.findings:
            label = QLabel(shown(f"▲ {_sentence(finding.message)}"))
            label.setWordWrap(True)
            self._mend_rows.addWidget(label)
        if not proof.locked:
            return
        if self._mends is None or self._mends[0] != project:
            look = button("Look for what would help")
            look.clicked.connect(lambda: self._look_for_mends(project, proof))
            self._mend_rows.addWidget(look)
            return
        for mend in self._mends[1]:
            take = button(f"Try: {mend.words}")
            take.clicked.connect(lambda _=False, mend=mend: self._take(mend))
            self._mend_rows.addWidget(take)
        if not self._mends[1]:
            words = "No single change that was tried would help. Change the joints by hand."
            self._mend_rows.addWidget(quiet(words))

    def _look_for_mends(self, project: Project, proof: AssemblyProof) -> None:
        def arrived(found: tuple["Mend", ...]) -> None:
            self._mends = (project, found)
            self.refresh()

        self._job.start(
            lambda _: HELPER.call(mends_there, project, proof),
            done=arrived, failed=self._session.status.warn, said=self._session.status.show,
        )  # fmt: skip

    def _join_again(self, joint: str) -> None:
        self._session.attempt(
            f"{joint} joined again",
            lambda p: project_edits.change_joint(p, joint, left_out=False),
        )

    def _take(self, mend: "Mend") -> None:
        self._session.attempt(mend.words, lambda p: p.with_changes(structure=mend.structure))


def _title(proof: AssemblyProof) -> str:
    if proof.locked:
        return "No straight way found"
    return (
        f"Put together in {summary(proof)}" if len(proof.steps) > 1 else "Nothing to put together"
    )


def _turned(proof: AssemblyProof, number: int) -> str:
    """Return what must be turned before a step, in words."""
    if not proof.turns_over(number):
        return ""
    return "Turn it over.  " if proof.lies_turned_over(number) else "Turn it upright again.  "


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]
