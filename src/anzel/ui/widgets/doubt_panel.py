"""Doubtful features of a found drawing, one by one, with what either answer leads to."""

from collections.abc import Sequence

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainterPath, QPaintEvent, QPen, QTransform
from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits import drawing_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown, shown_length
from anzel.app.session import Session
from anzel.core.wording import counted
from anzel.geometry.segments import Segment
from anzel.refit.doubts import Doubt, doubts_of, two_ways
from anzel.refit.refitted_regions import with_y_up
from anzel.ui.painting import painting
from anzel.ui.theme import colour, sheet_colour
from anzel.ui.views.screen_paths import segments_path
from anzel.ui.widgets.common_widgets import button, quiet, section

_HIGH = 92
_AROUND, _LEAST = 2.2, 4.0
"""The picture reaches so many times the size of a feature round it, and at least so far, mm."""
Outlines = Sequence[Sequence[Segment]]


class OutcomePicture(QWidget):
    """The piece round a feature, as it comes out with one answer."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFixedHeight(_HIGH)
        self._path, self._other = QPainterPath(), QPainterPath()
        self._view, self._tint = QRectF(), "#e8d3ad"

    def show_outlines(
        self, outlines: Outlines, other: Outlines, view: QRectF, tint: str
    ) -> None:  # fmt: skip
        """Show a piece within a rectangle, mm, y up, and dotted how else it could be."""
        self._path, self._other = _path(outlines), _path(other)
        self._view, self._tint = view, tint
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._view.isEmpty():
            return
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("sheet"))
            scale = min(self.width() / self._view.width(), self.height() / self._view.height())
            at = QTransform.fromTranslate(self.width() / 2, self.height() / 2).scale(scale, -scale)
            centre = self._view.center()
            at = at.translate(-centre.x(), -centre.y())
            painter.setPen(QPen(colour("ink"), 1.2))
            painter.setBrush(sheet_colour(self._tint))
            painter.drawPath(at.map(self._path))
            painter.setPen(QPen(colour("accent"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(at.map(self._other))


def _path(outlines: Outlines) -> QPainterPath:
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for outline in outlines:
        path.addPath(segments_path(list(outline)))
        path.closeSubpath()
    return path


class DoubtPanel(QWidget):
    """Asks about one doubtful feature at a time; hidden where nothing is in doubt."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._drawing: DrawingView | None = None
        self._doubts: tuple[Doubt, ...] = ()
        self._at = 0
        self._title, self._why = section(""), quiet("")
        self.pictures = OutcomePicture("If it is left"), OutcomePicture("If it is changed")
        self.leave, self.change = button("Leave"), button("Change")
        self.leave.clicked.connect(lambda: self.decide(changed=False))
        self.change.clicked.connect(lambda: self.decide(changed=True))
        self.likes = QCheckBox()
        self.likes.setChecked(True)
        self.later = button("Later")
        self.later.clicked.connect(lambda: self._go(self._at + 1))
        grid = QGridLayout()
        grid.setSpacing(5)
        for at, (picture, answer) in enumerate(
            zip(self.pictures, (self.leave, self.change), strict=True)
        ):
            grid.addWidget(picture, 0, at)
            grid.addWidget(answer, 1, at)
        last = QHBoxLayout()
        last.addWidget(self.likes, 1)
        last.addWidget(self.later)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self._title)
        column.addWidget(self._why)
        column.addLayout(grid)
        column.addLayout(last)

    def show_drawing(self, each: DrawingView) -> None:
        """Ask about what is in doubt in a drawing."""
        if self._drawing is not None and self._drawing.name != each.name:
            self._at = 0
        self._drawing, self._doubts = each, doubts_of(each.refit)
        self.setVisible(bool(self._doubts))
        if self._doubts:
            self._go(self._at)

    def _go(self, at: int) -> None:
        each = self._drawing
        assert each is not None
        self._at = at % len(self._doubts)
        doubt = self._doubts[self._at]
        feature = doubt.decision.feature
        ways = two_ways(each.refit, doubt.decision)
        x, y = with_y_up(each.refit, feature.at)
        reach = max(_AROUND * feature.drawn, _LEAST)
        view = QRectF(x - reach, y - reach, 2 * reach, 2 * reach)
        project = self._session.project
        tint = project.tints.get(drawing_edits.imported_drawings(project).stock, "#e8d3ad")
        both = (ways.left, ways.changed)
        for picture, outlines, other in zip(self.pictures, both, both[::-1], strict=True):
            picture.show_outlines(outlines, other, view, tint)
        count = len(self._doubts)
        self._title.setText(f"In doubt: {self._at + 1} of {count}" if count > 1 else "In doubt")
        self._why.setText(shown(f"{feature.id}: {feature.uncertainty}."))
        self.leave.setText(f"Leave: {shown_length(feature.drawn)}")
        self.change.setText(f"Change: {shown_length(ways.new)}")
        others = len(doubt.likes) - 1
        self.likes.setText(f"and {counted(others, 'other')} like it")
        self.likes.setVisible(others > 0)
        self.later.setVisible(count > 1)

    def decide(self, *, changed: bool) -> None:
        """Take an answer, for its likes too where that is ticked."""
        each, doubt = self._drawing, self._doubts[self._at]
        assert each is not None
        name, own = each.name, doubt.decision.feature.id
        ids = doubt.likes if self.likes.isChecked() else frozenset({own})
        words = f"{own} {'changed' if changed else 'left'}"
        self._session.attempt(
            words if len(ids) == 1 else f"{words}, and {counted(len(ids) - 1, 'other')}",
            lambda p: drawing_edits.hold(p, name, ids, held=not changed),
        )
