"""The booklet and the solids: read back with other people's readers, and told without words."""

import io
from itertools import pairwise

import numpy as np
import pypdf
import pytest
import trimesh
from lxml import etree

from anzel.core.findings import ParameterError
from anzel.illustration.scenes import scenes_of
from anzel.output.booklet import booklet_bytes, booklet_pictures, page_named
from anzel.output.solid_files import ENDINGS, solids_bytes
from anzel.project.assembly import assembly_of, bodies_in
from anzel.project.demos import DEMOS
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.structure.solids import produced_solid


def demo(name):
    return next(each for each in DEMOS if each.name == name).make()


@pytest.mark.parametrize(("page", "size"), [
    ("A4", (210, 297)), ("letter", (215.9, 279.4)), ("A5", (210, 148)),
])  # fmt: skip
def test_a_booklet_has_pages_of_its_paper_and_only_counts_on_them(page, size):
    project = demo("herb-stand")
    content = booklet_bytes(project, assembly_of(project).proof, page_named(page))
    pages = pypdf.PdfReader(io.BytesIO(content)).pages
    assert len(pages) >= 3, "the pieces, the steps, the finished thing"
    for each in pages:
        wide, high = float(each.mediabox.width), float(each.mediabox.height)
        assert (wide * 25.4 / 72, high * 25.4 / 72) == pytest.approx(size, abs=0.01)
        assert not each.images, "vectors, no pictures"
        assert not any(letter.isalpha() for letter in each.extract_text()), "no words"
    told = "".join(each.extract_text() for each in pages)
    assert [str(step) for step in (1, 2, 3)] == [c for c in told.split() if c in "123"][-3:]


def test_an_unknown_page_is_told():
    with pytest.raises(ParameterError, match="A4, Letter, A5"):
        page_named("napkin")


def test_scenes_show_every_piece_once_like_ones_together():
    project = demo("fern-lantern")
    bodies = {b.name: b for b in bodies_in(project).all}
    scenes = scenes_of(assembly_of(project).proof, bodies)
    new = [name for scene in scenes for name in scene.new]
    assert sorted(new) == sorted(bodies)
    assert max(len(scene.new) for scene in scenes) == 6, "six feet in one picture"
    assert [scene.number for scene in scenes] == list(range(1, len(scenes) + 1))
    for scene, after in pairwise(scenes):
        assert after.there == (*scene.there, *scene.new)
        assert after.turns_over == (after.eye.turned_over != scene.eye.turned_over)


def test_pictures_of_steps_are_svg_and_png(tmp_path):
    project = demo("potting-cube")
    proof = assembly_of(project).proof
    files = dict(booklet_pictures(project, proof, tmp_path / "cube.svg"))
    names = [path.name for path in files]
    assert names == sorted(names)
    assert names[0] == "cube-01.svg"
    for content in files.values():
        root = etree.fromstring(content)
        assert root.get("width") == "120mm"
        assert root.findall(".//{*}path")
        assert not root.findall(".//{*}image")
    first = next(booklet_pictures(project, proof, tmp_path / "cube.png"))
    assert first[1].startswith(b"\x89PNG")


@pytest.mark.parametrize("ending", ENDINGS)
def test_solids_are_read_back_true_to_size_by_another_reader(ending, tmp_path):
    project = demo("fern-lantern")
    path = tmp_path / f"lantern{ending}"
    path.write_bytes(solids_bytes(project, ending))
    sheets, solved = fit_context_of(project), solved_structure_of(project)
    solids = {piece.name: produced_solid(piece, sheets) for piece in solved.pieces}
    read = (
        trimesh.load_scene(path)
        if ending != ".obj"
        else trimesh.load_scene(path, split_object=True)
    )
    unit = 1000.0 if ending == ".glb" else 1.0
    whole = sum(solid.volume() for solid in solids.values())
    assert read.to_geometry().volume * unit**3 == pytest.approx(whole, rel=1e-4)
    boxes = np.array([solid.bounding_box() for solid in solids.values()])
    size = boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)
    seen = np.asarray(read.extents) * unit
    assert seen == pytest.approx(size[[0, 2, 1]] if ending == ".glb" else size, rel=1e-5)
    if ending != ".obj":
        assert set(solids) <= {name.removesuffix("_0") for name in read.geometry}
    else:
        names = [line[2:] for line in path.read_text().splitlines() if line.startswith("o ")]
        assert names == [name.replace(" ", "_") for name in solids]


def test_only_what_is_there_after_a_step_is_written():
    project = demo("herb-stand")
    two = frozenset(name for step in assembly_of(project).proof.steps[:2] for name in step.pieces)
    text = solids_bytes(project, ".stl", two).decode()
    assert text.count("endsolid") == 2
