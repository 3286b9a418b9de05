"""Trials in words: what was felt, what it teaches, and what taking it over would move."""

from anzel.app.edits import project_edits, test_piece_edits
from anzel.core.number_format import format_length, plain_length
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.project.ripple import Ripple, ripple
from anzel.test_pieces.trial import Lesson, Trial


def trial_words(trial: Trial) -> str:
    """Return one trial in words."""
    felt = ", ".join(f"{plain_length(drawn)} {feel.value}" for drawn, feel in trial.felt)
    return f"{trial.date} {trial.kind.value}, {trial.cutter}: {felt}"


def ripple_of(project: Project, hand: Trial) -> Ripple:
    """Return what taking a trial over would move.

    Raises ParameterError where it teaches nothing yet, or contradicts itself.
    """
    taken = project_edits.checked(test_piece_edits.take_trial(project, hand))
    return ripple(solved_structure_of(project), solved_structure_of(taken))


def lesson_words(hand: Trial, moved: Ripple) -> str:
    """Return what the trial teaches and what taking it over would move."""
    lesson = test_piece_edits.lesson_of(hand)
    return f"For {hand.fit.value} draw {short_lesson(lesson)}. It would move {moved}."


def short_lesson(lesson: Lesson) -> str:
    """Return the number to draw and the clearance, with what is not known of it."""
    clearance = format_length(lesson.clearance, 3)
    doubt = format_length(lesson.clearance_uncertainty, 3)
    return f"{plain_length(lesson.drawn)}: clearance {clearance} ± {doubt}"
