"""The rail of steps in the order of work, each with its status."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QFont, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QAbstractButton, QFrame, QSizePolicy, QVBoxLayout

from anzel.app.listeners import Changed
from anzel.app.navigation import Step
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.views.step_status import StepState, StepStatus, status_of
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font, icon_pixmap, text_scale, when_dressed
from anzel.ui.widgets.common_widgets import quiet

WORDS = {
    Step.STOCK: "Stock",
    Step.CUTTER: "Cutter",
    Step.TEST: "Test piece",
    Step.BUILD: "Build",
    Step.FORECAST: "Forecast",
    Step.ASSEMBLE: "Assemble",
    Step.SHEETS: "Sheets",
    Step.PRACTICE: "Practice",
}
_WIDTH, _COMPACT_WIDTH = 148, 62
_LEAST_HEIGHT = 42
_AFTER_START_MS = 60
"""The states need a layout; the window shall stand before that."""


class StepButton(QAbstractButton):
    """One step: icon, name, one line of state, and a mark for settled or not."""

    def __init__(self, step: Step) -> None:
        super().__init__()
        self.setText(WORDS[step])
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._step = step
        self._status = StepStatus("")

    def sizeHint(self) -> QSize:
        return QSize(_COMPACT_WIDTH, round(70 * min(text_scale(), 1.4)))

    def minimumSizeHint(self) -> QSize:
        return QSize(_COMPACT_WIDTH, _LEAST_HEIGHT)

    def show_status(self, status: StepStatus) -> None:
        """Show where the step stands."""
        words = shown(status.words)
        as_shown = StepStatus(words, status.state)
        if as_shown == self._status:
            return
        self._status = as_shown
        mark = "settled" if status.state is StepState.SETTLED else "not settled"
        self.setAccessibleName(f"{self.text()}: {words}, {mark}")
        self.setToolTip(f"{self.text()}: {words}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            box = QRectF(self.rect()).adjusted(7, 3, -7, -3)
            if self.isChecked() or self.underMouse():
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(colour("sheet" if self.isChecked() else "well"))
                painter.drawRoundedRect(box, 7, 7)
            if self.isChecked():
                painter.fillRect(
                    QRectF(box.left(), box.top() + 10, 3, box.height() - 20), colour("accent")
                )
            if self.hasFocus():
                painter.setPen(QPen(colour("accent"), 1.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(box, 7, 7)
            mark = icon_pixmap(f"step-{self._step.value}", size=26)
            inset = 5 if self.width() <= _COMPACT_WIDTH else 11
            painter.drawPixmap(QPointF(box.left() + inset, box.top() + 8), mark)
            self._mark(painter, QPointF(box.right() - 12, box.top() + 13))
            if self.width() <= _COMPACT_WIDTH:
                return
            painter.setPen(colour("ink"))
            painter.setFont(font(10.5, QFont.Weight.DemiBold))
            painter.drawText(QPointF(box.left() + 44, box.top() + 26), self.text())
            rail = self.parentWidget()
            if rail is not None and rail.height() < len(Step) * (_LEAST_HEIGHT + 20 * text_scale()):
                return
            painter.setPen(colour("soft"))
            painter.setFont(font(8.5))
            text = painter.fontMetrics().elidedText(
                self._status.words, Qt.TextElideMode.ElideRight, int(box.width() - 20)
            )
            painter.drawText(QPointF(box.left() + 12, box.bottom() - 9), text)

    def _mark(self, painter: QPainter, at: QPointF) -> None:
        """A tick when settled, a triangle when something is wrong, else an empty ring."""
        if self._status.state is StepState.PROBLEM:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour("warn"))
            corners = [(0.0, -5.0), (5.5, 4.5), (-5.5, 4.5)]
            painter.drawPolygon(QPolygonF([at + QPointF(x, y) for x, y in corners]))
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        is_settled = self._status.state is StepState.SETTLED
        painter.setPen(QPen(colour("accent" if is_settled else "line"), 1.8))
        if is_settled:
            painter.drawPolyline([at + QPointF(-4, 0), at + QPointF(-1, 3.5), at + QPointF(5, -4)])
        else:
            painter.drawEllipse(at, 4, 4)


class StepRail(QFrame):
    """The rail at the left."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("Rail")
        self._compact = False
        self._session = session
        self._buttons: dict[Step, StepButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(0)
        for step in Step:
            entry = StepButton(step)
            entry.clicked.connect(lambda _=False, step=step: session.navigation.go_to(step))
            self._buttons[step] = entry
            column.addWidget(entry)
        column.addStretch(1)
        self._hint = quiet("F1 for help\nand all shortcuts")
        self._hint.setContentsMargins(19, 0, 0, 6)
        column.addWidget(self._hint)
        self.set_compact(False)
        when_dressed(self._fit)
        session.subscribe(self._changed)
        self._changed(Changed.STEP)
        QTimer.singleShot(_AFTER_START_MS, self, self._begin)

    def set_compact(self, compact: bool) -> None:
        """Show the icons only, or words too, as wide as the text needs."""
        self._compact = compact
        self.setFixedWidth(_COMPACT_WIDTH if compact else round(_WIDTH * text_scale()))
        self._hint.setVisible(not compact)

    def _fit(self) -> None:
        self.set_compact(self._compact)

    def _changed(self, changed: Changed) -> None:
        self._buttons[self._session.navigation.step].setChecked(True)
        if changed in (Changed.PROJECT, Changed.LAYOUT, Changed.ASSEMBLY):
            self._show_states()

    def _begin(self) -> None:
        self._session.start_layout()
        self._show_states()

    def _show_states(self) -> None:
        project, layouts = self._session.project, self._session.layouts
        for step, entry in self._buttons.items():
            entry.show_status(status_of(project, step, layouts))
