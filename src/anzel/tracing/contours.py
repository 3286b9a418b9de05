"""Contours between dark and light, found by contourpy's marching squares, with their holes."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely

from anzel.geometry.segments import Floats
from anzel.tracing.picture import Grey

_AROUND = 2
"""White pixels set round the picture, so that what runs off it is closed."""


@dataclass(frozen=True)
class DarkShape:
    """A dark shape as found: its outline and its holes, each (n, 2), pixels, not closed.

    The x axis runs right and the y axis up, from the lower left corner of the picture.
    """

    outline: Floats
    holes: tuple[Floats, ...]


def dark_shapes(
    grey: Grey, threshold: float, smoothness: float, least_area: float
) -> Iterator[DarkShape]:
    """Yield the shapes darker than a threshold, largest first.

    The picture is blurred by `smoothness` pixels first (the standard deviation of a Gaussian);
    shapes and holes of less than `least_area` pixels are specks.
    """
    from contourpy import FillType, contour_generator
    from scipy.ndimage import gaussian_filter

    padded = np.pad(grey, _AROUND, constant_values=255.0)
    smooth = gaussian_filter(padded, smoothness) if smoothness > 0 else padded
    height = smooth.shape[0]
    generator = contour_generator(z=smooth, fill_type=FillType.OuterOffset, corner_mask=False)
    found, offsets = generator.filled(-1.0, threshold)[:2]
    shapes = []
    for points, starts in zip(found, offsets, strict=True):
        assert points is not None
        assert starts is not None
        rings = [_placed(points[a:b], height) for a, b in pairwise(starts)]
        areas = [abs(_area(ring)) for ring in rings]
        if areas[0] < least_area:
            continue
        holes = tuple(
            ring for ring, area in zip(rings[1:], areas[1:], strict=True) if area >= least_area
        )
        shapes.append((areas[0], DarkShape(rings[0], holes)))
    yield from (shape for _, shape in sorted(shapes, key=lambda each: -each[0]))


def _placed(points: Floats, height: int) -> Floats:
    """Return a ring in the picture's coordinates, y upwards, without its repeated end.

    Pixel (0, 0) has its middle half a pixel inside.
    """
    ring = np.asarray(points[:-1], dtype=float)
    return np.column_stack((ring[:, 0] + 0.5 - _AROUND, height - _AROUND - 0.5 - ring[:, 1]))


def _area(ring: Floats) -> float:
    return float(shapely.Polygon(ring).area) if len(ring) > 2 else 0.0
