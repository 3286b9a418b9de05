"""Artwork, lettering and hinges as lines on plates."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise
from math import cos, sin

from anzel.core.asset import Asset
from anzel.core.findings import ParameterError
from anzel.drawings.reader import read_drawing
from anzel.geometry.lettering import lettering
from anzel.geometry.open_path import OpenPath
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segment_mapping import scaled_segment
from anzel.geometry.segments import Line, Segment
from anzel.structure.artwork.hinge import planned, slits_of
from anzel.structure.artwork.records import (
    OnPlate,
    PlateArtwork,
    PlateHinge,
    PlateLettering,
    Repeated,
)  # fmt: skip
from anzel.structure.line_work import LineOperation, LineWish, PlateLine, wish_named
from anzel.structure.model import FitContext, Plate
from anzel.structure.openings.alike import plates_of


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


@lru_cache(maxsize=16)  # the files in hand
def artwork_file(file: Asset) -> ArtworkFile:
    """Return the lines of an SVG or DXF file, y up.

    Raises
    ------
    DrawingError
    """
    drawing = read_drawing(file.content, file.name)
    runs = [
        (path.label, drawing.with_y_up(path.segments)) for path in (*drawing.paths, *drawing.asides)
    ]
    boxes = [segment.bounds for _, run in runs for segment in run]
    left, low = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right, top = max(box[2] for box in boxes), max(box[3] for box in boxes)
    if right - left <= 0 and top - low <= 0:
        raise ParameterError(f"{file.name} holds nothing that has a size.", field="file")
    centre = RigidTransform().translated(-(left + right) / 2, -(low + top) / 2)
    lines = tuple((label, OpenPath.of(run).moved(centre)) for label, run in runs)
    return ArtworkFile(lines, right - left, top - low)


def wish_for(artwork: PlateArtwork, label: str) -> LineWish:
    """Return what becomes of the lines of a label: as wished, as named, or engraved."""
    return dict(artwork.wishes).get(label) or wish_named(label) or LineWish.ENGRAVE


def with_artwork(
    plates: Sequence[Plate], items: Iterable[OnPlate], fit_context: FitContext
) -> tuple[Plate, ...]:
    """Return the plates with what lies on them."""
    lines: dict[str, list[PlateLine]] = {plate.name: [] for plate in plates}
    by_name = {plate.name: plate for plate in plates}
    for item in items:
        for name in plates_of(plates, item):
            if name in by_name:
                lines[name] += lines_of(item, by_name[name], fit_context)
    return tuple(
        replace(plate, lines=(*plate.lines, *lines[plate.name])) if lines[plate.name] else plate
        for plate in plates
    )


def lines_of(item: OnPlate, plate: Plate, fit_context: FitContext) -> list[PlateLine]:
    """Return the lines of one item on a plate, in the plate's coordinates."""
    middle = middle_of(plate)
    if isinstance(item, PlateLettering):
        drawn = [(item.operation, path) for path in _letters(item)]
    elif isinstance(item, PlateHinge):
        drawn = _slits(item, plate, middle, fit_context)
    else:
        assert isinstance(item, PlateArtwork)
        drawn = _drawn(item)
    return [
        PlateLine(path.moved(motion), operation)
        for motion in motions_of(item, middle) for operation, path in drawn
    ]  # fmt: skip


def middle_of(plate: Plate) -> Point:
    """Return the middle of a plate's outline, in its coordinates."""
    left, low, right, top = plate.region.outer.bounds
    return ((left + right) / 2, (low + top) / 2)


def motions_of(item: OnPlate, middle: Point) -> list[RigidTransform]:
    """Return where an item lies, each time that it is repeated."""
    if item.repeated is Repeated.RING:
        turns = [360.0 * at / item.count for at in range(item.count)]
        places = [RigidTransform.rotation(turn)((item.x, item.y)) for turn in turns]
        return [
            RigidTransform.rotation(item.turn + turn).translated(middle[0] + x, middle[1] + y)
            for turn, (x, y) in zip(turns, places, strict=True)
        ]
    columns = item.count if item.repeated is not Repeated.ONCE else 1
    rows = item.rows if item.repeated is Repeated.GRID else 1
    turned = RigidTransform.rotation(item.turn)
    steps = [
        turned(((at - (columns - 1) / 2) * item.pitch, (row - (rows - 1) / 2) * item.row_pitch))
        for row in range(rows) for at in range(columns)
    ]  # fmt: skip
    return [turned.translated(middle[0] + item.x + dx, middle[1] + item.y + dy) for dx, dy in steps]


def _slits(
    item: PlateHinge, plate: Plate, middle: Point, fit_context: FitContext
) -> list[tuple[LineOperation, OpenPath]]:
    sheet = fit_context.of(plate.stock_id)
    there = RigidTransform().translated(-middle[0] - item.x, -middle[1] - item.y)
    outer = plate.region.outer.moved(there).moved(RigidTransform.rotation(-item.turn))
    _, low, _, top = outer.bounds
    plan = planned(item, sheet.measured_thickness, sheet.kerf)
    return [(LineOperation.CUT, slit) for slit in slits_of(plan, item, low, top)]


def _letters(item: PlateLettering) -> list[OpenPath]:
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


def _drawn(item: PlateArtwork) -> list[tuple[LineOperation, OpenPath]]:
    found = artwork_file(item.file)
    factor = item.width / (found.width or found.height)
    wanted = {label: wish_for(item, label) for label in found.labels}
    return [
        (LineOperation(wanted[label].value), OpenPath(tuple(_sized(path.segments, factor, item))))
        for label, path in found.lines if wanted[label] is not LineWish.LEAVE_OUT
    ]  # fmt: skip


def _sized(segments: Sequence[Segment], factor: float, item: PlateArtwork) -> list[Segment]:
    scaled = [scaled_segment(segment, factor) for segment in segments]
    if not item.mirrored:
        return scaled
    over = RigidTransform(over=True)
    return [segment.moved(over) for segment in scaled]
