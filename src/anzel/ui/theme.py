"""The theme: colours, typeface and style sheet.

This is the one place that says what Anzel looks like.
"""

from collections.abc import Callable
from dataclasses import asdict, dataclass
from functools import cache, lru_cache
from importlib import resources
from pathlib import Path
from string import Template

from PySide6.QtCore import QByteArray, QObject, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontDatabase,
    QGuiApplication,
    QIcon,
    QPainter,
    QPalette,
    QPixmap,
)
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QApplication

from anzel.app.settings import Look
from anzel.core.typeface import font_files

FAMILY = "Hanken Grotesk"
_SCALE, _LOOK, _LOADED = "anzelTextScale", "anzelLook", "anzelTypefaceLoaded"
_RESOURCES = resources.files("anzel.ui.resources")
_DARKER_SHEET = 0.4
"""In the dark, sheets keep their hue and this share of their lightness, so that lines show."""


@dataclass(frozen=True)
class Colours:
    """A palette.

    Text on its ground has a contrast of 4.5 or more; `edge`, which outlines what can be used, and
    other marks that carry meaning 3 or more (WCAG 2.2, 1.4.3 and 1.4.11, level AA). `line` only
    parts areas. Tests compute all of it from these numbers.
    """

    paper: str
    sheet: str
    well: str
    line: str
    edge: str
    ink: str
    soft: str
    accent: str
    accent_strong: str
    accent_soft: str
    warn: str
    warn_soft: str
    on_accent: str


LIGHT = Colours(
    paper="#f4efe4", sheet="#fcf9f2", well="#ebe4d5", line="#d8cdb9", edge="#8a7f6d",
    ink="#26221c", soft="#5f574a", accent="#0f6a5b", accent_strong="#0c5649",
    accent_soft="#d5e6de", warn="#97390f", warn_soft="#f6ddcd", on_accent="#ffffff",
)  # fmt: skip
DARK = Colours(
    paper="#201d19", sheet="#2a2621", well="#39342d", line="#4a443b", edge="#968b79",
    ink="#eee7d9", soft="#bdb3a2", accent="#63c2ad", accent_strong="#86d6c4",
    accent_soft="#1d3c35", warn="#f5a87b", warn_soft="#4d2e1e", on_accent="#10221e",
)  # fmt: skip


_ROLES = {
    QPalette.ColorRole.Window: "paper", QPalette.ColorRole.WindowText: "ink",
    QPalette.ColorRole.Base: "sheet", QPalette.ColorRole.AlternateBase: "well",
    QPalette.ColorRole.Text: "ink", QPalette.ColorRole.Button: "paper",
    QPalette.ColorRole.ButtonText: "ink", QPalette.ColorRole.Highlight: "accent",
    QPalette.ColorRole.HighlightedText: "on_accent", QPalette.ColorRole.ToolTipBase: "ink",
    QPalette.ColorRole.ToolTipText: "sheet", QPalette.ColorRole.PlaceholderText: "soft",
    QPalette.ColorRole.Link: "accent",
}  # fmt: skip


class _Notice(QObject):
    dressed = Signal()


@cache
def _notice() -> _Notice:
    return _Notice()


def when_dressed(call: Callable[[], None]) -> None:
    """Make a call of a QObject each time the look or the size of text has changed.

    It ends with its object. Filters of events would be asked about each event of each widget.
    """
    _notice().dressed.connect(call)


class _InUse:
    """The palette in use, once it was asked for: colours are asked for hundreds of times."""

    dark: bool | None = None


def is_dark() -> bool:
    """Return whether the dark palette is in use."""
    if _InUse.dark is None:
        _InUse.dark = _wants_dark()
    return _InUse.dark


def _wants_dark() -> bool:
    application = QApplication.instance()
    look = (application.property(_LOOK) if application else None) or Look.LIGHT
    if look == Look.SYSTEM:
        return QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark
    return bool(look == Look.DARK)


def colours() -> Colours:
    """Return the palette in use."""
    return DARK if is_dark() else LIGHT


def colour(name: str) -> QColor:
    """Return a colour of the palette in use by name."""
    return QColor(getattr(colours(), name))


def sheet_colour(tint: str) -> QColor:
    """Return the colour of a stock's sheet, darker on the dark ground."""
    colour = QColor(tint)
    if is_dark():
        hue, saturation = colour.hslHueF(), colour.hslSaturationF()
        colour.setHslF(max(hue, 0.0), 0.6 * saturation, _DARKER_SHEET * colour.lightnessF())
    return colour


def font(size: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the shipped typeface at a size in points; its figures are tabular by design."""
    return QFont(_font(size * text_scale(), weight))


@lru_cache(64)  # the sizes of the views: each paint asks for some
def _font(size: float, weight: QFont.Weight) -> QFont:
    chosen = QFont(FAMILY)
    chosen.setPointSizeF(size)
    chosen.setWeight(weight)
    return chosen


def icon(name: str, tint: str = "ink", size: int = 24) -> QIcon:
    """Return a shipped icon in a colour of the palette."""
    return QIcon(icon_pixmap(name, tint, size))


def icon_pixmap(name: str, tint: str = "ink", size: int = 24) -> QPixmap:
    """Return a shipped icon as a picture, drawn at twice its size for fine screens."""
    return _pixmap(name, getattr(colours(), tint), size)


@lru_cache(64)  # the shipped icons in the two palettes
def _pixmap(name: str, stroke: str, size: int) -> QPixmap:
    source = _RESOURCES.joinpath("icons", f"{name}.svg").read_text(encoding="utf-8")
    drawing = source.replace('stroke="#000"', f'stroke="{stroke}"')
    picture = QPixmap(QSize(size, size) * 2)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    QSvgRenderer(QByteArray(drawing.encode())).render(painter)
    painter.end()
    picture.setDevicePixelRatio(2)
    return picture


def apply(application: QApplication) -> None:
    """Load the typeface and dress the application; again when the system turns dark or light."""
    if not application.property(_LOADED):
        application.setProperty(_LOADED, True)
        for entry in font_files():
            QFontDatabase.addApplicationFontFromData(QByteArray(entry.read_bytes()))
        application.styleHints().colorSchemeChanged.connect(lambda _: _dress(application))
    _dress(application)


def use_look(application: QApplication, look: Look, scale: float) -> None:
    """Use a look and a size of text, unless they are in use."""
    held = (application.property(_LOOK), text_scale())
    if held != (look, scale) or not application.property(_LOADED):
        application.setProperty(_LOOK, str(look))
        _InUse.dark = None
        application.setProperty(_SCALE, scale)
        apply(application)


def _dress(application: QApplication) -> None:
    _InUse.dark = None
    palette = QPalette()
    for role, name in _ROLES.items():
        palette.setColor(role, colour(name))
    for role in (QPalette.ColorRole.WindowText, QPalette.ColorRole.Text):
        palette.setColor(QPalette.ColorGroup.Disabled, role, colour("soft"))
    _undress(application)
    application.setPalette(palette)
    application.setFont(font(10))
    application.setStyleSheet(_style_sheet())
    application.setWindowIcon(icon("anzel", size=64))
    _notice().dressed.emit()


def _undress(application: QApplication) -> None:
    """Take the style sheet away: one that replaces another takes six times as long."""
    for widget in application.allWidgets():
        widget.ensurePolished()  # one that was not shown yet would keep its size of text
    application.setStyleSheet("")


def text_scale() -> float:
    """Return how much larger than usual the maker wants all text."""
    application = QApplication.instance()
    return float((application.property(_SCALE) if application else None) or 1.0)


def _style_sheet() -> str:
    """Return the style sheet with the palette and the text sizes filled in."""
    sizes = {f"px{size}": f"{round(size * text_scale())}px" for size in (12, 15, 21)}
    style = _RESOURCES.joinpath("anzel.qss").read_text(encoding="utf-8")
    ground = "dark" if is_dark() else "light"
    marks = {
        name: Path(str(_RESOURCES.joinpath("icons", f"{name}-{ground}.svg"))).as_posix()
        for name in ("tick", "chevron")
    }
    return Template(style).substitute(asdict(colours()) | sizes | marks)
