"""The plates of a drawing file, with the lines that lie on them: read as found drawings are."""

from dataclasses import dataclass
from pathlib import Path

from anzel.drawings.model import Tell, no_progress
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Region
from anzel.output.cut_file_reader import CutFileError, parse_cut_file
from anzel.refit.analysis import DrawingAnalysis
from anzel.refit.load import load_drawing
from anzel.refit.refitted_regions import drawn_regions
from anzel.storage.atomic_file import FileError, read_whole
from anzel.structure.artwork.drawn_hinges import drawn_hinges
from anzel.structure.forms.drawn_lines import drawn_on, line_groups
from anzel.structure.forms.free_structure import MOST_PLATES
from anzel.structure.line_work import LineWish, worked

_LARGEST = 64 * 1024 * 1024
_SAME = 0.01


@dataclass(frozen=True)
class DrawnPlate:
    """One outline of a drawing: its name, its lines with labels and wishes, its living hinges."""

    name: str
    region: Region
    lines: tuple[tuple[str, OpenPath, LineWish], ...]
    hinges: int


def drawn_plates(path: Path, tell: Tell = no_progress) -> list[DrawnPlate]:
    """Return the outlines of an SVG or DXF file with what lies on each.

    Loose edges that meet, small gaps, doubled lines, ellipses and islands are dealt with as in a
    found drawing. `tell` raises to stop it. Raises FileError or DrawingError.
    """
    too_large = FileError(f"{path.name} is far too large for a drawing.")
    content = read_whole(path, _LARGEST, too_large)
    analysis = load_drawing(content, path.name, tell=tell)
    regions = drawn_regions(analysis)
    if len(regions) > MOST_PLATES:
        raise FileError(
            f"{path.name} holds {len(regions)} outlines; a structure has {MOST_PLATES} plates at "
            "most.",
            hint="Put them on a plate as artwork, or split the drawing.",
        )
    wishes = {
        group.label: group.wish or LineWish.ENGRAVE for group in line_groups(analysis, {})
    }  # fmt: skip
    lines, _ = drawn_on(analysis, wishes, (0.0, 0.0), regions)
    names = _names(content, path, regions, analysis)
    return [
        DrawnPlate(
            name, region, tuple(own),
            len(drawn_hinges(
                region, [line for _, run, wish in own for line in worked([run], wish)]
            )),
        )
        for name, region, own in zip(names, regions, lines, strict=True)
    ]  # fmt: skip


def _names(
    content: bytes, path: Path, regions: list[Region], analysis: DrawingAnalysis
) -> list[str]:
    """Return a name for each piece: the one that a cut file of ours gives, or a number."""
    stem = (path.stem or "Piece")[:80]
    numbered = [f"{stem} {number}" for number in range(1, len(regions) + 1)]
    try:
        named = parse_cut_file(content, path.suffix, path.name).pieces
    except CutFileError:
        return numbered
    places = _places([piece.region for piece in named])
    known = {place: piece.name for place, piece in zip(places, named, strict=True)}
    return [
        known.get(place) or name for place, name in zip(_places(regions), numbered, strict=True)
    ]  # fmt: skip


def _places(regions: list[Region]) -> list[tuple[int, ...]]:
    """Return where each piece lies among all of them, in hundredths of a millimetre."""
    left = min((each.bounds[0] for each in regions), default=0.0)
    low = min((each.bounds[1] for each in regions), default=0.0)
    return [
        tuple(
            round((end - start) / _SAME)
            for end, start in zip(region.bounds, (left, low, left, low), strict=True)
        )
        for region in regions
    ]
