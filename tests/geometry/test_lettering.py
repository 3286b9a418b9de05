"""Engraved digits."""

import pytest

from anzel.geometry.lettering import lettering


def test_digits_have_the_height_and_place_asked_for():
    strokes = lettering("0.88", 3.2, (10.0, 20.0))
    ys = [y for stroke in strokes for _, y in stroke]
    xs = [x for stroke in strokes for x, _ in stroke]
    assert max(ys) - min(ys) == pytest.approx(3.2)
    assert (max(ys) + min(ys)) / 2 == pytest.approx(20.0)
    assert (max(xs) + min(xs)) / 2 == pytest.approx(10.0)


def test_lettering_stands_upright():
    """A 7 has its bar at the top: y runs upwards like everything else in the core."""
    points = [point for stroke in lettering("7", 10.0, (0.0, 0.0)) for point in stroke]
    top = max(y for _, y in points)
    assert [y for _, y in points].count(top) >= 2


def test_each_digit_is_drawn_in_few_strokes_and_text_of_nothing_in_none():
    assert lettering("", 3.0, (0.0, 0.0)) == ()
    for digit in "0123456789":
        assert 1 <= len(lettering(digit, 3.0, (0.0, 0.0))) <= 4
