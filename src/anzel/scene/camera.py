"""The camera of the standing view.

World z points up; angles in degrees; lengths in mm.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import atan2, cos, degrees, hypot, radians, sin, tan

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector, add_scaled, cross, dot, unit

Matrix = NDArray[np.float64]
_FIELD_OF_VIEW = 28.0
_STEEPEST = 89.0
_AIR = 1.12
"""Room around a fitted structure."""

VIEWS: dict[str, tuple[float, float]] = {
    "corner": (-52.0, 24.0),
    "front": (-90.0, 0.0),
    "side": (0.0, 0.0),
    "above": (-90.0, _STEEPEST),
}
"""Named directions to look from: azimuth and elevation."""

EYES: dict[str, tuple[float, float]] = {"seated": (470.0, 900.0), "upright": (870.0, 1200.0)}
"""Where people look from: eye above the table, and distance along it, mm. Sitting and standing
at a table of 730 mm with eyes at 1200 and 1600: common practice, no source."""


@dataclass(frozen=True)
class Camera:
    """A camera that orbits a target at a distance."""

    target: Vector = (0.0, 0.0, 0.0)
    distance: float = 500.0
    azimuth: float = VIEWS["corner"][0]
    elevation: float = VIEWS["corner"][1]
    parallel: bool = False

    def orbited(self, turn: float, tilt: float) -> "Camera":
        """Return the camera turned round the target and tilted, at most straight above or below."""
        elevation = min(max(self.elevation + tilt, -_STEEPEST), _STEEPEST)
        return replace(self, azimuth=(self.azimuth + turn) % 360, elevation=elevation)

    def zoomed(self, factor: float) -> "Camera":
        """Return the camera nearer (factor > 1) or further."""
        return replace(self, distance=min(max(self.distance / factor, 20.0), 50_000.0))

    def panned(self, right: float, up: float, height: float) -> "Camera":
        """Return the camera moved sideways by a number of pixels in a view `height` pixels high."""
        scale = 2 * self.distance * tan(radians(_FIELD_OF_VIEW / 2)) / height
        _, x, y = self._frame()
        target = add_scaled(add_scaled(self.target, x, -right * scale), y, -up * scale)
        return replace(self, target=target)

    def looking_from(self, view: str) -> "Camera":
        """Return the camera in one of the named directions."""
        azimuth, elevation = VIEWS[view]
        return replace(self, azimuth=azimuth, elevation=elevation)

    def at_eye(self, who: str) -> "Camera":
        """Return the camera at the eyes of somebody seated or standing at the table."""
        height, distance = EYES[who]
        rise = height - self.target[2]
        away = hypot(distance, rise)
        return replace(self, distance=away, elevation=degrees(atan2(rise, distance)))

    def in_parallel(self, parallel: bool) -> "Camera":
        """Return the camera with parallel or perspective projection."""
        return replace(self, parallel=parallel)

    def fitted(self, corners: Matrix, aspect: float = 1.0) -> "Camera":
        """Return the camera moved so that all corners are in a picture of this aspect.

        The direction stays, the (n, 3) corners are as large as possible.
        """
        low, high = corners.min(axis=0), corners.max(axis=0)
        middle = (low + high) / 2
        back, right, up = (np.array(axis) for axis in self._frame())
        half = tan(radians(_FIELD_OF_VIEW / 2)) / _AIR
        offsets = corners - middle
        reach = np.maximum(np.abs(offsets @ right) / aspect, np.abs(offsets @ up)) / half
        depth = 0.0 if self.parallel else offsets @ back
        distance = float((reach + depth).max())
        target = (float(middle[0]), float(middle[1]), float(middle[2]))
        return replace(self, target=target, distance=distance)

    @property
    def eye(self) -> Vector:
        """The position of the eye."""
        return add_scaled(self.target, self._frame()[0], self.distance)

    def matrix(self, aspect: float) -> Matrix:
        """Return the matrix from world to clip coordinates, for column vectors.

        Returns
        -------
        (4, 4) float
        """
        back, right, up = self._frame()
        eye = self.eye
        view = np.eye(4)
        for row, axis in enumerate((right, up, back)):
            view[row, :3] = axis
            view[row, 3] = -dot(axis, eye)
        near, far = self.distance / 50, self.distance * 12
        focal = 1 / tan(radians(_FIELD_OF_VIEW / 2))
        clip = np.zeros((4, 4))
        if self.parallel:
            clip[0, 0], clip[1, 1] = focal / aspect / self.distance, focal / self.distance
            clip[2, 2], clip[2, 3], clip[3, 3] = 2 / (near - far), (far + near) / (near - far), 1.0
            return clip @ view
        clip[0, 0], clip[1, 1] = focal / aspect, focal
        clip[2, 2], clip[2, 3] = (far + near) / (near - far), 2 * far * near / (near - far)
        clip[3, 2] = -1.0
        return clip @ view

    def to_pixels(self, point: Vector, width: float, height: float) -> tuple[float, float]:
        """Return where a world point appears in a picture, from its upper left corner."""
        ((x, y),) = self.all_to_pixels([point], width, height)
        return (float(x), float(y))

    def all_to_pixels(
        self, points: Sequence[Vector], width: float, height: float
    ) -> NDArray[np.float64]:
        """Return where world points appear in a picture, from its upper left corner.

        Returns
        -------
        (n, 2) float
        """
        world = np.column_stack([np.reshape(points, (-1, 3)), np.ones(len(points))])
        x, y, _, w = self.matrix(width / height) @ world.T
        return np.column_stack([(x / w + 1) * width / 2, (1 - y / w) * height / 2])

    def ray(self, x: float, y: float, width: float, height: float) -> tuple[Vector, Vector]:
        """Return the eye and the unit direction through a pixel."""
        back, right, up = self._frame()
        half = tan(radians(_FIELD_OF_VIEW / 2))
        across, above = (2 * x / width - 1) * half * width / height, (1 - 2 * y / height) * half
        ahead = (-back[0], -back[1], -back[2])
        if self.parallel:
            beside = add_scaled(self.eye, right, across * self.distance)
            return add_scaled(beside, up, above * self.distance), ahead
        return self.eye, unit(add_scaled(add_scaled(ahead, right, across), up, above))

    def _frame(self) -> tuple[Vector, Vector, Vector]:
        """Return unit vectors towards the eye, to the right and up in the picture."""
        a, e = radians(self.azimuth), radians(self.elevation)
        back = (cos(a) * cos(e), sin(a) * cos(e), sin(e))
        right = (-sin(a), cos(a), 0.0)
        return back, right, cross(back, right)
