"""Lengths as people type them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.core.findings import QuantityError
from anzel.core.number_format import MILLIMETRES, format_length
from anzel.core.units import parse_length


@pytest.mark.parametrize(
    ("typed", "millimetres"),
    [
        ("2.94", 2.94),
        (" 2.94 mm ", 2.94),
        ("2,94", 2.94),
        (".5", 0.5),
        ("-0.05", -0.05),
        ("−0.05", -0.05),
        ("0.116in", 2.9464),
        ("0.116 inch", 2.9464),
        ('1"', 25.4),
        ("1/8 in", 3.175),  # the handbook: a sheet sold as 1/8 in
        ("1 1/8 in", 28.575),
        ("11 1/8 in", 282.575),
        ("2*3 + 0.02", 6.02),
        ("1/8 in + 0.05 mm", 3.225),
        ("(2.9 + 3.0) / 2", 2.95),
        ("2 cm", 20.0),
    ],
)
def test_typed_lengths_become_millimetres(typed, millimetres):
    assert parse_length(typed) == pytest.approx(millimetres, abs=1e-12)


@pytest.mark.parametrize(
    "typed",
    ["", "thick", "2.9.4", "2 +", "1,200", "3 kg", "2 mm * 2 mm", "9**9", "1/0", "nan", "inf",
     "__import__('os')", "1" * 200, "1e9", "5 m", "(((", "2 in in"],
)  # fmt: skip
def test_text_that_is_no_length_is_refused_in_words(typed):
    with pytest.raises(QuantityError) as caught:
        parse_length(typed)
    assert caught.value.message.startswith("“")


def test_a_comma_that_may_be_a_thousands_mark_is_asked_about():
    with pytest.raises(QuantityError, match="decimal or a thousand"):
        parse_length("1,200 mm")


@given(st.text(max_size=30))
def test_any_text_is_a_length_or_a_quantity_error(typed):
    try:
        assert abs(parse_length(typed)) < 1e6
    except QuantityError:
        pass


@given(st.floats(-9999, 9999))
def test_a_number_reads_back_as_itself(value):
    assert parse_length(f"{value:.6f}") == pytest.approx(value, abs=1e-6)


@pytest.mark.parametrize(
    ("value", "shown"), [(2.9444, "2.94"), (-0.05, "−0.05"), (-0.001, "0.00"), (0.0, "0.00")]
)
def test_shown_lengths_have_a_true_minus_and_no_negative_zero(value, shown):
    assert MILLIMETRES.write(format_length(value)) == shown
