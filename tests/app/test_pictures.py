"""Pictures behind plates: placed, scaled, levelled, kept in the project, taken as outlines."""

from math import hypot

import pytest
from PIL import Image, ImageDraw

from anzel.app.edits import free_structure_edits, picture_edits, sketch_edits
from anzel.core.findings import MakerError, ParameterError
from anzel.project.demos import garden_robin
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.rescale import by_factor
from anzel.storage import project_file
from anzel.tracing.tracing import TraceSettings

PLATE = "Left end"


@pytest.fixture
def picture(tmp_path):
    """A dark board of 40 × 20 mm with a round hole, scanned at 254 dpi."""
    image = Image.new("L", (600, 400), 250)
    pen = ImageDraw.Draw(image)
    pen.rectangle([100, 100, 499, 299], fill=20)
    pen.ellipse([150, 150, 249, 249], fill=250)
    image.save(tmp_path / "board.png", dpi=(254, 254))
    return tmp_path / "board.png"


def placed(picture):
    return picture_edits.place_picture(project_of("free", joints=()), PLATE, picture)


def of(project):
    return picture_edits.picture_of(project, PLATE)


def region(project):
    return solved_structure_of(project).piece(PLATE).region


def test_a_picture_lies_behind_its_plate_at_its_own_size_and_is_kept(picture, tmp_path):
    project = placed(picture)
    assert of(project).width == pytest.approx(60, abs=0.01)
    project_file.save(project, tmp_path / "a.anzel")
    again = project_file.load(tmp_path / "a.anzel")
    assert of(again).file.content == picture.read_bytes()
    assert region(again) == region(project_of("free", joints=()))
    larger = by_factor(project, 2)
    assert of(larger).width == pytest.approx(120, abs=0.02)
    renamed = free_structure_edits.rename_plate(project, PLATE, "End")
    assert picture_edits.picture_of(renamed, "End") is not None
    assert picture_edits.remove_picture(project, PLATE).structure.own_pictures == ()
    assert project.assets()[of(project).file.digest] == picture.read_bytes()


def test_two_places_scale_it_and_level_it(picture):
    project = picture_edits.change_picture(placed(picture), PLATE, x=10.0, y=-5.0, turn=3.0)
    one, other = (4.0, 2.0), (24.0, 2.0)
    made = picture_edits.scale_by_points(project, PLATE, one, other, 50.0)
    assert of(made).width == pytest.approx(2.5 * of(project).width)
    before, after = of(project), of(made)
    for at, now, then in zip(one, (after.x, after.y), (before.x, before.y), strict=True):
        assert now - at == pytest.approx(2.5 * (then - at)), "the first place stays"
    level = picture_edits.level_by_points(project, PLATE, (0, 0), (100, 5.24))
    assert of(level).turn == pytest.approx(0.0)
    typed = picture_edits.type_picture(project, PLATE, "turn", "-12.3°")
    assert of(typed).turn == -12.3
    with pytest.raises(ParameterError):
        picture_edits.scale_by_points(project, PLATE, one, one, 5)


def test_what_is_proposed_becomes_the_outline_or_an_opening(picture):
    project = placed(picture)
    (shape,) = picture_edits.proposed_regions(of(project), TraceSettings())
    assert shape.outer.polygon_shape.area == pytest.approx(800, rel=0.005)
    made = picture_edits.take_outline(project, PLATE, shape)
    assert region(made).size == pytest.approx((40, 20), abs=0.1)
    (disc,) = sketch_edits.drawn_sketch(made, PLATE).discs
    assert disc.radius == pytest.approx(5, abs=0.1)
    cut = picture_edits.take_openings(project, PLATE, [shape])
    assert region(cut).area == pytest.approx(region(project).area - 800, abs=5)
    with pytest.raises(ParameterError, match="The form makes"):
        picture_edits.take_outline(project_of("lantern"), "Wall 1", shape)


def test_a_drawing_behind_a_plate_gives_its_own_outlines_exactly(tmp_path):
    file = tmp_path / "leaf.svg"
    file.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">'
        '<path d="M10 30C20 5 60 5 70 30C60 55 20 55 10 30Z"/><circle cx="40" cy="30" r="6"/></svg>'
    )
    project = picture_edits.place_picture(project_of("free", joints=()), PLATE, file)
    assert of(project).is_drawing
    (shape,) = picture_edits.proposed_regions(of(project), TraceSettings())
    controls = shape.outer.segments[0].controls
    assert hypot(controls[3][0] - controls[0][0], 0) == pytest.approx(60, abs=1e-6)
    made = picture_edits.take_outline(project, PLATE, shape)
    assert sketch_edits.drawn_sketch(made, PLATE).discs[0].radius == pytest.approx(6, abs=1e-9)


def test_what_is_no_picture_is_told_and_changes_nothing(tmp_path):
    file = tmp_path / "letter.png"
    file.write_text("Dear maker")
    with pytest.raises(MakerError, match="no picture"):
        picture_edits.place_picture(project_of("free"), PLATE, file)


def test_the_traced_robin_stands_on_its_base_and_follows_its_picture():
    project = garden_robin()
    solved = solved_structure_of(project)
    assert solved.findings == ()
    assert [joint.id for joint in solved.joints] == ["J1"]
    picture = picture_edits.picture_of(project, "Robin")
    (shape,) = picture_edits.proposed_regions(picture, TraceSettings(within=0.2))
    drawn = sketch_edits.drawn_sketch(project, "Robin")
    assert len(shape.outer.segments) == len(drawn.paths[0].legs)
    assert len(drawn.paths[0].legs) < 30
    assert (len(drawn.discs), len(drawn.paths)) == (1, 2), "an eye and a wing"
