"""Transforms in SVG, written as attributes (SVG 2, 8.5) or as styles (CSS Transforms 1)."""

import re
from dataclasses import astuple
from math import degrees, inf, isfinite

import tinycss2

from anzel.drawings.affine import Affine, rotation, scaling, skewing, translation
from anzel.drawings.model import DrawingError
from anzel.drawings.svg.lengths import PIXELS
from anzel.drawings.svg.path_data import NUMBER

_TRANSFORM = re.compile(r"[\s,]*+([a-zA-Z]++)\s*+\(([^()]*+)\)")
_DEGREES = {"deg": 1.0, "grad": 0.9, "rad": degrees(1.0), "turn": 360.0}
_ALONG_ONE = {
    "translatex": ("translate", 0, 0.0), "translatey": ("translate", 1, 0.0),
    "scalex": ("scale", 0, 1.0), "scaley": ("scale", 1, 1.0),
}  # fmt: skip


def transform(text: str) -> Affine:
    """Return the map of a transform attribute.

    The first transform written is applied last (SVG 2, 8.5).

    Raises
    ------
    DrawingError
    """
    whole, at = Affine(), 0
    while found := _TRANSFORM.match(text, at):  # from where the last ended: never twice over
        numbers = [float(word) for word in NUMBER.findall(found[2])]
        if all(map(isfinite, numbers)):
            whole = whole.compose(_one_transform(found[1], numbers))
        else:
            whole = Affine(a=inf)
        at = found.end()
    if text[at:].strip(" ,\t\r\n\f"):
        raise DrawingError(f"The drawing has a transform that cannot be read: “{text[at:][:40]}”.")
    return _within_reason(whole)


def transform_style(text: str) -> Affine:
    """Return the map of a transform property, whose numbers have units.

    Raises DrawingError for what no drawing in the plane has.
    """
    whole = Affine()
    if text.strip().lower() == "none":
        return whole
    for token in tinycss2.parse_component_value_list(text, skip_comments=True):
        if token.type == "whitespace":
            continue
        if token.type != "function":
            raise DrawingError(f"The drawing has a transform that cannot be read: “{text[:40]}”.")
        name, numbers = _plain(token)
        if not all(map(isfinite, numbers)):
            return _within_reason(Affine(a=inf))
        whole = whole.compose(_one_transform(name, numbers))
    return _within_reason(whole)


def _plain(token: tinycss2.ast.FunctionBlock) -> tuple[str, list[float]]:
    """Return a function of the style as the attribute writes it: its name, px and degrees."""
    numbers = []
    for part in token.arguments:
        if part.type == "number":
            numbers.append(float(part.value))
        elif part.type == "dimension" and part.lower_unit in _DEGREES:
            numbers.append(float(part.value) * _DEGREES[part.lower_unit])
        elif part.type == "dimension" and part.lower_unit in PIXELS:
            numbers.append(float(part.value) * PIXELS[part.lower_unit])
        elif part.type not in ("whitespace", "literal"):
            return (tinycss2.serialize([token]), [])
    name = token.lower_name
    if name in _ALONG_ONE and len(numbers) == 1:
        name, axis, rest = _ALONG_ONE[name]
        return name, ([numbers[0], rest] if axis == 0 else [rest, numbers[0]])
    if name in ("skewx", "skewy"):
        name = f"skew{name[-1].upper()}"
    return name, numbers


def _within_reason(whole: Affine) -> Affine:
    if not all(map(isfinite, astuple(whole))):
        raise DrawingError("The drawing has a transform with numbers out of reason.")
    return whole


def _one_transform(name: str, numbers: list[float]) -> Affine:
    count = len(numbers)
    if name == "matrix" and count == 6:
        return Affine(*numbers)
    if name == "translate" and count in (1, 2):
        return translation(*numbers)
    if name == "scale" and count in (1, 2):
        return scaling(*numbers)
    if name == "rotate" and count in (1, 3):
        return rotation(*numbers)
    if name in ("skewX", "skewY") and count == 1:
        return skewing(numbers[0]) if name == "skewX" else skewing(0.0, numbers[0])
    raise DrawingError(f"The drawing has a transform that cannot be read: “{name[:40]}”.")
