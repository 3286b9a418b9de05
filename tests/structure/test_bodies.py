"""Sections of solids, against those that manifold3d cuts from a mesh turned on its side."""

from functools import cache
from math import cos, degrees, pi, sin, sqrt

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, Manifold

from anzel.app.edits import project_edits
from anzel.checks.interference import collisions
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.forms import analytic_sections
from anzel.structure.solids import produced_solid

_FINE = 720


def spun(profile, height):
    """A body of revolution of a profile r(z), as a mesh."""
    zs = height * (1 - np.cos(np.linspace(0, pi, 400))) / 2
    outline = [(0.0, 0.0), *((max(profile(z), 0.0), z) for z in zs), (0.0, height)]
    return Manifold.revolve(CrossSection([outline]), _FINE)


def egg_profile(radius, height):
    """The egg as two half ellipses, blunt end down, told once more for this test."""
    low = 0.42 * height
    return lambda z: (
        radius * sqrt(max(1 - ((z - low) / (height - low if z > low else low)) ** 2, 0))
    )


def meshed_section(solid, turn, d):
    """Area, width and height of a mesh cut by the upright plane whose normal is at `turn`.

    manifold3d slices level planes only, so the normal is turned up first."""
    lying = solid.rotate((0.0, 0.0, -degrees(turn))).rotate((0.0, -90.0, 0.0))
    section = lying.slice(d)
    low_z, low_u, high_z, high_u = section.bounds()
    return section.area(), high_u - low_u, high_z - low_z


def own_section(section):
    """The same three numbers of ours."""
    boxes = np.array([region.bounds for region in section])
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    return (sum(region.area for region in section), *(high - low))


BODIES = {
    "sphere": (
        lambda: Manifold.sphere(40, _FINE),
        lambda f, d: analytic_sections.ellipsoid(40, 40, 40, f, d),
    ),
    "ellipsoid": (
        lambda: Manifold.sphere(1, _FINE).scale((50, 30, 20)),
        lambda f, d: analytic_sections.ellipsoid(50, 30, 20, f, d),
    ),
    "cone": (
        lambda: Manifold.cylinder(90, 40, 0, _FINE),
        lambda f, d: analytic_sections.cone(40, 90, d),
    ),
    "torus": (
        lambda: Manifold.revolve(CrossSection.circle(12, _FINE).translate((50, 12)), _FINE),
        lambda f, d: analytic_sections.torus(50, 12, d),
    ),
    "egg": (
        lambda: spun(egg_profile(45, 120), 120),
        lambda f, d: analytic_sections.egg(45, 120, d),
    ),
    "box": (
        lambda: Manifold.cube((80, 50, 30)).translate((-40, -25, 0)),
        lambda f, d: analytic_sections.box(40, 25, 30, f, d),
    ),
}


@cache
def mesh_of(name):
    """The mesh of a body, which takes a second to make."""
    return BODIES[name][0]()


@pytest.fixture(scope="module", params=BODIES)
def body(request):
    """A body's name, its mesh and its sections as Anzel has them."""
    return request.param, mesh_of(request.param), BODIES[request.param][1]


@pytest.mark.slow
@given(turn=st.floats(0, pi), share=st.floats(-0.9, 0.9))
@settings(max_examples=25)
def test_sections_are_those_of_a_mesh_of_the_same_body(body, turn, share):
    name, solid, section = body
    reach = {"ellipsoid": sqrt((50 * cos(turn)) ** 2 + (30 * sin(turn)) ** 2), "torus": 62.0,
             "egg": 45.0, "box": 25.0}.get(name, 40.0)  # fmt: skip
    d = share * reach
    meshed, own = meshed_section(solid, turn, d), own_section(section(turn, d))
    assert own[0] == pytest.approx(meshed[0], rel=2e-3)
    assert own[1:] == pytest.approx(meshed[1:], abs=0.1)


@pytest.mark.parametrize("angle", [60, 90, 130])
@pytest.mark.parametrize("name", BODIES)
def test_slices_of_every_body_graze_nothing(name, angle):
    """Corners of slices that meet outside their outlines are cleared; nothing overlaps."""
    project = project_edits.change_structure(
        project_of("sliceform"), body=name, angle=angle, first=6, second=6,
        height=40 if name == "torus" else 120,
    )  # fmt: skip
    solved = solved_structure_of(project)
    assert len(solved.joints) >= 8
    assert collisions(solved, fit_context_of(project), 0.01) == ()


LEVEL = {
    "ellipsoid": lambda z: analytic_sections.level_ellipsoid(50, 30, 20, z),
    "cone": lambda z: analytic_sections.level_disc(40 * (1 - z / 90)),
    "torus": lambda z: analytic_sections.level_torus(50, 12, z),
    "egg": lambda z: analytic_sections.level_disc(analytic_sections.egg_radius(45, 120, z)),
}
LOWEST = {"ellipsoid": -20.0}


@pytest.mark.slow
@pytest.mark.parametrize("name", LEVEL)
@given(share=st.floats(0.05, 0.95))
@settings(max_examples=15)
def test_level_sections_are_those_of_the_same_mesh(name, share):
    solid = mesh_of(name)
    low, high = solid.bounding_box()[2], solid.bounding_box()[5]
    z = low + share * (high - low)
    ours = sum(region.area for region in LEVEL[name](z - LOWEST.get(name, 0.0)))
    assert ours == pytest.approx(solid.slice(z).area(), rel=3e-3)


WAYS = {
    "shell": {"wall": 8.0}, "cradle": {"cradle": True, "stick_out": 30.0},
    "deep cradle": {"cradle": True, "stick_out": 2.0, "margin": 25.0},
    "discs and fan": {"slices": "discs and fan", "second": 12},
    "hollow discs": {"slices": "discs and fan", "wall": 14.0, "loop": 6.0},
    "hung and named": {"loop": 8.0, "marks": True},
}  # fmt: skip


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("name", BODIES)
def test_every_body_is_made_in_every_way_without_a_clash(name, way):
    height = {"torus": 50, "sphere": 140}.get(name, 130)
    project = project_of("sliceform", body=name, height=height, **WAYS[way])
    solved = solved_structure_of(project)
    assert len(solved.joints) >= 30
    assert collisions(solved, fit_context_of(project), 0.01) == ()
    assert all(joint.features_on(piece) for joint in solved.joints for piece in joint.pieces)
    assert all(piece.region.shape.is_valid for piece in solved.pieces)
    assert [f for f in solved.findings if f.code == "sliver"] == []


def test_a_cradle_holds_the_body_and_lets_it_in():
    """Straight down into the block: nothing of a slice stands above any place of the body."""
    project = project_of(
        "sliceform", body="sphere", width=100, cradle=True, stick_out=20, margin=15
    )
    solved = solved_structure_of(project)
    assert max(piece.region.bounds[3] for piece in solved.pieces) == pytest.approx(95)
    sphere = Manifold.sphere(50, 64)  # of chords, so a little smaller
    sphere = sphere.translate((0, 0, 65))
    fit_context = fit_context_of(project)
    for up in (0, 10, 25, 50):
        lifted = sphere.translate((0, 0, up))
        for piece in solved.pieces:
            assert (produced_solid(piece, fit_context) ^ lifted).volume() < 0.5


def test_a_shell_is_as_thick_as_asked_and_open_below():
    solved = solved_structure_of(
        project_of("sliceform", body="sphere", width=120, wall=10, first=1, second=3)
    )
    middle = solved.piece("A1").region
    assert middle.spans((0.0, 60.0), (1.0, 0.0)) == [
        (pytest.approx(-60), pytest.approx(-50)), (pytest.approx(50), pytest.approx(60)),
    ]  # fmt: skip
    assert middle.spans((10.0, 0.0), (0.0, 1.0))[0][0] > 100


def test_a_loop_stands_on_a_slice_and_a_name_lies_inside_it():
    solved = solved_structure_of(project_of("sliceform", loop=10, marks=True))
    hung = [piece for piece in solved.pieces if piece.region.bounds[3] > 160]
    assert [piece.name for piece in hung] == ["B4"]
    assert hung[0].region.bounds[3] == pytest.approx(160 + 6 + 9)
    (eye,) = (hole for hole in hung[0].region.holes)
    assert eye.is_circle
    for piece in solved.pieces:
        strokes = [point for stroke in piece.name_strokes for point in stroke]
        assert strokes
        assert shapely.contains_xy(piece.region.shape, strokes).all()
