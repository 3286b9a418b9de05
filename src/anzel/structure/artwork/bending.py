"""How a plate stands that living hinges bend: folded a little in the middle of each link."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import cos, hypot, radians, sin

import shapely

from anzel.core.findings import Finding, Severity
from anzel.geometry.booleans import combine
from anzel.geometry.placement import Placement, Vector, add_scaled, scaled
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.artwork.drawn_hinges import folds_of
from anzel.structure.artwork.folds import Fold
from anzel.structure.artwork.hinge import planned
from anzel.structure.artwork.places import middle_of, motions_of
from anzel.structure.artwork.records import OnPlate, PlateHinge
from anzel.structure.model import Facet, FitContext, Plate
from anzel.structure.openings.alike import plates_of

_LEAST_AREA = 1e-6


def hinged_plates(plates: Sequence[Plate], items: Iterable[OnPlate]) -> frozenset[str]:
    """Return the names of the plates that have hinges, drawn ones too."""
    hinges = (item for item in items if isinstance(item, PlateHinge))
    drawn = (plate.name for plate in plates if any(plate.bends))
    return frozenset(name for hinge in hinges for name in plates_of(plates, hinge)).union(drawn)


def with_bends(
    plates: Sequence[Plate], items: Iterable[OnPlate], sheets: FitContext
) -> tuple[Plate, ...]:
    """Return the plates as their hinges bend them; those already bent stay."""
    hinges = [item for item in items if isinstance(item, PlateHinge)]
    bent = []
    for plate in plates:
        own = [hinge for hinge in hinges if plate.name in plates_of(plates, hinge)]
        groups = [] if plate.bent else [*_groups(plate, own, sheets), *folds_of(plate)]
        if groups:
            cells = _cells(plate, groups)
            bent.append(replace(plate, bent=_facets(cells), panels=_panels(plate, cells)))
        else:
            bent.append(plate)
    return tuple(bent)


def tight_hinges(
    plates: Sequence[Plate], items: Iterable[OnPlate], sheets: FitContext
) -> list[Finding]:
    """Return a finding for each hinge that its sheet does not bear."""
    by_name = {plate.name: plate for plate in plates}
    return [
        Finding(
            "hinge-too-tight", Severity.PROBLEM, name,
            f"the links of hinge {hinge.id} would twist too far.",
            "Make its radius or its slits larger.",
        )
        for hinge in items if isinstance(hinge, PlateHinge)
        for name in plates_of(plates, hinge) if name in by_name
        for sheet in [sheets.of(by_name[name].stock_id)]
        if not planned(hinge, sheet.measured_thickness, sheet.kerf).holds
    ]  # fmt: skip


@dataclass(frozen=True)
class _Cell:
    """A flat part of a bent plate: its shape on the flat plate, and where it stands."""

    shape: shapely.Polygon
    at: Placement
    is_link: bool = False


def _facets(cells: Sequence[_Cell]) -> tuple[Facet, ...]:
    return tuple(Facet(Region.of(_outline(cell.shape)), cell.at) for cell in cells)


def _groups(
    plate: Plate, hinges: Sequence[PlateHinge], sheets: FitContext
) -> list[Sequence[Fold]]:  # fmt: skip
    sheet, middle = sheets.of(plate.stock_id), middle_of(plate.region)
    return [
        _folds(hinge, motion((0.0, 0.0)), motion((1.0, 0.0)), middle, sheet.measured_thickness,
               sheet.kerf)
        for hinge in hinges for motion in motions_of(hinge, plate.region, {})
    ]  # fmt: skip


def _cells(plate: Plate, groups: Sequence[Sequence[Fold]]) -> list[_Cell]:
    middle = middle_of(plate.region)
    nearest = sorted(groups, key=lambda f: abs(_advance(f[len(f) // 2].at, f[0].towards, middle)))
    box = shapely.box(*plate.region.outer.bounds).buffer(1.0, join_style="mitre")
    cells = [_Cell(box, plate.placement)]
    for folds in nearest:
        cells = [part for cell in cells for part in _folded_all(cell, folds)]
    return cells


def _folded_all(cell: _Cell, folds: Sequence[Fold]) -> list[_Cell]:
    """Return a part folded by a hinge: what is before it, its links, and what is beyond."""
    found, rest = [], cell
    for number, fold in enumerate(folds):
        near, far = _folded(rest, fold)
        if near is not None:
            found.append(replace(near, is_link=cell.is_link or number > 0))
        if far is None:
            return found
        rest = far
    return [*found, rest]


def _outline(shape: shapely.Polygon) -> Contour:
    return Contour.polygon([(x, y) for x, y in shape.exterior.coords[:-1]])


def _panels(plate: Plate, cells: Sequence[_Cell]) -> tuple[Facet, ...]:
    """Return the parts of a plate between its hinges, the largest first, their curves exact."""
    everywhere = shapely.union_all([cell.shape for cell in cells]).buffer(1.0, join_style="mitre")
    panels = []
    for cell in cells:
        if cell.is_link:
            continue
        around = shapely.get_parts(everywhere.difference(cell.shape))
        if any(part.interiors for part in around):
            around = [half for part in around for half in _halves(part)]
        parts = combine(plate.region, cut=[_outline(part) for part in around])
        panels += [Facet(part, cell.at) for part in parts[:1]]
    panels.sort(key=lambda facet: -facet.region.area)
    return tuple(panels)


def _halves(ring: shapely.Polygon) -> list[shapely.Polygon]:
    """Return a shape with a hole as two without."""
    left, low, right, top = ring.bounds
    middle = shapely.Polygon(ring.interiors[0]).centroid.x
    sides = (shapely.box(left, low, middle, top), shapely.box(middle, low, right, top))
    return [part for side in sides for part in shapely.get_parts(ring.intersection(side))]


def _folds(
    hinge: PlateHinge, centre: Point, beside: Point, middle: Point, thickness: float, kerf: float
) -> list[Fold]:
    """Return the folds of a hinge, the one nearest to the plate's middle first."""
    plan = planned(hinge, thickness, kerf)
    along = (beside[0] - centre[0], beside[1] - centre[1])
    if _advance(centre, along, middle) > 1e-6:  # what holds the middle stays
        along = (-along[0], -along[1])
    steps = [((at + 0.5) / plan.links - 0.5) * plan.developed for at in range(plan.links)]
    return [
        Fold(
            (centre[0] + step * along[0], centre[1] + step * along[1]), along,
            radians(hinge.bend_angle) / plan.links,
        )
        for step in steps
    ]  # fmt: skip


def _advance(start: Point, towards: Point, end: Point) -> float:
    """Return how far one point lies from another along a unit direction, mm."""
    return (end[0] - start[0]) * towards[0] + (end[1] - start[1]) * towards[1]


def _folded(cell: _Cell, fold: Fold) -> tuple[_Cell | None, _Cell | None]:
    """Return what is before a fold, and what is beyond and turned; None for nothing."""
    left, low, right, top = cell.shape.bounds
    reach = hypot(right - left, top - low) + hypot(left - fold.at[0], low - fold.at[1])
    (x, y), (ux, uy) = fold.at, fold.towards
    corners = [
        (x + a * ux * reach - b * uy * reach, y + a * uy * reach + b * ux * reach)
        for a, b in ((0, -1), (2, -1), (2, 1), (0, 1))
    ]
    half = shapely.Polygon(corners)
    near, far = cell.shape.difference(half), cell.shape.intersection(half)
    return (
        replace(cell, shape=near) if near.area > _LEAST_AREA else None,
        replace(cell, shape=far, at=_turned(cell.at, fold)) if far.area > _LEAST_AREA else None,
    )


def _turned(at: Placement, fold: Fold) -> Placement:
    """Return where what lies beyond a fold stands, `at` being where it would without."""
    x_axis, y_axis = (_direction(at, fold, axis) for axis in ((1.0, 0.0), (0.0, 1.0)))
    origin = at.to_world(fold.at)
    for axis, size in ((x_axis, fold.at[0]), (y_axis, fold.at[1])):
        origin = add_scaled(origin, axis, -size)
    return Placement(origin, x_axis, y_axis)


def _direction(at: Placement, fold: Fold, flat: Point) -> Vector:
    ux, uy = fold.towards
    far, side = flat[0] * ux + flat[1] * uy, flat[1] * ux - flat[0] * uy
    in_plane = (
        far * cos(fold.angle) * ux - side * uy,
        far * cos(fold.angle) * uy + side * ux,
    )
    turned = add_scaled(scaled(at.x_axis, in_plane[0]), at.y_axis, in_plane[1])
    return add_scaled(turned, at.normal, far * sin(fold.angle))
