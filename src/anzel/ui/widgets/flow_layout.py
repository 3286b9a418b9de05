"""A layout that fills rows from the left and goes on in the next row where a row is full."""

from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Widgets in rows; as many in a row as there is room for, each centred in its row's height."""

    def __init__(self, parent: QWidget | None = None, *, spacing: int = 3) -> None:
        super().__init__(parent)
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(spacing)
        self._items: list[QLayoutItem] = []
        self._pushed: QLayoutItem | None = None

    def push_last(self) -> None:
        """Push the last item, and what follows it in its row, to the right edge."""
        self._pushed = self._items[-1]

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem:
        return self._items[index] if 0 <= index < len(self._items) else None  # type: ignore[return-value]

    def takeAt(self, index: int) -> QLayoutItem:
        return self._items.pop(index) if 0 <= index < len(self._items) else None  # type: ignore[return-value]

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._arrange(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, move=True)

    def minimumSize(self) -> QSize:
        sizes = [item.minimumSize() for item in self._shown()]
        widest = max((size.width() for size in sizes), default=0)
        highest = max((size.height() for size in sizes), default=0)
        edges = self.contentsMargins()
        return QSize(widest + edges.left() + edges.right(), highest + edges.top() + edges.bottom())

    def sizeHint(self) -> QSize:
        sizes = [item.sizeHint() for item in self._shown()]
        edges = self.contentsMargins()
        wide = sum(size.width() for size in sizes) + self.spacing() * max(len(sizes) - 1, 0)
        high = max((size.height() for size in sizes), default=0)
        return QSize(wide + edges.left() + edges.right(), high + edges.top() + edges.bottom())

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]

    def _arrange(self, rect: QRect, *, move: bool) -> int:
        """Return the height that a width needs; with `move`, put the widgets there."""
        edges = self.contentsMargins()
        room = rect.width() - edges.left() - edges.right()
        y = rect.y() + edges.top()
        for row in self._rows(room):
            high = max(item.sizeHint().height() for item in row)
            x = rect.x() + edges.left()
            for item in row:
                size = item.sizeHint()
                if item is self._pushed:
                    x = max(x, rect.x() + edges.left() + room - self._wide(row[row.index(item) :]))
                if move:
                    at = QPoint(x, y + (high - size.height()) // 2)
                    item.setGeometry(QRect(at, QSize(min(size.width(), room), size.height())))
                x += size.width() + self.spacing()
            y += high + self.spacing()
        return y - self.spacing() - rect.y() + edges.bottom()

    def _wide(self, row: list[QLayoutItem]) -> int:
        return sum(item.sizeHint().width() + self.spacing() for item in row) - self.spacing()

    def _rows(self, room: int) -> list[list[QLayoutItem]]:
        rows: list[list[QLayoutItem]] = [[]]
        used = 0
        for item in self._shown():
            wide = item.sizeHint().width()
            if rows[-1] and used + wide > room:
                rows.append([])
                used = 0
            rows[-1].append(item)
            used += wide + self.spacing()
        return rows if rows[-1] else rows[:-1]
