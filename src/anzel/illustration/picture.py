"""A picture of vectors: areas, lines and short texts on a sheet, mm, in the order of drawing."""

from dataclasses import dataclass, replace

import shapely
from shapely.affinity import affine_transform

Point = tuple[float, float]


@dataclass(frozen=True, eq=False)
class Fill:
    """An area in one colour."""

    area: shapely.Geometry
    colour: str


@dataclass(frozen=True, eq=False)
class Stroke:
    """Lines of one width, mm, with round ends."""

    lines: shapely.Geometry
    colour: str
    width: float


@dataclass(frozen=True)
class Text:
    """A short text, its baseline's start, middle or end at a place; the size in mm."""

    at: Point
    text: str
    size: float
    colour: str
    anchor: str = "start"


Mark = Fill | Stroke | Text


@dataclass(frozen=True)
class Picture:
    """Marks on a sheet of so many mm; y points up."""

    width: float
    height: float
    marks: tuple[Mark, ...]

    def over(self, other: "Picture", at: Point = (0.0, 0.0)) -> "Picture":
        """Return the picture with another one drawn on it, its lower left corner at a place."""
        moved = tuple(placed(mark, 1.0, at) for mark in other.marks)
        return replace(self, marks=(*self.marks, *moved))


def placed(mark: Mark, scale: float, at: Point) -> Mark:
    """Return a mark scaled about the origin and then moved; lines keep their width."""
    if isinstance(mark, Text):
        x, y = mark.at
        return replace(mark, at=(x * scale + at[0], y * scale + at[1]))
    matrix = [scale, 0.0, 0.0, scale, at[0], at[1]]
    if isinstance(mark, Fill):
        return Fill(affine_transform(mark.area, matrix), mark.colour)
    return Stroke(affine_transform(mark.lines, matrix), mark.colour, mark.width)
