"""What an item draws, about its own middle: lines, and outlines of what is cut out."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import cos, degrees, sin
from typing import TYPE_CHECKING

from anzel.core.asset import Asset
from anzel.core.findings import ParameterError
from anzel.core.tolerances import SMALLEST
from anzel.drawings.containment import contained_regions
from anzel.drawings.loops import assemble_loops
from anzel.drawings.model import DrawnPath
from anzel.drawings.reader import read_drawing
from anzel.drawings.retraced import drawn_once
from anzel.geometry.booleans import combine
from anzel.geometry.lettering import lettering
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segment_mapping import scaled_segment
from anzel.geometry.segments import Line, Segment
from anzel.structure.artwork.records import (
    LetterStyle,
    OnPlate,
    PlateArtwork,
    PlateInlay,
    PlateLettering,
)  # fmt: skip
from anzel.structure.line_work import LineWish, PlateLine, wish_named, worked

if TYPE_CHECKING:
    from anzel.geometry.letter_outlines import Letter


@dataclass(frozen=True)
class ArtworkFile:
    """The lines of a file about their middle, by label, and how large they are, mm."""

    lines: tuple[tuple[str, OpenPath], ...]
    width: float
    height: float

    @property
    def labels(self) -> tuple[str, ...]:
        """The labels, in the order of the file."""
        return tuple(dict.fromkeys(label for label, _ in self.lines))


@dataclass(frozen=True)
class Drawn:
    """Lines on a plate, and outlines of what is cut out of it.

    `lost` counts closed lines that lie in what falls out, and so are not cut.
    """

    lines: tuple[PlateLine, ...] = ()
    cut_outs: tuple[Contour, ...] = ()
    lost: int = 0


@lru_cache(maxsize=16)  # the files in hand
def artwork_file(file: Asset) -> ArtworkFile:
    """Return the lines of an SVG or DXF file, y up; loose edges that meet are one line.

    Raises
    ------
    DrawingError
    """
    drawing = read_drawing(file.content, file.name)
    by_label: dict[str, list[DrawnPath]] = {}
    for path in drawing.paths:
        by_label.setdefault(path.label, []).append(path)
    runs: list[tuple[str, tuple[Segment, ...]]] = []
    for label, paths in by_label.items():
        assembled = assemble_loops(paths)
        found = [loop.segments for loop in assembled.loops]
        found += [paths[number].segments for number in assembled.open_paths]
        runs += [(label, drawing.with_y_up(segments)) for segments in found]
    runs += [(path.label, drawing.with_y_up(path.segments)) for path in drawing.asides]
    runs = [(label, edges) for label, run in runs for edges in drawn_once(run)]
    boxes = [segment.bounds for _, run in runs for segment in run]
    if not boxes:
        raise ParameterError(f"{file.name} holds no line.", field="file")
    left, low = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right, top = max(box[2] for box in boxes), max(box[3] for box in boxes)
    if right - left <= 0 and top - low <= 0:
        raise ParameterError(f"{file.name} holds nothing that has a size.", field="file")
    centre = RigidTransform().translated(-(left + right) / 2, -(low + top) / 2)
    lines = tuple((label, OpenPath.of(run).moved(centre)) for label, run in runs)
    return ArtworkFile(lines, right - left, top - low)


def _need_simple(outlines: Sequence[Contour], name: str) -> None:
    """Raise ParameterError for outlines that cannot be cut out because they cross themselves."""
    if not all(outline.polygon_shape.is_valid for outline in outlines):
        raise ParameterError(
            f"An outline in {name} crosses itself, so it cannot be cut out.",
            hint="Engrave or score it, or take the crossing out of the drawing.", field="wishes",
        )  # fmt: skip


def wish_for(artwork: PlateArtwork, label: str) -> LineWish:
    """Return what becomes of the lines of a label: as wished, as named, or engraved."""
    return dict(artwork.wishes).get(label) or wish_named(label) or LineWish.ENGRAVE


@lru_cache(maxsize=256)  # as many items as a few structures have
def drawn_by(item: OnPlate) -> Drawn:
    """Return what lettering or artwork draws about its own middle.

    Raises
    ------
    ParameterError
        For a letter that its font has not, and an outline to cut out that crosses itself.
    """
    if isinstance(item, PlateLettering):
        if item.style is LetterStyle.OUTLINES:
            return _outlined(item)
        return Drawn(worked(_strokes(item), item.operation, keep_off=item.keep_off))
    assert isinstance(item, PlateArtwork)
    lines: list[PlateLine] = []
    outlines: list[Contour] = []
    for wish in LineWish:
        paths = [path for label, path in sized_lines(item) if wish_for(item, label) is wish]
        if wish is LineWish.CUT:
            outlines = [Contour(path.segments) for path in paths if path.is_closed]
            _need_simple(outlines, item.file.name)
            paths = [path for path in paths if not path.is_closed]
        lines += worked(paths, wish, item.spacing, item.keep_off)
    regions = contained_regions(outlines) if outlines else []
    outermost = _outermost(regions)
    return Drawn(tuple(lines), tuple(outermost), len(outlines) - len(outermost))


def sized_lines(item: PlateArtwork | PlateInlay) -> list[tuple[str, OpenPath]]:
    """Return the lines of an item's file as large as wanted, with their labels."""
    found = artwork_file(item.file)
    factor = item.width / (found.width or found.height)
    over = RigidTransform(over=True) if item.mirrored else RigidTransform()
    return [
        (label, OpenPath(tuple(scaled_segment(segment, factor) for segment in path.segments)).moved(
            over
        ))
        for label, path in found.lines
    ]  # fmt: skip


def _outermost(regions: Sequence[Region]) -> list[Contour]:
    outers = [region.outer for region in regions]
    return [
        each for each in outers
        if not any(
            other is not each and other.polygon_shape.contains(each.polygon_shape)
            for other in outers
        )
    ]  # fmt: skip


def _strokes(item: PlateLettering) -> list[OpenPath]:
    strokes = lettering(item.text, item.height, (0.0, 0.0))
    runs = [[_bent(point, item.bend) for point in stroke] for stroke in strokes]
    return [
        OpenPath(tuple(Line(a, b) for a, b in pairwise(run) if a != b))
        for run in runs if len(set(run)) > 1
    ]  # fmt: skip


def _bent(point: Point, bend: float) -> Point:
    """Return a place on an arc about a centre `bend` below the line's middle; as it is for 0."""
    if bend == 0:
        return point
    x, y = point
    angle, radius = x / bend, bend + y
    return (radius * sin(angle), radius * cos(angle) - bend)


def _outlined(item: PlateLettering) -> Drawn:
    """Return letters as outlines, or as openings that bridges hold together."""
    from anzel.geometry.letter_outlines import letter_outlines  # loads fontTools

    font = item.font.content if item.font is not None else None
    letters = letter_outlines(item.text, item.height, font)
    placed = [[outline.moved(_placed(letter, item)) for outline in letter.contours]
              for letter in letters]  # fmt: skip
    if item.operation is not LineWish.CUT:
        paths = [OpenPath(outline.segments) for outlines in placed for outline in outlines]
        return Drawn(worked(paths, item.operation, item.spacing, item.keep_off))
    cut = [
        outline.moved(_placed(letter, item))
        for letter in letters for outline in _stencil(letter, item.bridge)
    ]  # fmt: skip
    return Drawn((), tuple(cut))


def _placed(letter: "Letter", item: PlateLettering) -> RigidTransform:
    """Return where a letter stands: whole, turned along with an arc."""
    low = -item.height / 2
    if item.bend == 0:
        return RigidTransform().translated(letter.at, low)
    angle, radius = letter.at / item.bend, item.bend + low
    return RigidTransform.rotation(-degrees(angle)).translated(
        radius * sin(angle), radius * cos(angle) - item.bend
    )


def _stencil(letter: "Letter", bridge: float) -> list[Contour]:
    """Return the outlines of a letter to cut out, an upright bridge through all that it encloses.

    So nothing that it encloses falls out.
    """
    found: list[Contour] = []
    for region in contained_regions(letter.contours):
        strips = []
        for left, right in _columns(region):
            x = (left + right) / 2
            low, top = region.outer.bounds[1] - 1, region.outer.bounds[3] + 1
            half = bridge / 2
            strips.append(
                Contour.polygon(
                    [(x - half, low), (x + half, low), (x + half, top), (x - half, top)]
                )
            )
        parts = combine(region, cut=strips) if strips else (region,)
        found += [part.outer for part in parts if part.area > SMALLEST]
    return found


def _columns(region: Region) -> list[tuple[float, float]]:
    """Return a span of x for every set of holes that one upright bridge can hold."""
    spans: list[tuple[float, float]] = []
    for left, _, right, _ in sorted((hole.bounds for hole in region.holes), key=lambda b: b[2]):
        last = spans[-1] if spans else None
        if last is not None and left < last[1]:
            spans[-1] = (max(last[0], left), min(last[1], right))
        else:
            spans.append((left, right))
    return spans
