"""How much material is left between openings, and between openings and edges.

Common practice, no source: webs of at least about the sheet's thickness.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from anzel.structure.joints.cutting_shapes import feature_outline
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
    openings, shapes = _plus_as_one(openings, [_shape(feature) for feature in openings])
    found = [*_between(piece, openings, shapes), *_to_edges(piece, openings, shapes)]
    return min(found, key=lambda web: web.width, default=None)


def _plus_as_one(
    openings: Sequence[Feature], shapes: Sequence[shapely.Geometry]
) -> tuple[list[Feature], list[shapely.Geometry]]:
    """Return the openings with mortises for sheets that cross on purpose as one."""
    kept: list[Feature] = []
    merged: list[shapely.Geometry] = []
    for feature, shape in zip(openings, shapes, strict=True):
        crossed = next(
            (at for at, other in enumerate(kept)
             if feature.sheet and other.sheet and feature.kind is other.kind is FeatureKind.MORTISE
             and shapely.intersects(merged[at], shape)),
            None,
        )  # fmt: skip
        if crossed is None:
            kept.append(feature)
            merged.append(shape)
        else:
            merged[crossed] = shapely.union(merged[crossed], shape)
    return kept, merged


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


def _shape(feature: Feature) -> shapely.Polygon:
    """Return the opening as drawn; of a slot, only its inner part."""
    is_whole = feature.kind is FeatureKind.MORTISE
    return feature_outline(feature, inner=1.0 if is_whole else 1 - _MOUTH)
