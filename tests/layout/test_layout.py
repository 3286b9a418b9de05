"""Pieces on sheets, checked by shapely."""

import pytest
import shapely
from hypothesis import given
from hypothesis import settings as settings_of
from hypothesis import strategies as st
from tests.common import FLOOR, blob, rectangle
from tests.told import in_mm

from anzel.geometry.regions import Contour, Region
from anzel.layout.available_sheets import AvailableSheets
from anzel.layout.layout import lay_out
from anzel.layout.rows import in_rows, side_by_side
from anzel.layout.sheet_settings import SheetSettings
from anzel.materials.stock import SheetSize
from anzel.structure.model import Piece

SETTINGS = SheetSettings()


def piece(name, contour, count=1):
    """A piece of ply."""
    return Piece(name, "ply", 3.0, Region.of(contour), FLOOR, count=count)


def sheet(width, height, count=None):
    """Sheets of one size."""
    return AvailableSheets("ply", (SheetSize(width=width, height=height, count=count),))


def shapes(plan):
    """The laid pieces as polygons."""
    return [laid.piece.region.moved(laid.transform).shape for laid in plan.placed]


def assert_clean(plan, settings):
    """Inside the margin, and no two pieces nearer than the spacing."""
    container = shapely.box(0, 0, plan.width, plan.height).buffer(
        -settings.margin + 1e-6, join_style=2
    )
    laid = shapes(plan)
    assert all(container.contains(shape) for shape in laid)
    for index, shape in enumerate(laid):
        for other in laid[index + 1 :]:
            assert shape.distance(other) >= settings.spacing - 1e-6


def test_few_pieces_share_one_sheet():
    layout = lay_out(
        [piece("a", blob()), piece("b", blob())],
        sheet(200, 100),
        SETTINGS,
    )
    (plan,) = layout.plans
    assert len(plan.placed) == 2
    assert_clean(plan, SETTINGS)
    assert plan.utilisation == pytest.approx(2 * abs(blob().signed_area) / 20_000)


def test_more_than_one_sheet_holds_goes_on_the_next():
    many = [piece("tile", rectangle(80, 80), count=5)]
    layout = lay_out(many, sheet(200, 100), SETTINGS)
    assert [len(plan.placed) for plan in layout.plans] == [2, 2, 1]
    assert [plan.number for plan in layout.plans] == [1, 2, 3]


def test_rectangles_that_tile_the_sheet_exactly_use_one_sheet():
    """A known optimum: four quarters fill the whole."""
    none = SheetSettings(spacing=0, margin=0)
    layout = lay_out([piece("q", rectangle(100, 50), count=4)], sheet(200, 100), none)
    (plan,) = layout.plans
    assert plan.utilisation == pytest.approx(1.0)
    assert_clean(plan, none)


def test_a_piece_is_turned_where_only_that_fits():
    layout = lay_out([piece("long", rectangle(20, 180))], sheet(200, 60), SETTINGS)
    assert layout.plans[0].placed[0].turn == 90
    assert_clean(layout.plans[0], SETTINGS)


def test_a_piece_larger_than_the_sheet_is_named_and_left_out():
    both = [piece("Giant", rectangle(500, 500)), piece("small", rectangle(10, 10))]
    layout = lay_out(both, sheet(200, 100), SETTINGS)
    (finding,) = layout.findings
    assert finding.code == "piece-larger-than-sheet"
    assert finding.where == "Giant"
    assert "500.0 × 500.0" in in_mm(finding.message)
    assert [laid.piece.name for laid in layout.plans[0].placed] == ["small"]


def test_nothing_to_lay_needs_no_sheet():
    assert lay_out([], sheet(200, 100), SETTINGS).plans == ()


@given(
    st.lists(st.tuples(st.floats(5, 120), st.floats(5, 80)), min_size=1, max_size=14),
    st.floats(0, 8), st.floats(0, 10),
)  # fmt: skip
@settings_of(max_examples=30)
def test_any_layout_keeps_its_distances(sizes, spacing, margin):
    settings = SheetSettings(spacing=spacing, margin=margin)
    pieces = [piece(f"p{i}", rectangle(w, h)) for i, (w, h) in enumerate(sizes)]
    layout = lay_out(pieces, sheet(200, 150), settings)
    assert sum(len(plan.placed) for plan in layout.plans) + len(layout.findings) == len(pieces)
    for plan in layout.plans:
        assert_clean(plan, settings)


def test_side_by_side_keeps_pieces_as_they_are_drawn():
    plan = side_by_side([piece("a", blob()), piece("b", Contour.circle((7.0, 7.0), 5.0))], "ply")
    assert [laid.turn for laid in plan.placed] == [0, 0]
    first, second = shapes(plan)
    assert not first.intersects(second)
    assert shapely.box(0, 0, plan.width, plan.height).contains(first)


@pytest.mark.parametrize("aspect", [0.3, 1.0, 3.0])
def test_rows_suit_the_view(aspect):
    pieces = [piece(f"p{i}", rectangle(50, 40)) for i in range(6)]
    plan = in_rows(pieces, aspect)
    laid = shapes(plan)
    assert all(shapely.box(0, 0, plan.width, plan.height).contains(shape) for shape in laid)
    assert not any(a.intersects(b) for i, a in enumerate(laid) for b in laid[i + 1 :])
    assert 0.25 < (plan.width / plan.height) / aspect < 4


def test_sheets_of_several_sizes_are_used_in_their_order_and_more_are_asked_for():
    sizes = AvailableSheets("ply", (*sheet(100, 100, 1).sizes, *sheet(200, 100, 1).sizes))
    many = [piece("tile", rectangle(80, 80), count=6)]
    layout = lay_out(many, sizes, SETTINGS)
    assert sorted(plan.width for plan in layout.plans) == [100, 200, 200, 200]
    assert sum(len(plan.placed) for plan in layout.plans) == 6
    (finding,) = layout.findings
    assert (finding.code, "Get 2 more" in finding.hint) == ("too-few-sheets", True)
    for plan in layout.plans:
        assert_clean(plan, SETTINGS)
