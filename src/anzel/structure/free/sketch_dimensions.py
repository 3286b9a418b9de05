"""The sizes of a sketch as dimension lines on the flat piece."""

from anzel.geometry.rigid_transform import Point
from anzel.shape.sketch import HeldSize, SizeKind, Sketch
from anzel.structure.forms.form import Dimension

_OFFSET = 13.0
_LINEAR = (SizeKind.ALONG_X, SizeKind.ALONG_Y, SizeKind.DISTANCE, SizeKind.LENGTH)
SEPARATOR = "/"
"""Between a plate's name and a size's in the field of a dimension."""


def sketch_dimensions(plate: str, sketch: Sketch) -> tuple[Dimension, ...]:
    """Return a dimension line for every size between two points, its field PLATE/SIZE."""
    places = {point.id: (point.x, point.y) for path in sketch.paths for point in path.points}
    places |= {disc.id: (disc.x, disc.y) for disc in sketch.discs}
    for path in sketch.paths:
        ids = [point.id for point in path.points]
        for leg, start, end in zip(path.legs, ids, [*ids[1:], ids[0]], strict=True):
            places[f"{leg.id}{SEPARATOR}start"], places[f"{leg.id}{SEPARATOR}end"] = (
                places[start], places[end],
            )  # fmt: skip
    xs, ys = zip(*((point.x, point.y) for point in sketch.paths[0].points), strict=True)
    middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
    found = []
    for size in sketch.sizes:
        ends = _ends(size, places)
        if ends is not None:
            name = f"{plate}{SEPARATOR}{size.name}"
            found.append(Dimension(name, plate, *ends, _outward(*ends, middle)))
    return tuple(found)


def _outward(start: Point, end: Point, middle: Point) -> float:
    """Return how far left of a size its line stands: away from the plate's middle."""
    left = (start[1] - end[1], end[0] - start[0])
    to_middle = (middle[0] - (start[0] + end[0]) / 2, middle[1] - (start[1] + end[1]) / 2)
    return -_OFFSET if left[0] * to_middle[0] + left[1] * to_middle[1] > 0 else _OFFSET


def _ends(size: HeldSize, places: dict[str, Point]) -> tuple[Point, Point] | None:
    """Return between which points a size stands; None for an angle, a radius and the like."""
    if size.kind not in _LINEAR:
        return None
    names = (
        (f"{size.of[0]}{SEPARATOR}start", f"{size.of[0]}{SEPARATOR}end")
        if size.kind is SizeKind.LENGTH else size.of
    )  # fmt: skip
    start, end = (places.get(name) for name in names)
    if start is None or end is None:
        return None
    if size.kind is SizeKind.ALONG_X:
        return start, (end[0], start[1])
    return (start, (start[0], end[1])) if size.kind is SizeKind.ALONG_Y else (start, end)
