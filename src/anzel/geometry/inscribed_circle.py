"""Where a region has most room: for its name on the screen, or engraved."""

from functools import lru_cache

import shapely

from anzel.geometry.regions import Region

_NEAR = 1.0
"""How near to the largest circle is near enough, mm."""


@lru_cache(maxsize=4096)
def largest_inscribed_circle(region: Region) -> tuple[float, float, float]:
    """Middle (x, y) and radius of the largest circle that fits in a region, mm."""
    circle = shapely.maximum_inscribed_circle(region.shape, tolerance=_NEAR)
    (x, y), _ = circle.coords
    return (x, y, circle.length)
