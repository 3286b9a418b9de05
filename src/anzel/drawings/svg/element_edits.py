"""The new attributes of an SVG element whose edges changed.

A rectangle that stops being one becomes a path. Numbers that did not change keep their text.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import ceil, log10, pi

from anzel.core.tolerances import ROUNDING
from anzel.drawings.affine import Affine
from anzel.drawings.svg.path_data import PathCommand
from anzel.drawings.svg.reader import ShapeInstance
from anzel.drawings.svg.shapes import path_commands_of, point_words
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Segment

Change = tuple[Segment, Segment | None]
"""An edge as it was and as it is, mm; None if it went."""
New = Mapping[int, Sequence[Change]]
"""The edges of each changed part of an element."""
_FINE = 6
"""Decimals of a millimetre that are written: a nanometre."""


@dataclass(frozen=True)
class ElementEdit:
    """New values of an element's attributes (None removes one), and its new name if it changes."""

    attributes: Mapping[str, str | None] = field(default_factory=dict)
    tag: str | None = None


def element_edit(instance: ShapeInstance, new: New, name: str) -> ElementEdit:
    """Return the edit that gives an element its new edges.

    What a style sheet sets is set in the element's own style, which comes before it.
    """
    edit = _edit(instance, new, name)
    node = instance.node
    if instance.values is node.attributes:
        return edit
    own = node.get("style").rstrip("; ")
    for key, value in edit.attributes.items():
        if value is not None and instance.values.get(key) != node.get(key):
            written = f"path('{value}')" if key == "d" else f"{value}px"
            own = f"{own}; {key}: {written} !important".removeprefix("; ")
    return replace(edit, attributes={**edit.attributes, "style": own})


def _edit(instance: ShapeInstance, new: New, name: str) -> ElementEdit:
    pen = _Pen(
        instance, path_commands_of(instance.node.tag, instance.values, instance.lengths, name), new
    )
    tag = instance.node.tag
    if tag == "path":
        return ElementEdit({"d": _path(pen)})
    if tag in ("polygon", "polyline"):
        return ElementEdit({"points": _points(pen, point_words(instance.values, name))})
    if tag == "line":
        ends = pen.ends(0)
        if ends is None:
            return ElementEdit({"d": None}, "g")
        words = {
            f"{axis}{i}": pen.number(point[k])
            for i, point in enumerate(ends, start=1)
            for k, axis in enumerate("xy")
        }
        return ElementEdit(words)
    if tag == "circle":
        edge = new[0][0][1]
        scale = instance.at.scale
        return ElementEdit({"r": pen.number(edge.radius / scale)} if isinstance(edge, Arc) else {})
    return _rectangle(pen) if tag == "rect" else ElementEdit()


class _Pen:
    """The new edges of an element in its own units."""

    def __init__(self, instance: ShapeInstance, parts: list[PathCommand], new: New) -> None:
        self.parts = parts
        self.new = new
        self.at = instance.at
        self.back: Affine = instance.at.inverse()
        self.digits = min(max(_FINE + ceil(log10(instance.at.scale)), 3), 12)

    def number(self, value: float) -> str:
        """Return a number as text with no more digits than are meant."""
        text = f"{value:.{self.digits}f}".rstrip("0").rstrip(".")
        return "0" if text in ("-0", "") else text

    def ends(self, number: int) -> tuple[Point, Point] | None:
        """Return the new ends of a part; None if the part is gone."""
        part = self.parts[number]
        if number not in self.new:
            return (part.start, part.end)
        changes = self.new[number]
        left = [edge for _, edge in changes if edge is not None]
        if not left:
            return None
        was = (changes[0][0].start, changes[-1][0].end)
        return (self._own(left[0].start, was, part), self._own(left[-1].end, was, part))

    def _own(self, point: Point, was: tuple[Point, Point], part: PathCommand) -> Point:
        """Return a point in the element's units; an end that did not move keeps its last digit."""
        if point == was[0]:
            return part.start
        return part.end if point == was[1] else self.back(point)

    def words(self, point: Point, part: PathCommand) -> str:
        """Return a point as text."""
        exact = point in (part.start, *part.points)
        return " ".join(full_precision(v) if exact else self.number(v) for v in point)

    def command(self, number: int) -> str:
        """Return a changed part as an absolute command; nothing if the part is gone."""
        ends = self.ends(number)
        part = self.parts[number]
        if ends is None:
            return ""
        old, first = next((old, new) for old, new in self.new[number] if new is not None)
        end = self.words(ends[1], part)
        if part.kind == "A" and part.arc is not None:
            rx, ry, rotation, large, sweep = part.arc
            if isinstance(first, Arc):
                if isinstance(old, Arc) and abs(old.radius - first.radius) > ROUNDING:
                    rx = ry = first.radius / self.at.scale
                large = abs(first.sweep) > pi
            flags = f"{int(large)} {int(sweep)}"
            radii = " ".join(self._radius(r, part) for r in (rx, ry))
            return f"A{radii} {full_precision(rotation)} {flags} {end}"
        if isinstance(first, Cubic):
            controls = " ".join(
                self.words(self.back(p), part) for p in (first.control1, first.control2)
            )
            return f"C{controls} {end}"
        return f"L{end}"

    def unchanged(self, part: PathCommand) -> str:
        """Return an unchanged part as an absolute command."""
        end = self.words(part.end, part)
        if part.arc is None:
            return f"L{end}"
        rx, ry, rotation, large, sweep = part.arc
        shape = " ".join(map(full_precision, (rx, ry, rotation)))
        return f"A{shape} {int(large)} {int(sweep)} {end}"

    def _radius(self, radius: float, part: PathCommand) -> str:
        return full_precision(radius) if part.arc and radius in part.arc else self.number(radius)


def full_precision(value: float) -> str:
    """Return a number as text to its last digit."""
    return repr(value).removesuffix(".0")


def _path(pen: _Pen) -> str:
    """Return path data: unchanged edges keep their text, with explicit command letters."""
    return " ".join(filter(None, _commands(pen)))


def _commands(pen: _Pen) -> Iterator[str]:
    here: Point | None = None  # where the new path is; None before it begins
    smooth = True  # whether the edge before is as it was, so that S and T mean what they meant
    for number, part in enumerate(pen.parts):
        if part.kind == "M" or (here is None):
            begin = _begin(pen, number)
            was = part.end if part.kind == "M" else part.start
            kept = begin == was and part.kind == "M" and (part.letter == "M" or here == part.start)
            yield part.text if kept else f"M{pen.words(begin, part)}"
            here, smooth = begin, True
            if part.kind == "M":
                continue
        if part.kind == "Z":
            yield part.text
            following = number + 1 < len(pen.parts) and pen.parts[number + 1].kind != "M"
            begun = _begun(pen, number)
            here = None if following and begun != part.end else begun
            continue
        if number in pen.new:
            yield pen.command(number)
            ends = pen.ends(number)
            here, smooth = (ends[1] if ends else here), False
        elif here != part.start:
            continue  # without length, and where it was nothing is any more
        else:
            curve = part.letter in "SsTt" and not smooth
            yield _spelt(pen, part) if curve else part.text
            here, smooth = part.end, True


def _begin(pen: _Pen, number: int) -> Point:
    """Return where the subpath of this part begins now."""
    part = pen.parts[number]
    at = number + 1 if part.kind == "M" else number
    while at < len(pen.parts) and pen.parts[at].kind != "M":
        ends = pen.ends(at)
        is_point = pen.parts[at].start == pen.parts[at].end and at not in pen.new
        if ends is not None and not is_point:
            return ends[0]
        if pen.parts[at].kind == "Z":
            break
        at += 1
    return part.end if part.kind == "M" else part.start


def _begun(pen: _Pen, number: int) -> Point:
    """Return where the subpath that this part closes began."""
    at = number
    while at > 0 and pen.parts[at].kind != "M" and pen.parts[at - 1].kind != "Z":
        at -= 1
    return _begin(pen, at)


def _spelt(pen: _Pen, part: PathCommand) -> str:
    """Return a smooth curve with its first control point written out."""
    return part.kind + " ".join(pen.words(p, part) for p in part.points)


def _points(pen: _Pen, words: list[str]) -> str:
    """Return a polygon's points; points that did not move keep their text."""
    made: list[str] = []
    for number, part in enumerate(pen.parts):
        ends = pen.ends(number)
        if ends is None:
            continue
        own = f"{words[2 * number]},{words[2 * number + 1]}"
        made.append(own if ends[0] == part.start else pen.words(ends[0], part).replace(" ", ","))
    if 2 * len(pen.parts) < len(words):  # an open line has one point more than edges
        ends = pen.ends(len(pen.parts) - 1)
        last = pen.parts[-1]
        if ends is None or ends[1] == last.end:
            made.append(f"{words[-2]},{words[-1]}")
        else:
            made.append(pen.words(ends[1], last).replace(" ", ","))
    return " ".join(made)


def _rectangle(pen: _Pen) -> ElementEdit:
    """Return a rectangle that is still one, or the path that it has become."""
    ends = [pen.ends(number) for number in range(len(pen.parts))]
    corners = [end for pair in ends if pair is not None for end in pair]
    straight = all(
        pair is not None and (_same(pair[0][0], pair[1][0]) or _same(pair[0][1], pair[1][1]))
        for pair, part in zip(ends, pen.parts, strict=True)
        if part.kind == "L"
    )
    if straight and corners:
        xs, ys = zip(*corners, strict=True)
        sizes = {"x": min(xs), "y": min(ys), "width": max(xs) - min(xs)}
        sizes["height"] = max(ys) - min(ys)
        return ElementEdit({name: pen.number(value) for name, value in sizes.items()})
    commands = [
        pen.command(n) if n in pen.new else pen.unchanged(p) for n, p in enumerate(pen.parts)
    ]
    start = next((pair[0] for pair in ends if pair is not None), (0.0, 0.0))
    gone = dict.fromkeys(("x", "y", "width", "height", "rx", "ry"))
    move = "M" + " ".join(map(pen.number, start))
    return ElementEdit({**gone, "d": " ".join([move, *filter(None, commands), "Z"])}, "path")


def _same(one: float, other: float) -> bool:
    return abs(one - other) < ROUNDING * max(1.0, abs(one))
