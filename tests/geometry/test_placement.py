"""Plates in space."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.common import FLOOR, WALL, assert_close

from anzel.geometry.placement import Placement, cross, dot, norm, unit

coordinates = st.floats(-1000, 1000)


def test_normals_follow_the_right_hand():
    assert FLOOR.normal == (0.0, 0.0, 1.0)
    assert WALL.normal == (0.0, -1.0, 0.0)


@given(coordinates, coordinates, st.floats(-20, 20))
def test_a_plate_point_goes_to_the_world_and_back(x, y, height):
    lean = unit((1.0, 2.0, 0.5))
    side = unit(cross(lean, (0.0, 0.0, 1.0)))
    placement = Placement((10.0, -20.0, 30.0), lean, side)
    world = placement.to_world((x, y), height)
    assert_close(placement.to_plate(world), (x, y), 1e-9)
    assert norm(placement.normal) == pytest.approx(1)
    assert dot(placement.normal, lean) == pytest.approx(0, abs=1e-12)
