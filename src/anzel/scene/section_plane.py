"""The section plane that cuts the standing structure open, and rays into what is kept."""

from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector, add_scaled
from anzel.scene.camera import Camera

Plane = tuple[float, float, float, float]
"""(a, b, c, d): what has a x + b y + c z + d < 0 is cut away."""
WHOLE: Plane = (0.0, 0.0, 0.0, 1.0)


def section_plane_facing(corners: NDArray[np.float64], camera: Camera, share: float) -> Plane:
    """Return an upright plane facing the eye that cuts away a share of the whole on its side."""
    if share <= 0:
        return WHOLE
    x, y = cos(radians(camera.azimuth)), sin(radians(camera.azimuth))
    along = corners @ np.array([x, y, 0.0])
    kept = float(along.max() - share * np.ptp(along))
    return (-x, -y, 0.0, kept)


def signed_distance(plane: Plane, at: Vector) -> float:
    """Return how far a point is inside what is kept, mm; negative where it is cut away."""
    a, b, c, d = plane
    return a * at[0] + b * at[1] + c * at[2] + d


def ray_entry(plane: Plane, eye: Vector, direction: Vector) -> Vector:
    """Return where a ray from the eye enters what is kept: the eye itself if it is on that side."""
    away, speed = (
        signed_distance(plane, eye),
        signed_distance(plane, add_scaled(eye, direction)) - signed_distance(plane, eye),
    )
    return eye if away >= 0 or speed <= 0 else add_scaled(eye, direction, -away / speed)
