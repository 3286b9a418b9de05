"""Parametric truth: structures solved for one thickness, written, found again and refitted, against
the same structures solved for the other. The solver knows nothing of refits."""

import pytest
import shapely

from anzel.app.edits import cutter_edits, stock_edits
from anzel.geometry.rigid_transform import RigidTransform
from anzel.output.export import render, structure_pages
from anzel.project.derive import fit_context_of, pieces_of
from anzel.project.new_project import project_of
from anzel.refit.features import DrawnFeatureKind, KeptSize
from anzel.refit.load import load_drawing
from anzel.refit.refit import RefitOptions, refit_drawing
from anzel.refit.refitted_regions import refitted_regions
from anzel.structure.forms import new_form


def solved(form, thickness, **changes):
    """A project of one form, all from one sheet of a thickness."""
    project = project_of(form, **changes)
    roles = dict.fromkeys(project.structure.stock_roles(), "ply-3")
    project = project.with_changes(structure=project.structure.with_stocks(roles))
    project = stock_edits.change_stock(project, "ply-3", readings=(thickness,))
    return cutter_edits.change_kerf(project, "ply-3", 0.16)


def refit_of(project, thickness, ending, **wishes):
    """The project's pieces written side by side, and refitted for another thickness."""
    pages = structure_pages(project, loose=True)
    content = render(pages, project.pens, ending)
    rule = fit_context_of(project).rule("ply-3")
    analysis = load_drawing(content, f"pieces{ending}")
    return refit_drawing(analysis, RefitOptions(thickness, rule, **wishes))


def at_origin(region):
    left, low, *_ = region.bounds
    return region.moved(RigidTransform().translated(-left, -low)).shape


def differences(done, target):
    """For each piece the area by which it differs from the one solved for the other sheet, over
    its outline's length: how far edges are off on the whole, mm."""
    wanted = [at_origin(piece.region) for piece in pieces_of(target) for _ in range(piece.count)]
    got = [at_origin(region) for region in refitted_regions(done)]
    assert len(got) == len(wanted)
    off = []
    for shape in got:
        best = min(wanted, key=lambda w: shapely.symmetric_difference(w, shape).area)
        off.append(shapely.symmetric_difference(best, shape).area / shape.length)
        wanted.remove(best)
    return off


@pytest.mark.parametrize("ending", [".svg", ".dxf"])
@pytest.mark.parametrize(("body", "to"), [("sphere", 3.6), ("ellipsoid", 2.4), ("box", 4.0)])
def test_slices_found_again_are_those_of_the_other_sheet(ending, body, to):
    """Slots whose mouths lie on arcs, cubics and straight edges, some slanted to them."""
    size = {"body": body, "first": 4, "second": 4, "height": 90, "width": 110}
    known = new_form("sliceform").typed()
    changes = {name: value for name, value in size.items() if name in known}
    done = refit_of(solved("sliceform", 3.0, **changes), to, ending)
    assert len(done.decisions) == sum(
        len(piece.features) for piece in pieces_of(solved("sliceform", 3.0, **changes))
    )
    assert all(each.moved for each in done.decisions)
    assert done.self_crossing == ()
    assert max(differences(done, solved("sliceform", to, **changes))) < 0.01


@pytest.mark.parametrize("to", [2.6, 4.2])
def test_a_grid_found_again_is_that_of_the_other_sheet(to):
    """Boards crossing in a grid: many slots, all square."""
    done = refit_of(solved("grid-stand", 3.0), to, ".svg", only=frozenset({DrawnFeatureKind.SLOT}))
    slots = [each for each in done.decisions if each.feature.kind is DrawnFeatureKind.SLOT]
    target = solved("grid-stand", to)
    widths = {
        round(f.width.drawn, 6)
        for piece in pieces_of(target) for f in piece.features if f.kind.value == "slot"
    }  # fmt: skip
    assert {round(each.new, 6) for each in slots} == widths
    assert all(each.moved for each in slots)


def test_the_walls_of_a_box_found_again_have_the_fingers_of_the_other_sheet():
    """Every finger of the form is found, in rows, and as high as the other sheet is thick."""
    source = solved("box", 3.0, lid="none", across=0, along=0)
    done = refit_of(source, 3.8, ".svg", keep=KeptSize.OUTSIDE)
    fingers = [each for each in done.decisions if each.feature.row]
    assert len({each.feature.row for each in fingers}) >= 8
    assert {round(each.new, 6) for each in fingers} == {3.8}
    before = [
        region.size
        for region in refitted_regions(
            refit_drawing(done.analysis, RefitOptions(3.0, done.options.rule))
        )
    ]
    after = [region.size for region in refitted_regions(done)]
    walls = {each.feature.piece for each in fingers}
    for was, now in ((before[wall], after[wall]) for wall in walls):
        assert now[0] == pytest.approx(was[0], abs=1e-6)  # the outside stays
