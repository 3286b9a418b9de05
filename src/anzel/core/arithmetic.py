"""Plain arithmetic with names, as people type it into a field.

Only numbers, names that are known, + − × ÷ ( ) and units of length are understood. Python parses
the sum, which gives its precedence; it never runs it: every number and name becomes a placeholder
first, and the tree is worked out here.
"""

import ast
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache

from anzel.core.findings import QuantityError

MILLIMETRES_PER_INCH = 25.4
"""Exact by definition (international yard and pound agreement, 1959)."""
LONGEST_TEXT = 200
"""Longer text is refused, which also bounds how deep its parentheses go."""
UNITS = {
    "mm": 1.0, "cm": 10.0, "in": MILLIMETRES_PER_INCH, "inch": MILLIMETRES_PER_INCH,
    "inches": MILLIMETRES_PER_INCH, '"': MILLIMETRES_PER_INCH, "″": MILLIMETRES_PER_INCH,
}  # fmt: skip
_NUMBER = re.compile(r"\d+\.?\d*|\.\d+")
_WORD = re.compile(r"[^\W\d][\w’']*")
_SIGNS = {"−": "-", "–": "-", "×": "*", "·": "*", "÷": "/"}
_PLAIN_SIGNS = "+-*/()"


@dataclass(frozen=True)
class Amount:
    """A number and its power of length.

    0 is a number without a unit, which beside a length is one in mm; 1 is a length.
    """

    value: float
    power: int = 0


@dataclass(frozen=True)
class Token:
    """One part of a typed sum: a `number`, `name`, `unit` or `sign`, from `start` to `end`."""

    kind: str
    text: str
    start: int
    end: int


Lookup = Callable[[str], Amount]
"""Gives the value of a known name; raises QuantityError where it has none."""


def evaluate(text: str, names: Mapping[str, Amount] | None = None) -> Amount:
    """Return what a typed sum comes to.

    Raises
    ------
    QuantityError
        For text that is no sum, a name that is not known, and a division by nothing.

    Examples
    --------
    >>> evaluate("wall − 2 × sheet", {"wall": Amount(60, 1), "sheet": Amount(3, 1)}).value
    54.0
    >>> evaluate("12 in / 3 in").value
    4.0
    """
    known = names or {}
    return evaluate_with(text, tuple(known), known.__getitem__)


def evaluate_with(text: str, known: tuple[str, ...], lookup: Lookup) -> Amount:
    """Return what a typed sum comes to, with the values of its names looked up as they are met.

    Raises
    ------
    QuantityError
        As `evaluate`, and what `lookup` raises.
    """
    tokens = tokens_of(text, known)
    amounts: list[Amount] = []
    parts: list[str] = []
    for token in _with_brackets(tokens):
        if token.kind == "sign":
            parts.append(token.text)
            continue
        parts.append(f"{'*' if token.kind == 'unit' else ''} v{len(amounts)} ")
        if token.kind == "name":
            amounts.append(lookup(token.text))
        else:
            is_unit = token.kind == "unit"
            value = UNITS[token.text] if is_unit else float(token.text)
            amounts.append(Amount(value, int(is_unit)))
    try:
        tree = ast.parse("".join(parts).strip(), mode="eval")
        worked_out = _worked_out(tree.body, amounts)
    except (SyntaxError, ValueError, RecursionError, MemoryError, OverflowError) as error:
        raise _no_sum(text) from error
    except ZeroDivisionError as error:
        hint = "Let what stands below the line be more than 0."
        raise QuantityError(f"“{text.strip()}” divides by nothing.", hint=hint) from error
    if not abs(worked_out.value) < float("inf"):
        raise _no_sum(text)
    return worked_out


@lru_cache(maxsize=2048)
def tokens_of(text: str, known: tuple[str, ...]) -> tuple[Token, ...]:
    """Return the parts of a typed sum; of names that begin alike the longest is meant.

    Raises
    ------
    QuantityError
        For anything that is no number, known name, unit or sign.
    """
    if not text.strip() or len(text) > LONGEST_TEXT:
        raise _no_sum(text)
    return tuple(_tokens(text, sorted(known, key=len, reverse=True)))


def is_plain(text: str) -> bool:
    """Return whether typed text has no name in it, so that nothing need be kept of it."""
    try:
        return all(token.kind != "name" for token in tokens_of(text, ()))
    except QuantityError:
        return not _WORD.search(text)


def with_renamed(text: str, known: tuple[str, ...], renamed: Mapping[str, str]) -> str:
    """Return a typed sum after names have become others; text that is no sum stays as it is."""
    try:
        tokens = tokens_of(text, known)
    except QuantityError:
        return text
    for token in reversed(tokens):
        if token.kind == "name" and token.text in renamed:
            text = text[: token.start] + renamed[token.text] + text[token.end :]
    return text


def _tokens(text: str, known: list[str]) -> Iterator[Token]:
    at, before = 0, ""
    while at < len(text):
        if text[at].isspace():
            at += 1
            continue
        token = _token_at(text, at, known, before)
        yield token
        at, before = token.end, token.kind if token.text != ")" else "number"


def _token_at(text: str, at: int, known: list[str], before: str) -> Token:
    name = next((each for each in known if _starts_with(text, at, each)), None)
    word, number = _WORD.match(text, at), _NUMBER.match(text, at)
    unit = text[at] if text[at] in UNITS else word[0].lower() if word else ""
    if before == "number" and unit in UNITS:
        return Token("unit", unit, at, at + len(unit))
    if name is not None:
        return Token("name", name, at, at + len(name))
    if number:
        return Token("number", number[0], at, number.end())
    sign = _SIGNS.get(text[at], text[at])
    if sign in _PLAIN_SIGNS:
        return Token("sign", sign, at, at + 1)
    if word and known and unit not in UNITS:
        near = get_close_matches(word[0], known, 1, 0.5)
        hint = f"Did you mean “{near[0]}”?" if near else f"There are: {', '.join(known[:8])}."
        raise QuantityError(f"There is no number “{word[0]}” here.", hint=hint)
    raise _no_sum(text)


def _starts_with(text: str, at: int, name: str) -> bool:
    """Return whether a name stands at a place of the text, whole, in small letters or capitals."""
    end = at + len(name)
    whole = end >= len(text) or not (text[end].isalnum() or text[end] == "_")
    return whole and text[at:end].lower() == name.lower()


def _with_brackets(tokens: tuple[Token, ...]) -> Iterator[Token]:
    """Yield the tokens with the brackets that people leave out.

    Whole numbers are added to the fractions beside them: 1 1/8 in. A length is divided by the whole
    length behind it: 12 in / 3 in.
    """
    at = 0
    while at < len(tokens):
        four = tokens[at : at + 4]
        kinds = [token.text if token.kind == "sign" else token.kind for token in four]
        if kinds == ["number", "number", "/", "number"]:
            sign = four[2]
            yield Token("sign", "(", sign.start, sign.start)
            yield four[0]
            yield Token("sign", "+", sign.start, sign.start)
            yield from four[1:]
            yield Token("sign", ")", sign.start, sign.start)
            at += 4
        elif kinds[:3] == ["/", "number", "unit"] and at and tokens[at - 1].kind == "unit":
            yield four[0]
            yield Token("sign", "(", four[1].start, four[1].start)
            yield from four[1:3]
            yield Token("sign", ")", four[2].end, four[2].end)
            at += 3
        else:
            yield tokens[at]
            at += 1


def _worked_out(node: ast.expr, amounts: list[Amount]) -> Amount:
    """Return the value of a tree that holds nothing but placeholders and the four signs."""
    match node:
        case ast.Name(id=name):
            return amounts[int(name[1:])]
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            inner = _worked_out(operand, amounts)
            return Amount(-inner.value, inner.power)
        case ast.UnaryOp(op=ast.UAdd(), operand=operand):
            return _worked_out(operand, amounts)
        case ast.BinOp(left=left, op=sign, right=right):
            return _combined(_worked_out(left, amounts), sign, _worked_out(right, amounts))
    raise ValueError("not a sum")


def _combined(one: Amount, sign: ast.operator, other: Amount) -> Amount:
    match sign:
        case ast.Add() | ast.Sub():
            value = one.value + (other.value if isinstance(sign, ast.Add) else -other.value)
            return Amount(value, max(one.power, other.power))
        case ast.Mult():
            return Amount(one.value * other.value, one.power + other.power)
        case ast.Div():
            return Amount(one.value / other.value, max(one.power - other.power, 0))
    raise ValueError("not one of the four signs")


def _no_sum(text: str) -> QuantityError:
    return QuantityError(
        f"“{text.strip()[:40]}” is not a length.",
        hint="Type a number, such as 2.94 or 1/8 in, or a sum of them.",
    )
