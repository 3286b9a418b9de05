"""Outlines from pictures: shapes drawn by an image library, found again within a pixel."""

import io
from math import cos, hypot, pi, radians, sin

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw
from tests.told import refused

from anzel.core.asset import Asset
from anzel.geometry.segments import Arc, Line
from anzel.tracing.picture import PictureError, grey_of_picture, size_of_picture
from anzel.tracing.primitives import cubic_at, fitted_circle, fitted_cubic, fitted_line
from anzel.tracing.tracing import PicturePlacement, TraceSettings, traced_regions

SIDE = 60.0
FINE = 8


def ring(radius, count, turn=0.0):
    return [(radius * cos(turn + 2 * pi * k / count), radius * sin(turn + 2 * pi * k / count))
            for k in range(count)]  # fmt: skip


def rounded(width, height, radius):
    corners = ((1, 1, 0), (-1, 1, 90), (-1, -1, 180), (1, -1, 270))
    return [
        (sx * (width / 2 - radius) + radius * cos(radians(a + t)),
         sy * (height / 2 - radius) + radius * sin(radians(a + t)))
        for sx, sy, a in corners for t in range(0, 91, 2)
    ]  # fmt: skip


SHAPES = {
    "bracket": [(-20, -15), (20, -15), (20, 0), (5, 0), (5, 18), (-20, 18)],
    "star": [(r * cos(pi / 2 + k * pi / 5), r * sin(pi / 2 + k * pi / 5))
             for k, r in enumerate([22, 10] * 5)],
    "triangle": ring(24, 3, 0.4),
    "rounded": rounded(42, 32, 6),
    "ellipse": [(22 * x, 12 * y) for x, y in ring(1, 200)],
    "disc": ring(21, 300),
}  # fmt: skip
CORNERED = ("bracket", "star", "triangle")


def drawn(outline, dpi, *, turn=0.0, noise=0.0, hole=None):
    """A dark shape on light paper as grey values, drawn eight times as fine and averaged."""
    scale = dpi / 25.4
    size = int(SIDE * scale)
    image = Image.new("L", (size * FINE, size * FINE), 245)
    pen = ImageDraw.Draw(image)
    for shape, ink in ((outline, 40), (hole, 245)):
        if shape is not None:
            pen.polygon([((size / 2 + x * scale) * FINE, (size / 2 - y * scale) * FINE)
                         for x, y in turned(shape, turn)], fill=ink)  # fmt: skip
    grey = np.asarray(image.resize((size, size), Image.Resampling.BOX), dtype=float)
    grain = np.random.default_rng(3).normal(0, noise, grey.shape) if noise else 0.0
    return np.clip(grey + grain, 0, 255), scale


def turned(shape, angle):
    c, s = cos(radians(angle)), sin(radians(angle))
    return [(x * c - y * s, x * s + y * c) for x, y in shape]


def traced(grey, scale, **more):
    width = grey.shape[1] / scale
    within = TraceSettings(within=0.7 / scale, **more)
    return traced_regions(grey, PicturePlacement(0.0, 0.0, width, 0.0), within)


def apart(region, true, step=0.05):
    """The Hausdorff distance of two outlines, mm, looked at in steps."""
    mine = shapely.segmentize(region.outer.polygon_shape.exterior, step)
    theirs = shapely.segmentize(shapely.Polygon(true).exterior, step)
    return shapely.hausdorff_distance(mine, theirs)


@pytest.mark.parametrize("dpi", [150, 300])
@pytest.mark.parametrize(("turn", "noise"), [(0, 0), (17.3, 0), (-38.9, 22)])
@pytest.mark.parametrize("name", SHAPES)
def test_known_shapes_are_found_within_a_pixel_and_so_are_their_corners(name, dpi, turn, noise):
    grey, scale = drawn(SHAPES[name], dpi, turn=turn, noise=noise)
    (region,) = traced(grey, scale)
    true = turned(SHAPES[name], turn)
    assert apart(region, true) * scale <= 1.0
    if name in CORNERED:
        starts = [segment.start for segment in region.outer.segments]
        assert all(isinstance(segment, Line) for segment in region.outer.segments)
        assert len(starts) == len(true)
        for x, y in true:
            assert min(hypot(x - a, y - b) for a, b in starts) * scale <= 1.0
    if name == "rounded":
        radii = [s.radius for s in region.outer.segments if isinstance(s, Arc)]
        assert len(radii) == 4
        assert radii == pytest.approx([6] * 4, abs=2.5 / scale)
    if name == "disc":
        assert region.outer.is_circle
        assert region.outer.segments[0].radius == pytest.approx(21, abs=1 / scale)


def test_holes_stay_holes_and_specks_are_left_out():
    grey, scale = drawn(SHAPES["disc"], 150, hole=ring(12, 3, 0.4))
    grey[5:8, 5:8] = 90
    (region,) = traced(grey, scale)
    (hole,) = region.holes
    assert shapely.hausdorff_distance(
        hole.polygon_shape.exterior, shapely.Polygon(ring(12, 3, 0.4)).exterior
    ) * scale <= 1.0  # fmt: skip


@settings(max_examples=10)
@given(
    x=st.floats(-40, 40), y=st.floats(-40, 40), turn=st.floats(-180, 180), width=st.floats(20, 300)
)
def test_a_picture_that_is_placed_turned_and_scaled_takes_its_shapes_along(x, y, turn, width):
    grey, scale = drawn(SHAPES["bracket"], 150)
    factor = width / (grey.shape[1] / scale)
    placement = PicturePlacement(x, y, width, turn)
    (region,) = traced_regions(grey, placement, TraceSettings(within=0.7 / scale * factor))
    true = [(x + factor * a, y + factor * b) for a, b in turned(SHAPES["bracket"], turn)]
    assert apart(region, true, 0.05 * factor) * scale / factor <= 1.0


def test_the_threshold_and_the_smoothness_say_what_is_dark_and_what_is_a_speck():
    grey, scale = drawn(SHAPES["disc"], 150)
    grey[:40, :60] = 180  # a shadow in the corner
    assert len(traced(grey, scale)) == 1
    assert len(traced(grey, scale, threshold=200)) == 2
    noise = np.random.default_rng(1).integers(0, 256, (120, 180)).astype(float)
    with pytest.raises(PictureError, match="small steps"):
        traced(noise, scale, smoothness=0.0)
    assert traced(np.full((40, 40), 255.0), scale) == ()


def test_what_runs_off_the_picture_is_closed_at_its_edge():
    grey = np.full((200, 300), 245.0)
    grey[60:140, 150:] = 30
    (region,) = traced(grey, 10.0)
    assert region.area == pytest.approx(8 * 15, abs=0.6)


def test_pictures_tell_their_size_and_what_they_are_not():
    stream = io.BytesIO()
    Image.new("RGBA", (300, 200), (0, 0, 0, 0)).save(stream, format="PNG", dpi=(300, 300))
    file = Asset.of("clear.png", stream.getvalue())
    assert size_of_picture(file).width_in_mm == pytest.approx(25.4, abs=0.01)
    assert grey_of_picture(file).min() == 255, "what is see-through is paper"
    with pytest.raises(PictureError, match="no picture"):
        size_of_picture(Asset.of("words.png", b"words"))
    stream = io.BytesIO()
    Image.new("1", (1, 60_000)).save(stream, format="PNG")
    with refused(PictureError, match="strip of 1 × 60000 pixels"):
        size_of_picture(Asset.of("strip.png", stream.getvalue()))


# the fits against closed forms


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(1, 200), st.floats(0.4, 6))
def test_points_of_a_circle_give_that_circle(x, y, radius, sweep):
    angles = np.linspace(0.3, 0.3 + sweep, 40)
    points = np.column_stack((x + radius * np.cos(angles), y + radius * np.sin(angles)))
    found = fitted_circle(points)
    assert found is not None
    assert (*found.centre, found.radius) == pytest.approx((x, y, radius), abs=1e-6 * radius + 1e-6)
    assert found.worst < 1e-6 * (1 + radius)


@given(st.floats(0, 2 * pi), st.floats(-9, 9))
def test_points_of_a_line_give_that_line(angle, off):
    t = np.linspace(-20, 30, 25)
    points = np.column_stack((t * cos(angle) - off * sin(angle), t * sin(angle) + off * cos(angle)))
    found = fitted_line(points)
    assert tuple(found.way) == pytest.approx((cos(angle), sin(angle)), abs=1e-9)
    assert found.worst < 1e-9
    assert fitted_circle(points) is None or fitted_circle(points).radius > 1e4


@given(*[st.tuples(st.floats(-30, 30), st.floats(-30, 30))] * 2)
def test_points_of_a_cubic_give_a_cubic_through_them(first, second):
    controls = np.array([(0, 0), first, second, (60, 5)], dtype=float)
    points = cubic_at(controls, np.linspace(0, 1, 80))
    steps = np.hypot(*np.diff(points, axis=0).T)
    if steps.max() > 4 * steps.min():
        return  # points along a contour are evenly spaced, or nearly
    _, worst = fitted_cubic(points[1:-1], controls[0], controls[3])
    assert worst < 3.0
