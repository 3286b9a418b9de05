"""A picture engraved on a plate: where its corners are, and what of it lies on the piece."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import shapely

from anzel.core.asset import Asset
from anzel.geometry.regions import Region
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

    @property
    def length(self) -> float:
        """How far the cutter goes over it, mm: row by row."""
        return self.width * self.height / self.spacing


def pictures_within(
    pictures: Sequence[EngravedPicture], region: Region
) -> tuple[EngravedPicture, ...]:
    """Return the pictures that lie on a region, and no further than it reaches."""
    return tuple(
        replace(picture, within=region) for picture in pictures
        if region.shape.intersects(shapely.Polygon(picture.corners))
    )  # fmt: skip
