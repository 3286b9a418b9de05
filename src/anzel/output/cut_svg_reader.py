"""Cut files in SVG: read as drawings are, with what a cut file says of pages, pieces and lines."""

from collections.abc import Iterator
from itertools import groupby

from anzel.cutjob.operations import Operation
from anzel.drawings.model import DrawingError, DrawnPath
from anzel.drawings.svg.markup import Markup, Node
from anzel.drawings.svg.reader import ShapeInstance, SvgContent
from anzel.geometry.regions import BridgedContour, Contour
from anzel.geometry.segments import Segment, flipped
from anzel.output.cut_file_reader import (
    CutFileError,
    Facts,
    FileLine,
    NamedContour,
    chords_of,
    closed_run,
    is_cut,
)
from anzel.output.svg_writer import BRIDGES, LEFT, PIECE

_BLACK = "#000000"


def read_svg(content: bytes, name: str) -> tuple[list[NamedContour], dict[str, Facts]]:
    """Return the closed outlines to cut, and the metadata of each page.

    Raises
    ------
    CutFileError
    """
    file = _CutSvg(content, name)
    found = []
    for instance, runs in file.elements():
        if not is_cut(_said(instance, "class")):
            continue
        if _said(instance, BRIDGES):
            contours = [BridgedContour(tuple(tuple(run) for run in runs)).closed]
        else:
            contours = [Contour(tuple(run)) for run in map(closed_run, runs) if run]
        names = (file.page_of(instance), _said(instance, PIECE))
        found += [NamedContour(*names, contour) for contour in contours]
    return found, {page: dict(sheet.attributes) for page, sheet in file.sheets.items()}


def read_lines(content: bytes, name: str) -> list[FileLine]:
    """Return every line, in the file's order.

    Raises
    ------
    CutFileError
    """
    file = _CutSvg(content, name)
    return [
        FileLine(
            page, _said(instance, PIECE), _operation(instance), (file.left_of(page), 0.0),
            _said(instance, "stroke") or _BLACK,
            tuple(chords_of(run, closes=False) for run in runs),
        )
        for instance, runs in file.elements()
        for page in [file.page_of(instance)]
    ]  # fmt: skip


class _CutSvg:
    """An SVG file with its pages: `sheets` holds the element that states each page's facts."""

    def __init__(self, content: bytes, name: str) -> None:
        try:
            markup = Markup(content, name)
            self._reading = SvgContent(markup, None, 1.0, left_aside=frozenset())
        except DrawingError as error:
            raise CutFileError(error.message, hint=error.hint) from error
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

    def elements(self) -> Iterator[tuple[ShapeInstance, list[list[Segment]]]]:
        """Return every element with its runs of segments, y up from the page's lower edge."""

        def element_of(trace: DrawnPath) -> int:
            return trace.element

        height = self._reading.height
        for element, traces in groupby(self._reading.traces, key=element_of):
            runs = [[flipped(s, height) for s in trace.segments] for trace in traces]
            yield self._reading.instances[element], runs

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
    """Return the element of a group's metadata that states the sheet's facts."""
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


def _operation(instance: ShapeInstance) -> Operation:
    """Return an element's operation by its class; anything unknown is cut."""
    label = _said(instance, "class").replace("-", " ")
    return Operation(label) if label in list(Operation) else Operation.OUTER
