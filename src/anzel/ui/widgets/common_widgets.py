"""Small widgets and layouts that all steps share."""

from collections.abc import Collection

from PySide6.QtCore import QItemSelectionModel, QObject, Qt
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QListWidget,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from anzel.ui.theme import sheet_colour, when_dressed
from anzel.ui.widgets.text_wide import TextWide

PANEL_WIDTH = 348
_ROW = 18
"""The height of a row while there is none to be asked."""


def heading(text: str) -> QLabel:
    """Return a panel's heading."""
    label = QLabel(text)
    label.setObjectName("Heading")
    label.setWordWrap(True)
    return label


def section(text: str) -> QLabel:
    """Return the title of a group in a panel."""
    label = QLabel(text)
    label.setObjectName("Section")
    return label


def quiet(text: str) -> QLabel:
    """Return an explaining line."""
    label = QLabel(text)
    label.setObjectName("Quiet")
    label.setWordWrap(True)
    return label


def button(text: str, kind: str = "") -> QPushButton:
    """Return a push button; kind is "Primary", "Flat" or nothing."""
    made = QPushButton(text)
    made.setObjectName(kind)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    return made


class FoldingSection(QWidget):
    """A group of a panel that opens and closes; what is rarely needed stays shut."""

    def __init__(self, title: str, *, is_open: bool = False) -> None:
        super().__init__()
        self._title = title
        self.head = button("", "Fold")
        self.head.setCheckable(True)
        self.head.toggled.connect(self._show)
        self._inner = QWidget()
        self.body = QVBoxLayout(self._inner)
        self.body.setContentsMargins(0, 0, 0, 2)
        self.body.setSpacing(5)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(3)
        self.column.addWidget(self.head)
        self.column.addWidget(self._inner)
        self.head.setChecked(is_open)
        self._show(is_open)

    def add(self, *widgets: QWidget) -> None:
        """Add widgets from the top down."""
        for widget in widgets:
            self.body.addWidget(widget)

    def rename(self, title: str) -> None:
        """Another title, e.g. with a count."""
        self._title = title
        self._show(self.head.isChecked())

    def _show(self, is_open: bool) -> None:
        self._inner.setVisible(is_open)
        self.head.setText(f"{'▾' if is_open else '▸'}  {self._title}")
        self.head.setAccessibleName(f"{self._title}, {'open' if is_open else 'shut'}")


def folds_in_a_row(*folds: FoldingSection) -> QWidget:
    """Return folds whose heads stand side by side, to save room; what opens is below them."""
    made = QWidget()
    column = QVBoxLayout(made)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    column.addLayout(choice_row(*(fold.head for fold in folds), spacing=0))
    for fold in folds:
        fold.column.setSpacing(0)
        column.addWidget(fold)
    return made


class Panel(QFrame):
    """The column at the right of a step: what is picked, and its few settings.

    It is as wide as the text needs. `top` stays in sight while the rest is scrolled.
    """

    def __init__(self, top: QWidget | None = None) -> None:
        super().__init__()
        self.setObjectName("Panel")
        TextWide(self, PANEL_WIDTH)
        inner = QWidget()
        self.body = QVBoxLayout(inner)
        self.body.setContentsMargins(16, 10, 14, 10)
        self.body.setSpacing(5)
        scroll = QScrollArea()
        scroll.setObjectName("PanelScroll")
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(inner)
        self.area = scroll
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        if top is not None:
            outer.addWidget(top)
        outer.addWidget(scroll)

    def add(self, *widgets: QWidget) -> None:
        """Add widgets from the top down."""
        for widget in widgets:
            self.body.addWidget(widget)


def clear(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while item := layout.takeAt(0):
        if widget := item.widget():
            widget.hide()
            widget.deleteLater()


class _RowsHigh(QObject):
    """Keeps a list as high as so many of its rows, whatever the size of text."""

    def __init__(self, rows: QListWidget) -> None:
        super().__init__(rows)
        self._rows, self.shown = rows, 0
        when_dressed(self.fit)

    def fit(self) -> None:
        """Make the list as high as its rows are now."""
        self._rows.setFixedHeight(self.shown * max(self._rows.sizeHintForRow(0), _ROW) + 8)


def fit_rows(rows: QListWidget, most: int, least: int = 0) -> None:
    """A list as high as its rows, up to so many."""
    keeper = rows.findChild(_RowsHigh) or _RowsHigh(rows)
    keeper.shown = min(max(rows.count(), least), most)
    keeper.fit()


def named_list(name: str) -> QListWidget:
    """Return a list of rows of one height."""
    made = QListWidget()
    made.setAccessibleName(name)
    made.setUniformItemSizes(True)
    return made


def fill_rows(rows: QListWidget, words: list[str], most: int, picked: Collection[int] = ()) -> None:
    """Fill a list that is as high as its rows, up to so many; `picked` are the rows to mark."""
    rows.blockSignals(True)
    rows.clear()
    rows.addItems(words)
    for row in picked:
        rows.item(row).setSelected(True)
        rows.setCurrentRow(row, QItemSelectionModel.SelectionFlag.Select)
    rows.blockSignals(False)
    fit_rows(rows, most, least=1)


def swatch(tint: str, size: int = 18) -> QIcon:
    """Return a filled square of a colour."""
    picture = QPixmap(size, size)
    picture.fill(sheet_colour(tint))
    return QIcon(picture)


def choice_row(*widgets: QWidget, spacing: int = 3) -> QHBoxLayout:
    """Widgets side by side."""
    row = QHBoxLayout()
    row.setSpacing(spacing)
    for widget in widgets:
        row.addWidget(widget)
    return row
