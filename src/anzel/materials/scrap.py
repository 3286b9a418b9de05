"""Scraps: usable rests of sheets, kept on the rack."""

from typing import Annotated

import shapely
from pydantic import Field, model_validator

from anzel.core.immutable import Immutable
from anzel.core.tolerances import COINCIDENT

Ring = Annotated[tuple[tuple[float, float], ...], Field(min_length=3, max_length=5000)]
_LARGEST = 10_000.0


class Scrap(Immutable):
    """A rest of a sheet with any outline, mm; its bounds begin at the origin.

    Its grain runs like that of its stock's sheets.
    """

    name: str = Field(min_length=1, max_length=40)
    outline: Ring
    holes: tuple[Ring, ...] = Field(default=(), max_length=200)

    @classmethod
    def rectangle(cls, name: str, width: float, height: float) -> "Scrap":
        """Return a rectangular scrap."""
        corners = ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))
        return cls(name=name, outline=corners)

    @classmethod
    def of(cls, name: str, polygon: shapely.Polygon) -> "Scrap":
        """Return a scrap of a polygon moved to the origin.

        Raises
        ------
        ValidationError
        """
        left, low, *_ = polygon.bounds

        def ring(points: shapely.LinearRing) -> tuple[tuple[float, float], ...]:
            return tuple((round(x - left, 4), round(y - low, 4)) for x, y in points.coords[:-1])

        holes = tuple(ring(hole) for hole in polygon.interiors)
        return cls(name=name, outline=ring(polygon.exterior), holes=holes)

    @model_validator(mode="after")
    def _is_a_sheet(self) -> "Scrap":
        polygon = self.polygon()
        if not polygon.is_valid or polygon.area < 1.0:
            raise ValueError("its outline crosses itself or holds next to nothing")
        if max(polygon.bounds) > _LARGEST:
            raise ValueError("it is larger than ten metres")
        return self

    def polygon(self) -> shapely.Polygon:
        """Return the scrap as a shapely polygon, mm."""
        return shapely.Polygon(self.outline, self.holes)

    @property
    def size(self) -> tuple[float, float]:
        """(width, height) of its bounds."""
        left, low, right, high = self.polygon().bounds
        return (right - left, high - low)

    @property
    def is_rectangle(self) -> bool:
        """Whether it fills its bounds."""
        width, height = self.size
        return bool(abs(self.polygon().area - width * height) < COINCIDENT * width * height)
