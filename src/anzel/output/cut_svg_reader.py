"""Cut files in SVG: read as drawings are, with what a cut file says of pages, pieces and lines."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import groupby, pairwise
from math import dist
from operator import itemgetter

from anzel.core.tolerances import VANISHING
from anzel.drawings.model import DrawingError, DrawnPath
from anzel.drawings.svg.lengths import pixels
from anzel.drawings.svg.markup import Markup, Node
from anzel.drawings.svg.path_data import LARGEST_COORDINATE
from anzel.drawings.svg.reader import ShapeInstance, SvgContent
from anzel.geometry.segment_mapping import flipped
from anzel.geometry.segments import Line
from anzel.output.cut_file_reader import CutElement, CutElements, operation_of
from anzel.output.svg_writer import BRIDGES, LEFT, OPEN, PIECE, ROWS
from anzel.structure.engraved_picture import rows_over

_BLACK = "#000000"
_FINEST, _MOST_ROWS = 0.01, 100_000
"""How far apart the rows of a picture are at least, mm, and how many there are at most."""


def read_cut_svg(content: bytes, name: str) -> CutElements:
    """Return the elements of a cut file, in the file's order, y up.

    Raises
    ------
    DrawingError
    """
    markup = Markup(content, name)
    drawn = SvgContent(markup, None, 1.0, left_aside=frozenset())
    if not drawn.height <= LARGEST_COORDINATE:
        raise DrawingError(f"{name} is on a sheet too large to be drawn.")
    pages = _Pages(markup)
    elements = [
        (number, _element(drawn.instances[number], pages, tuple(paths), drawn.height, number))
        for number, paths in groupby(drawn.traces, key=lambda path: path.element)
    ]
    for before, picture in drawn.pictures:
        rows = _rows_of(picture)
        if rows is not None:
            elements.append((before - 0.5, _element(picture, pages, (rows,), drawn.height)))
    elements.sort(key=itemgetter(0))
    metadata = {page: dict(sheet.attributes) for page, sheet in pages.sheets.items()}
    return CutElements(tuple(element for _, element in elements), metadata)


def _element(
    shape: ShapeInstance, pages: "_Pages", paths: tuple[DrawnPath, ...], height: float,
    number: int = -1,
) -> CutElement:  # fmt: skip
    page = pages.page_of(shape)
    upright = (
        replace(path, segments=tuple(flipped(s, height) for s in path.segments)) for path in paths
    )
    return CutElement(
        page, _said(shape, PIECE), operation_of(_said(shape, "class").replace("-", " ")),
        (pages.left_of(page), 0.0), _said(shape, "stroke") or _BLACK, tuple(upright),
        str(number) if _said(shape, BRIDGES) else "",
        bool(shape.node.get(OPEN)),
    )  # fmt: skip


def _rows_of(picture: ShapeInstance) -> DrawnPath | None:
    """Return the cutter's way over a picture of ours; None for a picture that is not engraved."""
    at, spacing = picture.at, pixels(picture.node.get(ROWS))
    left, top, width, height = (
        picture.lengths.of(picture.values, name) for name in ("x", "y", "width", "height")
    )
    right, low = left + width, top + height
    corners = at((left, low)), at((right, low)), at((left, top))
    is_seen = abs(at.determinant) >= VANISHING and left != right and top != low
    if spacing < _FINEST or not is_seen or not dist(*corners[::2]) <= _MOST_ROWS * spacing:
        return None
    rows = rows_over(corners, spacing)
    return DrawnPath(-1, tuple(Line(a, b) for a, b in pairwise(rows)), range(len(rows) - 1))


class _Pages:
    """The pages of an SVG file: `sheets` holds the element that states each page's metadata."""

    def __init__(self, markup: Markup) -> None:
        self._groups = {
            node.get("id"): node
            for node in markup.root.walk()
            if node.tag == "g" and _sheet_in(node) is not None
        }
        self.sheets = {
            page: sheet
            for page, group in self._groups.items()
            if (sheet := _sheet_in(group)) is not None
        }

    def page_of(self, instance: ShapeInstance) -> str:
        """Return the name of the page that an element lies on, or nothing."""
        groups = set(self._groups.values())
        found = next((node for node in _upward(instance) if node in groups), None)
        return found.get("id") if found is not None else ""

    def left_of(self, page: str) -> float:
        """Return where a page begins, mm from the left."""
        group = self._groups.get(page)
        try:
            return float(group.get(LEFT, "0")) if group is not None else 0.0
        except ValueError:
            return 0.0


def _sheet_in(group: Node) -> Node | None:
    """Return the element of a group's metadata that states the sheet's metadata."""
    inner = (child for node in group.children if node.tag == "metadata" for child in node.children)
    return next((node for node in inner if node.tag.rpartition(":")[2] == "sheet"), None)


def _upward(instance: ShapeInstance) -> Iterator[Node]:
    """Return an element and all it is in, through the uses that it is reached by."""
    for start in (instance.node, *reversed(instance.uses)):
        node: Node | None = start
        while node is not None:
            yield node
            node = node.parent


def _said(instance: ShapeInstance, attribute: str) -> str:
    """Return what an element, or the nearest around it, says."""
    return next((said for node in _upward(instance) if (said := node.get(attribute))), "")
