"""Stencils, motifs, engraved areas: what letters and artwork cut out of plates, and keep off."""

import io
from io import BytesIO
from itertools import pairwise
from math import pi

import numpy as np
import pytest
import shapely
import svgelements
from fontTools.pens.recordingPen import RecordingPen
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import ImageFont
from scipy.spatial import cKDTree

from anzel.app.edits import artwork_edits
from anzel.checks.webs import smallest_webs
from anzel.core.findings import ParameterError
from anzel.core.typeface import lettering_font
from anzel.cutjob.operations import Operation
from anzel.geometry.hatching import hatched
from anzel.geometry.letter_outlines import letter_outlines
from anzel.geometry.regions import Contour
from anzel.output import export
from anzel.project.derive import fit_context_of, jobs_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.artwork.drawn import drawn_by
from anzel.structure.artwork.motifs import MOTIFS, motif_file
from anzel.structure.artwork.records import LetterStyle, Repeated
from anzel.structure.joints.cutting_shapes import feature_outline
from anzel.structure.line_work import LineWish

PLATE = "Left end"


def board():
    return project_of("free", joints=())


def piece(project, plate=PLATE):
    return solved_structure_of(project).piece(plate)


def lettered(text, **changes):
    project, item = artwork_edits.add_lettering(board(), PLATE, text)
    changes = {"style": LetterStyle.OUTLINES, "height": 14.0} | changes
    return artwork_edits.change_item(project, item, **changes)


@settings(max_examples=20)
@given(st.text(st.sampled_from("Mosgateä&B8Q%"), min_size=1, max_size=5))
def test_outlines_are_those_of_the_font(text):
    """Against FreeType, which Pillow draws with: the dark area, capitals being 1000 pixels high."""
    size = 1000 * TTFont(BytesIO(lettering_font()))["head"].unitsPerEm / 697
    font = ImageFont.truetype(BytesIO(lettering_font()), round(size))
    assert font.getbbox("H")[3] - font.getbbox("H")[1] == pytest.approx(1000, abs=2)
    for character, letter in zip(text, letter_outlines(text, 10.0), strict=True):
        dark = sum(font.getmask(character)) / 255
        area = abs(sum(outline.signed_area for outline in letter.contours))
        assert area == pytest.approx(dark * 1e-4, rel=5e-3)


def test_written_outlines_are_the_points_that_fonttools_reads():
    """Through the SVG cut file: every on-curve point of letters without overlaps, to 0.001 mm."""
    made = lettered("HOl", operation=LineWish.SCORE)
    pages = export.structure_pages(made)
    drawing = svgelements.SVG.parse(
        io.BytesIO(export.render(pages, made.pens, ".svg")), ppi=25.4
    )  # fmt: skip
    scored = svgelements.Color(made.pens.colour(Operation.SCORE)).hex
    found = [
        (segment.end.x, -segment.end.y) for shape in drawing.elements()
        if isinstance(shape, svgelements.Shape) and shape.stroke.hex == scored
        for segment in svgelements.Path(shape) if segment.end is not None
    ]  # fmt: skip
    font = TTFont(BytesIO(lettering_font()))
    glyphs, names, scale = font.getGlyphSet(), font.getBestCmap(), 14.0 / 697
    wanted, at = [], 0.0
    for character in "HOl":
        pen = RecordingPen()
        glyphs[names[ord(character)]].draw(pen)
        ends = [points[-1] for _, points in pen.value if points]
        wanted += [((x + at) * scale, y * scale) for x, y in ends]
        at += font["hmtx"][names[ord(character)]][0]
    laid = next(each for each in jobs_of(made, made.stocks_in_use[0].id)[0].plan.placed
                if each.piece.name == PLATE)  # fmt: skip
    places = np.array([laid.transform((x - at * scale / 2, y - 7.0)) for x, y in wanted])
    file = np.array(found)
    shift = file.min(axis=0) - places.min(axis=0)
    apart, _ = cKDTree(file - shift).query(places)
    assert apart.max() <= 1e-3


@given(st.text(st.sampled_from("AB8ROQDapoge%"), min_size=1, max_size=4), st.floats(-40, 40))
def test_nothing_falls_out_of_a_stencil(text, bend):
    bend = bend if abs(bend) > 25 else 0.0
    made = lettered(text, operation=LineWish.CUT, bend=bend, bridge=1.2)
    cut = piece(made)
    assert cut.region.holes, "the letters are open"
    assert shapely.get_num_geometries(cut.region.shape) == 1
    for hole in cut.region.holes:  # nothing stands alone in an opening
        others = [h for h in cut.region.holes if h is not hole]
        assert not any(hole.polygon_shape.contains(other.polygon_shape) for other in others)
    assert not [f for f in solved_structure_of(made).findings if f.code in ("opening", "artwork")]


@given(st.floats(0.1, 2), st.floats(3, 20), st.floats(0.1, 0.9))
def test_strokes_of_an_area_are_as_long_as_the_area_is_wide(spacing, radius, share):
    """A ring: the strokes times their spacing come to π (R² - r²), as spacing goes to nothing."""
    outlines = [Contour.circle((0, 0), radius), Contour.circle((0, 0), share * radius)]
    strokes = hatched(outlines, spacing)
    area = pi * radius**2 * (1 - share**2)
    assert sum(s.length for s in strokes) * spacing == pytest.approx(area, abs=4 * radius * spacing)
    ring = shapely.Point(0, 0).buffer(radius, 64) - shapely.Point(0, 0).buffer(share * radius, 64)
    assert all(ring.buffer(0.05).contains(shapely.LineString(s.stroke)) for s in strokes)


def test_an_area_between_two_strokes_is_not_lost():
    (stroke,) = hatched([Contour.polygon([(0, 2.1), (9, 2.1), (9, 2.4), (0, 2.4)])], 1.0)
    assert (stroke.length, stroke.stroke[0][1]) == pytest.approx((9.0, 2.25))


def test_letters_are_engraved_as_areas_or_outlines_or_refused():
    filled = piece(lettered("Fern", operation=LineWish.AREA, spacing=0.5))
    assert len(filled.lines) > 20
    assert piece(lettered("Fern", operation=LineWish.AREA, spacing=1.0)).region == filled.region
    assert 0 < len(piece(lettered("Fern", operation=LineWish.SCORE)).lines) < 20
    with pytest.raises(ParameterError, match="no letter"):
        lettered("苔")


def test_a_font_of_the_maker_is_kept_in_the_project_and_what_is_none_is_refused(tmp_path):
    (tmp_path / "own.ttf").write_bytes(lettering_font())
    (tmp_path / "bad.ttf").write_bytes(b"no font at all")
    project, item = artwork_edits.add_lettering(board(), PLATE, "Fern")
    made = artwork_edits.use_font(project, item, tmp_path / "own.ttf")
    assert [asset.name for asset in made.structure.assets()] == ["own.ttf"]
    with pytest.raises(ParameterError, match="no font"):
        artwork_edits.use_font(project, item, tmp_path / "bad.ttf")


@pytest.mark.parametrize("motif", MOTIFS)
def test_a_motif_goes_round_the_border_with_webs_between(motif):
    project, item = artwork_edits.add_motif(board(), PLATE, motif)
    before, cut = piece(board()), piece(project)
    each = drawn_by(artwork_edits.item_of(project, item)).cut_outs
    assert each
    count = len(cut.region.holes) / len(each)
    assert count == int(count) > 8
    off = sum(abs(outline.signed_area) for outline in each) * count
    assert before.region.area - cut.region.area == pytest.approx(off, rel=1e-6)
    assert (
        min(
            web.width
            for web in smallest_webs(solved_structure_of(project), fit_context_of(project))
        )
        > 0.2
    )
    assert motif_file(motif).name == f"{motif}.svg"


@given(st.floats(5, 25), st.floats(3, 15))
def test_a_border_is_even_and_turns_with_the_edge(pitch, inset):
    project, item = artwork_edits.add_motif(board(), PLATE, "disc")
    made = artwork_edits.change_item(project, item, pitch=pitch, inset=inset, width=2.0)
    frame = piece(made).region.outer.polygon_shape.buffer(-inset, join_style="mitre")
    middles = [hole.polygon_shape.centroid for hole in piece(made).region.holes]
    assert all(frame.exterior.distance(middle) < 1e-6 for middle in middles)
    stations = sorted(frame.exterior.project(middle) for middle in middles)
    apart = [b - a for a, b in pairwise([*stations, stations[0] + frame.exterior.length])]
    assert min(apart) >= pitch - 1e-6
    assert max(apart) < 2 * pitch


def test_along_an_edge_it_stands_on_its_foot_and_keeps_off_joints():
    made = project_of("free")
    plate = next(j.pieces[0] for j in solved_structure_of(made).joints)
    project, item = artwork_edits.add_motif(made, plate, "arch")
    changes = {"repeated": Repeated.EDGE, "edge": "left", "count": 7, "pitch": 12.0, "inset": 7.0}
    near = artwork_edits.change_item(project, item, keep_off=0.0, width=6.0, **changes)
    far = artwork_edits.change_item(project, item, keep_off=6.0, width=6.0, **changes)
    assert len(piece(far, plate).region.holes) <= len(piece(near, plate).region.holes)
    shapes = [feature_outline(feature) for feature in piece(far, plate).features]
    arches = [h for h in piece(far, plate).region.holes if len(h.segments) == 4]
    assert all(
        arch.polygon_shape.distance(shape) >= 6 - 1e-6 for arch in arches for shape in shapes
        if arch.polygon_shape.area > 5
    )  # fmt: skip
    letters, name = artwork_edits.add_lettering(made, plate, "MMMMMMMMMMMM")
    kept = artwork_edits.change_item(letters, name, height=20.0, keep_off=5.0)
    clear = shapely.union_all([feature_outline(f) for f in piece(kept, plate).features])
    lines = [shapely.LineString(line.path.stroke) for line in piece(kept, plate).lines]
    assert lines
    assert min(line.distance(clear) for line in lines) >= 5 - 1e-6


def test_what_falls_out_with_a_cut_shape_is_told(tmp_path):
    (tmp_path / "ring.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="30mm" height="30mm" viewBox="0 0 30 30">'
        '<g class="cut"><circle cx="15" cy="15" r="10"/><circle cx="15" cy="15" r="6"/></g></svg>'
    )
    project, item = artwork_edits.add_artwork(board(), PLATE, tmp_path / "ring.svg")
    for label in artwork_edits.wishes_of(artwork_edits.item_of(project, item)):
        project = artwork_edits.decide_label(project, item, label, LineWish.CUT)
    assert len(piece(project).region.holes) == 1
    assert "lines-fall-out" in {f.code for f in solved_structure_of(project).findings}
    again, other = artwork_edits.add_artwork(project, PLATE, tmp_path / "ring.svg")
    wishes = artwork_edits.wishes_of(artwork_edits.item_of(again, other))
    assert set(wishes.values()) == {LineWish.CUT}, "asked once, remembered"
