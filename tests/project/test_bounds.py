"""Bounds of a design: told what goes beyond, and the whole made to fit."""

from dataclasses import astuple

import numpy as np
import pytest

from anzel.app.edits import project_edits
from anzel.core.findings import ParameterError
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.materials.fits import KerfAt
from anzel.project.bounds import Bounds, fits_in, framed_box, framed_piece, standing_box
from anzel.project.demos import fern_lantern, herb_stand
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.inspection import findings_of
from anzel.project.new_project import project_of
from anzel.project.rescale import fits_bounds, largest, overall
from anzel.structure.forms import FORMS


def bounded(project, **bounds):
    return project.with_changes(bounds=Bounds(**bounds))


def told(project):
    return [f.where for f in findings_of(project, ()) if f.code == "beyond-bounds"]


@pytest.mark.parametrize("form", [name for name in FORMS if name != "found"])
def test_the_box_of_what_stands_is_that_of_its_solids(form):
    project = project_of(form).with_changes(kerf_at=KerfAt.CUTTER)
    solved = solved_structure_of(project)
    least, greatest = standing_box(solved)
    sides = np.subtract(greatest, least)
    # solids are made of chords as the outlines are, and manifold3d keeps them as floats
    assert sides == pytest.approx(astuple(overall(solved, fit_context_of(project))), abs=1e-3)


def test_what_goes_beyond_is_told_and_what_fits_is_not():
    stand = herb_stand()
    assert told(bounded(stand, piece_width=228.6, piece_height=177.8)) == []
    assert told(bounded(stand, piece_width=100, piece_height=149)) == [
        "Upright A",
        "Upright B",
        "Top",
    ]
    assert told(bounded(stand, height=116)) == []
    assert told(bounded(stand, height=109, width=90)) == ["The whole", "The whole"]
    assert told(bounded(stand, piece_width=60)) == [], "one side alone bounds nothing"


def test_a_piece_may_lie_askew_in_its_bounds():
    long = Region.of(Contour.polygon([(0, 0), (200, 0), (200, 10), (0, 10)]))
    askew = long.moved(RigidTransform.rotation(40))
    assert fits_in(long, 10, 200)
    assert fits_in(askew, 200.001, 10.001)
    assert not fits_in(long, 150, 150), "not across the corners"


def test_it_is_made_to_fit_as_large_as_its_bounds_let_it_be():
    project = bounded(herb_stand(), height=90, piece_width=120, piece_height=120)
    made = largest(project, fits_bounds)
    assert told(made) == []
    least, greatest = standing_box(solved_structure_of(made))
    tight = greatest[2] - least[2] > 89.9 or max(
        max(piece.region.size) for piece in solved_structure_of(made).pieces
    ) > 119.9  # fmt: skip
    assert tight, "no smaller than it must be"
    with pytest.raises(ParameterError, match="Smaller it cannot be"):
        largest(bounded(fern_lantern(), height=100), fits_bounds)


def test_frames_lie_about_what_they_bound():
    project = bounded(herb_stand(), width=300, height=200, piece_width=100, piece_height=300)
    solved = solved_structure_of(project)
    least, greatest = framed_box(project.bounds, solved)
    assert (greatest[0] - least[0], greatest[2] - least[2]) == (300, 200)
    own = standing_box(solved)
    assert (least[1], greatest[1], least[2]) == (own.least[1], own.greatest[1], own.least[2])
    upright = solved.piece("Upright A").region
    x0, y0, x1, y1 = framed_piece(project.bounds, upright)
    assert (x1 - x0, y1 - y0) == (300, 100), "along its long side"
    assert framed_box(Bounds(), solved) is None
    assert framed_piece(Bounds(), upright) is None


def test_bounds_are_typed_and_taken_away():
    project = project_edits.type_bound(herb_stand(), "piece_width", "9 in")
    assert project.bounds.piece_width == pytest.approx(228.6)
    assert project_edits.type_bound(project, "piece_width", "").bounds == Bounds()
    with pytest.raises(ParameterError):
        project_edits.type_bound(project, "height", "-3")
