"""The window's colours for a picture of the standing structure, and such a picture for Qt."""

from typing import TYPE_CHECKING

from PySide6.QtGui import QColor, QImage

from anzel.scene.render_request import RenderStyle, Rgb
from anzel.ui.theme import colour

if TYPE_CHECKING:
    from anzel.scene.offscreen import RenderedPicture


def render_style(tints: dict[str, str]) -> RenderStyle:
    """Return the window's ground, shadow, edges and accent, with the tints of stocks."""
    plain = [_rgb(colour(name)) for name in ("paper", "well", "ink", "accent")]
    shown = {stock: _rgb(QColor(tint)) for stock, tint in tints.items()}
    return RenderStyle(plain[0], plain[1], plain[2], plain[3], shown)


def to_qimage(picture: "RenderedPicture") -> QImage:
    """Return a picture's pixels, kept by Qt."""
    width, height = picture.request.size
    image = QImage(picture.pixels, width, height, width * 4, QImage.Format.Format_RGBA8888)
    return image.copy()


def _rgb(value: QColor) -> Rgb:
    return (value.redF(), value.greenF(), value.blueF())
