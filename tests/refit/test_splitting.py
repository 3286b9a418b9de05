"""Pieces split in two come out with the clearance wanted, however the kerf is minded."""

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from anzel.app.edits import drawing_edits
from anzel.core.findings import ParameterError
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.materials.fits import FitRule, KerfAt
from anzel.output.cut_file_reader import parse_cut_file
from anzel.output.drawing_file import drawing_with_halves
from anzel.project.demos import seed_caddy
from anzel.project.derive import solved_structure_of
from anzel.project.preflight import preflight
from anzel.refit.split import SeamStyle, split
from anzel.structure.forms.imported_drawing import Seam

BOARD = Region.of(Contour.polygon([(0, 0), (300, 0), (300, 80), (0, 80)]))
RULE = FitRule(0.05, 0.15, KerfAt.DRAWING)
HELD = (SeamStyle.STEPPED, SeamStyle.KEYED)
STYLES = st.sampled_from(HELD)


def produced(region: Region, rule: FitRule) -> shapely.Geometry:
    """What an on-line cut leaves: half a kerf less all round."""
    return region.shape.buffer(-rule.drawn_kerf / 2, join_style="mitre")


@given(
    STYLES, st.floats(0.0, 0.4), st.floats(0.01, 0.4), st.floats(2, 6), st.floats(0, 180),
    st.sampled_from(KerfAt),
)  # fmt: skip
@settings(max_examples=40, deadline=None)
def test_parts_and_keys_fill_the_piece_with_the_clearance_between(
    style, kerf, clearance, thickness, angle, at
):
    """Handbook 3, inlay: k goes into the gap on each side; c is left, half on either side."""
    rule = FitRule(clearance, kerf, at)
    halves = split(BOARD.moved(RigidTransform.rotation(angle)), style, thickness, rule)
    shapes = [produced(each, rule) for each in (*halves.parts, *halves.keys)]
    for i, one in enumerate(shapes):
        for other in shapes[i + 1 :]:
            assert one.intersection(other).area < 1e-6
            if style is SeamStyle.STEPPED:
                assert one.distance(other) == pytest.approx(clearance / 2, abs=1e-6)
    assert halves.are_alike
    assert halves.share == pytest.approx(0.5)
    whole = BOARD.moved(RigidTransform.rotation(angle)).shape.buffer(
        -rule.drawn_kerf / 2, join_style="mitre"
    )
    left = whole.difference(shapely.union_all(shapes)).area
    seam = 80 + 2 * 6 * thickness * 6
    assert left < clearance * seam + 1


def test_a_seam_goes_where_it_is_shortest_and_clear_of_openings():
    waist = [(0, 0), (300, 0), (300, 80), (180, 80), (170, 50), (160, 80), (0, 80)]
    narrow = Region.of(Contour.polygon(waist))
    halves = split(narrow, SeamStyle.STEPPED, 3.0, FitRule(0.05, 0.15, KerfAt.DRAWING))
    assert halves.share == pytest.approx(170 / 300, abs=0.01)
    assert not halves.are_alike


def test_a_piece_too_narrow_for_what_holds_it_is_refused():
    strip = Region.of(Contour.polygon([(0, 0), (300, 0), (300, 5), (0, 5)]))
    for style in HELD:
        with pytest.raises(ParameterError, match="too narrow"):
            split(strip, style, 3.0, FitRule(0.05, 0.15, KerfAt.DRAWING))


def test_split_pieces_are_cut_and_proved_like_others():
    project = seed_caddy()
    seam = Seam(piece=5, style=SeamStyle.KEYED)
    done = drawing_edits.split_piece(project, "seed caddy.svg", 5, seam)
    names = [piece.name for piece in solved_structure_of(done).pieces]
    assert names[4:8] == [f"seed caddy 5{end}" for end in ("a", "b", " key 1", " key 2")]
    proof = preflight(done)
    assert proof.problems == ()
    assert drawing_edits.halves_alike(done, "seed caddy.svg", 4)
    features = {p.name: len(p.features) for p in solved_structure_of(done).pieces}
    assert features["seed caddy 5a"] + features["seed caddy 5b"] == 6
    assert drawing_edits.split_piece(done, "seed caddy.svg", 5, None) == project


@given(st.floats(0.1, 0.9), st.floats(0, 180))
@settings(max_examples=20, deadline=None)
def test_a_plain_split_adds_nothing_and_loses_nothing(share, angle):
    turned = BOARD.moved(RigidTransform.rotation(angle))
    one, other = split(turned, SeamStyle.PLAIN, 3.0, RULE, share).parts
    assert sorted((one.area, other.area)) == pytest.approx(
        sorted((share * BOARD.area, (1 - share) * BOARD.area)), rel=1e-6
    )
    assert one.shape.union(other.shape.buffer(1e-9)).area == pytest.approx(BOARD.area, rel=1e-6)


def test_mirrored_halves_are_one_piece_twice_and_others_are_refused():
    bell = [(0, 0), (300, 0), (260, 80), (40, 80)]
    halves = split(Region.of(Contour.polygon(bell)), SeamStyle.MIRRORED, 3.0, RULE)
    one, other = halves.parts
    off = [b - a for a, b in zip(one.outer.bounds, other.outer.bounds, strict=True)]
    assert one.outer.moved(RigidTransform().translated(*off[:2])).polygon_shape.equals_exact(
        other.outer.polygon_shape, 1e-9
    )
    assert halves.are_alike
    slanted = [(0, 0), (300, 0), (300, 80), (40, 80)]
    with pytest.raises(ParameterError, match="mirror images"):
        split(Region.of(Contour.polygon(slanted)), SeamStyle.MIRRORED, 3.0, RULE)


@pytest.mark.parametrize("ending", [".svg", ".dxf"])
def test_the_drawing_written_back_has_the_halves(ending):
    seam = Seam(piece=5, style=SeamStyle.PLAIN)
    done = drawing_edits.split_piece(seed_caddy(), "seed caddy.svg", 5, seam)
    content = drawing_with_halves(done, "seed caddy.svg", ending)
    solved = {piece.name: piece.region for piece in solved_structure_of(done).pieces}
    found = {p.name: p.region for p in parse_cut_file(content, ending).pieces}
    assert {"seed caddy 5a", "seed caddy 5b"} <= set(solved)
    assert sorted(r.area for r in found.values()) == pytest.approx(
        sorted(r.area for r in solved.values()), rel=1e-4
    )
