"""Help: topics with pictures, searched as one types, and every shortcut."""

import re
from collections.abc import Mapping
from dataclasses import asdict
from html import escape
from importlib import resources
from string import Template

from PySide6.QtCore import QByteArray, Qt, QUrl
from PySide6.QtGui import QImage, QPainter, QTextDocument
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLineEdit,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from anzel.app.actions import ACTIONS, MENUS
from anzel.app.number_display import shown
from anzel.ui.theme import colours, icon_pixmap
from anzel.ui.widgets.common_widgets import named_list
from anzel.ui.widgets.text_wide import TextWide

_HELP = resources.files("anzel.ui.resources").joinpath("help")
_GALLERY = resources.files("anzel.ui.resources").joinpath("gallery")
_CONTENTS_WIDTH = 190
_FINE = 2
"""Drawings are rendered so many times finer than they are shown."""


class HelpText(QTextBrowser):
    """Shows a topic; its pictures are shipped icons, forms and drawings in the palette in use."""

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        place, _, rest = QUrl(name).toString().partition(":")
        if kind != QTextDocument.ResourceType.ImageResource.value or not rest:
            return super().loadResource(kind, QUrl(name))
        if place == "icon":
            return icon_pixmap(rest, size=26).toImage()
        if place == "gallery":
            picture = QImage.fromData(_GALLERY.joinpath(f"{rest}.png").read_bytes())
            return picture.scaledToWidth(150, Qt.TransformationMode.SmoothTransformation)
        return _drawing(rest)


class HelpPage(QDialog):
    """A contents list, a field to search in, and the topic."""

    def __init__(self, parent: QWidget, keys: Mapping[str, str]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.resize(860, 640)
        self._topics = topics(keys)
        self.search = QLineEdit()
        self.search.setAccessibleName("Search in the help")
        self.search.setPlaceholderText("Search")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._find)
        self.contents = named_list("Topics")
        self.contents.setSpacing(2)
        self.contents.currentRowChanged.connect(self._show)
        self.text = HelpText()
        self.text.setAccessibleName("Help")
        for title in self._topics:
            self.contents.addItem(title)
        left = QWidget()
        TextWide(left, _CONTENTS_WIDTH)
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.search)
        column.addWidget(self.contents)
        row = QHBoxLayout()
        row.addWidget(left)
        row.addWidget(self.text, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        whole = QVBoxLayout(self)
        whole.addLayout(row)
        whole.addWidget(buttons)
        self.contents.setCurrentRow(0)
        self.search.setFocus()

    def _show(self, row: int) -> None:
        if row >= 0:
            title = self.contents.item(row).text()
            self.text.setHtml(f"<h2>{title}</h2>{self._topics[title]}")
            if self.search.text():
                self.text.find(self.search.text())

    def _find(self, text: str) -> None:
        """Leave only the topics that hold the text, and show the first of them."""
        wanted = text.casefold().split()
        first: QListWidgetItem | None = None
        for row, (title, body) in enumerate(self._topics.items()):
            words = f"{title} {re.sub('<[^>]*>', ' ', body)}".casefold()
            item = self.contents.item(row)
            item.setHidden(not all(word in words for word in wanted))
            first = first or (None if item.isHidden() else item)
        if first is not None and self.contents.currentItem().isHidden():
            self.contents.setCurrentItem(first)
        self._show(self.contents.currentRow())


def topics(keys: Mapping[str, str]) -> dict[str, str]:
    """Return the topics by title, as HTML, with the keys in use."""
    page = _HELP.joinpath("help.html").read_text(encoding="utf-8")
    page = page.replace("@shortcuts", _shortcuts(keys)).replace("@soft", colours().soft)
    parts = re.split(r"<h2>(.*?)</h2>", shown(page))[1:]
    return dict(zip(parts[::2], parts[1::2], strict=True))


def _shortcuts(keys: Mapping[str, str]) -> str:
    rows = []
    for menu in MENUS:
        entries = [action for action in ACTIONS if action.menu == menu and keys[action.id]]
        if entries:
            rows.append(f"<tr><td colspan=2><br><b>{escape(menu.replace('&', ''))}</b></td></tr>")
        rows += [
            f"<tr><td width=170><code>{escape(keys[entry.id])}</code></td>"
            f"<td>{escape(entry.words)}</td></tr>"
            for entry in entries
        ]
    return "".join(rows)


def _drawing(name: str) -> QImage:
    """Return a shipped drawing in the palette in use."""
    source = shown(_HELP.joinpath(name).read_text(encoding="utf-8")).replace("@", "$")
    drawn = Template(source).substitute(asdict(colours()))
    renderer = QSvgRenderer(QByteArray(drawn.encode()))
    image = QImage(renderer.defaultSize() * _FINE, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    renderer.render(painter)
    painter.end()
    image.setDevicePixelRatio(_FINE)
    return image
