"""Letters as closed outlines, from a font file; fontTools reads it.

Many letters are drawn of parts that overlap; pathops joins those. Quadratic curves become cubic
ones, which is exact (any textbook of splines: the degree is raised).
"""

from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from typing import Any

import pathops
from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont

from anzel.core.findings import ParameterError
from anzel.core.typeface import lettering_font
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segment_mapping import scaled_segment
from anzel.geometry.segments import Cubic, Line, Segment


@dataclass(frozen=True)
class Letter:
    """One letter's outlines about the middle of its width on the line, and where that is, mm."""

    contours: tuple[Contour, ...]
    at: float


class _Pen(BasePen):  # type: ignore[misc]
    """Collects the outlines of a glyph; fontTools raises the degree of quadratic curves."""

    def __init__(self, glyphs: Any) -> None:  # noqa: ANN401
        super().__init__(glyphs)
        self.contours: list[list[Segment]] = []
        self._at: Point = (0.0, 0.0)

    def _moveTo(self, point: Point) -> None:  # noqa: N802
        self.contours.append([])
        self._at = _floats(point)

    def _lineTo(self, point: Point) -> None:  # noqa: N802
        if _floats(point) != self._at:
            self.contours[-1].append(Line(self._at, _floats(point)))
            self._at = _floats(point)

    def _curveToOne(self, one: Point, two: Point, end: Point) -> None:  # noqa: N802
        self.contours[-1].append(Cubic(self._at, _floats(one), _floats(two), _floats(end)))
        self._at = _floats(end)

    def _closePath(self) -> None:  # noqa: N802
        if self.contours[-1]:
            self._lineTo(self.contours[-1][0].start)


def letter_outlines(text: str, height: float, font: bytes | None = None) -> tuple[Letter, ...]:
    """Return the letters of a line of text, its capitals `height` mm high, about its middle.

    `font` is a font file's content; None is the typeface that ships with Anzel.

    Raises
    ------
    ParameterError
        For a file that is no font, or has not all the letters.
    """
    try:
        letters, capital, width = _letters(text, lettering_font() if font is None else font)
    except ParameterError:
        raise
    except Exception as error:  # a font's tables are read letter by letter, and may be damaged
        raise _no_font() from error
    scale = height / capital
    return tuple(
        Letter(
            tuple(Contour(tuple(scaled_segment(s, scale) for s in run)) for run in runs),
            (at - width / 2) * scale,
        )
        for runs, at in letters if runs
    )  # fmt: skip


@lru_cache(maxsize=64)
def _letters(
    text: str, font: bytes
) -> tuple[list[tuple[list[list[Segment]], float]], float, float]:
    """Return each letter's outlines and middle, a capital's height, and the width; font units."""
    file = _font(font)
    names, widths, glyphs = file.getBestCmap(), file["hmtx"], file.getGlyphSet()
    letters, at = [], 0.0
    for character in text:
        name = names.get(ord(character))
        if name is None:
            raise ParameterError(
                f"The font has no letter “{character}”.", field="text",
                hint="Leave it out, or take another font.",
            )  # fmt: skip
        advance = float(widths[name][0])
        runs = _outlines(glyphs, name)
        centred = RigidTransform().translated(-advance / 2, 0.0)
        letters.append(([[s.moved(centred) for s in run] for run in runs], at + advance / 2))
        at += advance
    return letters, _capital(file, glyphs, names), at


def _outlines(glyphs: Any, name: str) -> list[list[Segment]]:  # noqa: ANN401
    path = pathops.Path()
    glyphs[name].draw(path.getPen(glyphSet=glyphs))
    path.simplify(fix_winding=True)
    pen = _Pen(glyphs)
    path.draw(pen)
    return [run for run in pen.contours if len(run) > 1]


def _capital(file: TTFont, glyphs: Any, names: dict[int, str]) -> float:  # noqa: ANN401
    """Return the height of a capital letter, or of the em where there is none."""
    if "H" in map(chr, names):
        tops = [s.end[1] for run in _outlines(glyphs, names[ord("H")]) for s in run]
        if tops and max(tops) > 0:
            return max(tops)
    return float(file["head"].unitsPerEm)


@lru_cache(maxsize=8)
def _font(content: bytes) -> TTFont:
    try:
        file = TTFont(BytesIO(content))
        for table in ("cmap", "hmtx", "head"):
            file[table]
        if not file.getBestCmap():
            raise KeyError("cmap")
        file.getGlyphSet()
    except Exception as error:  # whatever fontTools makes of a file that is no font
        raise _no_font() from error
    return file


def _no_font() -> ParameterError:
    return ParameterError(
        "That file is no font that can be read.", hint="TrueType and OpenType fonts can.",
        field="font",
    )  # fmt: skip


def _floats(point: Point) -> Point:
    return (float(point[0]), float(point[1]))
