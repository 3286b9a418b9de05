"""Feedback of a test piece: how each step felt, and taking over what it taught."""

from PySide6.QtCore import Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from anzel.app.edits import test_piece_edits
from anzel.app.number_display import shown, shown_length, shown_plain_length
from anzel.app.views.trial_words import lesson_words, ripple_of
from anzel.core.findings import MakerError
from anzel.materials.fits import FitName, KerfAt
from anzel.materials.kerf import LearntKerf
from anzel.materials.material import PressBehaviour
from anzel.project.model import Project
from anzel.project.ripple import details
from anzel.test_pieces.model import TestPiece, TestPieceKind, TestPieceStep
from anzel.test_pieces.registry import TEST_PIECES
from anzel.test_pieces.trial import FEEL_WORDS, Feel, Trial, kerf_from_comb
from anzel.ui.widgets.common_widgets import button, choice_row, quiet, section

_HOUSE_DOUBT = 0.02
"""How well a house clearance is known when a kerf is read from a comb: common practice, no
source."""


class FitFeedbackPanel(QWidget):
    """Five feels for the picked step, what was felt so far, and what it comes to."""

    felt = Signal(Feel)
    taken = Signal()
    kerf_taken = Signal(object)
    restarted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._title = section("")
        self._feels = {feel: button(words) for feel, words in FEEL_WORDS.items()}
        for key, (feel, choice) in enumerate(self._feels.items(), start=1):
            choice.setCheckable(True)
            choice.setToolTip(f"Key {key}")
            typed = QShortcut(QKeySequence(str(key)), self)
            typed.activated.connect(lambda feel=feel: self.felt.emit(feel))
            choice.setAccessibleName(f"This slot: {FEEL_WORDS[feel]}")
            choice.setStyleSheet("padding: 5px 4px;")
            choice.clicked.connect(lambda _=False, feel=feel: self.felt.emit(feel))
        self.so_far, self.lesson, self.warning = quiet(""), QLabel(), quiet("")
        self.where = quiet("")
        self.warning.setObjectName("Error")
        self.lesson.setWordWrap(True)
        self.take = button("Take it over")
        self.take.clicked.connect(self.taken)
        self.as_kerf = button("Read it as kerf", "Flat")
        self.as_kerf.clicked.connect(self._take_kerf)
        self.restart = button("Start over", "Flat")
        self.restart.clicked.connect(self.restarted)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(self._title)
        column.addLayout(choice_row(*self._feels.values()))
        for widget in (self.so_far, self.warning, self.lesson, self.where):
            column.addWidget(widget)
        column.addLayout(choice_row(self.take, self.as_kerf, self.restart))
        self._kerf: LearntKerf | None = None

    def show_trial(
        self, project: Project, stock_id: str, test_piece: TestPiece, step: TestPieceStep
    ) -> None:
        """Show what is known of the test piece in hand, for the picked step."""
        hand = test_piece_edits.trial_in_hand(project, stock_id, test_piece.kind)
        felt = dict(hand.felt) if hand is not None else {}
        labels = {each.value: each.label for each in test_piece.steps}
        number = TEST_PIECES[test_piece.kind].number
        self._title.setText(f"Cut and tried? The {number} of {step.label} feels")
        for feel, choice in self._feels.items():
            choice.setChecked(felt.get(step.value) is feel)
        so_far = (
            f"{labels.get(d, f'{shown_plain_length(d)}')} {FEEL_WORDS[f]}" for d, f in felt.items()
        )
        self.so_far.setText(" · ".join(so_far))
        self.so_far.setVisible(bool(felt))
        self._warn(project, stock_id)
        self._show_lesson(project, hand)

    def _warn(self, project: Project, stock_id: str) -> None:
        """What this kind of sheet asks for."""
        nature, fit = project.stock(stock_id).press_behaviour, project.fits.in_use
        words = ""
        if nature is PressBehaviour.BRITTLE and fit is FitName.PRESS:
            words = "▲ Brittle: pressed joints crack it. Use snug or looser."
        elif nature is PressBehaviour.COMPRESSIBLE:
            words = "It gives way: a slot narrower than the sheet is normal."
        self.warning.setText(words)
        self.warning.setVisible(bool(words))

    def _show_lesson(self, project: Project, hand: Trial | None) -> None:
        for widget in (self.lesson, self.where, self.take, self.restart, self.as_kerf):
            widget.setVisible(hand is not None)
        self.take.setEnabled(False)
        self._kerf = None
        if hand is None:
            return
        self.where.clear()
        try:
            moved = ripple_of(project, hand)
            self.lesson.setText(shown(lesson_words(hand, moved)))
            self.where.setText(shown(details(moved)))
            self.take.setEnabled(True)
        except MakerError as error:
            self.lesson.setText(shown(f"▲ {error}"))
        self._offer_kerf(project, hand)

    def _offer_kerf(self, project: Project, hand: Trial) -> None:
        """A comb also tells the kerf, if the class's clearance is taken as known."""
        possible = hand.kind is TestPieceKind.COMB and hand.kerf_at is KerfAt.DRAWING
        self.as_kerf.setVisible(possible)
        self.as_kerf.setEnabled(False)
        if not possible or not self.take.isEnabled():
            return
        try:
            known = project.fits.clearance_of(hand.fit)
            self._kerf = kerf_from_comb(hand, known, _HOUSE_DOUBT)
        except MakerError:
            return
        figures = f"{shown_length(self._kerf.kerf, 3)} ± {shown_length(self._kerf.uncertainty, 3)}"
        self.as_kerf.setEnabled(True)
        clearance = shown_plain_length(known)
        self.as_kerf.setToolTip(
            f"If {hand.fit.value} means a clearance of {clearance} in this sheet too, "
            f"the kerf is {figures}"
        )

    def _take_kerf(self) -> None:
        if self._kerf is not None:
            self.kerf_taken.emit(self._kerf)
