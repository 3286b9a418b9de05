"""Free corners of plates that a form makes, rounded or otherwise treated as the maker wishes.

A corner is free where the cut piece still has the corner of its plate, between edges of the plate:
corners that joints and openings have made are never touched.
"""

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from anzel.core.findings import ParameterError
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.shape.outline_building import region_of
from anzel.shape.sketch import ClosedPath, Corner
from anzel.shape.sketch_changes import sketch_of_region
from anzel.structure.model import Piece, Plate
from anzel.structure.openings.alike import plates_of
from anzel.structure.openings.plate_opening import PlateCorner


def with_free_corners(
    pieces: Sequence[Piece], plates: Sequence[Plate], wishes: Sequence[PlateCorner]
) -> tuple[Piece, ...]:
    """Return the pieces with their free corners treated, where there is room."""
    corners = {name: wish.corner for wish in wishes for name in plates_of(plates, wish)}
    outlines = {plate.name: plate.region for plate in plates if not plate.bent}
    return tuple(
        replace(piece, region=_treated(piece.region, outlines[piece.name], corners[piece.name]))
        if piece.name in corners and piece.name in outlines else piece
        for piece in pieces
    )  # fmt: skip


@lru_cache(maxsize=256)  # one for each plate of a few structures
def _treated(region: Region, outline: Region, corner: Corner) -> Region:
    around = {
        segment.end: (segment, after)
        for contour in outline.contours
        for segment, after in zip(
            contour.segments, (*contour.segments[1:], contour.segments[0]), strict=True
        )
    }
    sketch = sketch_of_region(region)
    paths = tuple(_marked(path, contour.segments, around) for path, contour in zip(
        sketch.paths, [c for c in region.contours if not c.is_circle or c is region.outer],
        strict=True,
    ))  # fmt: skip
    try:
        return region_of(sketch.with_changes(paths=paths, corner=corner))
    except ParameterError:  # no room at this size: the corners stay sharp
        return region


def _marked(
    path: ClosedPath, segments: Sequence[Segment], around: dict[Point, tuple[Segment, Segment]]
) -> ClosedPath:
    """Return the path with its free corners left to the wish, and all others sharp."""
    points = []
    for at, point in enumerate(path.points):
        own = around.get((point.x, point.y))
        is_free = own is not None and all(
            _goes_on(mine, theirs)
            for mine, theirs in zip((segments[at - 1], segments[at]), own, strict=True)
        )
        points.append(point if is_free else point.with_changes(corner=Corner()))
    return path.with_changes(points=tuple(points))


def _goes_on(edge: Segment, original: Segment) -> bool:
    """Whether an edge of the piece is a part of the plate's own edge."""
    if type(edge) is not type(original):
        return False
    x, y = edge.point_at(0.5)
    a, b = original.start, original.end
    long = (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2
    if long == 0:
        return False
    off = abs((x - a[0]) * (b[1] - a[1]) - (y - a[1]) * (b[0] - a[0])) / long**0.5
    return off < COINCIDENT or edge == original
