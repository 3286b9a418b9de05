"""Reading cut files back: what outlines a file holds, by page and by piece, in mm, y up.

Only what is written counts: outlines of the operation *cut*, their names where the file gives them,
and the facts it states about sheet and kerf. Outlines without a name are sorted into pieces by
which lies inside which.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

import shapely

from anzel.core.tolerances import COINCIDENT
from anzel.cutjob.operations import Operation
from anzel.geometry.coordinate_limits import limit_violation
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment, with_end_points
from anzel.storage.atomic_file import FileError, read_whole

LARGEST = 64 * 1024 * 1024
Facts = dict[str, str]


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
class NamedContour:
    """An outline with the page and piece it belongs to ("" where the file does not say)."""

    page: str
    piece: str
    contour: Contour


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
    metadata: dict[str, Facts]

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
    """Return the same from a file's content."""
    if ending.lower() == ".svg":
        from anzel.output.cut_svg_reader import read_svg

        contours, facts = read_svg(content, name)
    elif ending.lower() == ".dxf":
        from anzel.output.cut_dxf_reader import read_dxf

        contours, facts = read_dxf(content, name)
    else:
        raise CutFileError(f"{name} is neither SVG nor DXF.", hint="Export one of these.")
    if not contours:
        raise CutFileError(f"{name} holds no closed outline to cut.")
    if why := limit_violation(s for each in contours for s in each.contour.segments):
        raise CutFileError(f"{name} has {why}.", hint="Check its units.")
    if any(len(each.contour.corners) < 3 for each in contours):
        raise CutFileError(f"{name} has an outline that runs there and back and encloses nothing.")
    pieces = tuple(_pieces(contours))
    for piece in pieces:
        if not piece.region.shape.is_valid or piece.region.area <= 0:
            raise CutFileError(
                f"{name}: the outline of {piece.name} crosses itself or encloses nothing.",
                hint="Draw it so that no two of its lines cross.",
            )
    return CutFile(pieces, facts)


def read_lines(content: bytes, ending: str, name: str = "The file") -> list[FileLine]:
    """Return every line of a cut file, in the file's order.

    Raises
    ------
    CutFileError
    """
    if ending.lower() == ".dxf":
        from anzel.output import cut_dxf_reader

        return cut_dxf_reader.read_lines(content, name)
    from anzel.output import cut_svg_reader

    return cut_svg_reader.read_lines(content, name)


def chords_of(run: Sequence[Segment], *, closes: bool) -> tuple[Point, ...]:
    """Return a run's chords; a contour that closes comes back to its start."""
    points = [
        segment.point_at(step / count)
        for segment in run
        for count in [segment.chord_count()]
        for step in range(count)
    ]
    return (*points, points[0] if closes else run[-1].end)


def closed_run(run: Sequence[Segment]) -> list[Segment]:
    """Return a run whose last end is put exactly on its first start.

    Nothing where they do not meet.
    """
    if not run:
        return []
    (x0, y0), (x1, y1) = run[0].start, run[-1].end
    if max(abs(x1 - x0), abs(y1 - y0)) > COINCIDENT:
        return []
    return [*run[:-1], with_end_points(run[-1], run[-1].start, run[0].start)]


def is_cut(label: str) -> bool:
    """Return whether a class or layer is to be cut: ours by name, any unknown one too."""
    return label not in (Operation.ENGRAVE.value, Operation.SCORE.value)


def _pieces(contours: Sequence[NamedContour]) -> Iterable[CutPiece]:
    groups: dict[tuple[str, str], list[Contour]] = {}
    loose: list[Contour] = []
    for each in contours:
        if each.piece:
            groups.setdefault((each.page, each.piece), []).append(each.contour)
        else:
            loose.append(each.contour)
    for (page, piece), own in groups.items():
        for region in _regions(own):
            yield CutPiece(page, piece, region)
    for number, region in enumerate(_regions(loose), start=1):
        yield CutPiece("", f"piece {number}", region)


def _regions(contours: Sequence[Contour]) -> list[Region]:
    """Outlines with the holes that lie directly in them, by size.

    An island in a hole is a piece of its own.
    """
    by_size = sorted(contours, key=lambda contour: -abs(contour.signed_area))
    outers: dict[int, list[Contour]] = {}
    around: list[int] = []
    for number, contour in enumerate(by_size):
        corner = shapely.Point(contour.corners[0])
        homes = [n for n in range(number) if by_size[n].polygon_shape.contains(corner)]
        around.append(len(homes))
        within = [n for n in homes if n in outers]
        if len(homes) % 2 and within:
            outers[max(within, key=lambda n: around[n])].append(contour)
        else:
            outers[number] = []
    return [Region.of(by_size[number], holes) for number, holes in outers.items()]
