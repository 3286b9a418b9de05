"""Line pictures against a z-buffer: another way to see what is hidden, by pixels."""

import numpy as np
import pytest
import shapely
from scipy.ndimage import binary_dilation, maximum_filter, minimum_filter

from anzel.illustration.eye import Eye
from anzel.illustration.hidden_lines import visible_faces
from anzel.project.assembly import bodies_in
from anzel.project.demos import DEMOS
from anzel.structure.solids import triangles_of

_PIXELS = 420
_STILL = (0.0, 0.0, 0.0)


def z_buffer(bodies, eye, low, scale):
    """Return for each pixel the body that is nearest, its depth, and its normal's direction."""
    owner = np.full((_PIXELS, _PIXELS), -1)
    depth = np.full((_PIXELS, _PIXELS), -np.inf)
    slope = np.zeros((_PIXELS, _PIXELS, 2))
    for number, body in enumerate(bodies):
        for corners in triangles_of(body.solid) @ eye.axes.T:
            normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
            if normal[2] <= 1e-9:
                continue
            points = (corners[:, :2] - low) * scale
            x0, y0 = np.maximum(np.floor(points.min(axis=0)).astype(int), 0)
            x1, y1 = np.minimum(np.ceil(points.max(axis=0)).astype(int) + 1, _PIXELS)
            x, y = np.meshgrid(np.arange(x0, x1) + 0.5, np.arange(y0, y1) + 0.5)
            inside = np.ones(x.shape, dtype=bool)
            for a, b in ((0, 1), (1, 2), (2, 0)):
                (ax, ay), (bx, by) = points[a], points[b]
                inside &= (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0
            a, b = -normal[:2] / normal[2]
            here = corners[0, 2] + (a * (x - points[0, 0]) + b * (y - points[0, 1])) / scale
            window = (slice(y0, y1), slice(x0, x1))
            nearer = inside & (here > depth[window])
            owner[window][nearer], depth[window][nearer] = number, here[nearer]
            slope[window][nearer] = a, b
    return owner, depth, slope


def edges_of(owner, depth, slope, scale):
    """Return the pixels beside which another body, a step or a crease begins."""
    found = maximum_filter(owner, 3) != minimum_filter(owner, 3)
    seen = np.where(np.isfinite(depth), depth, -1e3)
    steep = 1.5 * np.abs(slope).sum(axis=2) / scale
    found |= maximum_filter(seen, 3) - minimum_filter(seen, 3) > 2 * steep + 0.3
    for part in (0, 1):
        found |= maximum_filter(slope[..., part], 3) - minimum_filter(slope[..., part], 3) > 0.25
    return found


@pytest.mark.parametrize(("name", "eye"), [
    ("herb-stand", Eye()), ("fern-lantern", Eye(75.0, 12.0)), ("phone-stand", Eye(200.0, 40.0)),
    ("potting-cube", Eye(32.0, 26.0, turned_over=True)),
], ids=str)  # fmt: skip
def test_the_same_edges_are_seen_as_in_a_z_buffer(name, eye):
    project = next(demo for demo in DEMOS if demo.name == name).make()
    bodies = bodies_in(project).all
    faces = visible_faces(bodies, eye, [_STILL] * len(bodies), tolerance=0.01)
    boxes = np.array([face.area.bounds for face in faces if not face.area.is_empty])
    low, high = boxes[:, :2].min(axis=0) - 2.0, boxes[:, 2:].max(axis=0) + 2.0
    scale = _PIXELS / float((high - low).max())
    owner, depth, slope = z_buffer(bodies, eye, low, scale)
    near = binary_dilation(edges_of(owner, depth, slope, scale), np.ones((3, 3)))

    lines = shapely.union_all([face.lines for face in faces])
    places = [
        shapely.get_coordinates(line.interpolate(np.arange(0.0, line.length, 0.7 / scale)))
        for line in shapely.get_parts(lines)
    ]
    pixels = ((np.concatenate(places) - low) * scale).astype(int)
    drawn_where_seen = near[pixels[:, 1], pixels[:, 0]]
    assert drawn_where_seen.mean() > 0.995, "lines that the z-buffer does not see"

    drawn = np.zeros_like(near)
    drawn[pixels[:, 1], pixels[:, 0]] = True
    other = maximum_filter(owner, 3) != minimum_filter(owner, 3)
    seen_where_drawn = binary_dilation(drawn, np.ones((5, 5)))[other]
    assert seen_where_drawn.mean() > 0.995, "edges of bodies that are not drawn"


def test_areas_are_those_of_the_z_buffer():
    project = next(demo for demo in DEMOS if demo.name == "phone-stand").make()
    bodies = bodies_in(project).all
    eye = Eye()
    faces = visible_faces(bodies, eye, [_STILL] * len(bodies))
    boxes = np.array([face.area.bounds for face in faces if not face.area.is_empty])
    low, high = boxes[:, :2].min(axis=0) - 2.0, boxes[:, 2:].max(axis=0) + 2.0
    scale = _PIXELS / float((high - low).max())
    owner = z_buffer(bodies, eye, low, scale)[0]
    for number in range(len(bodies)):
        area = sum(face.area.area for face in faces if face.owner == number)
        assert area == pytest.approx((owner == number).sum() / scale**2, rel=0.03, abs=20)
    whole = sum(face.area.area for face in faces)
    covered = shapely.union_all([face.area for face in faces]).area
    assert whole == pytest.approx(covered, rel=1e-6), "no place of the sheet is seen twice"
