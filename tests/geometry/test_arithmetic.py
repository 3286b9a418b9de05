"""Sums with names: against Python's own evaluation of the same expressions, and hostile text."""

import random
import string
import sys
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.core.arithmetic import Amount, evaluate, is_plain, tokens_of, with_renamed
from anzel.core.findings import QuantityError

NAMES = {"wall": 60.0, "sheet": 2.94, "Left end width": 110.0, "Left end": 7.0, "größe": 3.5}
KNOWN = {name: Amount(value, 1) for name, value in NAMES.items()}


@st.composite
def sums(draw, deep=4):
    """A sum as a maker types it, and the same for Python."""
    if deep == 0 or draw(st.booleans()):
        if draw(st.booleans()):
            name = draw(st.sampled_from(sorted(NAMES)))
            return name, repr(NAMES[name])
        number = draw(st.floats(0.001, 999, allow_nan=False))
        return f"{number:.3f}", f"{number:.3f}"
    left, right = draw(sums(deep - 1)), draw(sums(deep - 1))
    shown, sign = draw(
        st.sampled_from([("+", "+"), ("−", "-"), ("×", "*"), ("÷", "/"), ("*", "*")])
    )
    space = draw(st.sampled_from(["", " "]))
    before = draw(st.sampled_from(["", "−", "+"]))
    its = before.replace("−", "-")
    if draw(st.booleans()):
        return (
            f"({left[0]} {shown}{space}{before}{right[0]})",
            f"({left[1]} {sign}{its}{right[1]})",
        )
    return f"{left[0]} {shown} {right[0]}", f"{left[1]} {sign} {right[1]}"


@given(sums())
def test_sums_come_to_what_python_makes_of_them(both):
    typed, same = both
    try:
        wanted = eval(same, {"__builtins__": {}})  # the outside check: our own drawn text only
    except ZeroDivisionError:
        with pytest.raises(QuantityError, match="divides by nothing"):
            evaluate(typed, KNOWN)
        return
    if len(typed) <= 200 and abs(wanted) < float("inf"):
        assert evaluate(typed, KNOWN).value == wanted


@pytest.mark.parametrize(
    ("typed", "value"),
    [
        ("wall − 2 × sheet", 54.12), ("1 1/8 in + sheet", 28.575 + 2.94), ("Left end − 1", 6.0),
        ("Left end width/2", 55.0), ("WALL", 60.0), ("-(wall+1)", -61.0), ('wall + 1"', 85.4),
        ("2 wall", None), ("wall wall", None), ("wall ** 2", None), ("wall // 2", None),
        ("wall.real", None), ("wall()", None), ("wall[0]", None), ("0x10", None), ("1e3", None),
        ("wall if 1 else 2", None), ("(wall", None), ("lambda: 1", None), ("walls", None),
    ],
)  # fmt: skip
def test_what_is_a_sum_and_what_is_not(typed, value):
    if value is None:
        with pytest.raises(QuantityError):
            evaluate(typed, KNOWN)
    else:
        assert evaluate(typed, KNOWN).value == pytest.approx(value, abs=1e-12)


def test_powers_of_length_go_along():
    assert evaluate("wall × sheet", KNOWN).power == 2
    assert evaluate("wall / sheet", KNOWN).power == 0
    assert evaluate("2 × wall + 3", KNOWN).power == 1


def test_a_name_that_is_not_known_is_told_with_one_like_it():
    with pytest.raises(QuantityError, match="no number “wal” here") as caught:
        evaluate("wal + 1", KNOWN)
    assert "wall" in caught.value.hint


def test_a_name_in_a_sum_is_renamed_and_others_are_not():
    known = tuple(NAMES)
    text = "Left end width − Left end × 2 + wall"
    assert with_renamed(text, known, {"Left end": "Side"}) == "Left end width − Side × 2 + wall"
    assert [t.text for t in tokens_of("Left end width", known)] == ["Left end width"]
    assert [is_plain(text) for text in ("1 1/8 in + 2", "wall", "1 + x")] == [True, False, False]


def test_ten_thousand_hostile_strings_run_nothing():
    """Words of Python, its signs, odd digits and deep parentheses: a number or a QuantityError.

    Nothing is run: while text is read, no code object made from it is called.
    """
    draw = random.Random(20)
    words = [
        "__import__('os')",
        "os.system",
        "eval(",
        "exec(",
        "().__class__",
        "{",
        "}",
        "lambda:",
        "wall",
        "sheet",
        "(",
        ")",
        "((((((((",
        "**",
        "9" * 30,
        "1e999",
        "//",
        "%",
        ";",
        "\n",
        "\t",
        "import",
        "\\",
        "'",
        '"',
        "f'{wall}'",
        "await",
        "yield",
        "@",
        ":=",
        "٣",
        "½",
        "∞",
        "\x00",
        "−",
        "×",
        "÷",
        "1/0",
        "in",
        "mm",
        ".",
        ",",
        "__builtins__",
        "[x for x in wall]",
        "not",
    ]
    ran = []
    sys.setprofile(
        lambda frame, event, arg: (
            ran.append(frame.f_code.co_filename)
            if event == "call" and frame.f_code.co_filename.startswith("<")
            else None
        )
    )
    try:
        for _ in range(10_000):
            text = "".join(
                draw.choice(words) if draw.random() < 0.7
                else draw.choice(string.printable) for _ in range(draw.randint(1, 30))
            )  # fmt: skip
            try:
                assert abs(evaluate(text, KNOWN).value) < float("inf")
            except QuantityError as error:
                assert str(error)
    finally:
        sys.setprofile(None)
    assert {name for name in ran if name != "<string>"} <= {"<frozen abc>"}
    assert not any(name == "<unknown>" for name in ran)  # what ast.parse calls its text
    for deep in (50, 199, 10_000):
        for text in ("(" * deep + "1" + ")" * deep, "-" * deep + "1"):
            try:
                assert abs(evaluate(text).value) == 1
            except QuantityError:
                assert len(text) > 90


@given(st.integers(1, 99), st.integers(1, 63), st.sampled_from([2, 4, 8, 16, 32, 64]))
def test_inches_and_fractions_are_exact(whole, over, under):
    wanted = float((whole + Fraction(over, under)) * Fraction(254, 10))
    assert evaluate(f"{whole} {over}/{under} in").value == pytest.approx(wanted, rel=1e-14)
