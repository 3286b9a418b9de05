"""Pictures read: how large they are, and how dark each of their pixels is."""

import warnings
from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO

import numpy as np
from numpy.typing import NDArray

from anzel.core.asset import Asset
from anzel.core.findings import MakerError

MOST_PIXELS = 24_000_000
_LONGEST_SIDE = 200
"""Times its short side: a longer strip is no picture, and as wide as a plate it would be as long as
a street."""
_KINDS = ("PNG", "JPEG")
_MM_PER_INCH = 25.4
_USUAL_DPI = 96.0

Grey = NDArray[np.float32]
"""(height, width): 0 is dark, 255 is light."""


class PictureError(MakerError):
    """A file that holds no picture that can be read."""


@dataclass(frozen=True)
class PictureSize:
    """The width and height of a picture, pixels, and the pixels to an inch that it names."""

    width: int
    height: int
    dpi: float

    @property
    def width_in_mm(self) -> float:
        """How wide it is at the resolution that it names, mm."""
        return self.width / self.dpi * _MM_PER_INCH


def size_of_picture(file: Asset) -> PictureSize:
    """Return the size of a PNG or JPEG picture.

    Raises
    ------
    PictureError
        For anything else, and for a picture that is too large.
    """
    return _read(file)[0]


def grey_of_picture(file: Asset) -> Grey:
    """Return how light a picture is; what is see-through counts as white paper.

    Raises
    ------
    PictureError
        Where it cannot be read.
    """
    return _read(file)[1]


@lru_cache(maxsize=2)  # the picture that is traced now, and the one before: 4 bytes a pixel
def _read(file: Asset) -> tuple[PictureSize, Grey]:
    from PIL import Image  # 60 ms to import, so only when a picture is there

    damaged = PictureError(
        f"{file.name} holds no picture that can be read.",
        hint="Save it as PNG or JPEG, or draw it as SVG.",
    )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(BytesIO(file.content), formats=_KINDS) as image:
                if max(image.size) > _LONGEST_SIDE * min(image.size):
                    raise PictureError(
                        f"{file.name} is a strip of {image.width} × {image.height} pixels.",
                        hint=f"Its long side may be {_LONGEST_SIDE} times the short one.",
                    )
                if image.width * image.height > MOST_PIXELS:
                    raise PictureError(
                        f"{file.name} has {image.width} × {image.height} pixels, too many.",
                        hint="Scale it down: 300 to an inch are plenty.",
                    )
                dpi = float(image.info.get("dpi", (_USUAL_DPI,))[0] or _USUAL_DPI)
                whole = image.convert("RGBA")
    except PictureError:
        raise
    except Exception as error:  # the library raises what it meets: struct, value, zlib errors
        raise damaged from error
    paper = Image.new("RGBA", whole.size, "white")
    flat = Image.alpha_composite(paper, whole).convert("L")
    dpi = dpi if 1 < dpi < 100_000 else _USUAL_DPI  # NaN is neither
    return PictureSize(*flat.size, dpi), np.asarray(flat, dtype=np.float32)
