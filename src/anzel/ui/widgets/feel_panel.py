"""Recording what a comb felt like, slot by slot, and taking over what it taught."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from anzel.app import edits
from anzel.findings import MakerError
from anzel.gauges.comb import label
from anzel.geometry.units import format_length
from anzel.project.derive import build_of
from anzel.project.model import Project
from anzel.project.ripple import ripple
from anzel.stock.trial import Feel, Trial
from anzel.ui.widgets.parts import button, quiet, section

FEEL_WORDS = {
    Feel.WONT: "won't",
    Feel.PRESS: "press",
    Feel.SNUG: "snug",
    Feel.SLIDES: "slides",
    Feel.LOOSE: "loose",
}


class FeelPanel(QWidget):
    """Five feels for the picked slot, what was felt so far, and what it comes to."""

    felt = Signal(Feel)
    taken = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._title = section("")
        self._feels = {feel: button(words) for feel, words in FEEL_WORDS.items()}
        row = QHBoxLayout()
        row.setSpacing(3)
        for feel, choice in self._feels.items():
            choice.setCheckable(True)
            choice.setAccessibleName(f"This slot: {FEEL_WORDS[feel]}")
            choice.setStyleSheet("padding: 5px 4px;")
            choice.clicked.connect(lambda _=False, feel=feel: self.felt.emit(feel))
            row.addWidget(choice)
        self.so_far, self.lesson = quiet(""), QLabel()
        self.lesson.setWordWrap(True)
        self.take = button("Take it over")
        self.take.clicked.connect(self.taken)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(self._title)
        column.addLayout(row)
        for widget in (self.so_far, self.lesson, self.take):
            column.addWidget(widget)

    def show_trial(self, project: Project, stock_id: str, width: float) -> None:
        """Show what is known of the comb in hand, for the picked slot."""
        hand = edits.trial_in_hand(project, stock_id)
        felt = dict(hand.felt) if hand is not None else {}
        self._title.setText(f"Cut and tried? The slot of {label(width)} feels")
        for feel, choice in self._feels.items():
            choice.setChecked(felt.get(width) is feel)
        so_far = " · ".join(f"{label(w)} {FEEL_WORDS[f]}" for w, f in felt.items())
        self.so_far.setText(so_far)
        self.so_far.setVisible(bool(felt))
        self._show_lesson(project, hand)

    def _show_lesson(self, project: Project, hand: Trial | None) -> None:
        self.lesson.setVisible(hand is not None)
        self.take.setEnabled(False)
        self.take.setVisible(hand is not None)
        if hand is None:
            return
        try:
            self.lesson.setText(lesson_words(project, hand))
            self.take.setEnabled(True)
        except MakerError as error:
            self.lesson.setText(f"▲ {error}")


def lesson_words(project: Project, hand: Trial) -> str:
    """What the trial teaches and what taking it over would move.

    Raises ParameterError where it teaches nothing yet, or contradicts itself.
    """
    lesson, taken = edits.lesson_of(hand), edits.checked(edits.take_trial(project, hand))
    moved = ripple(build_of(project), build_of(taken))
    width, clearance = format_length(lesson.drawn_width), format_length(lesson.clearance, 3)
    return f"For {hand.fit.value} draw {width}: clearance {clearance}. It would move {moved}."
