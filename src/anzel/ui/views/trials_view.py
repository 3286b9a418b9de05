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
from anzel.ui.painting import paint_ticks, paint_words, painting
from anzel.ui.theme import colour, font, text_scale, when_dressed

_ROW, _TOP, _LEFT, _RIGHT = 40.0, 44.0, 178.0, 150.0
"""At the usual size of text; pixels."""
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
        when_dressed(self._fit)

    def show_trials(self, trials: list[Trial]) -> None:
        """Show trials in the order given; as high as they need."""
        self._trials = trials
        self._fit()
        self.setAccessibleDescription(shown("; ".join(map(trial_words, trials))))
        self.update()

    def _fit(self) -> None:
        self.setFixedHeight(int((_TOP + _ROW * max(len(self._trials), 1)) * text_scale() + 12))

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the trials, newest first."""
        return [
            AccessibleItem(
                shown(trial_words(trial)),
                QRectF(0, self._top(at), self.width(), _ROW * text_scale()), Role.ListItem,
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
            line = 10 + 14 * text_scale()
            paint_words(painter, QPointF(16, line), title, self.width() - 24)
            self._legend(painter, 40.0 + painter.fontMetrics().horizontalAdvance(title), line)
            if not self._trials:
                painter.setFont(font(9))
                words = "No trial of this sheet has been kept yet."
                at = QPointF(16, self._top(0) + 12 * text_scale())
                paint_words(painter, at, words, self.width() - 24)
            else:
                self._rows(painter)

    def _top(self, row: int) -> float:
        return (_TOP + row * _ROW) * text_scale()

    def _legend(self, painter: QPainter, left: float, line: float) -> None:
        """Which filling is which feel, where there is room for it; the rows tell it in words."""
        painter.setFont(font(8.5))
        metrics = painter.fontMetrics()
        needed = sum(34 + metrics.horizontalAdvance(FEEL_WORDS[feel]) for feel in _FILLS)
        if left + needed > self.width():
            return
        for feel, (style, tint) in _FILLS.items():
            box = QRectF(left, line - 11, 18, 12)
            painter.fillRect(box, QBrush(colour(tint), style))
            painter.setPen(QPen(colour("line"), 1))
            painter.drawRect(box)
            painter.setPen(colour("soft"))
            painter.drawText(QPointF(left + 23, line), FEEL_WORDS[feel])
            left += 34 + painter.fontMetrics().horizontalAdvance(FEEL_WORDS[feel])

    def _rows(self, painter: QPainter) -> None:
        ends = [t.scale.clearance(drawn) for t in self._trials for drawn, _ in t.felt]
        low, high = min(ends) - 0.03, max(ends) + 0.03
        begin = min(_LEFT * text_scale(), 0.3 * self.width())
        wide = max(self.width() - begin - self._right, 40.0)

        def x(clearance: float) -> float:
            return begin + (clearance - low) / (high - low) * wide

        for row, trial in enumerate(self._trials):
            self._row(painter, trial, self._top(row), x)

    @property
    def _right(self) -> float:
        """How wide the column of what was taken over is."""
        return min(_RIGHT * text_scale(), 0.35 * self.width())

    def _row(
        self, painter: QPainter, trial: Trial, top: float, x: Callable[[float], float]
    ) -> None:
        painter.setFont(font(9, QFont.Weight.Medium))
        painter.setPen(colour("ink"))
        scale, room = text_scale(), min(_LEFT * text_scale(), 0.3 * self.width()) - 22
        words = f"{trial.date}  {trial.kind.value}"
        paint_words(painter, QPointF(16, top + 13 * scale), words, room)
        painter.setFont(font(8.5))
        painter.setPen(colour("soft"))
        paint_words(painter, QPointF(16, top + 28 * scale), trial.cutter, room)
        steps = sorted((trial.scale.clearance(drawn), drawn, feel) for drawn, feel in trial.felt)
        places = []
        for index, (clearance, drawn, feel) in enumerate(steps):
            before = steps[index - 1][0] if index else clearance - 0.03
            after = steps[index + 1][0] if index + 1 < len(steps) else clearance + 0.03
            left, right = x((before + clearance) / 2), x((clearance + after) / 2)
            style, tint = _FILLS[feel]
            box = QRectF(left, top + 4, right - left - 1, 13)
            painter.fillRect(box, QBrush(colour(tint), style))
            painter.setPen(QPen(colour("line"), 1))
            painter.drawRect(box)
            places.append((x(clearance), shown_length(drawn)))
        painter.setFont(font(7.5))
        painter.setPen(colour("soft"))
        paint_ticks(painter, places, top + 18, (x(steps[0][0]) - 30, self.width() - self._right))
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
        left, room, scale = self.width() - self._right + 14, self._right - 18, text_scale()
        paint_words(painter, QPointF(left, top + 14 * scale), figures, room)
        painter.setFont(font(8.5))
        painter.setPen(colour("soft"))
        doubt = (
            f"± {shown_length(lesson.clearance_uncertainty, 3)}, drawn {shown_length(lesson.drawn)}"
        )
        paint_words(painter, QPointF(left, top + 28 * scale), doubt, room)
