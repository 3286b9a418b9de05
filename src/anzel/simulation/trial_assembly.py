"""Assembly of produced pieces: the clearance that every joint of a structure came out with.

A produced piece lies where it was placed on its sheet, and so do the features of its joints. There
its width and the sheet's true thickness are measured.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import fsum, hypot

import shapely

from anzel.geometry.placement import Placement, Vector, add_scaled, dot
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.layout.layout import PlacedPiece
from anzel.materials.fits import crossing_terms, tab_terms
from anzel.simulation.opening_measurement import width_at
from anzel.simulation.simulated_cutter import ProducedPiece
from anzel.structure.joints.cutting_shapes import along
from anzel.structure.model import Facet, Feature, FeatureKind, Joint, Piece, SolvedStructure

_FAR = 1000.0
_PLACES = (0.0, 0.2, -0.2, 0.38, -0.38)
"""Where an opening is measured, of its depth from its middle, in this order."""


@dataclass(frozen=True)
class MeasuredFit:
    """One opening of a joint with what went into it, as produced, mm."""

    joint: str
    piece: str
    what: str
    opening: float
    inserted: float

    @property
    def clearance(self) -> float:
        """The opening less what went in, mm."""
        return self.opening - self.inserted


@dataclass(frozen=True)
class LocatedPiece:
    """A produced piece with the transform from its own coordinates to those of its sheet."""

    produced: ProducedPiece
    transform: RigidTransform

    def place(self, feature: Feature) -> Point:
        """Return where a feature of the piece lies on the sheet."""
        return self.transform(feature.at)

    def thickness(self, feature: Feature) -> float:
        """Return the true thickness of the sheet at a feature, mm."""
        return self.produced.sheet.thickness_at(*self.place(feature))

    def opening(self, feature: Feature, direction: Point) -> float | None:
        """Return how wide the piece is open at a feature, along a direction of its own.

        It is measured in the middle or, where that has a wall at one side only, nearer to an end.
        None where the opening has no two walls at all, as the last gap of a finger row that ends at
        a corner.
        """
        for share in _PLACES:
            at = along(feature.at, feature.along, share * feature.depth.drawn)
            width = width_at(self.produced.shape, self.transform(at), self._turned(direction))
            if width < _FAR / 2:
                return width
        return None

    def body(self, place: Point, direction: Point) -> float:
        """Return the width of the piece itself at a place (of a tab) along a direction."""
        at, turned = self.transform(place), self._turned(direction)
        ray = shapely.LineString([along(at, turned, -_FAR), along(at, turned, _FAR)])
        parts = shapely.get_parts(ray.intersection(self.produced.shape))
        here = shapely.Point(at)
        return float(min(parts, key=lambda part: part.distance(here)).length)

    def _turned(self, direction: Point) -> Point:
        (x0, y0), (x1, y1) = self.transform((0.0, 0.0)), self.transform(direction)
        return (x1 - x0, y1 - y0)


def located_pieces(
    produced: Sequence[ProducedPiece], laid: Sequence[PlacedPiece]
) -> dict[str, LocatedPiece]:
    """Return each produced piece with where it was placed, by name.

    Sheets side by side in one file are told apart by the distance between the middle of the piece
    and its place on its own sheet.
    """
    found = {}
    for each in laid:
        piece = next((p for p in produced if p.name == each.piece.name), None)
        if piece is not None:
            own, there = each.region.bounds, piece.drawn.region.bounds
            dx, dy = ((there[i] + there[i + 2] - own[i] - own[i + 2]) / 2 for i in (0, 1))
            moved = each.transform.translated(dx, dy)
            found[piece.name] = LocatedPiece(piece, moved)
    return found


def assemble(
    solved: SolvedStructure, pieces: Mapping[str, LocatedPiece]
) -> tuple[MeasuredFit, ...]:
    """Return every opening of every joint with what goes in, measured on produced pieces."""
    return tuple(
        met
        for joint in solved.joints
        for feature in joint.features
        if feature.inserted is not None and {feature.piece, feature.mate} <= pieces.keys()
        for met in _opening(joint, feature, solved, pieces)
    )


def _placement_of(piece: Piece, at: Point) -> Placement:
    """Return how a piece stands at a place of it; a bent one as its facet there does."""
    place = shapely.Point(at)
    facets = sorted(piece.bent, key=lambda facet: facet.region.shape.distance(place))
    return facets[0].placement if facets else piece.placement


def _placement_near(piece: Piece, in_world: Vector) -> Placement:
    """Return how a piece stands near a place in space; a bent one as its nearest facet does."""

    def away(facet: Facet) -> float:
        flat = shapely.Point(facet.placement.to_plate(in_world))
        off = dot(add_scaled(in_world, facet.placement.origin, -1.0), facet.placement.normal)
        return hypot(float(facet.region.shape.distance(flat)), off)

    return min(piece.bent, key=away).placement if piece.bent else piece.placement


def _opening(
    joint: Joint, feature: Feature, solved: SolvedStructure, pieces: Mapping[str, LocatedPiece]
) -> list[MeasuredFit]:
    """Return what goes into one opening, across it and (a tab in its mortise) along it."""
    own, mate = pieces[feature.piece], pieces[feature.mate]
    here = _placement_of(solved.piece(feature.piece), feature.at)
    in_world = here.to_world(feature.at)
    there = _placement_near(solved.piece(feature.mate), in_world)
    at = there.to_plate(in_world)
    across = _square(feature.along)
    if feature.kind in (FeatureKind.SLOT, FeatureKind.MORTISE):
        thickness = mate.produced.sheet.thickness_at(*mate.transform(at))
        inserted = _taken(joint, feature, thickness, own.thickness(feature))
    else:
        inserted = mate.body(at, _direction(here, there, across))
    name, found = f"{feature.kind.value} width", []
    width = own.opening(feature, across)
    if width is not None:
        found.append(MeasuredFit(joint.id, feature.piece, name, width, inserted))
    if feature.inserted_along is not None:
        length = own.opening(feature, feature.along)
        tab = mate.body(at, _direction(here, there, feature.along))
        if length is not None:
            found.append(MeasuredFit(joint.id, feature.piece, "mortise length", length, tab))
    return found


def _taken(joint: Joint, feature: Feature, mate_thickness: float, own_thickness: float) -> float:
    """Return what goes into an opening across it: a sheet that crosses, or a tab, mm."""
    is_tab_of = (FeatureKind.TAB, feature.mate)
    tab = next((f for f in joint.features if (f.kind, f.piece) == is_tab_of), None)
    if feature.kind is FeatureKind.MORTISE and tab is not None:
        terms = tab_terms(mate_thickness, own_thickness, tab.depth.drawn, joint.angle)
    else:
        terms = crossing_terms(mate_thickness, own_thickness, joint.angle)
    return fsum(term.value for term in terms)


def _direction(here: Placement, there: Placement, direction: Point) -> Point:
    """Return a direction of one plate as seen in another."""
    (x0, y0, z0), (x1, y1, z1) = here.to_world((0.0, 0.0)), here.to_world(direction)
    return there.direction_to_plate((x1 - x0, y1 - y0, z1 - z0))


def _square(direction: Point) -> Point:
    return (-direction[1], direction[0])
