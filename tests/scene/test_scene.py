"""The standing structure: meshes, pulling apart, camera, picking, pictures."""

from dataclasses import replace
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.common import assert_close

from anzel.geometry.ray_casting import hit_distances
from anzel.geometry.regions import Contour, Region
from anzel.project.demos import fern_lantern
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.scene import renderer_process
from anzel.scene.camera import VIEWS, Camera
from anzel.scene.dragging import dragged, nudge
from anzel.scene.exploded_view import exploded_offsets
from anzel.scene.offscreen import OffscreenRenderer
from anzel.scene.picking import piece_under
from anzel.scene.piece_meshes import plainer, scene_of
from anzel.scene.render_request import RenderRequest, RenderStyle
from anzel.scene.renderer_process import RendererProcess
from anzel.scene.section_plane import WHOLE, ray_entry, section_plane_facing, signed_distance
from anzel.structure.forms.common_outlines import lying
from anzel.structure.model import Piece, SolvedStructure
from anzel.structure.solids import produced_solid

EYE_LEVELS = [("seated", 470.0, 900.0), ("upright", 870.0, 1200.0)]
GROUND, ACCENT = (1.0, 1.0, 1.0), (0.0, 1.0, 0.0)
LOOK = RenderStyle(GROUND, (0.9, 0.9, 0.9), (0.0, 0.0, 0.0), ACCENT,
            {"birch-3": (1.0, 0.0, 0.0), "birch-6": (0.0, 0.0, 1.0)})  # fmt: skip


@pytest.fixture
def build(project):
    """The herb stand's build."""
    return solved_structure_of(project)


@pytest.fixture
def scene(project, build):
    """The herb stand's mesh."""
    return scene_of(build, fit_context_of(project))


def test_meshes_are_closed_and_of_the_produced_volume(project, build, scene):
    """Signed volume of the triangles = produced area × thickness; kerf has been taken off."""
    for solid, piece in zip(scene.pieces, build.pieces, strict=True):
        a, b, c = (solid.triangles[:, i].astype(float) for i in range(3))
        volume = np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6
        kerf = project.kerf_in(piece.stock_id).kerf
        lengths = sum(contour.length for contour in piece.region.contours)
        expected = (piece.region.area - lengths * kerf / 2) * piece.thickness
        assert volume == pytest.approx(expected, rel=2e-3)


def test_the_top_lies_at_the_full_height(scene):
    top = next(piece for piece in scene.pieces if piece.name == "Top")
    assert top.triangles[..., 2].max() == pytest.approx(110, abs=1e-3)


def test_together_nothing_is_moved(build):
    assert set(exploded_offsets(build, 0.0).values()) == {(0.0, 0.0, 0.0)}


def test_apart_every_joint_is_open_along_its_way_in(build):
    offsets = exploded_offsets(build, 50.0)
    wanted = {"Upright A": 0, "Upright B": 50, "Top": 100}
    for name, height in wanted.items():
        assert offsets[name] == pytest.approx((0, 0, height), abs=0.01)


@pytest.mark.parametrize("name", ["lantern", "box", "grid-stand", "rib-lamp", "sliceform"])
def test_pulled_apart_pieces_part_at_every_joint_and_none_is_where_another_is(name):
    project = project_of(name)
    solved, fit_context = solved_structure_of(project), fit_context_of(project)
    offsets = exploded_offsets(solved, 60.0)
    for joint in solved.joints:
        for first, second in joint.separations:
            moved = np.subtract(offsets[second], offsets[first])
            assert np.hypot(*moved[:2]) + abs(moved[2]) > 59
    solids = {
        p.name: produced_solid(p, fit_context).translate(offsets[p.name]) for p in solved.pieces
    }
    for one, other in combinations(solids, 2):
        if name != "sliceform":  # whose families go through one another on their way
            assert (solids[one] ^ solids[other]).volume() < 1


def test_what_rests_is_lifted_off_and_a_lantern_keeps_its_middle():
    project = project_of("box")
    offsets = exploded_offsets(solved_structure_of(project), 50.0)
    bottom = offsets["Bottom"][2]
    assert offsets["Lid"][2] - offsets["Lid lip"][2] > 49
    assert min(offsets["Across 1"][2], offsets["Along 1"][2]) - bottom > 49
    lantern = exploded_offsets(solved_structure_of(project_of("lantern")), 50.0)
    base, top = np.array(lantern["Base"]), np.array(lantern["Top"])
    assert (top - base)[:2] == pytest.approx([0, 0], abs=0.5)
    assert (top - base)[2] > 90


@given(st.floats(-180, 180), st.floats(-80, 80), st.floats(0.3, 3))
def test_a_fitted_camera_sees_every_corner(azimuth, elevation, aspect):
    corners = np.array([[x, y, z] for x in (-80, 70) for y in (-40, 60) for z in (0, 110)])
    camera = Camera(azimuth=azimuth, elevation=elevation).fitted(corners, aspect)
    for corner in corners:
        x, y = camera.to_pixels(tuple(corner), 1000 * aspect, 1000)
        assert -1 <= x <= 1000 * aspect + 1
        assert -1 <= y <= 1001


@given(st.floats(-180, 180), st.floats(-80, 80), st.floats(10, 590), st.floats(10, 390))
def test_a_ray_goes_through_the_pixel_it_was_made_for(azimuth, elevation, x, y):
    camera = Camera(azimuth=azimuth, elevation=elevation, distance=300.0)
    eye, way = camera.ray(x, y, 600, 400)
    point = tuple(e + 250 * w for e, w in zip(eye, way, strict=True))
    assert_close(camera.to_pixels(point, 600, 400), (x, y), 1e-6)


def test_orbiting_never_goes_over_the_top():
    assert Camera().orbited(0, 500).elevation < 90
    assert Camera().orbited(0, -500).elevation > -90


def test_panning_moves_the_target_with_the_pointer():
    camera = Camera(distance=400.0)
    before = camera.to_pixels((0.0, 0.0, 0.0), 600, 400)
    after = camera.panned(30, 10, 400).to_pixels((0.0, 0.0, 0.0), 600, 400)
    assert_close(after, (before[0] + 30, before[1] - 10), 0.01)


def test_zooming_has_ends():
    assert Camera().zoomed(1e9).distance > 0
    assert Camera().zoomed(1e-9).distance < 1e6


def test_the_piece_under_the_pointer_is_the_nearest(build, scene):
    together = exploded_offsets(build, 0.0)
    above = Camera().looking_from("above").fitted(scene.outermost(together))
    x, y = above.to_pixels((40.0, 30.0, 110.0), 400, 400)
    assert piece_under(scene, together, *above.ray(x, y, 400, 400)) == "Top"
    front = Camera().looking_from("front").fitted(scene.outermost(together))
    x, y = front.to_pixels((45.0, 0.0, 40.0), 400, 400)
    assert piece_under(scene, together, *front.ray(x, y, 400, 400)) == "Upright A"
    assert piece_under(scene, together, *front.ray(2, 2, 400, 400)) is None


@pytest.fixture(scope="module")
def studio():
    """One studio for all pictures; these tests need OpenGL, but no display."""
    return OffscreenRenderer()


def taken(studio, project, **changes):
    """A small picture as an array (rows, columns, 4)."""
    wanted = {"apart": 0.0, "camera": Camera(), "fit": True, "style": LOOK, "size": (200, 160)}
    picture = studio.render(
        RenderRequest(
            solved_structure_of(project), fit_context_of(project), **{**wanted, **changes}
        )
    )
    return np.frombuffer(picture.pixels, np.uint8).reshape(160, 200, 4), picture


@pytest.mark.parametrize("view", VIEWS)
def test_both_sheets_can_be_seen_from_every_side(studio, project, view):
    pixels, _ = taken(studio, project, camera=Camera().looking_from(view))
    red, green, blue = (pixels[..., i].astype(int) for i in range(3))
    assert np.count_nonzero(blue > red + 80) > 50  # the top
    if view != "above":
        assert np.count_nonzero(red > blue + 80) > 500  # the uprights
    assert (pixels[0, 0] == (255, 255, 255, 255)).all()
    assert np.count_nonzero(green) > 0


def test_from_the_front_the_top_is_above_the_feet(studio, project):
    pixels, _ = taken(studio, project, camera=Camera().looking_from("front"))
    blue = pixels[..., 2].astype(int) > pixels[..., 0].astype(int) + 80
    red = pixels[..., 0].astype(int) > pixels[..., 2].astype(int) + 80
    assert np.nonzero(blue)[0].mean() < np.nonzero(red)[0].mean()


def test_picked_pieces_are_edged_in_the_accent(studio, project):
    plain, _ = taken(studio, project)
    picked_look = RenderStyle(
        GROUND, LOOK.shadow, LOOK.edge, ACCENT, LOOK.tints, frozenset({"Top"})
    )
    picked, _ = taken(studio, project, style=picked_look)

    def green(pixels):
        return np.count_nonzero(pixels[..., 1].astype(int) > pixels[..., 0].astype(int) + 100)

    assert green(picked) > green(plain) + 20


def test_the_same_wish_gives_the_same_picture(studio, project):
    assert (taken(studio, project)[0] == taken(studio, project)[0]).all()


def test_pulled_apart_the_camera_steps_back(studio, project):
    _, near = taken(studio, project)
    _, far = taken(studio, project, apart=1.0)
    assert far.camera.distance > 1.3 * near.camera.distance


def test_another_size_is_another_picture(studio, project):
    picture = studio.render(
        RenderRequest(
            solved_structure_of(project),
            fit_context_of(project),
            0.0,
            Camera(),
            True,
            LOOK,
            (64, 32),
        )
    )
    assert len(picture.pixels) == 64 * 32 * 4


def pixels_of(studio, project, **changes):
    """A picture as an array."""
    wanted = {
        "apart": 0.0, "camera": Camera(), "fit": True, "style": LOOK, "size": (160, 120),
    }  # fmt: skip
    picture = studio.render(
        RenderRequest(
            solved_structure_of(project), fit_context_of(project), **{**wanted, **changes}
        )
    )
    return np.frombuffer(picture.pixels, dtype=np.uint8).reshape(120, 160, 4)


def drawn(pixels):
    """How many pixels are not ground."""
    return int((pixels[:, :, :3] != pixels[0, 0, :3]).any(axis=2).sum())


def test_cutting_open_leaves_ever_less(studio, project):
    whole = drawn(pixels_of(studio, project))
    parts = [drawn(pixels_of(studio, project, cut_open=share)) for share in (0.3, 0.6, 0.9)]
    assert whole > parts[0] > parts[1] > parts[2] > 0


def test_hidden_pieces_are_left_out_and_cannot_be_picked(studio, project):
    look = replace(LOOK, hidden=frozenset({"Top"}))
    assert drawn(pixels_of(studio, project, style=look)) < drawn(pixels_of(studio, project))
    solved = solved_structure_of(project)
    scene, still = scene_of(solved, fit_context_of(project)), exploded_offsets(solved, 0.0)
    down = ((30.0, 20.0, 500.0), (0.0, 0.0, -1.0))
    assert piece_under(scene, still, *down) == "Top"
    assert piece_under(scene, still, *down, hidden=frozenset({"Top"})) is None


@pytest.mark.parametrize("share", [0.2, 0.5, 0.8])
def test_what_is_cut_away_is_not_met_by_the_pointer(build, scene, share):
    """A ray enters at the cut, and meets nothing nearer than it."""
    still, camera = exploded_offsets(build, 0.0), Camera().looking_from("front")
    plane = section_plane_facing(scene.outermost(still), camera, share)
    eye, way = (20.0, -900.0, 60.0), (0.0, 1.0, 0.0)
    start = ray_entry(plane, eye, way)
    assert signed_distance(plane, start) == pytest.approx(0, abs=1e-9)
    kept = sum(signed_distance(plane, tuple(corner)) >= 0 for corner in scene.outermost(still))
    assert 0 < kept < len(scene.outermost(still))
    assert piece_under(scene, still, eye, way) == "Upright A"
    assert piece_under(scene, still, start, way) == (None if share > 0.51 else "Upright A")
    assert ray_entry(WHOLE, eye, way) == eye


def test_in_parallel_a_nearer_piece_is_no_larger():
    camera = Camera(distance=400.0, azimuth=-90.0, elevation=0.0)
    for parallel in (True, False):
        seen = camera.in_parallel(parallel)
        widths = [
            seen.to_pixels((50.0, y, 0.0), 400, 300)[0] - seen.to_pixels((0.0, y, 0.0), 400, 300)[0]
            for y in (-100.0, 100.0)
        ]
        assert (widths[0] == pytest.approx(widths[1])) is parallel


@pytest.mark.parametrize("parallel", [True, False])
def test_a_ray_goes_through_the_point_its_pixel_shows(parallel):
    camera = Camera(target=(10.0, 5.0, 30.0)).in_parallel(parallel)
    point = np.array([40.0, -20.0, 55.0])
    eye, direction = camera.ray(*camera.to_pixels(tuple(point), 400, 300), 400, 300)
    off = np.cross(point - np.array(eye), np.array(direction))
    assert np.linalg.norm(off) < 1e-6


@pytest.mark.parametrize(("who", "height", "away"), EYE_LEVELS)
def test_people_see_it_from_their_eye_height(who, height, away):
    """Common practice, no source: eyes 470 and 870 above the table, 900 and 1200 away."""
    eye = Camera(target=(0.0, 0.0, 60.0)).at_eye(who).eye
    assert eye[2] == pytest.approx(height)
    assert np.hypot(eye[0], eye[1]) == pytest.approx(away)


@given(st.floats(0.5, 40), st.floats(-20, 20), st.floats(-20, 20))
def test_rays_meet_a_triangle_where_its_plane_is(distance, x, y):
    corners = np.array([[[-500, -500, distance], [500, -500, distance], [0, 900, distance]]], float)
    direction = np.array([[x / 100, y / 100, 1.0], [0, 0, -1.0]])
    ahead, behind = hit_distances(corners, direction)
    assert ahead == pytest.approx(distance)
    assert behind == np.inf
    assert hit_distances(np.empty((0, 3, 3)), direction).tolist() == [np.inf, np.inf]


def test_by_lamp_light_it_is_dark_but_for_what_glows_and_shadows_fall():
    project = fern_lantern()
    solved, fit_context = solved_structure_of(project), fit_context_of(project)
    bulb = project.structure.bulb(fit_context)
    tints = dict.fromkeys(project.tints, (0.9, 0.9, 0.8))
    day = RenderStyle(GROUND, (0.9, 0.9, 0.9), (0.0, 0.0, 0.0), ACCENT, tints)
    dusk = replace(day, lamp=bulb)
    glowing = replace(dusk, lit_through=project.lit_through)

    def brightness(look):
        request = RenderRequest(solved, fit_context, 0.0, Camera(), True, look, (240, 240))
        pixels = np.frombuffer(OffscreenRenderer().render(request).pixels, np.uint8).reshape(
            240, 240, 4
        )
        return pixels[..., :3].mean(axis=2)

    by_day, by_night, lit = (brightness(look) for look in (day, dusk, glowing))
    assert by_night.mean() < 0.7 * by_day.mean()
    assert (lit - by_night).max() > 40  # the diffusers
    corner, under = by_night[10, 10], by_night[200:, 60:180].max()
    assert under > corner + 5  # light on the table near the lamp, none far away


def test_plainer_pictures_show_the_same_pieces_in_the_same_places(project, build):
    fit_context = fit_context_of(project)
    full = RenderRequest(build, fit_context, 0.0, Camera(), True, LOOK, (200, 160))
    studio = OffscreenRenderer()
    pictures = [
        np.frombuffer(studio.render(each).pixels, np.uint8)
        .reshape(160, 200, 4)[..., :3]
        .astype(int)
        for each in (full, replace(full, plain=True))
    ]
    differing = np.abs(pictures[0] - pictures[1]).max(axis=2) > 60
    assert differing.mean() < 0.12  # edges


def test_plainer_outlines_are_sharp_where_the_fine_ones_are(project):
    """Also where the kerf parts a piece in two."""
    fit_context = fit_context_of(project)
    disc, square = shapely.Point(0, 0).buffer(20), shapely.box(60, -10, 80, 10)
    thin = shapely.box(0, 0, 70, project.kerf_in("birch-3").kerf / 2)
    shapes = {"disc": disc, "parted": disc.union(square).union(thin)}
    made = SolvedStructure(
        tuple(
            Piece(name, "birch-3", 3.0, Region.of(Contour.polygon(shape.exterior.coords[:-1])),
                  lying(0.0, 0.0, 0.0))
            for name, shape in shapes.items()
        ), (),
    )  # fmt: skip
    fine = scene_of(made, fit_context)
    for scene in (fine, plainer(fine, made, fit_context, 1.0)):
        uprights = [sum(abs(np.ptp(piece.edges, axis=1)[:, 2]) > 1) for piece in scene.pieces]
        assert uprights == [0, 4]  # the square's
    assert len(scene.pieces[1].edges) < len(fine.pieces[1].edges) / 2


def test_a_view_that_changes_its_size_holds_no_more_memory(project, build):
    def resident():
        status = Path("/proc/self/status").read_text().splitlines()
        return next(int(line.split()[1]) for line in status if line.startswith("VmRSS")) / 1000

    studio = OffscreenRenderer()
    request = RenderRequest(build, fit_context_of(project), 0.0, Camera(), True, LOOK, (900, 900))
    studio.render(request)
    before = resident()
    for wider in range(1, 31):
        studio.render(replace(request, size=(900 + wider, 900), plain=wider % 2 == 0))
    assert resident() < before + 120, "each size held 20 MB and more"


def test_a_carried_piece_is_shown_away_from_its_place(project, build):
    request = RenderRequest(build, fit_context_of(project), 0.0, Camera(), True, LOOK, (160, 120))
    studio = OffscreenRenderer()
    there = studio.render(replace(request, dragged=("Top", (0.0, 0.0, 30.0))))
    assert there.offsets["Top"] == (0.0, 0.0, 30.0)
    assert studio.render(request).offsets["Top"] == (0.0, 0.0, 0.0)


@given(st.floats(-180, 180), st.floats(20, 85), st.integers(-60, 60), st.integers(-60, 60))
def test_a_carried_plate_stays_under_the_pointer(azimuth, elevation, right, down):
    camera = Camera(azimuth=azimuth, elevation=elevation, distance=600)
    anchor, size = (20.0, -10.0, 40.0), (400, 300)
    start = camera.to_pixels(anchor, *size)
    to = (start[0] + right, start[1] + down)
    by = dragged(camera, anchor, start, to, size)
    assert by[2] == 0
    assert all(step == round(step) for step in by)
    now = camera.to_pixels(tuple(a + b for a, b in zip(anchor, by, strict=True)), *size)
    assert np.hypot(now[0] - to[0], now[1] - to[1]) < 2.5  # whole millimetres


@given(st.floats(-180, 180), st.floats(-15, 60), st.integers(-80, 80))
def test_with_alt_a_plate_goes_straight_up_and_down(azimuth, elevation, down):
    camera = Camera(azimuth=azimuth, elevation=elevation, distance=600)
    start = camera.to_pixels((0.0, 0.0, 0.0), 400, 300)
    by = dragged(
        camera, (0.0, 0.0, 0.0), start, (start[0] + 9, start[1] + down), (400, 300), upright=True
    )
    assert by[:2] == (0.0, 0.0)
    assert by[2] * down <= 0


@pytest.mark.parametrize(("azimuth", "right"), [(-90, (1, 0)), (0, (0, 1)), (90, (-1, 0)),
                                                (180, (0, -1)), (-52, (1, 0))])  # fmt: skip
def test_keys_nudge_along_the_nearest_axis_of_the_table(azimuth, right):
    assert nudge(azimuth, 1.0, 0.0, 0.0)[:2] == right
    x, y, _ = nudge(azimuth, 0.0, 1.0, 0.0)
    assert (x, y) == (-right[1], right[0])
    assert nudge(azimuth, 0.0, 0.0, 1.0) == (0, 0, 1)


def test_a_bent_strip_is_drawn_in_one_with_no_edges_along_its_seams():
    project = project_of("spine-lamp", hangs="spiral")
    scene = scene_of(solved_structure_of(project), fit_context_of(project))
    strip = next(piece for piece in scene.pieces if piece.name == "Strip")
    assert np.ptp(strip.triangles[..., 2]) > 280
    steep = np.abs(strip.edges[:, 1, 2] - strip.edges[:, 0, 2])
    assert (steep > 2.5).sum() < 4 * 12 * 4  # upright ones only at notches and ends


def test_a_helper_draws_the_same_picture_and_asks_for_scenes_that_it_has_forgotten():
    project = fern_lantern()
    solved, fit_context = solved_structure_of(project), fit_context_of(project)
    look = replace(LOOK, tints=dict.fromkeys((s.id for s in project.stocks), (0.5, 0.5, 0.5)))
    request = RenderRequest(solved, fit_context, 0.0, Camera(), True, look, (200, 160))
    studio = OffscreenRenderer(RendererProcess())
    here = OffscreenRenderer().render(request).pixels
    assert studio.render(request).pixels == here
    nowhere = {piece.name: (0.0, 0.0, 0.0) for piece in solved.pieces}
    for number in range(100, 108):  # more than it remembers
        renderer_process.HELPER.call(
            renderer_process.picture_there, number, studio._meshed[2], nowhere, Camera(), look,
            (20, 20), WHOLE, False,
        )  # fmt: skip
    assert studio.render(request).pixels == here
