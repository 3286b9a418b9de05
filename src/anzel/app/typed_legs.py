"""Legs typed by the maker: “40 at 90”, “40 turn 15”, “x 20 y 30”, each also with “radius 50”."""

import re

from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.app.number_display import number_format
from anzel.core.findings import ParameterError
from anzel.geometry.rigid_transform import Point
from anzel.shape.path_drawing import DrawnLeg, direction, heading

EXAMPLES = "40 at 90 · 40 turn 15 · x 20 y 30 · 40 at 0 radius 25"
_RADIUS = re.compile(r"\s+radius\s+(?P<radius>.+)$")
_POLAR = re.compile(r"^(?P<length>.+?)\s+(?P<how>at|turn)\s+(?P<angle>[^\s]+?)°?$")
_STEPS = re.compile(r"^(?:x\s*(?P<x>[^xy]+?))?\s*(?:y\s*(?P<y>[^xy]+))?$")


def typed_leg(text: str, corners: list[Point]) -> DrawnLeg:
    """Return the leg that typed text means, from the last of the corners.

    “at” is an angle from along x, “turn” one from the last leg, both counter-clockwise; x and y
    are steps from the last corner, or from the middle of the drawing for the first one. Raises
    ParameterError saying what can be typed.
    """
    words = text.strip().lower().replace("−", "-")
    radius = None
    if found := _RADIUS.search(words):
        radius = _length(found["radius"], "radius")
        words = words[: found.start()]
    x, y = corners[-1] if corners else (0.0, 0.0)
    if corners and (polar := _POLAR.match(words)):
        length = _length(polar["length"], "length")
        angle = typed_number(polar["angle"], "angle")
        if polar["how"] == "turn":
            angle += heading(corners)
        dx, dy = direction(angle)
        return DrawnLeg((x + length * dx, y + length * dy), length, radius)
    steps = _STEPS.match(words)
    if steps and words:
        dx, dy = (_length(steps[axis], axis) if steps[axis] else 0.0 for axis in "xy")
        return DrawnLeg((x + dx, y + dy), radius=radius)
    what = "a leg" if corners else "the first corner"
    hint = f"Type one like these: {EXAMPLES}." if corners else "Type it like this: x 20 y 30."
    raise ParameterError(f"“{text.strip()}” is not {what}.", hint=hint, field="leg")


def _length(text: str, field: str) -> float:
    """Return a typed length in mm; a bare number is in the unit that the maker has chosen."""
    return typed_length(number_format().typed(text), field)
