"""A cut file as it is: every line in its own colour, done up to a moment of the job.

What is still to come is thin and grey; the head is where the simulated cutter has it.
"""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap, QResizeEvent

from anzel.app.number_display import shown_length, shown_measure
from anzel.app.views.cut_preview import CutPreview
from anzel.geometry.rigid_transform import Point
from anzel.layout.rows import boxes_in_rows
from anzel.project.estimate import format_duration
from anzel.simulation.cut_playback import CutMove
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font
from anzel.ui.views.zoom_canvas import ZoomCanvas

_GAP, _TITLE = 24.0, 18.0


class CutView(ZoomCanvas):
    """Shows a file being cut, or all of it."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("The cut file, line by line")
        self._picture: CutPreview | None = None
        self._paths: list[QPainterPath] = []
        self._shifts: list[QPointF] = []
        self._places: list[tuple[float, float]] = []
        self._size = (1.0, 1.0)
        self._pixmap = QPixmap()
        self._exposed: tuple[object, ...] = ()
        self._painted = 0
        self._seconds: float | None = None
        self._words = ""

    def show_picture(self, picture: CutPreview | None, words: str = "") -> None:
        """Show another file, or words on why there is none."""
        self._picture, self._words = picture, words
        self._arrange()
        self.refit()

    def _arrange(self) -> None:
        """Pages in rows that suit the view; in the file they stand side by side."""
        picture = self._picture
        if picture is None:
            self._paths, self._shifts, self._places = [], [], []
            return
        aspect = max(self.width(), 1) / max(self.height(), 1)
        sizes = [(width, height) for _, _, width, height in picture.pages]
        self._places, self._size = boxes_in_rows(sizes, aspect, gap=_GAP, above=_TITLE)
        numbers: dict[str, int] = {}
        for move in picture.playback.moves:
            numbers.setdefault(move.page, len(numbers))
        corners = zip(picture.pages, self._places, strict=True)
        shifts = [QPointF(x - page[1], y) for page, (x, y) in corners]
        self._shifts = [shifts[numbers[move.page]] for move in picture.playback.moves]
        self._paths = [
            _path(move.points).translated(shift)
            for move, shift in zip(picture.playback.moves, self._shifts, strict=True)
        ]

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._arrange()
        super().resizeEvent(event)

    def show_moment(self, seconds: float | None) -> None:
        """Show the job after so many seconds; None for all of it without a head."""
        self._seconds = seconds
        self.update()

    def extent(self) -> QRectF:
        if self._picture is None:
            return QRectF()
        return QRectF(0, 0, *self._size)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the pages of the file."""
        pages = self._picture.pages if self._picture is not None else ()
        return [
            AccessibleItem(
                page[0], QRectF(self.to_view(x, y + page[3]), self.to_view(x + page[2], y)),
                Role.ListItem,
                description=f"{shown_length(page[2], 0)} × {shown_measure(page[3], 0)}",
            )
            for page, (x, y) in zip(pages, self._places, strict=True)
        ]  # fmt: skip

    def paint_on(self, painter: QPainter) -> None:
        picture = self._picture
        if picture is None or not picture.playback.moves:
            painter.setPen(colour("soft"))
            painter.setFont(font(10.5))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            box = QRectF(self.rect()).adjusted(60, 40, -60, -40)
            painter.drawText(box, flags, self._words or "Nothing to cut.")
            return
        for (name, _, width, height), (x, y) in zip(picture.pages, self._places, strict=True):
            box = QRectF(self.to_view(x, y + height), self.to_view(x + width, y)).normalized()
            painter.fillRect(box, colour("sheet"))
            painter.setPen(QPen(colour("line"), 1))
            painter.drawRect(box)
            painter.setFont(font(9))
            painter.setPen(colour("soft"))
            painter.drawText(box.topLeft() + QPointF(2, -6), name)
        self._paint_lines(painter, picture)

    def _paint_lines(self, painter: QPainter, picture: CutPreview) -> None:
        moves = picture.playback.moves
        if self._seconds is None:
            painter.drawPixmap(0, 0, self._film(len(moves)))
            return
        under_way, into = picture.playback.at(self._seconds)
        painter.drawPixmap(0, 0, self._film(under_way))
        now = moves[under_way]
        points, shift = now.until(into), self._shifts[under_way]
        if now.operation is not None:
            self._paint_move(painter, now, _path(points).translated(shift), done=True)
        at = self.transform.map(QPointF(*points[-1]) + shift)
        painter.setPen(QPen(colour("sheet"), 1.5))
        painter.setBrush(colour("warn" if now.operation is not None else "soft"))
        painter.drawEllipse(at, 5.5, 5.5)

    def _film(self, done: int) -> QPixmap:
        """Return all lines, so many of them done.

        A job has thousands: while it plays, only what was done since is added to what was painted
        before.
        """
        assert self._picture
        kind = (self.transform, self.size(), self._picture)
        if kind != self._exposed or done < self._painted:
            ratio = self.devicePixelRatio()
            self._exposed, self._painted = kind, 0
            self._pixmap = QPixmap(self.size() * ratio)
            self._pixmap.setDevicePixelRatio(ratio)
            self._pixmap.fill(Qt.GlobalColor.transparent)
            if done < len(self._paths):
                self._paint_moves(0, len(self._paths), done=False)
        self._paint_moves(self._painted, done, done=True)
        self._painted = done
        return self._pixmap

    def _paint_moves(self, first: int, last: int, *, done: bool) -> None:
        assert self._picture
        if first >= last:
            return
        with painting(self._pixmap) as painter:
            for index in range(first, last):
                move, path = self._picture.playback.moves[index], self._paths[index]
                self._paint_move(painter, move, path, done=done)

    def _paint_move(
        self, painter: QPainter, move: CutMove, path: QPainterPath, *, done: bool
    ) -> None:  # fmt: skip
        """A line of the file; travel is not drawn."""
        if move.operation is None:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        width = 1.5 if move.operation.cuts else 1.1
        painter.setPen(QPen(QColor(move.colour), width) if done else QPen(colour("line"), 0.9))
        painter.drawPath(self.transform.map(path))

    def hovered_at(self, position: QPointF) -> None:
        self.setCursor(Qt.CursorShape.ArrowCursor)


def clock_words(picture: CutPreview, seconds: float) -> str:
    """Return how far the job is, as words."""
    whole = picture.playback.seconds
    index, _ = picture.playback.at(seconds)
    move = picture.playback.moves[index]
    what = "on the way" if move.operation is None else f"{move.operation.value}: {move.piece}"
    return f"{format_duration(seconds)} of {format_duration(whole)}, {what}"


def _path(points: tuple[Point, ...]) -> QPainterPath:
    path = QPainterPath(QPointF(*points[0]))
    for point in points[1:]:
        path.lineTo(*point)
    return path
