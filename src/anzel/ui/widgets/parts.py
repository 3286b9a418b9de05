"""Small pieces of layout that all steps share."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

PANEL_WIDTH = 348


def heading(text: str) -> QLabel:
    """A panel's heading."""
    label = QLabel(text)
    label.setObjectName("Heading")
    label.setWordWrap(True)
    return label


def section(text: str) -> QLabel:
    """The title of a group in a panel."""
    label = QLabel(text)
    label.setObjectName("Section")
    return label


def quiet(text: str) -> QLabel:
    """An explaining line."""
    label = QLabel(text)
    label.setObjectName("Quiet")
    label.setWordWrap(True)
    return label


def button(text: str, kind: str = "") -> QPushButton:
    """A push button; kind is "Primary", "Flat" or nothing."""
    made = QPushButton(text)
    made.setObjectName(kind)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    return made


class Panel(QFrame):
    """The column at the right of a step: what is picked, and its few settings."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("Panel")
        self.setFixedWidth(PANEL_WIDTH)
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
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scroll)

    def add(self, *widgets: QWidget) -> None:
        """Add widgets from the top down."""
        for widget in widgets:
            self.body.addWidget(widget)


def clear(layout: QVBoxLayout) -> None:
    """Take everything out of a layout."""
    while item := layout.takeAt(0):
        widget = item.widget()
        if widget:
            widget.hide()
            widget.deleteLater()
