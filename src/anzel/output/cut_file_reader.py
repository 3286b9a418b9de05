"""Reading cut files back: what outlines a file holds, by page and by piece, in mm, y up.

Files are read as drawings are (`drawings/`). Only what is written counts: outlines of the operation
*cut*, their names where the file gives them, and the metadata about sheet and kerf. Outlines
without a name are sorted into pieces by containment.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import dist
from pathlib import Path

from anzel.core.tolerances import DXF_MEETS
from anzel.cutjob.operations import Operation
from anzel.drawings.containment import contained_regions
from anzel.drawings.loops import assemble_loops
from anzel.drawings.model import DrawingError, DrawnPath
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment, reverse, with_end_points
from anzel.storage.atomic_file import FileError, read_whole

LARGEST = 64 * 1024 * 1024
Metadata = dict[str, str]
_FEWEST = 3


@dataclass(frozen=True)
class FileLine:
    """A line of a cut file, in the file's order.

    Its page, piece and operation, the page's lower left corner, its colour, and the points (chords
    of curves) of each run of it.
    """

    page: str
    piece: str
    operation: Operation
    corner: Point
    colour: str
    runs: tuple[tuple[Point, ...], ...]


class CutFileError(FileError):
    """A file that cannot be read as a cut file."""


@dataclass(frozen=True)
class CutElement:
    """One element of a cut file: its page, piece, operation, page corner, colour and drawn paths.

    The paths are in mm, y up. Elements with the same `bridged` name are one outline with gaps. One
    that `is_open` lies on its piece and is no part of an outline.
    """

    page: str
    piece: str
    operation: Operation
    corner: Point
    colour: str
    paths: tuple[DrawnPath, ...]
    bridged: str = ""
    is_open: bool = False


@dataclass(frozen=True)
class CutElements:
    """The elements of a cut file, in its order, and the metadata of each page."""

    elements: tuple[CutElement, ...]
    metadata: dict[str, Metadata]


@dataclass(frozen=True)
class CutPiece:
    """One piece of a file, where it lies on the sheet."""

    page: str
    name: str
    region: Region


@dataclass(frozen=True)
class CutFile:
    """The pieces of a file, and what it says of each page's sheet."""

    pieces: tuple[CutPiece, ...]
    metadata: dict[str, Metadata]

    @property
    def offset_kerf(self) -> float:
        """The kerf that the file asks the cutter to make up for; 0 on the line."""
        for facts in self.metadata.values():
            if facts.get("kerf-at") == "cutter":
                return float(facts.get("kerf", 0))
        return 0.0


def read_cut_file(path: Path) -> CutFile:
    """Read an SVG or DXF cut file.

    Raises
    ------
    CutFileError
        Worded for the maker.
    """
    too_large = CutFileError(f"{path.name} is far too large for a cut file.")
    content = read_whole(path, LARGEST, too_large, CutFileError)
    return parse_cut_file(content, path.suffix, path.name)


def parse_cut_file(content: bytes, ending: str, name: str = "The file") -> CutFile:
    """Return the pieces in a file's content.

    Raises
    ------
    CutFileError
    """
    file = _elements(content, ending, name)
    groups: dict[tuple[str, str], list[CutElement]] = {}
    for element in file.elements:
        if element.operation.cuts and not element.is_open:
            key = (element.page, element.piece) if element.piece else ("", "")
            groups.setdefault(key, []).append(element)
    pieces = tuple(
        each for (page, piece), own in groups.items() for each in _pieces(page, piece, own, name)
    )
    if not pieces:
        raise CutFileError(f"{name} holds no closed outline to cut.")
    return CutFile(pieces, file.metadata)


def read_lines(content: bytes, ending: str, name: str = "The file") -> list[FileLine]:
    """Return every line of a cut file, in the file's order.

    Raises
    ------
    CutFileError
    """
    return [
        FileLine(
            each.page, each.piece, each.operation, each.corner, each.colour,
            tuple(chords_of(path.segments) for path in each.paths),
        )
        for each in _elements(content, ending, name).elements
    ]  # fmt: skip


def chords_of(run: Sequence[Segment]) -> tuple[Point, ...]:
    """Return the corners of a run's chords, from its start to its end."""
    return OpenPath(tuple(run)).stroke


def operation_of(label: str) -> Operation:
    """Return the operation of a class or layer: ours by name, a cut for any unknown one."""
    return Operation(label) if label in list(Operation) else Operation.OUTER


def _elements(content: bytes, ending: str, name: str) -> CutElements:
    try:
        if ending.lower() == ".svg":
            from anzel.output.cut_svg_reader import read_cut_svg

            return read_cut_svg(content, name)
        if ending.lower() == ".dxf":
            from anzel.output.cut_dxf_reader import read_cut_dxf

            return read_cut_dxf(content, name)
    except DrawingError as error:
        raise CutFileError(error.message, hint=error.hint) from error
    raise CutFileError(f"{name} is neither SVG nor DXF.", hint="Export one of these.")


def _pieces(
    page: str, piece: str, elements: Sequence[CutElement], name: str
) -> Iterator[CutPiece]:  # fmt: skip
    """Yield the regions of elements that belong together; an island in a hole is a piece."""
    whole = [path for each in elements if not each.bridged for path in each.paths]
    contours = [Contour(loop.segments) for loop in assemble_loops(whole, DXF_MEETS).loops]
    contours += _bridged(elements)
    if any(len(contour.corners) < _FEWEST for contour in contours):
        raise CutFileError(f"{name} has an outline that runs there and back and encloses nothing.")
    for number, region in enumerate(contained_regions(contours), start=1):
        own = CutPiece(page, piece or f"piece {number}", region)
        if not region.shape.is_valid or region.area <= 0:
            raise CutFileError(
                f"{name}: the outline of {own.name} crosses itself or encloses nothing.",
                hint="Draw it so that no two of its lines cross.",
            )
        yield own


def _bridged(elements: Sequence[CutElement]) -> Iterator[Contour]:
    """Yield the outlines with gaps, their gaps closed."""
    groups: dict[str, list[list[Segment]]] = {}
    for element in elements:
        if element.bridged:
            runs = groups.setdefault(element.bridged, [])
            for path in element.paths:
                _follow(runs, path.segments)
    for runs in groups.values():
        yield BridgedContour(tuple(map(tuple, runs))).closed


def _follow(runs: list[list[Segment]], more: Sequence[Segment]) -> None:
    """Append segments to the last run where they continue it, or begin another run."""
    for segment in more:
        last = runs[-1][-1].end if runs else None
        if last is not None and dist(last, segment.start) < DXF_MEETS:
            runs[-1].append(with_end_points(segment, last, segment.end))
        elif last is not None and dist(last, segment.end) < DXF_MEETS:
            runs[-1].append(with_end_points(reverse(segment), last, segment.start))
        else:
            runs.append([segment])
