"""What is not known of a sheet, and where the classes begin."""

from math import inf, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.materials.cutter import Kerf
from anzel.materials.fits import FitName, Fits
from anzel.materials.material import Material
from anzel.materials.stock import Stock
from anzel.materials.uncertainty import class_limits, uncertainty_of

KERF = Kerf(stock_id="ply", kerf=0.16, uncertainty=0.012)


def ply(*readings, material=Material.PLY):
    """Ply sold as 3 mm."""
    return Stock(id="ply", name="Ply", material=material, nominal_thickness=3.0, readings=readings)


def test_three_readings_worked_by_hand():
    uncertainty = uncertainty_of(ply(2.93, 2.95, 2.94), KERF)
    assert uncertainty.place_to_place == pytest.approx(0.01)
    assert uncertainty.mean_uncertainty == pytest.approx(0.01 / sqrt(3))
    assert uncertainty.thickness == pytest.approx(0.01 * sqrt(4 / 3))
    assert (uncertainty.thickness_limits, uncertainty.kerf_uncertainty, uncertainty.mean_shift) == (
        (2.93, 2.95),
        0.012,
        0.0,
    )


def test_an_unmeasured_sheet_may_lie_anywhere_in_its_tolerance():
    """JCGM 100:2008, 4.3.7: a rectangle of half-width a has uncertainty a/√3; EN 315's band."""
    uncertainty = uncertainty_of(ply(), KERF)
    assert uncertainty.mean_uncertainty == pytest.approx(0.39 / sqrt(3))
    assert uncertainty.mean_shift == pytest.approx(-0.10)
    assert uncertainty_of(ply(material=Material.MDF), KERF).thickness_limits == pytest.approx(
        (2.79, 3.21)
    )


def test_one_reading_leaves_what_is_usual():
    uncertainty = uncertainty_of(ply(2.94), KERF)
    assert (uncertainty.place_to_place, uncertainty.mean_uncertainty, uncertainty.mean_shift) == (
        0.03,
        0.03,
        0.0,
    )


def test_classes_meet_half_way():
    limits = [class_limits(Fits(), name) for name in FitName]
    expected = [(-0.10, 0.0), (0.0, 0.10), (0.10, 0.225), (0.225, inf)]
    for found, wanted in zip(limits, expected, strict=True):
        assert found == pytest.approx(wanted)


@given(st.lists(st.floats(-0.5, 0.5), min_size=4, max_size=4))
def test_a_class_always_holds_its_own_clearance(values):
    """Even where a maker has put the classes out of order."""
    fits = Fits(press=values[0], snug=values[1], slide=values[2], loose=values[3])
    for name in FitName:
        low, high = class_limits(fits, name)
        assert low < fits.clearance_of(name) < high
