"""Numbers in texts: marked by the core, written in the maker's units."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from anzel.core.number_format import (
    MILLIMETRES,
    UNIT,
    NumberFormat,
    Unit,
    format_length,
    format_quantity,
    least_length,
    most_length,
    plain_length,
    plain_number,
    signed_length,
)
from anzel.core.units import parse_length

INCHES, FRACTIONS = NumberFormat(Unit.INCHES), NumberFormat(Unit.FRACTIONS)
COMMA = NumberFormat(decimal_comma=True)
FORMATS = (
    MILLIMETRES, COMMA, INCHES, FRACTIONS, NumberFormat(Unit.INCHES, 3, decimal_comma=True),
)  # fmt: skip
lengths = st.floats(-5000, 5000)


@pytest.mark.parametrize(
    ("mark", "metric", "inches", "fractions"),
    [  # 1 in is 25.4 mm by definition (international yard and pound agreement, 1959)
        (format_length(25.4), "25.40", "1.0000", "1"),
        (format_length(3.175, 3), "3.175", "0.12500", "1/8"),
        (format_length(-6.35), "−6.35", "−0.2500", "−1/4"),
        (format_length(2.94), "2.94", "0.1157", "0.1157"),
        (format_length(0.0), "0.00", "0.0000", "0"),
        (format_length(28.575, 1), "28.6", "1.125", "1 1/8"),
        (plain_length(400), "400", "15.748", "15.748"),
        (plain_length(38.1), "38.1", "1.5", "1 1/2"),
        (signed_length(0.05), "+0.050", "+0.00197", "+0.00197"),
        (least_length(42.01), "42.1", "1.654", "1.654"),
        (most_length(42.09), "42", "1.657", "1.657"),
        (plain_number(2.5), "2.5", "2.5", "2.5"),
        (format_quantity(3.048, "m", 2), "3.05 m", "10.00 ft", "10.00 ft"),
        (format_quantity(6.4516, "cm²", 0), "6 cm²", "1.00 in²", "1.00 in²"),
        (UNIT, "mm", "in", "in"),
    ],
)  # fmt: skip
def test_marks_are_written_in_every_unit(mark, metric, inches, fractions):
    assert MILLIMETRES.write(mark) == metric
    assert INCHES.write(mark) == inches
    assert FRACTIONS.write(mark) == fractions
    assert COMMA.write(mark) == metric.replace(".", ",")


@given(lengths, st.sampled_from(FORMATS))
def test_what_a_field_shows_is_typed_back_as_the_same_length(value, numbers):
    """A field shows to a thousandth of a millimetre, or finer in inches."""
    text = numbers.write(plain_length(value)).replace("−", "-")
    assume(MILLIMETRES.write(plain_length(value)) not in ("0", "-0"))
    typed = parse_length(numbers.typed(text))
    assert typed == pytest.approx(value, abs=0.013 if numbers.places == 3 else 0.006)


@given(lengths, lengths, st.sampled_from(FORMATS))
def test_a_range_is_never_shown_wider_than_it_is(one, other, numbers):
    low, high = sorted((one, other))
    least, most = (
        parse_length(numbers.typed(numbers.write(mark).replace("−", "-")))
        for mark in (least_length(low), most_length(high))
    )
    assert least >= low - 1e-9 * abs(low) - 1e-6
    assert most <= high + 1e-9 * abs(high) + 1e-6


@given(st.floats(0.01, 2000), st.sampled_from(FORMATS))
def test_a_fraction_is_never_further_off_than_millimetres_would_be(value, numbers):
    text = numbers.write(format_length(value))
    assert parse_length(numbers.typed(text)) == pytest.approx(value, abs=0.0051 * 2.6)


@given(st.text())
def test_texts_without_marks_stay_as_they_are(text):
    assume("⟦" not in text)
    assert INCHES.write(text) == text


@pytest.mark.parametrize(
    ("numbers", "typed", "millimetres"),
    [
        (INCHES, "1/8", 3.175), (INCHES, "2 mm", 2.0), (INCHES, "1 1/2", 38.1),
        (INCHES, "0.5 + 1/4", 19.05), (FRACTIONS, '3/8"', 9.525), (MILLIMETRES, "3", 3.0),
        (COMMA, "1,234", 1.234), (COMMA, "2,94", 2.94),
    ],
)  # fmt: skip
def test_a_bare_number_is_in_the_unit_that_is_shown(numbers, typed, millimetres):
    assert parse_length(numbers.typed(typed)) == pytest.approx(millimetres, abs=1e-12)


def test_steps_are_round_in_the_unit_that_is_shown():
    assert MILLIMETRES.stepped(140.0, 1.0) == "141"
    assert INCHES.stepped(25.4, 1.0) == "1.05"
    assert FRACTIONS.stepped(25.4, -1.0) == "0.9375"
    assert FRACTIONS.stepped(25.4, 0.1) == "1.015625"
