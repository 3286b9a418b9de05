"""Cut files in SVG: read as drawings are, with what a cut file says of pages, pieces and lines."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import groupby

from anzel.drawings.svg.markup import Markup, Node
from anzel.drawings.svg.reader import ShapeInstance, SvgContent
from anzel.geometry.segment_mapping import flipped
from anzel.output.cut_file_reader import CutElement, CutElements, operation_of
from anzel.output.svg_writer import BRIDGES, LEFT, OPEN, PIECE

_BLACK = "#000000"


def read_cut_svg(content: bytes, name: str) -> CutElements:
    """Return the elements of a cut file, in the file's order, y up.

    Raises
    ------
    DrawingError
    """
    markup = Markup(content, name)
    drawn = SvgContent(markup, None, 1.0, left_aside=frozenset())
    pages = _Pages(markup)
    elements = []
    for number, paths in groupby(drawn.traces, key=lambda path: path.element):
        shape = drawn.instances[number]
        page = pages.page_of(shape)
        upright = (
            replace(path, segments=tuple(flipped(s, drawn.height) for s in path.segments))
            for path in paths
        )
        elements.append(
            CutElement(
                page, _said(shape, PIECE), operation_of(_said(shape, "class").replace("-", " ")),
                (pages.left_of(page), 0.0), _said(shape, "stroke") or _BLACK, tuple(upright),
                str(number) if _said(shape, BRIDGES) else "",
                bool(shape.node.get(OPEN)),
            )
        )  # fmt: skip
    metadata = {page: dict(sheet.attributes) for page, sheet in pages.sheets.items()}
    return CutElements(tuple(elements), metadata)


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
    return next((node for node in inner if node.tag == "sheet"), None)


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
