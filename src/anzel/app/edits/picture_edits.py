"""Edits of pictures behind plates, and outlines taken from them.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Callable, Sequence
from functools import lru_cache
from math import atan2, degrees, dist
from pathlib import Path
from typing import Any

from anzel.app.edits import opening_edits, sketch_edits
from anzel.app.edits.record_numbers import figure_of, typed_value
from anzel.core.asset import Asset
from anzel.core.findings import GeometryError, MakerError, ParameterError
from anzel.drawings.containment import contained_regions
from anzel.drawings.loops import assemble_loops
from anzel.drawings.model import Drawing
from anzel.drawings.reader import read_drawing
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.project.model import Project
from anzel.shape.copied_openings import CopiedOpenings, with_openings
from anzel.shape.sketch import ClosedPath, Corner, Sketch
from anzel.shape.sketch_changes import sketch_of_region
from anzel.storage.atomic_file import FileError, read_whole
from anzel.structure.plate_picture import PlatePicture
from anzel.tracing.picture import grey_of_picture, size_of_picture
from anzel.tracing.tracing import TraceSettings, placed_contour, traced_regions

_LARGEST = 40_000_000
_LEAST_AREA = 1e-4
"""What encloses less, mm², is a line drawn there and back."""
NUMBERS = ("width", "turn", "x", "y")
_LARGE = 0.9
"""A picture that names no size that suits its plate is so many times as wide as the plate."""
_REASONABLE = (0.2, 5.0)


def picture_of(project: Project, plate: str) -> PlatePicture | None:
    """Return the picture behind a plate; None where there is none."""
    return next((each for each in project.structure.own_pictures if each.plate == plate), None)


def picture_in(path: Path) -> Asset:
    """Return the file of a picture.

    Raises FileError where it cannot be read at all, or is too large.
    """
    too_large = FileError(f"{path.name} is too large a picture.", hint="Make it smaller.")
    return Asset.of(path.name[-120:], read_whole(path, _LARGEST, too_large))


def place_picture(project: Project, plate: str, path: Path) -> Project:
    """Return the project with a picture behind a plate, in place of the one before.

    It lies about the plate's middle, as large as it says, or about as wide as the plate. Raises
    FileError or PictureError for a file that holds none.
    """
    picture = PlatePicture(plate=plate, file=picture_in(path))
    own_width = size_in_mm(picture)[0]
    outline = opening_edits.region_of_plate(project, plate)
    left, low, right, high = outline.bounds
    wide = right - left
    if not _REASONABLE[0] * wide < own_width < _REASONABLE[1] * wide:
        own_width = _LARGE * wide
    placed = picture.with_changes(x=(left + right) / 2, y=(low + high) / 2, width=own_width)
    return _with_picture(project, plate, placed)


def change_picture(project: Project, plate: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with a picture moved, turned, scaled, faded or locked."""
    return _with_picture(project, plate, _picture(project, plate).with_changes(**changes))


def type_picture(project: Project, plate: str, field: str, text: str) -> Project:
    """Return the project with one number of a picture from typed text."""
    return change_picture(project, plate, **{field: typed_value(text, field)})


def figure_on(project: Project, plate: str, field: str) -> str:
    """Return a number of a plate's picture as a mark for a text; nothing without a picture."""
    picture = picture_of(project, plate)
    return figure_of(picture, field) if picture is not None else ""


def scale_by_points(
    project: Project, plate: str, one: Point, other: Point, apart: float
) -> Project:
    """Return the project with the picture scaled so that two places of it are `apart` mm apart.

    The first place stays.
    """
    picture, now = _picture(project, plate), dist(one, other)
    if now == 0 or apart <= 0:
        raise ParameterError("Two different places are needed.", field="apart")
    factor = apart / now
    x, y = (at + factor * (own - at) for at, own in zip(one, (picture.x, picture.y), strict=True))
    return change_picture(project, plate, x=x, y=y, width=picture.width * factor)


def level_by_points(project: Project, plate: str, one: Point, other: Point) -> Project:
    """Return the project with the picture turned so that two places of it are level.

    To a tenth of a degree; the picture's middle stays.
    """
    picture = _picture(project, plate)
    off = degrees(atan2(other[1] - one[1], other[0] - one[0]))
    turn = round((picture.turn - off + 180) % 360 - 180, 1)
    return change_picture(project, plate, turn=turn)


def remove_picture(project: Project, plate: str) -> Project:
    """Return the project without the picture behind a plate."""
    return _with_picture(project, plate, None)


def size_in_mm(picture: PlatePicture) -> tuple[float, float]:
    """Return how wide and high the picture itself says it is, mm.

    Raises PictureError or DrawingError where it cannot be read.
    """
    if picture.is_drawing:
        left, low, right, high = _drawn_bounds(picture.file)
        return right - left, high - low
    size = size_of_picture(picture.file)
    return size.width_in_mm, size.width_in_mm * size.height / size.width


def proposed_regions(
    picture: PlatePicture, settings: TraceSettings, stopped: Callable[[], bool] = lambda: False
) -> tuple[Region, ...]:
    """Return the closed shapes of a picture as they lie on its plate, largest first.

    Those of a drawing are its own outlines; those of a picture follow its dark and light. Raises
    PictureError or DrawingError where it cannot be read.
    """
    if not picture.is_drawing:
        return traced_regions(grey_of_picture(picture.file), picture.placement, settings, stopped)
    left, low, right, high = _drawn_bounds(picture.file)
    size = (right - left, high - low)
    at = picture.placement.to_plate(size)

    def placed(contour: Contour) -> Contour:
        return placed_contour(contour, lambda p: at((p[0] - left, p[1] - low)))

    regions = [
        Region.of(placed(region.outer), [placed(hole) for hole in region.holes])
        for region in contained_regions(drawn_contours(picture.file))
    ]
    return tuple(sorted(regions, key=lambda region: -region.outer.polygon_shape.area))


@lru_cache(maxsize=2)  # the drawing that is shown, and the one before
def drawn_contours(file: Asset) -> list[Contour]:
    """Return the closed outlines of an SVG, mm.

    Raises DrawingError where it cannot be read or has none.
    """
    loops = assemble_loops(_drawing(file).paths).loops
    contours = [contour for loop in loops if (contour := _closed(loop.segments)) is not None]
    if not contours:
        raise MakerError(f"{file.name} holds no closed outline.", hint="Close its lines first.")
    return contours


def _closed(segments: tuple[Segment, ...]) -> Contour | None:
    """Return edges as a contour; None where they enclose nothing."""
    try:
        contour = Contour(segments)
        encloses = contour.polygon_shape.area > _LEAST_AREA
    except (GeometryError, ValueError):
        return None
    return contour if encloses else None


def _drawing(file: Asset) -> Drawing:
    return read_drawing(file.content, file.name)


def _drawn_bounds(file: Asset) -> tuple[float, float, float, float]:
    boxes = [contour.bounds for contour in drawn_contours(file)]
    return (
        min(box[0] for box in boxes), min(box[1] for box in boxes),
        max(box[2] for box in boxes), max(box[3] for box in boxes),
    )  # fmt: skip


def take_outline(project: Project, plate: str, region: Region) -> Project:
    """Return the project with a proposed shape as a plate's outline, its holes as openings.

    What held the old outline is let go. Raises ParameterError for a plate that a form makes.
    """
    _need_drawn(project)
    drawn = sketch_edits.as_drawn(project, plate)
    return sketch_edits.change_sketch(drawn, plate, _bounded(sketch_of_region(region)))


def take_openings(project: Project, plate: str, regions: Sequence[Region]) -> Project:
    """Return the project with proposed shapes as openings of a plate.

    Raises ParameterError where they do not lie on it, or a form makes the plate.
    """
    _need_drawn(project)
    drawn = sketch_edits.as_drawn(project, plate)
    sketch = sketch_edits.drawn_sketch(drawn, plate)
    for region in regions:
        found = sketch_of_region(Region(region.outer, (region.outer,)))
        paths = tuple(_as_traced(path) for path in found.paths[1:])
        copied = CopiedOpenings(paths=paths, discs=found.discs)
        sketch, _ = with_openings(sketch, copied)
    return sketch_edits.change_sketch(drawn, plate, _bounded(sketch))


def _as_traced(path: ClosedPath) -> ClosedPath:
    """Return a path whose corners stay as they were found, whatever the plate's wish is."""
    return path.with_changes(points=tuple(p.with_changes(corner=Corner()) for p in path.points))


def _bounded(sketch: Sketch) -> Sketch:
    return Sketch.validated(**sketch.__dict__)


def _need_drawn(project: Project) -> None:
    if not project.structure.has_free_plates:
        raise ParameterError(
            "The form makes the outlines of its plates.",
            hint="Turn it into a free structure first.",
        )


def _picture(project: Project, plate: str) -> PlatePicture:
    picture = picture_of(project, plate)
    if picture is None:
        raise ParameterError(f"There is no picture behind “{plate}”.")
    return picture


def _with_picture(project: Project, plate: str, picture: PlatePicture | None) -> Project:
    others = tuple(each for each in project.structure.own_pictures if each.plate != plate)
    pictures = others if picture is None else (*others, picture)
    return project.with_changes(
        structure=project.structure.with_changes(own_pictures=pictures)
    )  # fmt: skip
