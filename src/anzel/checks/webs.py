"""How much material is left between openings, and between openings and edges.

Common practice, no source: webs of at least about the sheet's thickness.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from anzel.structure.joints.cutting_shapes import feature_outline
from anzel.structure.model import Feature, FeatureKind, FitContext, Piece, SolvedStructure

_MOUTH = 0.35
"""A slot's outer share, near its mouth, is not looked at: there it meets the edge by design."""


OPENING = "an opening"


@dataclass(frozen=True)
class Web:
    """The narrowest web of a piece as produced, mm, and the joints on either side of it.

    "" is an edge, and OPENING an opening that is no joint's.
    """

    piece: str
    width: float
    joints: tuple[str, str]


def smallest_webs(solved: SolvedStructure, fit_context: FitContext) -> tuple[Web, ...]:
    """Return the narrowest web of each piece that has openings, as produced, narrowest first.

    What runs on the lines takes half a kerf from either side of a web [derived].
    """
    found = []
    for piece in solved.pieces:
        if (web := _smallest(piece)) is not None:
            lost = fit_context.rule(piece.stock_id).drawn_kerf
            found.append(replace(web, width=web.width - lost))
    return tuple(sorted(found, key=lambda web: web.width))


@dataclass(frozen=True)
class _Opening:
    """An opening's shape, the joint it belongs to, and whether it lies inside its piece."""

    shape: shapely.Geometry
    joint: str
    is_inside: bool


def _smallest(piece: Piece) -> Web | None:
    features = [f for f in piece.features if f.kind in (FeatureKind.SLOT, FeatureKind.MORTISE)]
    openings = _plus_as_one(features, [_shape(feature) for feature in features])
    openings += _plain(piece)
    if not openings:
        return None
    found = [*_between(piece, openings), *_to_edges(piece, openings)]
    return min(found, key=lambda web: web.width, default=None)


def _plain(piece: Piece) -> list[_Opening]:
    """Return the holes of a piece that are no slot or mortise: openings, and pockets."""
    if not piece.region.holes:
        return []
    pockets = [each for each in piece.features if each.kind is FeatureKind.POCKET]
    shapes = [feature_outline(each) for each in piece.features if each not in pockets]
    holes = [hole.polygon_shape for hole in piece.region.holes]
    made: set[int] = set()
    if shapes:
        made = set(shapely.STRtree(shapes).query(holes, predicate="intersects")[0].tolist())
    return [
        _Opening(hole, _joint_at(hole, pockets), True)
        for at, hole in enumerate(holes) if at not in made
    ]  # fmt: skip


def _joint_at(hole: shapely.Polygon, pockets: Sequence[Feature]) -> str:
    """Return the joint whose pocket a hole is; OPENING where it is none."""
    inside = (each for each in pockets if hole.contains(shapely.Point(each.at)))
    return next((each.joint for each in inside), OPENING)


def _plus_as_one(openings: Sequence[Feature], shapes: Sequence[shapely.Geometry]) -> list[_Opening]:
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
    return [
        _Opening(shape, feature.joint, feature.kind is FeatureKind.MORTISE)
        for feature, shape in zip(kept, merged, strict=True)
    ]


def _between(piece: Piece, openings: Sequence[_Opening]) -> list[Web]:
    shapes = [opening.shape for opening in openings]
    if len(shapes) < 2:
        return []
    tree = shapely.STRtree(shapes)
    pairs, distances = tree.query_nearest(
        shapes, exclusive=True, all_matches=False, return_distance=True
    )
    best = int(np.argmin(distances))
    one, other = openings[pairs[0][best]], openings[pairs[1][best]]
    return [Web(piece.name, float(distances[best]), (one.joint, other.joint))]


def _to_edges(piece: Piece, openings: Sequence[_Opening]) -> list[Web]:
    """Return the webs between openings and the outer edge; slots always end at the edge."""
    outer = shapely.LinearRing(piece.region.outer.vertices)
    return [
        Web(piece.name, float(opening.shape.distance(outer)), (opening.joint, ""))
        for opening in openings
        if opening.is_inside and not opening.shape.buffer(0.01).crosses(outer)
    ]


def _shape(feature: Feature) -> shapely.Polygon:
    """Return the opening as drawn; of a slot, only its inner part."""
    is_whole = feature.kind is FeatureKind.MORTISE
    return feature_outline(feature, inner=1.0 if is_whole else 1 - _MOUTH)
