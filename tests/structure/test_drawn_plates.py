"""Plates brought in from drawings: read as found drawings are, with their lines and hinges."""

import ezdxf
import numpy as np
import pytest
import shapely
from tests.common import HINGE, rectangle

from anzel.app.edits import artwork_edits, drawn_hinge_edits, free_structure_edits, joint_edits
from anzel.app.edits import drawing_edits as de
from anzel.core.findings import MakerError
from anzel.geometry.regions import Region
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import empty_table, project_of
from anzel.storage import project_file
from anzel.structure.disconnected_parts import named_parts
from anzel.structure.line_work import LineOperation, LineWish

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="200mm" viewBox="0 0 300 200">'
HARD = {
    "loose segments": '<path d="M0 0H80"/><path d="M80 0V50"/><path d="M80 50H0"/>'
                      '<path d="M0 50V0"/>',
    "a small gap": '<path d="M0 0H80V50H0V0.03"/>',
    "an ellipse": '<ellipse cx="60" cy="40" rx="50" ry="30"/>',
    "a doubled outline": '<path d="M0 0H80V50H0Z"/><path d="M0 0H80V50H0Z"/>',
    "an island in a hole": '<path d="M0 0H80V50H0Z"/><path d="M20 10H60V40H20Z"/>'
                           '<path d="M30 20H50V30H30Z"/>',
    "an open line on it": '<path d="M0 0H80V50H0Z"/><g id="score"><path d="M10 10L70 40"/></g>',
}  # fmt: skip


def brought(tmp_path, drawn, name="drawn.svg"):
    (tmp_path / name).write_text(drawn if drawn.startswith("<svg") else f"{HEAD}{drawn}</svg>")
    project = project_of("free", joints=())
    stock = project.stocks[0].id
    return free_structure_edits.add_drawing(project, tmp_path / name, stock)


@pytest.mark.parametrize("kind", HARD)
def test_what_is_hard_to_read_comes_in_is_kept_and_joins(kind, tmp_path):
    project, names = brought(tmp_path, HARD[kind])
    project_file.save(project, tmp_path / "a.anzel")
    again = project_file.load(tmp_path / "a.anzel")
    assert again == project
    solved = solved_structure_of(free_structure_edits.make_free(again))
    wide = {"an ellipse": 100}.get(kind, 80)
    assert solved.piece(names[0]).region.size[0] == pytest.approx(wide, abs=0.05)
    assert all(solved.piece(name).region.shape.is_valid for name in names)
    assert len(names) == (2 if kind == "an island in a hole" else 1)
    project = free_structure_edits.change_plate(project, names[0], tilt=90.0, z=10.0)
    for proposal in joint_edits.suggestions_of(project):
        solved_structure_of(joint_edits.join(project, proposal.ways[0]))


def test_lines_come_along_as_their_layers_say_and_can_be_changed(tmp_path):
    project, (name,) = brought(tmp_path, HARD["an open line on it"])
    (line,) = solved_structure_of(project).piece(name).lines
    assert (line.operation, line.path.length) == (
        LineOperation.SCORE, pytest.approx((60**2 + 30**2) ** 0.5),
    )  # fmt: skip
    middle = shapely.Point(line.path.segments[0].point_at(0.5))
    assert middle.distance(shapely.Point(0, 0)) < 1e-9, "where it was, about the plate's middle"
    (item,) = artwork_edits.items_on(project, name)
    cut = artwork_edits.decide_label(project, item.id, "score", LineWish.CUT)
    (line,) = solved_structure_of(cut).piece(name).lines
    assert line.operation is LineOperation.CUT


def test_a_drawn_hinge_stands_bent_by_the_angle_that_is_typed(tmp_path):
    project, (name,) = brought(tmp_path, HINGE, "panel.svg")
    piece = solved_structure_of(project).piece(name)
    cuts = [line for line in piece.lines if line.operation is LineOperation.CUT]
    assert len(cuts) == 20
    assert len(piece.bent) == 20, "19 links, both ends"

    def corner(project):
        bent = solved_structure_of(project).piece(name).bent
        (ax, ay, az), (bx, by, bz) = bent[0].placement.normal, bent[-1].placement.normal
        return ax * bx + ay * by + az * bz

    assert corner(project) == pytest.approx(0.0, abs=1e-9)
    turned = free_structure_edits.type_bend(project, name, 0, "60°")
    assert corner(turned) == pytest.approx(0.5)
    flat = free_structure_edits.type_bend(project, name, 0, "0")
    assert not solved_structure_of(flat).piece(name).bent


def test_the_hinge_of_a_found_drawing_is_told_bent_and_taken_along(tmp_path):
    project = de.import_file(empty_table(), "hinge.svg", HINGE.encode())
    (hinge,) = drawn_hinge_edits.hinges_of(project, "hinge.svg")
    assert (hinge.id, hinge.angle) == ("1.1", 90)
    made = drawn_hinge_edits.bend_hinge(project, "hinge.svg", "1.1", "45")
    (piece,) = solved_structure_of(made).pieces
    assert len(piece.bent) == 20
    (other,) = drawn_hinge_edits.hinges_of(made, "hinge.svg")
    thick = piece.thickness / 2
    assert other.inner_radius + thick == pytest.approx(2 * (hinge.inner_radius + thick))
    free = free_structure_edits.make_free(made)
    (plate,) = free.structure.plates
    assert plate.bends == (45,)
    (same,) = solved_structure_of(free).pieces
    length = sum(line.path.length for line in piece.lines)
    assert sum(line.path.length for line in same.lines) == pytest.approx(length)
    assert len(same.bent) == 20
    with pytest.raises(MakerError):
        drawn_hinge_edits.bend_hinge(made, "hinge.svg", "9.9", "45")


def test_a_drawing_without_outlines_is_refused(tmp_path):
    with pytest.raises(MakerError, match="no closed outline"):
        brought(tmp_path, '<path d="M0 0L80 50"/>')


@pytest.mark.parametrize(("anchor", "share"), [("start", 0.0), ("middle", 0.5), ("end", 1.0)])
def test_texts_are_lines_of_our_letters_where_they_stand(tmp_path, anchor, share):
    """As high as capitals are, from the base line up, beside the place that the file names."""
    text = f'<text x="90" y="40" font-size="10" text-anchor="{anchor}">MHM</text>'
    project, (name,) = brought(tmp_path, f'<path d="M0 0H180V80H0Z"/>{text}')
    lines = solved_structure_of(project).piece(name).lines
    assert {line.operation for line in lines} == {LineOperation.ENGRAVE}
    left, low, right, top = shapely.MultiLineString([x.path.stroke for x in lines]).bounds
    assert (low, top) == pytest.approx((0, 7), abs=1e-6), "y runs up from the plate's middle"
    assert left + share * (right - left) == pytest.approx(0, abs=1e-6)


def test_texts_of_dxf_are_lines_too(tmp_path):
    document = ezdxf.new()
    document.units = ezdxf.units.MM
    space = document.modelspace()
    space.add_lwpolyline([(0, 0), (100, 0), (100, 60), (0, 60)], close=True)
    space.add_text("HH", height=6, rotation=90, dxfattribs={"insert": (40, 10)})
    space.add_mtext("MM\\PMM", dxfattribs={"insert": (60, 50), "char_height": 5})
    document.saveas(tmp_path / "d.dxf")
    project = project_of("free", joints=())
    made, (name,) = free_structure_edits.add_drawing(
        project, tmp_path / "d.dxf", project.stocks[0].id
    )
    lines = [x.path.stroke for x in solved_structure_of(made).piece(name).lines]
    boxes = np.add(shapely.bounds(list(map(shapely.LineString, lines))), [50, 30, 50, 30])
    turned, level = boxes[boxes[:, 0] < 50], boxes[boxes[:, 0] > 50]
    assert (turned[:, 0].min(), turned[:, 2].max()) == pytest.approx((34, 40))
    assert turned[:, 1].min() == pytest.approx(10)
    assert (level[:, 1].min(), level[:, 3].max()) == pytest.approx((37, 50))


def test_any_number_of_parts_have_names_of_their_own():
    parts = [Region.of(rectangle(5, 5, 10.0 * at)) for at in range(800)]
    named = named_parts("Plate", parts)
    assert list(named.values()) == parts
    assert [*named][25:28] == ["Platez", "Plateaa", "Plateab"]
