"""SVG's basic shapes (SVG 2, 10) as path commands, and path commands as edges in mm."""

from collections.abc import Mapping, Sequence
from math import acos, copysign, cos, hypot, isfinite, pi, radians, sin, sqrt

from anzel.core.tolerances import ROUNDING
from anzel.drawings.affine import Affine
from anzel.drawings.ellipses import cubics
from anzel.drawings.model import DrawingError
from anzel.drawings.svg.lengths import Lengths
from anzel.drawings.svg.path_data import NUMBER, PathCommand, parse_path
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment

Values = Mapping[str, str]
SHAPES = frozenset({"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"})


def path_commands_of(tag: str, values: Values, lengths: Lengths, name: str) -> list[PathCommand]:
    """Return the edges of a shape in its own units, from the values of its attributes.

    Raises
    ------
    DrawingError
    """
    if tag == "path":
        return parse_path(values.get("d", ""), name)
    if tag in ("polyline", "polygon"):
        return _polygon(tag, values, name)
    if tag == "line":
        ends = [(lengths.of(values, f"x{i}"), lengths.of(values, f"y{i}")) for i in (1, 2)]
        return [_line(*ends)]
    if tag == "rect":
        return _rectangle(values, lengths)
    rx, ry = (
        (lengths.of(values, "r"),) * 2 if tag == "circle" else _radii(values, lengths)
    )  # fmt: skip
    if rx <= 0 or ry <= 0:
        return []
    start = (lengths.of(values, "cx") + rx, lengths.of(values, "cy"))
    return [PathCommand("O", (), "O", start, (start,), (rx, ry, 0.0, True, True))]


def _radii(values: Values, lengths: Lengths) -> tuple[float, float]:
    """Return the two radii of an ellipse or of a rectangle's corners.

    One that is not said, or is automatic, is as the other (SVG 2, 7.4).
    """
    rx, ry = lengths.of(values, "rx", -1.0), lengths.of(values, "ry", -1.0)
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    return max(rx, 0.0), max(ry, 0.0)


def point_words(values: Values, name: str) -> list[str]:
    """Return the numbers of a polygon's points as written."""
    text = values.get("points", "")
    if NUMBER.sub("", text).strip(" ,\t\r\n\f"):
        raise DrawingError(f"{name} has a coordinate that is no number: “{text[:30]}”.")
    words = NUMBER.findall(text)
    return words[: len(words) // 2 * 2]


def _polygon(tag: str, values: Values, name: str) -> list[PathCommand]:
    words = point_words(values, name)
    points = [(float(words[i]), float(words[i + 1])) for i in range(0, len(words), 2)]
    if not points:
        return []
    ends = [*points[1:], points[0]] if tag == "polygon" else points[1:]
    return [_line(a, b) for a, b in zip(points, ends, strict=False)]


def _line(start: Point, end: Point) -> PathCommand:
    return PathCommand("L", (), "L", start, (end,))


def _rectangle(values: Values, lengths: Lengths) -> list[PathCommand]:
    x, y, w, h = (lengths.of(values, each) for each in ("x", "y", "width", "height"))
    if w <= 0 or h <= 0:
        return []
    rx, ry = _radii(values, lengths)
    rx, ry = min(rx, w / 2), min(ry, h / 2)
    if not (rx and ry):
        corners = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
        return [_line(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]
    stops = [
        (x + rx, y), (x + w - rx, y), (x + w, y + ry), (x + w, y + h - ry),
        (x + w - rx, y + h), (x + rx, y + h), (x, y + h - ry), (x, y + ry),
    ]  # fmt: skip
    arc = (rx, ry, 0.0, False, True)
    return [
        _line(a, b) if i % 2 == 0 else PathCommand("A", (), "A", a, (b,), arc)
        for i, (a, b) in enumerate(zip(stops, [*stops[1:], stops[0]], strict=True))
    ]


def segments(part: PathCommand, at: Affine, start: Point) -> Sequence[Segment]:
    """Return an edge in mm with its known start; nothing for an edge without length."""
    end = at(part.points[-1])
    if part.kind in "LZ":
        return (Line(start, end),) if start != end else ()
    if part.kind == "C":
        return (Cubic(start, at(part.points[0]), at(part.points[1]), end),)
    if part.kind == "Q":
        control = part.points[0]
        one, other = (
            at((p[0] + 2 / 3 * (control[0] - p[0]), p[1] + 2 / 3 * (control[1] - p[1])))
            for p in (part.start, part.end)
        )
        return (Cubic(start, one, other, end),)
    if part.kind == "O":
        return _whole(part, at)
    return _arc(part, at) if part.kind == "A" and start != end else ()


def _whole(part: PathCommand, at: Affine) -> Sequence[Segment]:
    """Return a circle or an ellipse."""
    if part.arc is None:
        return ()
    rx, ry, *_ = part.arc
    centre = (part.start[0] - rx, part.start[1])
    if at.is_similarity and rx == ry:
        start = at(part.start)
        return (Arc(start, start, at(centre), clockwise=at.determinant < 0),)
    return cubics(centre, (rx, ry, 0.0), (0.0, 2 * pi), at, at(part.start), at(part.start))


def _arc(part: PathCommand, at: Affine) -> Sequence[Segment]:
    """Return an elliptical arc: a circular one as an arc, others as cubics.

    Source: SVG 2, 9.5.1 and appendix B.2.4.
    """
    if part.arc is None:
        return ()
    rx, ry, rotation, large, sweep = part.arc
    (x1, y1), (x2, y2) = part.start, part.end
    c, s = cos(radians(rotation)), sin(radians(rotation))
    hx, hy = (x1 - x2) / 2, (y1 - y2) / 2
    px, py = c * hx + s * hy, -s * hx + c * hy
    lack = (px / rx) ** 2 + (py / ry) ** 2
    if lack > 1:
        rx, ry = rx * sqrt(lack), ry * sqrt(lack)
    below = (rx * py) ** 2 + (ry * px) ** 2
    if below == 0:  # smaller than numbers can tell: as good as straight
        return (Line(at(part.start), at(part.end)),)
    share = sqrt(max((rx * ry) ** 2 - below, 0.0) / below)
    share = -share if large == sweep else share
    qx, qy = share * rx * py / ry, -share * ry * px / rx
    centre = (c * qx - s * qy + (x1 + x2) / 2, s * qx + c * qy + (y1 + y2) / 2)
    start, end = at(part.start), at(part.end)
    if at.is_similarity and abs(rx - ry) <= ROUNDING * rx:
        return (Arc(start, end, at(centre), clockwise=sweep != (at.determinant > 0)),)
    first = _angle((1.0, 0.0), ((px - qx) / rx, (py - qy) / ry))
    turn = _angle(((px - qx) / rx, (py - qy) / ry), ((-px - qx) / rx, (-py - qy) / ry))
    if not isfinite(turn + first):
        raise DrawingError("The drawing has an arc with numbers out of reason.")
    if sweep and turn < 0:
        turn += 2 * pi
    elif not sweep and turn > 0:
        turn -= 2 * pi
    return cubics(centre, (rx, ry, rotation), (first, turn), at, start, end)


def _angle(u: Point, v: Point) -> float:
    size = hypot(*u) * hypot(*v)
    cosine = min(max((u[0] * v[0] + u[1] * v[1]) / size, -1.0), 1.0)
    return copysign(acos(cosine), u[0] * v[1] - u[1] * v[0])
