"""Shapes made ready to be asked many things, by one thread.

What GEOS prepares of a shape is filled in while it is asked, without a lock: two threads that ask
the same prepared shape at a time end the process. So shapes that are kept are never prepared, only
copies of them, which stay in the function that asks. shapely's `contains_xy` and `intersects_xy`
prepare the very shape that they are given.
"""

import shapely


def prepared(shape: shapely.Geometry) -> shapely.Geometry:
    """Return a prepared copy of a shape, which must stay in the function that asks for it."""
    copy = shapely.set_srid(shape, 0)
    shapely.prepare(copy)
    return copy


def prepared_for_points(shape: shapely.Geometry) -> shapely.Geometry:
    """Return a copy that several threads may ask by `contains_xy`, but nothing else.

    All that this needs is there from the first question on, and only read after it.
    """
    copy = prepared(shape)
    shapely.contains_xy(copy, 0.0, 0.0)
    return copy


def is_in(shape: shapely.Geometry, x: float, y: float) -> bool:
    """Return whether a point lies in a shape."""
    return bool(shapely.contains(shape, shapely.Point(x, y)))
