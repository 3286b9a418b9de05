"""Legs typed by the maker: “40 at 90”, “40 turn 15”, “x 20 y 30”; as arcs with one word more."""

import re
from collections.abc import Sequence

from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.app.number_display import number_format
from anzel.core.findings import ParameterError
from anzel.geometry.rigid_transform import Point
from anzel.shape.path_drawing import (
    DrawnLeg,
    arc_by_radius,
    arc_tangent,
    arc_through,
    heading,
)
from anzel.shape.snapping import direction

EXAMPLES = "40 at 90 · 40 turn 15 · x 20 y 30, and for an arc radius 25 · through x 9 y 5 · tangent"
_ARC = re.compile(r"\s+(?P<how>radius|through|tangent)(?:\s+(?P<what>.+))?$")
_POLAR = re.compile(r"^(?P<length>.+?)\s+(?P<how>at|turn)\s+(?P<angle>[^\s]+?)°?$")
_STEPS = re.compile(r"^(?:x\s*(?P<x>[^xy]+?))?\s*(?:y\s*(?P<y>[^xy]+))?$")


def typed_leg(text: str, start: Point | None, legs: Sequence[DrawnLeg]) -> DrawnLeg:
    """Return the leg that typed text means, after those drawn so far.

    “at” is an angle from along x, “turn” one from the last leg, both counter-clockwise; x and y
    are steps from the last corner, or from the middle of the drawing for the first one. An arc
    bulges by its radius, goes through a point told by steps, or goes on tangent to the last leg.
    Raises ParameterError saying what can be typed.
    """
    words = text.strip().lower().replace("−", "-")
    found = _ARC.search(words) if start is not None else None
    straight = _straight(words[: found.start()] if found else words, text, start, legs)
    if found is None or start is None:
        return straight
    last = legs[-1].end if legs else start
    what = found["what"] or ""
    match found["how"]:
        case "radius":
            return arc_by_radius(last, straight.end, _length(what, "radius"))
        case "through":
            steps = _STEPS.match(what)
            if not steps or not what:
                hint = "Type it as steps, like this: x 40 y 0 through x 20 y 5."
                raise ParameterError(f"“{what}” is no point.", hint=hint, field="leg")
            return arc_through(last, _stepped(last, steps), straight.end)
    return arc_tangent(last, heading(start, legs), straight.end)


def _straight(
    words: str, text: str, start: Point | None, legs: Sequence[DrawnLeg]
) -> DrawnLeg:  # fmt: skip
    x, y = legs[-1].end if legs else start or (0.0, 0.0)
    if start is not None and (polar := _POLAR.match(words)):
        length = _length(polar["length"], "length")
        angle = typed_number(polar["angle"], "angle")
        if polar["how"] == "turn":
            angle += heading(start, legs)
        dx, dy = direction(angle)
        return DrawnLeg((x + length * dx, y + length * dy), length)
    steps = _STEPS.match(words)
    if steps and words:
        return DrawnLeg(_stepped((x, y), steps))
    what = "a leg" if start is not None else "the first corner"
    hint = f"Type one like these: {EXAMPLES}."
    if start is None:
        hint = "Type it like this: x 20 y 30."
    raise ParameterError(f"“{text.strip()}” is not {what}.", hint=hint, field="leg")


def _stepped(last: Point, steps: re.Match[str]) -> Point:
    dx, dy = (_length(steps[axis], axis) if steps[axis] else 0.0 for axis in "xy")
    return (last[0] + dx, last[1] + dy)


def _length(text: str, field: str) -> float:
    """Return a typed length in mm; a bare number is in the unit that the maker has chosen."""
    return typed_length(number_format().typed(text), field)
