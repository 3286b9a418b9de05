"""Statistics of readings, against the GUM's own example."""

import statistics

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.stock.readings import statistics_of

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
