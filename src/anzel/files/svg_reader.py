"""Outlines of an SVG file in mm. svgelements reads paths and transforms; the page's true size is
worked out here from width, height and viewBox (SVG 2, 8.2), because it rounds millimetres.
"""

import io
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from math import isclose, isfinite
from xml.etree.ElementTree import Element

import svgelements
from defusedxml import ElementTree

from anzel.files.cut_reader import CutFileError, Facts, FileLine, NamedContour, chords_of, is_cut
from anzel.files.svg import BRIDGES, FACTS, LEFT, PIECE
from anzel.geometry.curves import Arc, Cubic, Line, Segment, circle, ending
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Bridged, Contour
from anzel.geometry.tolerances import COINCIDENT
from anzel.geometry.units import MILLIMETRES_PER_INCH, parse_length
from anzel.sheets.operations import Operation

_PIXEL = MILLIMETRES_PER_INCH / 96
"""1 CSS px = 1/96 in (CSS Values, 6.2)."""
_MEND = "Open it in the program it came from and write it anew as plain SVG."
_PAGE = "data-page"
_GROUP = "{http://www.w3.org/2000/svg}g"
_At = Callable[[svgelements.Point], Point]


def read_svg(content: bytes, name: str) -> tuple[list[NamedContour], dict[str, Facts]]:
    """The closed outlines to cut, and the facts of each page. Raises CutFileError."""
    with _readable(name):
        root = _parsed(content, name)
        facts = _facts(root)
        found = [
            NamedContour(page, piece, contour)
            for element, scale, height in _shapes(root)
            if is_cut(element.values.get("class", ""))
            for page, piece in [_names(element)]
            for contour in _contours(element, scale, height)
        ]
    return found, facts


def read_lines(content: bytes, name: str) -> list[FileLine]:
    """Every line, in the file's order. Raises CutFileError."""
    with _readable(name):
        root = _parsed(content, name)
        _facts(root)  # names the pages
        pages = {group.get("id", ""): group.get(LEFT) for group in root.iter(_GROUP)}
        found = []
        for element, scale, height in _shapes(root):
            page, piece = _names(element)
            runs = [run for run in _runs(element, scale, height) if run]
            chords = tuple(chords_of(run, closes=_closes(element)) for run in runs)
            corner = (float(pages.get(page) or 0.0), 0.0)
            if chords:
                colour = str(element.values.get("stroke", "#000000"))
                found.append(FileLine(page, piece, _operation(element), corner, colour, chords))
    return found


@contextmanager
def _readable(name: str) -> Iterator[None]:
    """Whatever goes wrong is worded for the maker."""
    try:
        yield
    except CutFileError:
        raise
    except Exception as error:  # two XML and path readers, each with errors of its own
        raise CutFileError(f"{name} cannot be read as SVG.", mend=_MEND) from error


def _parsed(content: bytes, name: str) -> Element:
    root: Element = ElementTree.fromstring(content, forbid_dtd=True)
    if root.tag.rpartition("}")[2] != "svg":
        raise CutFileError(f"{name} is not an SVG drawing.")
    return root


def _shapes(root: Element) -> Iterator[tuple[svgelements.Shape, float, float]]:
    """Every shape, with mm per user unit and the page's height in user units."""
    scale, height = _true_size(root)
    drawing = svgelements.SVG.parse(io.BytesIO(_in_user_units(root)), reify=True)
    for element in drawing.elements():
        if isinstance(element, svgelements.Shape):
            yield element, scale, height


def _operation(element: svgelements.Shape) -> Operation:
    """An element's operation by its class; anything unknown is cut."""
    label = str(element.values.get("class", "")).replace("-", " ")
    return Operation(label) if label in list(Operation) else Operation.OUTER


def _closes(element: svgelements.Shape) -> bool:
    return is_cut(element.values.get("class", "")) and BRIDGES not in element.values


def _facts(root: Element) -> dict[str, Facts]:
    """The facts of each page; its name is put on the page's group for the pieces in it."""
    found = {}
    for group in root.iter(_GROUP):
        sheet = group.find(f"{{*}}metadata/{{{FACTS}}}sheet")
        if sheet is not None:
            group.set(_PAGE, page := group.get("id", ""))
            found[page] = dict(sheet.attrib)
    return found


def _true_size(root: Element) -> tuple[float, float]:
    """(mm per user unit, page height in user units)."""
    box = [float(word) for word in root.get("viewBox", "").replace(",", " ").split()]
    if len(box) == 4 and box[2] > 0 and root.get("width"):
        return _length(root.get("width", "")) / box[2], box[1] + box[3]
    height = root.get("height", "0")
    return _PIXEL, _length(height) / _PIXEL if height else 0.0


def _length(text: str) -> float:
    """A CSS length in mm; without a unit it is pixels."""
    bare = text.strip().removesuffix("px")
    try:
        return float(bare) * _PIXEL
    except ValueError:
        return parse_length(bare)


def _in_user_units(root: Element) -> bytes:
    """The file without its page size, so that coordinates are read as they are written."""
    for attribute in ("width", "height", "viewBox"):
        root.attrib.pop(attribute, None)
    text: bytes = ElementTree.tostring(root)
    return text


def _names(element: svgelements.Shape) -> tuple[str, str]:
    values = element.values
    return str(values.get(_PAGE, "")), str(values.get(PIECE, ""))


def _contours(element: svgelements.Shape, scale: float, height: float) -> list[Contour]:
    runs = _runs(element, scale, height)
    if BRIDGES in element.values:
        return [Bridged(tuple(tuple(run) for run in runs if run)).closed]
    return [contour for run in runs if (contour := _closed(run)) is not None]


def _runs(element: svgelements.Shape, scale: float, height: float) -> list[list[Segment]]:
    """Each subpath's segments; a circle's is one arc."""

    def at(point: svgelements.Point) -> Point:
        x, y = float(point.x) * scale, (height - float(point.y)) * scale
        if not (isfinite(x) and isfinite(y)):
            raise CutFileError("An outline has a coordinate that is no number.")
        return (x, y)

    if isinstance(element, svgelements.Circle) and isclose(
        element.implicit_rx, element.implicit_ry, rel_tol=1e-9
    ):
        radius = float(element.implicit_rx) * scale
        return [[circle(at(element.implicit_center), radius)]] if radius > 0 else []
    runs = []
    for path in svgelements.Path(element).as_subpaths():
        segments = [s for s in svgelements.Path(path) if not isinstance(s, svgelements.Move)]
        runs.append([each for s in segments for each in _segments(s, at)])
    return runs


def _segments(segment: svgelements.PathSegment, at: _At) -> list[Segment]:
    """One segment of a path as ours; nothing for one without length."""
    start, end = at(segment.start), at(segment.end)
    if isinstance(segment, svgelements.Arc):
        round_enough = isclose(abs(segment.rx), abs(segment.ry), rel_tol=1e-6)
        if not round_enough:
            return [
                Cubic(at(c.start), at(c.control1), at(c.control2), at(c.end))
                for c in segment.as_cubic_curves()
            ]
        # y runs down in the file, so the turning is the other way round here
        return [Arc(start, end, at(segment.center), clockwise=float(segment.sweep) > 0)]
    if isinstance(segment, svgelements.CubicBezier):
        return [Cubic(start, at(segment.control1), at(segment.control2), end)]
    if isinstance(segment, svgelements.QuadraticBezier):
        middle = at(segment.control)
        first, second = (
            (p[0] + 2 / 3 * (middle[0] - p[0]), p[1] + 2 / 3 * (middle[1] - p[1]))
            for p in (start, end)
        )
        return [Cubic(start, first, second, end)]
    return [Line(start, end)] if start != end else []


def _closed(segments: list[Segment]) -> Contour | None:
    """The segments as a contour, if the last ends where the first starts."""
    if not segments:
        return None
    (x0, y0), (x1, y1) = segments[0].start, segments[-1].end
    if max(abs(x1 - x0), abs(y1 - y0)) > COINCIDENT:
        return None
    segments[-1] = ending(segments[-1], segments[-1].start, segments[0].start)
    return Contour(tuple(segments))
