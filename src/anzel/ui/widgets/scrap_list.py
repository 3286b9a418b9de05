"""The scraps of a stock on the rack, drawn small: taken off, or added by size or from a drawing."""

from pathlib import Path

import shapely
from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QPen, QPixmap, QTransform
from PySide6.QtWidgets import (
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import layout_edits, project_edits
from anzel.app.number_display import number_format, shown_length
from anzel.app.session import Session
from anzel.core.findings import MakerError, ParameterError
from anzel.materials.scrap import Scrap
from anzel.ui.file_choice import DRAWINGS, choose_file
from anzel.ui.painting import painting
from anzel.ui.theme import colour, sheet_colour
from anzel.ui.views.screen_paths import polygon_path
from anzel.ui.widgets.common_widgets import button, choice_row, fit_rows

_WIDE, _TALL = 44, 28
_MOST_ROWS = 5


class ScrapList(QWidget):
    """Bound to the picked stock."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows = QListWidget()
        self.rows.setAccessibleName("Scraps on the rack")
        self.rows.setIconSize(QSize(_WIDE, _TALL))
        self._off = button("Take it off")
        self._off.clicked.connect(self.remove)
        by_size, drawn = button("By size…"), button("By drawing…")
        by_size.setToolTip("Another scrap, WIDTH x HEIGHT")
        drawn.setToolTip("Another scrap: the largest outline of an SVG or DXF drawing")
        by_size.clicked.connect(self._ask_size)
        drawn.clicked.connect(self._ask_drawing)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.rows)
        column.addLayout(choice_row(by_size, drawn, self._off))

    def refresh(self) -> None:
        """Show the scraps as they are now."""
        stock = self._session.project.stock(self._session.selection.stock_id)
        self.rows.clear()
        for scrap in stock.scraps:
            width, height = (shown_length(side, 0) for side in scrap.size)
            item = QListWidgetItem(_icon(scrap, stock.tint), f"{scrap.name}: {width} × {height}")
            item.setData(Qt.ItemDataRole.UserRole, scrap.name)
            self.rows.addItem(item)
        self.rows.setVisible(bool(stock.scraps))
        self._off.setEnabled(bool(stock.scraps))
        fit_rows(self.rows, _MOST_ROWS)

    def remove(self) -> None:
        """Take the picked scrap, or the first, off the rack."""
        item = self.rows.currentItem() or self.rows.item(0)
        if item is not None:
            name, stock_id = (
                str(item.data(Qt.ItemDataRole.UserRole)),
                self._session.selection.stock_id,
            )
            self._session.attempt(
                f"{name} taken off",
                lambda project: layout_edits.remove_scrap(project, stock_id, name),
            )

    def add_sized(self, text: str) -> None:
        """A rectangular scrap from `WIDTH x HEIGHT`, or say why not."""
        try:
            width, by, height = text.lower().partition("x")
            if not by:
                raise ParameterError(f"“{text}” is no size.", hint="Type WIDTH x HEIGHT.")
            sides = [
                project_edits.typed_length(number_format().typed(side), "scrap")
                for side in (width, height)
            ]
            self._add(shapely.box(0, 0, *sides))
        except MakerError as error:
            self._session.status.show(f"▲ {error}")

    def add_drawn(self, path: Path) -> None:
        """A scrap of the largest outline of a drawing, or say why not."""
        from anzel.output.cut_file_reader import read_cut_file

        try:
            shapes = [piece.region.shape for piece in read_cut_file(path).pieces]
            self._add(max(shapes, key=lambda shape: shape.area))
        except MakerError as error:
            self._session.status.show(f"▲ {error}")

    def _add(self, polygon: shapely.Polygon) -> None:
        stock_id = self._session.selection.stock_id
        self._session.attempt(
            "Another scrap",
            lambda project: layout_edits.add_scrap(project, stock_id, polygon, "scrap"),
        )

    def _ask_size(self) -> None:
        text, agreed = QInputDialog.getText(self, "Another scrap", "Width x height")
        if agreed:
            self.add_sized(text)

    def _ask_drawing(self) -> None:
        path = choose_file(self, "Another scrap", DRAWINGS)
        if path is not None:
            self.add_drawn(path)


def _icon(scrap: Scrap, tint: str) -> QIcon:
    """Return the scrap, small."""
    picture = QPixmap(_WIDE, _TALL)
    picture.fill(Qt.GlobalColor.transparent)
    width, height = scrap.size
    scale = min((_WIDE - 4) / width, (_TALL - 4) / height)
    with painting(picture) as painter:
        painter.setTransform(QTransform(scale, 0, 0, -scale, 2, 2 + height * scale))
        painter.setBrush(sheet_colour(tint))
        pen = QPen(colour("line"), 1.2)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.drawPath(polygon_path(scrap.polygon()))
    return QIcon(picture)
