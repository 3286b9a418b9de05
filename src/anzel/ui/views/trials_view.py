"""Kept trials of a sheet under one another: what each clearance felt like, and what was taken.

All rows share one scale, the clearance each step came to, so trials with another kerf or another
comb can be compared. Feels are told by word and by how the bar is filled.
"""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QFont, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.app.edits import test_piece_edits
from anzel.app.number_display import shown, shown_length
from anzel.app.views.trial_words import trial_words
from anzel.core.findings import MakerError
from anzel.test_pieces.trial import FEEL_WORDS, Feel, Trial
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font

_ROW, _TOP, _LEFT, _RIGHT = 40.0, 44.0, 178.0, 150.0
_FILLS = {
    Feel.WONT: (Qt.BrushStyle.BDiagPattern, "warn"),
    Feel.PRESS: (Qt.BrushStyle.Dense5Pattern, "accent"),
    Feel.SNUG: (Qt.BrushStyle.SolidPattern, "accent"),
    Feel.SLIDES: (Qt.BrushStyle.Dense6Pattern, "accent"),
    Feel.LOOSE: (Qt.BrushStyle.FDiagPattern, "soft"),
}


class TrialsView(QWidget):
    """Draws a few trials, the newest first."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Trials of this sheet, compared")
        self._trials: list[Trial] = []

    def show_trials(self, trials: list[Trial]) -> None:
        """Show trials in the order given; as high as they need."""
        self._trials = trials
        self.setFixedHeight(int(_TOP + _ROW * max(len(trials), 1) + 12))
        self.setAccessibleDescription(shown("; ".join(map(trial_words, trials))))
        self.update()

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the trials, newest first."""
        return [
            AccessibleItem(
                shown(trial_words(trial)),
                QRectF(0, _TOP + _ROW * at, self.width(), _ROW), Role.ListItem,
            )
            for at, trial in enumerate(self._trials)
        ]  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("sheet"))
            painter.setPen(QPen(colour("line"), 1))
            painter.drawLine(0, 0, self.width(), 0)
            painter.setFont(font(9, QFont.Weight.DemiBold))
            painter.setPen(colour("soft"))
            title = "Looking back: what each clearance felt like"
            painter.drawText(QPointF(16, 24), title)
            self._legend(painter, 330.0)
            if not self._trials:
                painter.setFont(font(9))
                painter.drawText(QPointF(16, 56), "No trial of this sheet has been kept yet.")
            else:
                self._rows(painter)

    def _legend(self, painter: QPainter, left: float) -> None:
        """Which filling is which feel."""
        painter.setFont(font(8.5))
        for feel, (style, tint) in _FILLS.items():
            box = QRectF(left, 13, 18, 12)
            painter.fillRect(box, QBrush(colour(tint), style))
            painter.setPen(QPen(colour("line"), 1))
            painter.drawRect(box)
            painter.setPen(colour("soft"))
            painter.drawText(QPointF(left + 23, 24), FEEL_WORDS[feel])
            left += 34 + painter.fontMetrics().horizontalAdvance(FEEL_WORDS[feel])

    def _rows(self, painter: QPainter) -> None:
        ends = [t.scale.clearance(drawn) for t in self._trials for drawn, _ in t.felt]
        low, high = min(ends) - 0.03, max(ends) + 0.03
        wide = self.width() - _LEFT - _RIGHT

        def x(clearance: float) -> float:
            return _LEFT + (clearance - low) / (high - low) * wide

        for row, trial in enumerate(self._trials):
            self._row(painter, trial, _TOP + row * _ROW, x)

    def _row(
        self, painter: QPainter, trial: Trial, top: float, x: Callable[[float], float]
    ) -> None:
        painter.setFont(font(9, QFont.Weight.Medium))
        painter.setPen(colour("ink"))
        painter.drawText(QPointF(16, top + 13), f"{trial.date}  {trial.kind.value}")
        painter.setFont(font(8.5))
        painter.setPen(colour("soft"))
        painter.drawText(QPointF(16, top + 28), trial.cutter[:26])
        steps = sorted((trial.scale.clearance(drawn), drawn, feel) for drawn, feel in trial.felt)
        for index, (clearance, drawn, feel) in enumerate(steps):
            before = steps[index - 1][0] if index else clearance - 0.03
            after = steps[index + 1][0] if index + 1 < len(steps) else clearance + 0.03
            left, right = x((before + clearance) / 2), x((clearance + after) / 2)
            style, tint = _FILLS[feel]
            box = QRectF(left, top + 4, right - left - 1, 13)
            painter.fillRect(box, QBrush(colour(tint), style))
            painter.setPen(QPen(colour("line"), 1))
            painter.drawRect(box)
            painter.setPen(colour("soft"))
            painter.setFont(font(7.5))
            text = QRectF(x(clearance) - 40, top + 18, 80, 14)
            if right - left > 24:
                painter.drawText(text, Qt.AlignmentFlag.AlignCenter, f"{shown_length(drawn)}")
        self._taken(painter, trial, top, x)

    def _taken(
        self, painter: QPainter, trial: Trial, top: float, x: Callable[[float], float]
    ) -> None:
        """Where the class asked about was found."""
        try:
            lesson = test_piece_edits.lesson_of(trial)
        except MakerError:
            return
        at = x(lesson.clearance)
        painter.setPen(QPen(colour("ink"), 2))
        painter.drawLine(QPointF(at, top), QPointF(at, top + 21))
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("ink"))
        figures = f"{trial.fit.value} {shown_length(lesson.clearance, 3)}"
        painter.drawText(QPointF(self.width() - _RIGHT + 14, top + 14), figures)
        painter.setFont(font(8.5))
        painter.setPen(colour("soft"))
        doubt = (
            f"± {shown_length(lesson.clearance_uncertainty, 3)}, drawn {shown_length(lesson.drawn)}"
        )
        painter.drawText(QPointF(self.width() - _RIGHT + 14, top + 28), doubt)
