"""The largest inscribed circle of a region: where its name fits best."""

from functools import lru_cache

import shapely

from anzel.core.tolerances import INSCRIBED_CIRCLE
from anzel.geometry.regions import Region


@lru_cache(maxsize=512)  # keys keep their regions: as many as a few structures have pieces
def largest_inscribed_circle(region: Region) -> tuple[float, float, float]:
    """Return (x, y, radius) of the largest circle inside a region, mm."""
    circle = shapely.maximum_inscribed_circle(region.shape, tolerance=INSCRIBED_CIRCLE)
    (x, y), _ = circle.coords
    return (x, y, circle.length)
