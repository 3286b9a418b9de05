"""Labels.

Names and joint numbers on pieces, in single strokes, where there is room and nothing is cut.

The name of a piece stands at its largest inscribed circle. The number of a joint stands beside each
of its openings and tabs and is the same on both pieces, so that they can be matched.
"""

from functools import lru_cache

import shapely

from anzel.geometry.lettering import lettering
from anzel.geometry.regions import Region, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.structure.model import Feature, FeatureKind, Piece
from anzel.structure.name_engraving import LETTER_WIDTH, SMALLEST_LETTER, engraved_name

_NUMBER = 0.6
"""A joint's number is this much as tall as a name may be."""
_AIR = 0.6
"""Room left round a label, mm."""


@lru_cache(maxsize=512)  # keys keep their pieces: as many as a few structures have
def labels_of(piece: Piece, height: float, *, reversed_over: bool = False) -> tuple[Stroke, ...]:
    """Return the labels of a piece in its own coordinates.

    Mirrored for a piece that is cut turned over, so that they can be read there.
    """
    strokes: list[Stroke] = []
    taken: list[shapely.Geometry] = []
    if not piece.name_strokes:  # else it carries its name, or a number, already
        x, y, _ = piece.region.largest_inscribed_circle
        name = engraved_name(piece.region, piece.name, height)
        _put(strokes, taken, name, (x, y), reversed_over)
    for feature in piece.features:
        found = _number(piece.region, feature, height * _NUMBER, taken)
        if found is not None:
            number, at = found
            _put(strokes, taken, number, at, reversed_over)
    return tuple(strokes)


def _put(
    strokes: list[Stroke], taken: list[shapely.Geometry], drawn: tuple[Stroke, ...], at: Point,
    over: bool,
) -> None:  # fmt: skip
    """Add a label, mirrored about its middle where the piece is turned over."""
    if drawn:
        mirrored = tuple(tuple((2 * at[0] - x, y) for x, y in stroke) for stroke in drawn)
        strokes.extend(mirrored if over else drawn)
        taken.append(shapely.MultiLineString(drawn).envelope.buffer(_AIR))


def _number(
    region: Region, feature: Feature, height: float, taken: list[shapely.Geometry]
) -> tuple[tuple[Stroke, ...], Point] | None:
    """Return a joint's number beside a feature, in the first place with room.

    None where there is none.
    """
    wide = LETTER_WIDTH * height * len(feature.joint)
    for place in _places(feature, height, wide):
        box = shapely.box(
            place[0] - wide / 2 - _AIR, place[1] - height / 2 - _AIR,
            place[0] + wide / 2 + _AIR, place[1] + height / 2 + _AIR,
        )  # fmt: skip
        free = region.shape.contains(box) and not any(box.intersects(other) for other in taken)
        if free and height >= SMALLEST_LETTER:
            return lettering(feature.joint, height, place), place
    return None


def _places(feature: Feature, height: float, wide: float) -> list[Point]:
    """Return places beyond a feature's floor, then beside it."""
    (x, y), (ux, uy) = feature.at, feature.along
    beyond = feature.depth.drawn / 2 + _AIR + max(height, wide) / 2 + 0.5
    aside = feature.width.drawn / 2 + _AIR + max(height, wide) / 2 + 0.5
    ways = [(ux, uy, -beyond), (ux, uy, beyond), (-uy, ux, aside), (-uy, ux, -aside)]
    if feature.kind is FeatureKind.TAB:
        ways = [(ux, uy, -beyond), (-uy, ux, aside), (-uy, ux, -aside), (ux, uy, beyond)]
    return [(x + dx * way, y + dy * way) for dx, dy, way in ways]
