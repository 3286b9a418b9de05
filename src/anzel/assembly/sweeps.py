"""What a flat covers while it moves straight, and how much of another flat lies in it.

The solid that a body sweeps on its way is the body itself and all that its leading faces pass over
(any text on swept volumes); nothing is sampled. A flat has few kinds of faces, so all of it is
prisms:

- a way in the plane of the flat sweeps a flat, whose shape is swept in two dimensions;
- a way square to it makes the flat thicker;
- on any other way the leading face sweeps a leaning prism, and each leading edge a parallelepiped.

Only what lies within the bounds of the other flat is made.
"""

from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np
import shapely

from anzel.assembly.bodies import Flat
from anzel.core.tolerances import COINCIDENT, OVERLAP_VOLUME, SQUARE
from anzel.geometry.placement import Vector, dot, norm, scaled
from anzel.geometry.segments import Floats
from anzel.structure.solids import flat_solid

if TYPE_CHECKING:
    import manifold3d


def could_meet(flat: Flat, way: Vector, other: Flat) -> bool:
    """Return whether the bounds of what a flat covers along a way meet those of another flat."""
    low, high = flat.bounds_of(other.corners)
    along = np.array([*flat.placement.direction_to_plate(way), dot(way, flat.placement.normal)])
    own = flat.own_bounds
    least, most = own[0] + np.minimum(along, 0.0), own[1] + np.maximum(along, 0.0)
    return bool((most > low).all() and (least < high).all())


def sweep_meets(flat: Flat, way: Vector, other: Flat) -> bool:
    """Return whether what a flat covers along a way meets another flat by more than float dust."""
    window = flat.bounds_of(other.corners)
    along = np.array(flat.placement.direction_to_plate(way))
    rise = dot(way, flat.placement.normal)
    volume = 0.0  # parts of the sweep may overlap: it can be more than there is, never less
    for solid in _swept(flat, along, rise, window):
        volume += _common(flat.placed(solid), other)
        if volume > OVERLAP_VOLUME:
            return True
    return False


def surely_meets(flat: Flat, way: Vector, other: Flat) -> bool:
    """Return whether rays settle that a flat meets another; False says nothing."""
    return _surely_meets(flat, way, other) or _surely_meets(other, scaled(way, -1.0), flat)


def _surely_meets(flat: Flat, way: Vector, other: Flat) -> bool:
    """Return whether places well inside a flat pass through the other's mid-plane well inside it.

    Round each of them there is an overlap that is more than float dust.
    """
    at = other.placement
    rise = dot(way, at.normal)
    if abs(rise) < SQUARE * norm(way):
        return False
    from_it = flat.places_inside - np.asarray(at.origin)
    share = -(from_it @ np.asarray(at.normal)) / rise
    ahead = (share > 0) & (share < 1)
    if not ahead.any():
        return False
    hit = from_it[ahead] + share[ahead, None] * np.asarray(way)
    x, y = hit @ np.asarray(at.x_axis), hit @ np.asarray(at.y_axis)
    return bool(shapely.contains_xy(other.inside, x, y).any())


def _common(solid: "manifold3d.Manifold", other: Flat) -> float:
    """Return the volume that a solid has in common with a flat."""
    box = np.array(solid.bounding_box()).reshape(2, 3)
    if not np.isfinite(box).all():  # an empty solid
        return 0.0
    corners = np.array([[box[a, 0], box[b, 1], box[c, 2]]
                        for a in (0, 1) for b in (0, 1) for c in (0, 1)])  # fmt: skip
    low, high = other.bounds_of(corners)
    if high[2] <= -other.thickness / 2 or low[2] >= other.thickness / 2:
        return 0.0
    shape = _within(other.shape, low, high)
    if shape.is_empty:
        return 0.0
    return float((solid ^ other.placed(flat_solid(shape, other.thickness))).volume())


def _swept(
    flat: Flat, along: Floats, rise: float, window: Floats
) -> Iterator["manifold3d.Manifold"]:  # fmt: skip
    """Yield what a flat covers within a window, in its own coordinates."""
    reach, half = float(np.hypot(*along)), flat.thickness / 2
    low, high = window
    if high[2] <= min(-half, rise - half) or low[2] >= max(half, rise + half):
        return
    if abs(rise) < SQUARE * reach:
        yield from _prism(_swept_shape(flat.shape, along, low, high), -half, half)
    elif reach < SQUARE * abs(rise):
        ends = min(-half, rise - half), max(half, rise + half)
        yield from _prism(_within(flat.shape, low, high), *ends)
    else:
        yield from _prism(_within(flat.shape, low, high), -half, half)
        yield from _leaning_prism(flat.shape, along, rise, half, window)
        yield from _parallelepipeds(flat.shape, along, rise, half, window)


def _swept_shape(
    shape: shapely.Geometry, along: Floats, low: Floats, high: Floats
) -> shapely.Geometry:
    """Return the flat shape that a shape covers along a vector of its plane, within a window."""
    strips = [
        shapely.Polygon(np.concatenate([run, run[::-1] + along]))
        for run in _leading_runs(shape, along)
    ]
    reached = shapely.box(*low[:2], *high[:2])
    parts = [strip for strip in strips if strip.intersects(reached)]
    return shapely.union_all([_within(shape, low, high), *_clipped(np.array(parts), low, high)])


def _leaning_prism(
    shape: shapely.Geometry, along: Floats, rise: float, half: float, window: Floats
) -> list["manifold3d.Manifold"]:
    """Return what the leading face sweeps."""
    shear = np.eye(3, 4)
    shear[:2, 2] = along / rise
    back = np.minimum(window[0][:2], window[0][:2] - along)
    ahead = np.maximum(window[1][:2], window[1][:2] - along)
    made = _prism(_within(shape, back, ahead), min(0.0, rise), max(0.0, rise))
    return [each.transform(shear).translate((0, 0, half if rise > 0 else -half)) for each in made]


def _parallelepipeds(
    shape: shapely.Geometry, along: Floats, rise: float, half: float, window: Floats
) -> Iterator["manifold3d.Manifold"]:
    """Yield what each leading edge sweeps."""
    import manifold3d

    runs = _leading_runs(shape, along)
    if not runs:
        return
    start = np.concatenate([run[:-1] for run in runs])
    end = np.concatenate([run[1:] for run in runs])
    heights = np.array([-half, half])
    face = np.stack([np.concatenate([point, np.full((len(point), 1), height)], axis=1)
                     for point in (start, end) for height in heights], axis=1)  # fmt: skip
    corners = np.concatenate([face, face + np.array([*along, rise])], axis=1)
    for each in corners[_inside(corners, *window)]:
        yield manifold3d.Manifold.hull_points(each)


def _inside(corners: Floats, low: Floats, high: Floats) -> Floats:
    """Return (n,) whether the bounds of (n, m, d) corners meet a window."""
    inside: Floats = ((corners.max(axis=1) > low) & (corners.min(axis=1) < high)).all(axis=1)
    return inside


def _leading_runs(shape: shapely.Geometry, along: Floats) -> list[Floats]:
    """Return the runs of edges whose outside is ahead, each as its (n, 2) points.

    Across the way a run goes steadily to one side, so what it sweeps is one simple polygon.
    """
    reach, runs = float(np.hypot(*along)), []
    for polygon in shapely.get_parts(shape):
        turned = shapely.geometry.polygon.orient(polygon)  # the outside is to the right
        for ring in (turned.exterior, *turned.interiors):
            points = np.asarray(ring.coords)
            edge = np.diff(points, axis=0)
            ahead = edge[:, 1] * along[0] - edge[:, 0] * along[1] > COINCIDENT * reach
            if not ahead.any():
                continue
            first = int(np.flatnonzero(~ahead)[0])  # a closed ring has edges behind, too
            points = np.concatenate([points[first:-1], points[: first + 1]])
            flags = np.concatenate([[False], np.roll(ahead, -first), [False]]).astype(int)
            turns = np.flatnonzero(np.diff(flags))
            runs += [points[a : b + 1] for a, b in turns.reshape(-1, 2).tolist()]
    return runs


def _within(shape: shapely.Geometry, low: Floats, high: Floats) -> shapely.Geometry:
    """Return what of a shape lies within a window, and a little round it."""
    return _clipped(np.array([shape]), low, high)[0]


def _clipped(shapes: Floats, low: Floats, high: Floats) -> Floats:
    air = 100 * COINCIDENT
    box = shapely.box(low[0] - air, low[1] - air, high[0] + air, high[1] + air)
    clipped: Floats = shapely.intersection(shapes, box)
    return clipped


def _prism(shape: shapely.Geometry, low: float, high: float) -> list["manifold3d.Manifold"]:
    areas = [part for part in shapely.get_parts(shape) if part.geom_type == "Polygon"]
    if not areas:
        return []
    flat = flat_solid(shapely.multipolygons(areas), high - low)
    return [flat.translate((0.0, 0.0, (low + high) / 2))]
