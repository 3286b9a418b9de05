"""The theme: colours, typeface and style sheet.

This is the one place that says what Anzel looks like.
"""

from dataclasses import asdict, dataclass
from importlib import resources
from string import Template

from PySide6.QtCore import QByteArray, QSize, Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QApplication

FAMILY = "Hanken Grotesk"
_SCALE, _LOADED = "anzelTextScale", "anzelTypefaceLoaded"
_RESOURCES = resources.files("anzel.ui.resources")


@dataclass(frozen=True)
class Colours:
    """The palette.

    Text on its ground has a contrast of 4.5 or more (WCAG AA).
    """

    paper: str = "#f4efe4"
    sheet: str = "#fcf9f2"
    well: str = "#ebe4d5"
    line: str = "#d8cdb9"
    ink: str = "#26221c"
    soft: str = "#665d50"
    accent: str = "#0f6a5b"
    accent_soft: str = "#d5e6de"
    warn: str = "#a23f16"
    warn_soft: str = "#f6ddcd"
    on_accent: str = "#ffffff"


COLOURS = Colours()


def colour(name: str) -> QColor:
    """Return a colour of the palette by name."""
    return QColor(getattr(COLOURS, name))


def font(size: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the shipped typeface at a size in points; its figures are tabular by design."""
    chosen = QFont(FAMILY)
    chosen.setPointSizeF(size * text_scale())
    chosen.setWeight(weight)
    return chosen


def icon(name: str, tint: str = "ink", size: int = 24) -> QIcon:
    """Return a shipped icon in a colour of the palette."""
    return QIcon(icon_pixmap(name, tint, size))


def icon_pixmap(name: str, tint: str = "ink", size: int = 24) -> QPixmap:
    """Return a shipped icon as a picture, drawn at twice its size for fine screens."""
    source = _RESOURCES.joinpath("icons", f"{name}.svg").read_text(encoding="utf-8")
    drawing = source.replace('stroke="#000"', f'stroke="{getattr(COLOURS, tint)}"')
    picture = QPixmap(QSize(size, size) * 2)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    QSvgRenderer(QByteArray(drawing.encode())).render(painter)
    painter.end()
    picture.setDevicePixelRatio(2)
    return picture


def apply(application: QApplication) -> None:
    """Load the typeface and dress the application."""
    if not application.property(_LOADED):
        application.setProperty(_LOADED, True)
        for entry in _RESOURCES.joinpath("fonts").iterdir():
            if entry.name.endswith(".ttf"):
                QFontDatabase.addApplicationFontFromData(QByteArray(entry.read_bytes()))
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: "paper",
        QPalette.ColorRole.WindowText: "ink",
        QPalette.ColorRole.Base: "sheet",
        QPalette.ColorRole.AlternateBase: "well",
        QPalette.ColorRole.Text: "ink",
        QPalette.ColorRole.Button: "paper",
        QPalette.ColorRole.ButtonText: "ink",
        QPalette.ColorRole.Highlight: "accent",
        QPalette.ColorRole.HighlightedText: "on_accent",
        QPalette.ColorRole.ToolTipBase: "ink",
        QPalette.ColorRole.ToolTipText: "sheet",
        QPalette.ColorRole.PlaceholderText: "soft",
    }
    for role, name in roles.items():
        palette.setColor(role, colour(name))
    application.setPalette(palette)
    application.setFont(font(10))
    application.setStyleSheet(_style_sheet())
    application.setWindowIcon(icon("anzel", size=64))


def text_scale() -> float:
    """Return how much larger than usual the maker wants all text."""
    application = QApplication.instance()
    return float((application.property(_SCALE) if application else None) or 1.0)


def scale_text(application: QApplication, scale: float) -> None:
    """Make all text larger or smaller, within reason."""
    application.setProperty(_SCALE, min(max(round(scale, 2), 0.8), 1.8))
    apply(application)


def _style_sheet() -> str:
    """Return the style sheet with the palette and the text sizes filled in."""
    sizes = {f"px{size}": f"{round(size * text_scale())}px" for size in (12, 15, 21)}
    style = _RESOURCES.joinpath("anzel.qss").read_text(encoding="utf-8")
    return Template(style).substitute(asdict(COLOURS) | sizes)
