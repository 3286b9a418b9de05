"""How a plate stands that living hinges bend: folded a little in the middle of each link."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import chain
from math import cos, hypot, radians, sin

import shapely

from anzel.core.findings import Finding, Severity
from anzel.geometry.placement import Placement, Vector, add_scaled, scaled
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.artwork.hinge import planned
from anzel.structure.artwork.places import middle_of, motions_of
from anzel.structure.artwork.records import OnPlate, PlateHinge
from anzel.structure.model import Facet, FitContext, Piece, Plate, SolvedStructure
from anzel.structure.openings.alike import plates_of


@dataclass(frozen=True)
class _Fold:
    """A straight fold through a point; what lies `towards` its far side turns up by an angle."""

    at: Point
    towards: Point
    angle: float


def with_bends(
    solved: SolvedStructure, plates: Sequence[Plate], items: Iterable[OnPlate], sheets: FitContext
) -> SolvedStructure:
    """Return the structure with its hinged pieces bent, and findings about the hinges.

    A piece that joins others stays flat, for its joints are made where it lies.
    """
    hinges = [item for item in items if isinstance(item, PlateHinge)]
    if not hinges:
        return solved
    joined = {name for joint in solved.joints if len(joint.pieces) > 1 for name in joint.pieces}
    by_name = {plate.name: plate for plate in plates}
    pieces, findings = list(solved.pieces), list(solved.findings)
    for at, piece in enumerate(pieces):
        own = [hinge for hinge in hinges if piece.name in plates_of(plates, hinge)]
        if not own or piece.bent:
            continue
        findings += _noticed(own, piece, sheets, is_joined=piece.name in joined)
        if piece.name not in joined and piece.name in by_name:
            pieces[at] = replace(piece, bent=_facets(piece, by_name[piece.name], own, sheets))
    return replace(solved, pieces=tuple(pieces), findings=tuple(findings))


def _noticed(
    hinges: Sequence[PlateHinge], piece: Piece, sheets: FitContext, *, is_joined: bool
) -> list[Finding]:
    sheet = sheets.of(piece.stock_id)
    tight = [h.id for h in hinges if not planned(h, sheet.measured_thickness, sheet.kerf).holds]
    found = [
        Finding(
            "hinge-too-tight", Severity.PROBLEM, piece.name,
            f"the links of hinge {name} would twist too far.",
            "Make its radius or its slits larger.",
        )
        for name in tight
    ]  # fmt: skip
    if is_joined:
        found.append(Finding(
            "hinge-shown-flat", Severity.NOTE, piece.name,
            "it is hinged and joined, and stands flat here, as its joints are made.",
        ))  # fmt: skip
    return found


def _facets(
    piece: Piece, plate: Plate, hinges: Sequence[PlateHinge], sheets: FitContext
) -> tuple[Facet, ...]:
    sheet = sheets.of(piece.stock_id)
    middle = middle_of(plate.region)
    groups = [
        _folds(hinge, motion((0.0, 0.0)), motion((1.0, 0.0)), middle, sheet.measured_thickness,
               sheet.kerf)
        for hinge in hinges for motion in motions_of(hinge, plate.region, {})
    ]  # fmt: skip
    groups.sort(
        key=lambda folds: abs(_advance(folds[len(folds) // 2].at, folds[0].towards, middle))
    )
    cells = [(shapely.box(*plate.region.outer.bounds).buffer(1.0, join_style="mitre"),
              piece.placement)]  # fmt: skip
    for fold in chain.from_iterable(groups):
        cells = [part for cell in cells for part in _folded(*cell, fold)]
    return tuple(
        Facet(Region.of(Contour.polygon(shapely.get_coordinates(cell.exterior)[:-1].tolist())), at)
        for cell, at in cells
    )


def _folds(
    hinge: PlateHinge, centre: Point, beside: Point, middle: Point, thickness: float, kerf: float
) -> list[_Fold]:
    """Return the folds of a hinge, the one nearest to the plate's middle first."""
    plan = planned(hinge, thickness, kerf)
    along = (beside[0] - centre[0], beside[1] - centre[1])
    if _advance(centre, along, middle) > 1e-6:  # what holds the middle stays
        along = (-along[0], -along[1])
    steps = [((at + 0.5) / plan.links - 0.5) * plan.developed for at in range(plan.links)]
    return [
        _Fold(
            (centre[0] + step * along[0], centre[1] + step * along[1]), along,
            radians(hinge.bend_angle) / plan.links,
        )
        for step in steps
    ]  # fmt: skip


def _far_from(folds: Sequence[_Fold], point: Point) -> float:
    """Return how far the middle one of some folds is from a point, mm."""
    fold = folds[len(folds) // 2]
    return abs(_advance(fold.at, fold.towards, point))


def _advance(start: Point, towards: Point, end: Point) -> float:
    """Return how far one point lies from another along a unit direction, mm."""
    return (end[0] - start[0]) * towards[0] + (end[1] - start[1]) * towards[1]


def _folded(
    cell: shapely.Polygon, at: Placement, fold: _Fold
) -> list[tuple[shapely.Polygon, Placement]]:
    left, low, right, top = cell.bounds
    reach = hypot(right - left, top - low) + hypot(left - fold.at[0], low - fold.at[1])
    (x, y), (ux, uy) = fold.at, fold.towards
    corners = [
        (x + a * ux * reach - b * uy * reach, y + a * uy * reach + b * ux * reach)
        for a, b in ((0, -1), (2, -1), (2, 1), (0, 1))
    ]
    half = shapely.Polygon(corners)
    parts = ((cell.difference(half), at), (cell.intersection(half), _turned(at, fold)))
    return [(part, place) for part, place in parts if part.area > 1e-6]


def _turned(at: Placement, fold: _Fold) -> Placement:
    """Return where what lies beyond a fold stands, `at` being where it would without."""
    x_axis, y_axis = (_direction(at, fold, axis) for axis in ((1.0, 0.0), (0.0, 1.0)))
    origin = at.to_world(fold.at)
    for axis, size in ((x_axis, fold.at[0]), (y_axis, fold.at[1])):
        origin = add_scaled(origin, axis, -size)
    return Placement(origin, x_axis, y_axis)


def _direction(at: Placement, fold: _Fold, flat: Point) -> Vector:
    ux, uy = fold.towards
    far, side = flat[0] * ux + flat[1] * uy, flat[1] * ux - flat[0] * uy
    in_plane = (
        far * cos(fold.angle) * ux - side * uy,
        far * cos(fold.angle) * uy + side * ux,
    )
    turned = add_scaled(scaled(at.x_axis, in_plane[0]), at.y_axis, in_plane[1])
    return add_scaled(turned, at.normal, far * sin(fold.angle))
