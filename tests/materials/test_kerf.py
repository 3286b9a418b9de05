"""Kerf from test pieces, against sizes produced from a kerf that is known."""

from math import sqrt
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.app.edits.cutter_edits import take_kerf
from anzel.core.findings import ParameterError
from anzel.materials.cutter import KerfSource
from anzel.materials.kerf import Caliper, LearntKerf, kerf_from_disc, kerf_from_strips
from anzel.project.demos import herb_stand

CALIPER = Caliper()


def test_ten_strips_worked_by_hand():
    """20 - 198.4 / 10; the calipers' doubt counts a tenth."""
    found = kerf_from_strips(20, 10, 198.4, CALIPER)
    assert found.kerf == pytest.approx(0.16)
    doubt = sqrt(0.01**2 / 12 + 0.03**2 / 3)
    assert found.uncertainty == pytest.approx(doubt / 10)


def test_a_disc_and_its_hole_worked_by_hand():
    found = kerf_from_disc(30, 30, 29.86, 30.18, CALIPER)
    assert found.kerf == pytest.approx(0.16)
    assert found.uncertainty == pytest.approx(0.01 / sqrt(12) / sqrt(2))


@given(kerf=st.floats(0.05, 0.5), zero=st.floats(-0.1, 0.1), size=st.floats(10, 60))
def test_a_zero_error_cancels_between_disc_and_hole(kerf, zero, size):
    found = kerf_from_disc(size, size, size - kerf + zero, size + kerf + zero, CALIPER)
    assert found.kerf == pytest.approx(kerf, abs=1e-9)


@given(kerf=st.floats(0.05, 0.5), count=st.integers(2, 20))
def test_more_strips_know_the_kerf_better(kerf, count):
    total = count * (20 - kerf)
    few, many = (kerf_from_strips(20, n, total * n / count, CALIPER) for n in (count, 2 * count))
    assert few.kerf == pytest.approx(kerf)
    assert many.uncertainty == pytest.approx(few.uncertainty / 2)


@pytest.mark.parametrize("kind", ["strips", "disc"])
def test_the_true_kerf_is_within_the_stated_doubt(kind):
    """Monte-Carlo: readings rounded to the resolution, zero error anywhere within its limits."""
    random, inside = Random(4), 0
    for _ in range(2000):
        kerf, zero = random.uniform(0.08, 0.45), random.uniform(-0.03, 0.03)

        def read(true, zero=zero):
            return round((true + zero) * 100) / 100

        if kind == "strips":
            found = kerf_from_strips(12.3, 8, read(8 * (12.3 - kerf)), CALIPER)
        else:
            found = kerf_from_disc(25.1, 25.1, read(25.1 - kerf), read(25.1 + kerf), CALIPER)
        inside += abs(found.kerf - kerf) <= 2 * found.uncertainty
    assert inside >= 0.95 * 2000


@pytest.mark.parametrize(
    ("arguments", "field"),
    [((0, 10, 198), "drawn"), ((20, 0, 198), "count"), ((20, 10, -1), "total"),
     ((20, 10, 201), "total"), ((20, 10, 90), "total")],
)  # fmt: skip
def test_strips_that_cannot_be_are_named(arguments, field):
    with pytest.raises(ParameterError) as caught:
        kerf_from_strips(*arguments, CALIPER)
    assert caught.value.field == field


def test_inside_and_outside_swapped_is_noticed():
    with pytest.raises(ParameterError, match="which cannot be"):
        kerf_from_disc(30, 30, 30.18, 29.86, CALIPER)


@pytest.mark.parametrize("sizes", [(-0.95, 0.03), (0.01, -0.1), (5.0, 0.03), (0.01, 2.0)])
def test_calipers_that_cannot_be_are_named(sizes):
    with pytest.raises(ParameterError, match="of calipers cannot be") as caught:
        Caliper(*sizes)
    assert caught.value.field == ("zero_error" if sizes[0] == 0.01 else "resolution")


def test_a_kerf_too_large_to_be_one_is_refused_in_words():
    with pytest.raises(ParameterError, match=r"^Kerf must be at most"):
        take_kerf(herb_stand(), "birch-3", LearntKerf(14.0, 0.01), KerfSource.DISC)
