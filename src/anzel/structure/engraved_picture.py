"""A picture engraved on a plate: where its corners are, and what of it lies on the piece."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import dist

import numpy as np
import shapely

from anzel.core.asset import Asset
from anzel.geometry.regions import Region, Stroke
from anzel.geometry.rigid_transform import Point, RigidTransform


@dataclass(frozen=True)
class EngravedPicture:
    """A picture `width` by `height` mm about the origin of a transform to the plate.

    It is engraved within a region; rows of its pixels are `spacing` mm apart.
    """

    file: Asset
    width: float
    height: float
    motion: RigidTransform
    spacing: float
    within: Region | None = None
    is_back: bool = False

    def moved(self, motion: RigidTransform) -> "EngravedPicture":
        """Return the picture after a rigid transform."""
        within = self.within.moved(motion) if self.within is not None else None
        return replace(self, motion=self.motion.then(motion), within=within)

    @property
    def corners(self) -> tuple[Point, Point, Point, Point]:
        """Its corners, the lower left one first, as its own directions are."""
        x, y = self.width / 2, self.height / 2
        a, b, c, d = (self.motion(p) for p in ((-x, -y), (x, -y), (x, y), (-x, y)))
        return (a, b, c, d)

    @cached_property
    def rows(self) -> Stroke:
        """The way of the cutter over it."""
        a, b, _, d = self.corners
        return rows_over((a, b, d), self.spacing)


def rows_over(corners: tuple[Point, Point, Point], spacing: float) -> Stroke:
    """Return the way of a cutter over a picture, there and back row by row from its upper left.

    The corners are the lower left, lower right and upper left one. Rows lie about `spacing` mm
    apart, so that a whole number of them fills the picture.
    """
    low, right, top = map(np.array, corners)
    count = max(round(dist(corners[0], corners[2]) / spacing), 1)
    starts = top + np.outer((np.arange(count) + 0.5) / count, low - top)
    ends = starts + (right - low)
    ways = np.stack([starts, ends], axis=1)
    ways[1::2] = ways[1::2, ::-1]
    return tuple((float(x), float(y)) for x, y in ways.reshape(-1, 2))


def pictures_within(
    pictures: Sequence[EngravedPicture], region: Region
) -> tuple[EngravedPicture, ...]:
    """Return the pictures that lie on a region, and no further than it reaches."""
    return tuple(
        replace(picture, within=region) for picture in pictures
        if region.shape.intersects(shapely.Polygon(picture.corners))
    )  # fmt: skip
