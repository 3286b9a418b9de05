"""How much material is left between openings, and between openings and edges.

Common practice, no source: webs of at least about the sheet's thickness.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from anzel.structure.joints.cutting_shapes import along
from anzel.structure.model import Feature, FeatureKind, Piece, SolvedStructure

_MOUTH = 0.35
"""A slot's outer share, near its mouth, is not looked at: there it meets the edge by design."""


@dataclass(frozen=True)
class Web:
    """The narrowest web of a piece, mm, and the joints on either side of it; "" is an edge."""

    piece: str
    width: float
    joints: tuple[str, str]


def smallest_webs(solved: SolvedStructure) -> tuple[Web, ...]:
    """Return the narrowest web of each piece that has openings, narrowest first."""
    found = [web for piece in solved.pieces if (web := _smallest(piece)) is not None]
    return tuple(sorted(found, key=lambda web: web.width))


def _smallest(piece: Piece) -> Web | None:
    openings = [f for f in piece.features if f.kind in (FeatureKind.SLOT, FeatureKind.MORTISE)]
    if not openings:
        return None
    shapes = [_shape(feature) for feature in openings]
    found = [*_between(piece, openings, shapes), *_to_edges(piece, openings, shapes)]
    return min(found, key=lambda web: web.width, default=None)


def _between(
    piece: Piece, openings: Sequence[Feature], shapes: Sequence[shapely.Geometry]
) -> list[Web]:
    if len(shapes) < 2:
        return []
    tree = shapely.STRtree(shapes)
    pairs, distances = tree.query_nearest(
        shapes, exclusive=True, all_matches=False, return_distance=True
    )
    best = int(np.argmin(distances))
    one, other = openings[pairs[0][best]], openings[pairs[1][best]]
    return [Web(piece.name, float(distances[best]), (one.joint, other.joint))]


def _to_edges(
    piece: Piece, openings: Sequence[Feature], shapes: Sequence[shapely.Geometry]
) -> list[Web]:
    """Return the webs between mortises and the outer edge; slots always end at the edge."""
    outer = shapely.LinearRing(piece.region.outer.vertices)
    return [
        Web(piece.name, float(shape.distance(outer)), (feature.joint, ""))
        for feature, shape in zip(openings, shapes, strict=True)
        if feature.kind is FeatureKind.MORTISE and not shape.buffer(0.01).crosses(outer)
    ]


def _shape(feature: Feature) -> shapely.Geometry:
    """Return the opening as drawn; of a slot, only its inner part."""
    half, length = feature.width.drawn / 2, feature.depth.drawn / 2
    end = length if feature.kind is FeatureKind.MORTISE else length * (1 - 2 * _MOUTH)
    corners = [(-length, -half), (end, -half), (end, half), (-length, half)]
    return shapely.Polygon([along(feature.at, feature.along, x, y) for x, y in corners])
