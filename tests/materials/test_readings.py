"""Statistics of readings, against the GUM's own example."""

import statistics

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from anzel.materials.readings import grubbs_limit, statistics_of, suspect_readings
from anzel.materials.stock import Stock

GUM_TEMPERATURES = [
    96.90, 98.18, 98.25, 98.61, 99.03, 99.49, 99.56, 99.74, 99.89, 100.07,
    100.33, 100.42, 100.68, 100.95, 101.11, 101.20, 101.57, 101.84, 102.36, 102.72,
]  # fmt: skip
"""JCGM 100:2008, table 1 of 4.4.3 (values quoted from memory; the sums below confirm them)."""


def test_gum_example_of_a_type_a_evaluation():
    """JCGM 100:2008, 4.4.3: mean 100.145 °C, s = 1.489 °C, s/√n = 0.333 °C."""
    said = statistics_of(GUM_TEMPERATURES)
    assert said.count == 20
    assert said.mean == pytest.approx(100.145, abs=5e-4)
    assert said.sample_deviation == pytest.approx(1.489, abs=5e-4)
    assert said.standard_uncertainty == pytest.approx(0.333, abs=5e-4)


def test_three_readings_worked_by_hand():
    """2.93, 2.95, 2.94: deviations -0.01, 0.01, 0; s² = 0.0002 / 2."""
    said = statistics_of([2.93, 2.95, 2.94])
    assert said.mean == pytest.approx(2.94)
    assert said.sample_deviation == pytest.approx(0.01)
    assert said.standard_uncertainty == pytest.approx(0.01 / 3**0.5)
    assert (said.least, said.greatest, said.spread) == (2.93, 2.95, pytest.approx(0.02))


def test_one_reading_says_nothing_about_its_spread():
    said = statistics_of([2.9])
    assert said.mean == 2.9
    assert said.sample_deviation is None
    assert said.standard_uncertainty is None


def test_no_reading_says_nothing():
    assert statistics_of([]) is None


@given(st.lists(st.floats(0.1, 50), min_size=2, max_size=40))
def test_agrees_with_the_standard_library(readings):
    said = statistics_of(readings)
    assert said.mean == pytest.approx(statistics.fmean(readings))
    assert said.sample_deviation == pytest.approx(statistics.stdev(readings), abs=1e-9)
    assert said.least <= said.mean + 1e-12
    assert said.mean <= said.greatest + 1e-12


@given(st.lists(st.floats(0.1, 50), min_size=2, max_size=30))
def test_the_interval_of_the_mean_is_student_t(readings):
    """JCGM 100:2008, G.3, against scipy's own distribution."""
    said = statistics_of(readings)
    expected = stats.t.ppf(0.975, said.count - 1) * said.standard_uncertainty
    assert said.confidence_half_width == pytest.approx(expected)


@pytest.mark.parametrize(
    ("count", "limit"), [(3, 1.154), (5, 1.715), (7, 2.020), (10, 2.290), (20, 2.709)]
)
def test_published_limits_of_grubbs_test(count, limit):
    """Two-sided, 5 %: Grubbs & Beck, Technometrics 14 (1972), table I, from memory."""
    assert grubbs_limit(count) == pytest.approx(limit, abs=1.5e-3)


@given(st.integers(3, 40))
def test_limits_of_grubbs_test_from_scipys_t(count):
    """ISO 5725-2: (n - 1)/√n · √(t² / (n - 2 + t²)), t at 1 - 0.05/2n and n - 2."""
    t = stats.t.isf(0.05 / (2 * count), count - 2)
    expected = (count - 1) / count**0.5 * (t**2 / (count - 2 + t**2)) ** 0.5
    assert grubbs_limit(count) == pytest.approx(expected)


@pytest.mark.parametrize(
    ("readings", "doubtful"),
    [
        ([2.93, 2.95, 2.94, 3.16], [3]),
        ([2.93, 2.95, 2.94, 0.116], [3]),
        ([0.117, 2.94], [0]),
        ([29.4, 2.94, 2.95], [0]),
        ([2.94, 2.94, 2.95], []),
        ([2.80, 2.95, 3.05, 2.88, 3.10], []),
        ([2.94, 2.94, 2.94, 2.94], []),
        ([2.94], []),
        ([], []),
    ],
)
def test_a_reading_that_cannot_belong_is_pointed_at(readings, doubtful):
    assert [each.index for each in suspect_readings(readings, 3.0)] == doubtful


@given(st.lists(st.floats(2.5, 3.5), max_size=20))
def test_pointing_at_readings_never_drops_one(readings):
    ply = Stock(id="ply", name="Ply", nominal_thickness=3.0, readings=tuple(readings))
    indices = [each.index for each in ply.suspect_readings]
    assert indices == sorted(set(indices))
    assert ply.readings == tuple(readings)
    assert len(readings) == 0 or ply.statistics.count == len(readings)
