"""Sections of solids, against those that manifold3d cuts from a mesh turned on its side."""

from math import cos, degrees, pi, sin, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, Manifold

from anzel.app import edits
from anzel.project.derive import build_of, sheets_of
from anzel.project.starters import project_of
from anzel.proof.interference import collisions
from anzel.structure.forms import bodies

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
        lambda f, d: bodies.ellipsoid(40, 40, 40, f, d),
    ),
    "ellipsoid": (
        lambda: Manifold.sphere(1, _FINE).scale((50, 30, 20)),
        lambda f, d: bodies.ellipsoid(50, 30, 20, f, d),
    ),
    "cone": (lambda: Manifold.cylinder(90, 40, 0, _FINE), lambda f, d: bodies.cone(40, 90, d)),
    "torus": (
        lambda: Manifold.revolve(CrossSection.circle(12, _FINE).translate((50, 12)), _FINE),
        lambda f, d: bodies.torus(50, 12, d),
    ),
    "egg": (lambda: spun(egg_profile(45, 120), 120), lambda f, d: bodies.egg(45, 120, d)),
    "box": (
        lambda: Manifold.cube((80, 50, 30)).translate((-40, -25, 0)),
        lambda f, d: bodies.box(40, 25, 30, f, d),
    ),
}


@pytest.fixture(scope="module", params=BODIES)
def body(request):
    """A body's name, its mesh and its sections as Anzel has them."""
    make, section = BODIES[request.param]
    return request.param, make(), section


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
    project = edits.change_structure(
        project_of("sliceform"), body=name, angle=angle, first=6, second=6,
        height=40 if name == "torus" else 120,
    )  # fmt: skip
    build = build_of(project)
    assert len(build.joints) >= 8
    assert collisions(build, sheets_of(project), 0.01) == ()
