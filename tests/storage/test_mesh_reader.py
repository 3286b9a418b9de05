"""Meshes read from every format, repaired or refused; sections against trimesh's own.

The scan is the Stanford bunny (Stanford 3D Scanning Repository), as the package pymeshfix ships it:
open below, so it is closed by pymeshfix first.
"""

import io
import zipfile
from functools import reduce
from importlib.resources import files
from math import cos, pi, radians, sin
from pathlib import Path

import numpy as np
import pymeshfix
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.told import in_mm, refused

from anzel.app.edits import project_edits
from anzel.app.edits.mesh_edits import import_remarks, slice_mesh, take_mesh
from anzel.checks.interference import collisions
from anzel.core.asset import Asset
from anzel.core.findings import ParameterError
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.storage import mesh_reader, project_file
from anzel.storage.atomic_file import FileError
from anzel.storage.mesh_reader import KINDS, MOST_BODIES, MeshError, read_mesh
from anzel.storage.project_file import DamagedFileError
from anzel.structure.forms import mesh_sections
from anzel.structure.forms.sliceable_body import Body


def ball(radius=40.0, fineness=3):
    """A closed mesh of triangles."""
    return trimesh.creation.icosphere(subdivisions=fineness, radius=radius)


def saved(mesh, path):
    """A mesh as a file."""
    mesh.export(path)
    return path


@pytest.fixture(scope="module")
def bunny(tmp_path_factory):
    """The scan, closed: as a mesh of trimesh's and as read."""
    scan = trimesh.load_mesh(str(files("pymeshfix") / "examples" / "StanfordBunny.ply"))
    corners, faces = pymeshfix.clean_from_arrays(np.array(scan.vertices), np.array(scan.faces))
    closed = trimesh.Trimesh(corners, faces)
    return closed, read_mesh(saved(closed, tmp_path_factory.mktemp("scan") / "bunny.stl"))


@pytest.mark.parametrize("kind", KINDS)
def test_every_format_gives_the_same_body(tmp_path, kind):
    imported_mesh = read_mesh(saved(ball(), tmp_path / f"ball.{kind}"))
    assert (imported_mesh.mesh.name, imported_mesh.repairs) == (f"ball.{kind}", ())
    assert imported_mesh.height == pytest.approx(80, abs=1e-5)
    assert mesh_sections.solid(
        mesh_sections.triangles(imported_mesh.mesh.content)
    ).volume() == pytest.approx(ball().volume, rel=1e-6)


def test_a_scan_that_is_open_is_refused_with_the_place(tmp_path):
    scan = Path(str(files("pymeshfix") / "examples" / "StanfordBunny.ply"))
    with pytest.raises(MeshError, match=r"485 edges do not join two triangles, one near") as caught:
        read_mesh(scan)
    assert caught.value.hint


def without(mesh, count):
    """A mesh with its first triangles missing."""
    mesh.update_faces(np.arange(len(mesh.faces)) >= count)
    return mesh


def turned(mesh):
    """A mesh with some triangles facing inwards."""
    mesh.faces[:9] = mesh.faces[:9, ::-1]
    return mesh


def doubled(mesh):
    """A mesh with some triangles twice."""
    return trimesh.Trimesh(mesh.vertices, np.vstack([mesh.faces, mesh.faces[:5]]), process=False)


def torn(mesh):
    """A mesh whose triangles have corners of their own, a little apart."""
    corners = mesh.triangles.reshape(-1, 3)
    corners = corners + np.random.default_rng(3).uniform(-2e-5, 2e-5, corners.shape)
    return trimesh.Trimesh(corners, np.arange(len(corners)).reshape(-1, 3), process=False)


@pytest.mark.parametrize(
    ("spoil", "mend"),
    [
        (lambda m: without(m, 1), "small holes closed with 1 triangles"),
        (turned, "triangles turned to face outwards"),
        (doubled, "5 flat or doubled triangles left out"),
        (torn, "corners joined that were almost in one place"),
    ],
)
def test_small_faults_are_mended_and_said(tmp_path, spoil, mend):
    imported_mesh = read_mesh(saved(spoil(ball()), tmp_path / "ball.ply"))
    assert any(mend in each for each in imported_mesh.repairs)
    body = mesh_sections.solid(mesh_sections.triangles(imported_mesh.mesh.content))
    assert body.volume() == pytest.approx(ball().volume, rel=2e-3)


def test_bodies_that_touch_or_overlap_are_made_one(tmp_path):
    block, other = trimesh.creation.box((40, 30, 20)), trimesh.creation.box((40, 30, 20))
    other.apply_translation((30, 0, 0))
    imported_mesh = read_mesh(saved(trimesh.util.concatenate([block, other]), tmp_path / "two.ply"))
    assert imported_mesh.repairs == ("2 bodies made one",)
    assert mesh_sections.solid(
        mesh_sections.triangles(imported_mesh.mesh.content)
    ).volume() == pytest.approx(70 * 600)


def archive(content):
    """A 3MF whose model is this."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("3D/3dmodel.model", content)
    return buffer.getvalue()


BOMB = (
    '<?xml version="1.0"?><!DOCTYPE m [<!ENTITY a "aaaaaaaaaa">'
    + "".join(
        f'<!ENTITY {b} "{f"&{a};" * 10}">' for a, b in zip("abcdefgh", "bcdefghi", strict=True)
    )
    + ']><model unit="millimeter">&i;</model>'
)
FLAT = trimesh.Trimesh([(0, 0, 0), (9, 0, 0), (0, 9, 0)], [(0, 1, 2), (0, 2, 1)], process=False)


@pytest.mark.parametrize(
    ("name", "content"),
    [
        ("empty.stl", b""), ("words.stl", b"solid but not"), ("noise.ply", bytes(range(256))),
        ("nothing.obj", b"# no faces\nv 0 0 0\n"),
        ("far.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 inf\nf 1 2 3"),
        ("plain.3mf", b"PK no archive"), ("bomb.3mf", archive(BOMB)), ("empty.3mf", archive("")),
        ("sheet.stl", FLAT.export(file_type="stl")),
        ("lying.stl", b"\0" * 80 + b"\xff\xff\xff\x7f"),
        ("picture.png", b"\x89PNG"),
    ],
)  # fmt: skip
def test_what_holds_no_body_is_refused_in_one_line(tmp_path, name, content):
    (tmp_path / name).write_bytes(content)
    with pytest.raises(FileError) as caught:
        read_mesh(tmp_path / name)
    assert name in str(caught.value)
    assert "\n" not in str(caught.value)


def test_far_too_many_triangles_are_refused(tmp_path, monkeypatch):
    monkeypatch.setattr(mesh_reader, "MOST_TRIANGLES", 100)
    with pytest.raises(MeshError, match="more than 100 triangles"):
        read_mesh(saved(ball(), tmp_path / "ball.stl"))


def doubling(objects):
    """A 3MF in which each object is twice the one before."""
    made = "".join(
        f'<object id="{at + 1}"><components>{two}</components></object>'
        for at in range(1, objects)
        for two in [f'<component objectid="{at}"/>' * 2]
    )
    space = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
    body = '<object id="1"><mesh><vertices/><triangles/></mesh></object>'
    return (
        f'<model unit="millimeter" xmlns="{space}"><resources>{body}{made}</resources>'
        f'<build><item objectid="{objects}"/></build></model>'
    )


def tetrahedra(count):
    """As many bodies in one OBJ file."""
    corners = [(3 * at + x, y, z) for at in range(count)
               for x, y, z in ((0, 0, 0), (1, 0, 0), (0, 1, 0), (0, 0, 1))]  # fmt: skip
    faces = [tuple(4 * at + each for each in face) for at in range(count)
             for face in ((1, 3, 2), (1, 2, 4), (1, 4, 3), (2, 3, 4))]  # fmt: skip
    lines = [f"v {x} {y} {z}" for x, y, z in corners] + [f"f {a} {b} {c}" for a, b, c in faces]
    return "\n".join(lines).encode()


@pytest.mark.parametrize(
    ("name", "content"),
    [("doubling.3mf", archive(doubling(40))), ("crowd.obj", tetrahedra(MOST_BODIES + 1))],
)
def test_far_too_many_bodies_are_refused_at_once(tmp_path, name, content):
    (tmp_path / name).write_bytes(content)
    with refused(MeshError, match=f"more than {MOST_BODIES} bodies"):
        read_mesh(tmp_path / name)


@given(st.binary(max_size=400), st.sampled_from(KINDS))
@settings(max_examples=40)
def test_no_bytes_make_the_reader_fall_over(tmp_path_factory, content, kind):
    path = tmp_path_factory.mktemp("noise") / f"noise.{kind}"
    path.write_bytes(content)
    with pytest.raises(FileError):
        read_mesh(path)


def area_by_trimesh(mesh, origin, normal):
    """The area of a section, inside what it cuts an odd number of times."""
    flat, _ = mesh.section(plane_origin=origin, plane_normal=normal).to_2D()
    return reduce(shapely.symmetric_difference, map(shapely.Polygon, flat.discrete)).area


def test_sections_of_a_scan_are_those_that_trimesh_cuts(bunny):
    scan, read = bunny
    low, high = scan.bounds
    foot = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    body = Body("mesh", 0, 0, read.height, read.mesh)
    for turn, d in ((0.0, 3.0), (0.7, -6.5), (pi / 2, 11.0)):
        normal = np.array([cos(turn), sin(turn), 0.0])
        theirs = area_by_trimesh(scan, foot + d * normal, normal)
        assert sum(r.area for r in body.upright(turn, d)) == pytest.approx(theirs, rel=2e-3)
    theirs = area_by_trimesh(scan, foot + np.array([0, 0, 20]), (0, 0, 1))
    assert sum(r.area for r in body.level(20)) == pytest.approx(theirs, rel=2e-3)


@pytest.mark.parametrize("turn", [0, 30, 90])
def test_slices_add_up_to_the_volume(bunny, turn):
    """Cavalieri: pitch × sum of the sections' areas comes to the volume, here trimesh's own."""
    scan, read = bunny
    body = Body("mesh", 0, 0, read.height, read.mesh)
    low, high = body.extent(radians(turn))
    pitch = (high - low) / 80
    areas = [
        sum(r.area for r in body.upright(radians(turn), low + (n + 0.5) * pitch)) for n in range(80)
    ]
    assert pitch * sum(areas) == pytest.approx(scan.volume, rel=2e-3)


@pytest.mark.parametrize(
    "changes",
    [{}, {"angle": 60, "direction": 20}, {"wall": 7.0}, {"cradle": True, "stick_out": 40.0},
     {"slices": "discs and fan"}, {"slices": "discs and fan", "wall": 12.0}],
)  # fmt: skip
def test_a_scan_is_sliced_in_every_way_without_a_clash(bunny, changes):
    project = take_mesh(project_of("sliceform"), bunny[1])
    project = project_edits.change_structure(
        project, up="y", height=130, first=9, second=9, smallest=8, **changes
    )
    solved = solved_structure_of(project)
    assert len(solved.joints) > 20
    assert collisions(solved, fit_context_of(project), 0.01) == ()
    assert all(joint.features_on(name) for joint in solved.joints for name in joint.pieces)
    for piece in solved.pieces:
        assert piece.region.shape.is_valid
        assert min(s.length for c in piece.region.contours for s in c.segments) > 0.009


def test_a_project_keeps_its_mesh(tmp_path):
    imported_mesh = read_mesh(saved(ball(), tmp_path / "ball.stl"))
    project = take_mesh(project_of("sliceform"), imported_mesh)
    path = tmp_path / "ball.anzel"
    project_file.save(project, path)
    again = project_file.load(path)
    assert again == project
    assert again.structure.mesh.content == imported_mesh.mesh.content
    assert project_file.to_bytes(again) == path.read_bytes()
    lost = io.BytesIO()
    with zipfile.ZipFile(path) as whole, zipfile.ZipFile(lost, "w") as part:
        part.writestr("project.json", whole.read("project.json"))
    with pytest.raises(DamagedFileError, match=r"ball\.stl"):
        project_file.from_bytes(lost.getvalue())


def test_an_asset_that_was_changed_is_refused():
    asset = Asset.of("ball.stl", b"one")
    with pytest.raises(ParameterError, match="changed by something else"):
        asset.with_changes(content=b"two")


def test_a_mesh_takes_the_place_of_any_form_but_only_when_asked(tmp_path):
    small = read_mesh(saved(ball(0.08), tmp_path / "metres.stl"))
    assert tuple(map(in_mm, import_remarks(small))) == (
        "0.16 high as drawn, made 160 mm; set `height` for another size",
    )
    with pytest.raises(ParameterError, match="Only a sliceform"):
        take_mesh(project_of("box"), small)
    sliced = slice_mesh(project_of("box"), small).structure
    assert (sliced.form, sliced.body, sliced.height) == ("sliceform", "mesh", 160)
    with pytest.raises(ParameterError, match="no mesh yet"):
        project_of("sliceform", body="mesh")
