"""The largest inscribed circle of a region: where its name fits best."""

from functools import lru_cache

import shapely

from anzel.geometry.regions import Region

_NEAR = 1.0
"""How near to the largest circle is near enough, mm."""


@lru_cache(maxsize=4096)
def largest_inscribed_circle(region: Region) -> tuple[float, float, float]:
    """Return (x, y, radius) of the largest circle inside a region, mm."""
    circle = shapely.maximum_inscribed_circle(region.shape, tolerance=_NEAR)
    (x, y), _ = circle.coords
    return (x, y, circle.length)
