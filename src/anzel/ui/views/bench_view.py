"""The practice bench: pieces as the simulated cutter left them, and how every opening came out.

At the left the produced pieces, to scale. At the right each opening on one axis of clearance, with
the limits of the classes, told by place, word and shape.
"""

from collections.abc import Callable

import shapely
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QPainter, QPaintEvent, QPen, QPolygonF, QTransform
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown, shown_signed_length
from anzel.app.practice_loop import OpeningOutcome, StageOutcome
from anzel.app.views.opening_rows import gathered_rows
from anzel.materials.fits import FitName
from anzel.materials.uncertainty import class_limits
from anzel.project.model import Project
from anzel.test_pieces.trial import FEEL_OF
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font, sheet_colour
from anzel.ui.views.screen_paths import polygon_path

_GAP, _ROW, _EDGE = 14.0, 26.0, 24.0
_LEAST_ROW = 15.0
_NAMES = 190.0


class BenchView(QWidget):
    """Draws the outcome of a stage."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(220, 160)
        self.setAccessibleName("The practice bench")
        self._project: Project | None = None
        self._outcome: StageOutcome | None = None
        self._empty = ""

    def show_outcome(self, project: Project, outcome: StageOutcome | None, empty: str) -> None:
        """Show what a stage came to, or a line on what the bench is for."""
        self._project, self._outcome, self._empty = project, outcome, empty
        words = shown(outcome.words) if outcome else empty
        rows = (
            f"{shown(r.label)} {shown_signed_length(r.clearance)} {r.feel.value}"
            for r in (outcome or _NONE).rows
        )
        self.setAccessibleDescription("; ".join((words, *rows)))
        self.update()

    def accessible_items(self) -> list[AccessibleItem]:
        """Return what the stage came to, an opening each."""
        return [
            AccessibleItem(
                f"{shown(row.label)}, clearance {shown_signed_length(row.clearance)}",
                QRectF(self.rect()), Role.ListItem, description=row.feel.value,
            )
            for row in (self._outcome or _NONE).rows
        ]  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            outcome = self._outcome
            if outcome is None or self._project is None:
                painter.setPen(colour("soft"))
                painter.setFont(font(10.5))
                box = QRectF(self.rect()).adjusted(60, 40, -60, -40)
                flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
                painter.drawText(box, flags, self._empty)
                return
            painter.setFont(font(12, QFont.Weight.DemiBold))
            painter.setPen(colour("ink"))
            words = QRectF(_EDGE, 16, self.width() - 2 * _EDGE, 44)
            painter.drawText(words, Qt.TextFlag.TextWordWrap, shown(outcome.words))
            body = QRectF(_EDGE, 70, self.width() - 2 * _EDGE, self.height() - 90)
            if outcome.rows:
                most = int((0.66 * body.height() - 44) / _LEAST_ROW)
                gathered = gathered_rows(outcome.rows, most)
                needed = min(44 + _ROW * len(gathered), 0.66 * body.height())
                rows = QRectF(body)
                rows.setTop(body.bottom() - needed)
                self._rows(painter, gathered, rows)
                body.setBottom(rows.top() - 18)
            self._pieces(painter, outcome.pieces, body)

    def _pieces(
        self, painter: QPainter, pieces: tuple[tuple[str, shapely.Polygon], ...], room: QRectF
    ) -> None:
        """The pieces in a row, as large as fits."""
        if not pieces or room.height() < 30:
            return
        assert self._project
        boxes = [shape.bounds for _, shape in pieces]
        wide = sum(box[2] - box[0] for box in boxes)
        tall = max(box[3] - box[1] for box in boxes)
        gaps = _GAP * (len(pieces) - 1)
        scale = min((room.width() - gaps) / wide, room.height() / tall, 6.0)
        left = room.left() + (room.width() - gaps - wide * scale) / 2
        for (stock_id, shape), box in zip(pieces, boxes, strict=True):
            at = QPointF(left - box[0] * scale, room.center().y() + (box[1] + box[3]) / 2 * scale)
            painter.setPen(QPen(colour("ink"), 1))
            painter.setBrush(sheet_colour(self._project.stock(stock_id).tint))
            screen = QTransform(scale, 0, 0, -scale, at.x(), at.y())
            painter.drawPath(screen.map(polygon_path(shape)))
            left += (box[2] - box[0]) * scale + _GAP

    def _rows(self, painter: QPainter, rows: tuple[OpeningOutcome, ...], box: QRectF) -> None:
        assert self._project
        fits = self._project.fits
        limits = {name: class_limits(fits, name) for name in FitName}
        ends = [row.clearance for row in rows]
        low = min(*ends, limits[FitName.PRESS][0]) - 0.03
        high = max(*ends, limits[FitName.LOOSE][0]) + 0.05
        left, wide = box.left() + _NAMES, box.width() - _NAMES - 86

        def x(clearance: float) -> float:
            return left + (min(max(clearance, low), high) - low) / (high - low) * wide

        for name in FitName:
            zone = QRectF(x(limits[name][0]), box.top() + 16, 0, box.height() - 16)
            zone.setRight(x(limits[name][1]))
            if name is fits.in_use:
                painter.fillRect(zone, colour("accent_soft"))
            painter.setPen(QPen(colour("line"), 1, Qt.PenStyle.DashLine))
            painter.drawLine(zone.topLeft(), zone.bottomLeft())
            painter.setFont(font(9, QFont.Weight.DemiBold))
            painter.setPen(colour("ink" if name is fits.in_use else "soft"))
            words = QRectF(zone.left(), box.top() - 2, max(zone.width(), 44), 16)
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, name.value)
        step = min(_ROW, (box.height() - 20) / len(rows))
        for index, row in enumerate(rows):
            self._row(painter, row, QRectF(box.left(), box.top() + 20 + index * step, 0, step), x)

    def _row(
        self, painter: QPainter, row: OpeningOutcome, box: QRectF, x: Callable[[float], float]
    ) -> None:
        assert self._project
        right = row.feel is FEEL_OF[self._project.fits.in_use]
        middle = box.top() + box.height() / 2
        painter.setFont(font(9 if box.height() > 16 else 7.5))
        painter.setPen(colour("ink"))
        name = painter.fontMetrics().elidedText(
            shown(row.label), Qt.TextElideMode.ElideRight, int(_NAMES - 12)
        )
        painter.drawText(QPointF(box.left(), middle + 4), name)
        at = QPointF(x(row.clearance), middle)
        painter.setPen(QPen(colour("accent" if right else "warn"), 1.6))
        painter.setBrush(colour("accent") if right else colour("sheet"))
        if right:
            painter.drawEllipse(at, 4.6, 4.6)
        else:
            corners = [(0.0, -5.5), (5.5, 4.5), (-5.5, 4.5)]
            painter.drawPolygon(QPolygonF([at + QPointF(dx, dy) for dx, dy in corners]))
        painter.setPen(colour("ink" if right else "warn"))
        words = f"{shown_signed_length(row.clearance)}  {row.feel.value}"
        painter.drawText(QPointF(self.width() - _EDGE - 82, middle + 4), words)


_NONE = StageOutcome("")
