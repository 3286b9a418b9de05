"""Signs, pictures and their writers; the eye and when it moves."""

import io

import numpy as np
import pytest
import shapely
from lxml import etree
from PIL import Image

from anzel.assembly.bodies import AXES, Flat, RigidBody
from anzel.assembly.records import AssemblyProof, AssemblyStep, Move
from anzel.geometry.placement import Placement
from anzel.illustration import signs
from anzel.illustration.eye import Eye
from anzel.illustration.hidden_lines import visible_faces
from anzel.illustration.picture import Fill, Picture, Stroke, Text, placed
from anzel.illustration.scenes import scenes_of
from anzel.output.picture_writers import picture_as_png, picture_as_svg

ALL = (signs.mallet, signs.glue, signs.turn_over, signs.turn_about, signs.grain)


@pytest.mark.parametrize("sign", ALL, ids=lambda sign: sign.__name__)
def test_a_sign_stays_in_its_square_and_is_one_ink(sign):
    marks = sign("#123456")
    for mark in marks:
        shape = mark.area if isinstance(mark, Fill) else mark.lines.buffer(mark.width / 2)
        low_x, low_y, high_x, high_y = shape.bounds
        assert min(low_x, low_y) >= -0.01
        assert max(high_x, high_y) <= signs.SIDE + 0.01
        assert shape.is_valid
        assert mark.colour == "#123456"


def test_no_two_signs_look_alike():
    """Drawn as pixels, every two differ in a tenth of what they cover."""
    drawn = []
    for sign in ALL:
        content = picture_as_png(Picture(10, 10, sign("#000000")), pixels_per_mm=6)
        drawn.append(np.asarray(Image.open(io.BytesIO(content)).convert("L")) < 128)
    for at, one in enumerate(drawn):
        assert one.mean() > 0.03
        for other in drawn[at + 1 :]:
            assert (one ^ other).sum() > 0.1 * (one | other).sum()


def test_a_picture_is_written_true_to_size_and_keeps_its_holes():
    ring = shapely.box(1, 1, 9, 9).difference(shapely.box(4, 4, 6, 6))
    line = Stroke(shapely.LineString([(0, 10), (20, 10)]), "#ff0000", 1.0)
    picture = Picture(20, 12, (Fill(ring, "#000000"), line, Text((10, 3), "6 ×", 4, "#00ff00")))
    root = etree.fromstring(picture_as_svg(picture))
    assert (root.get("width"), root.get("viewBox")) == ("20mm", "0 0 20 12")
    area, stroke = root.findall("{*}path")
    assert area.get("d").count("Z") == 2
    assert area.get("fill-rule") == "evenodd"
    assert stroke.get("d") == "M0.000 2.000L20.000 2.000"
    assert root.find("{*}text").text == "6 ×"
    image = Image.open(io.BytesIO(picture_as_png(picture, pixels_per_mm=10))).convert("RGB")
    assert image.size == pytest.approx((200, 120), abs=1)
    assert image.getpixel((20, 100)) == (0, 0, 0)
    assert image.getpixel((50, 70)) == (255, 255, 255), "the hole"
    assert image.getpixel((100, 20)) == (255, 0, 0)


def test_marks_are_placed_with_their_width_kept():
    stroke = placed(Stroke(shapely.LineString([(0, 0), (2, 1)]), "#000000", 0.3), 3.0, (1.0, 1.0))
    assert list(stroke.lines.coords) == [(1, 1), (7, 4)]
    assert stroke.width == 0.3
    assert placed(Text((2, 2), "A", 4, "#000000"), 2.0, (1.0, 0.0)).at == (5.0, 4.0)


@pytest.mark.parametrize("eye", [Eye(), Eye(200.0, 60.0), Eye(90.0, 10.0, turned_over=True)])
def test_an_eye_keeps_right_angles_and_turns_the_thing_over(eye):
    axes = eye.axes
    assert axes @ axes.T == pytest.approx(np.eye(3))
    assert np.linalg.det(axes) == pytest.approx(1.0)
    assert bool(axes[2, 2] < 0) is eye.turned_over, "towards the eye is down in a thing turned over"
    assert axes[0, 2] == pytest.approx(0.0), "what stands upright is drawn upright"


def _plate(name, at, like="Plate"):
    shape = shapely.box(-20, -20, 20, 20)
    return RigidBody(name, (Flat(shape, 3.0, Placement(at, *AXES[:2])),), like)


def test_the_eye_stays_until_it_no_longer_serves():
    bodies = {n: _plate(n, (0.0, 0.0, 10.0 * at), n) for at, n in enumerate("ABCDE")}
    ways = {"B": (0.0, 0.0, -1.0), "C": (0.0, 0.0, 1.0), "D": (0.0, 1.0, 0.0),
            "E": (0.0, 0.0, 1.0)}  # fmt: skip
    steps = [AssemblyStep((n,), (Move((n,), w, 50.0),)) for n, w in ways.items()]
    scenes = scenes_of(AssemblyProof((AssemblyStep(("A",)), *steps)), bodies)
    assert [scene.turns_over for scene in scenes] == [False, False, True, False, False]
    assert [scene.turns_about for scene in scenes] == [False, False, False, True, False]
    for scene in scenes:
        for move in scene.moves:
            out = -scene.eye.axes @ np.array(move.direction)
            assert out[2] > -0.3, "nothing comes from behind"


def test_what_lies_under_a_plate_is_hidden_and_what_touches_it_is_not():
    low, high = _plate("Low", (0.0, 0.0, 0.0)), _plate("High", (0.0, 0.0, 3.0))
    above = Eye(0.0, 89.9)
    still = [(0.0, 0.0, 0.0)] * 2
    seen = visible_faces([low, high], above, still)
    areas = [sum(f.area.area for f in seen if f.owner == n) for n in (0, 1)]
    assert areas == pytest.approx([0.0, 1600.0], abs=1.0)
    moved = visible_faces([low, high], above, [(0.0, 0.0, 0.0), (10.0, 0.0, 0.0)])
    assert sum(f.area.area for f in moved if f.owner == 0) == pytest.approx(400.0, abs=1.0)
    front = visible_faces([low, high], Eye(0.0, 0.0), still)
    lengths = [shapely.union_all([f.lines for f in front if f.owner == n]).length for n in (0, 1)]
    assert lengths == pytest.approx([86.0, 86.0], abs=0.1), "both outlines, edge on"
