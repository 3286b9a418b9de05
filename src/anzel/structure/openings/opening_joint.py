"""Openings solved: the shapes they cut, and for fitting ones their features and joint.

A slot or mortise is drawn t + c - k wide, t being the measured thickness of the sheet it takes; a
mortise is as long as the tab that goes through, + c - k; a tab is drawn a kerf wider than it comes
out and as high as the sheet it goes through is thick (handbook of the trade, 2).
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import cos, pi, radians, sin

import shapely

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.core.tolerances import JUST_INSIDE, ROUNDING
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line
from anzel.materials.fits import FitRule, Size, Term
from anzel.structure.joints.cutting_shapes import along, need_width, strip
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    Joint,
    OutlineChange,
    Plate,
    Solved,
)
from anzel.structure.openings.edge_frame import EdgeFrame, Edges, OpeningPlace, frame_of, places_of
from anzel.structure.openings.plate_opening import OpeningKind, PlateOpening

_LEAST_HEIGHT = 0.1
"""A tab that is lower holds nothing, mm."""
_LEAST_AREA = 0.01
_STRAIGHT = 0.02
"""An edge under a tab that is less straight than this, mm, is not straight."""
Made = tuple[list[Contour], list[Contour], list[Feature]]
"""What is added, what is cut, and the features."""


@dataclass(frozen=True)
class OpeningJoint:
    """An opening on one plate; one that fits a sheet makes a joint of a single piece."""

    opening: PlateOpening
    plate: str
    edges: tuple[tuple[str, tuple[Point, Point]], ...] = ()

    @property
    def id(self) -> str:
        """The joint's id, which a plain opening has for its findings only."""
        return self.opening.joint_id(self.plate)

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint of a fitting opening, and what is cut and added.

        Raises
        ------
        ParameterError
            Where its edge is gone, or it does not lie on the plate.
        """
        plate = plates.get(self.plate)
        if plate is None:
            raise ParameterError(
                f"There is no plate “{self.plate}” any more.",
                hint="Take the opening out, or bring the plate back.", field="plate",
            )  # fmt: skip
        frame = frame_of(plate.region, self.opening.edge, self._edges, plate.name)
        make = _Making(self, plate, frame, fit_context)
        add, cut, features = make.all()
        change = (OutlineChange(plate.name, add=tuple(add), cut=tuple(cut)),)
        return (self._joint(plate, features) if features else None), change

    @property
    def _edges(self) -> Edges:
        return dict(self.edges)

    def _joint(self, plate: Plate, features: list[Feature]) -> Joint:
        at, direction = features[0].at, features[0].along
        axis = tuple(
            direction[0] * x + direction[1] * y
            for x, y in zip(plate.placement.x_axis, plate.placement.y_axis, strict=True)
        )
        title = f"{plate.name}: {self.opening.title}"
        return Joint(
            self.id, title, (plate.name,), pi / 2, plate.placement.to_world(at),
            (axis[0], axis[1], axis[2]), tuple(features), self.opening.fit,
        )  # fmt: skip


@dataclass(frozen=True)
class _Making:
    """One opening on its plate, with what it needs."""

    joint: OpeningJoint
    plate: Plate
    frame: EdgeFrame
    fit_context: FitContext

    @property
    def _opening(self) -> PlateOpening:
        return self.joint.opening

    @property
    def _rule(self) -> FitRule:
        return self.fit_context.rule(self.plate.stock_id, self._opening.fit)

    @property
    def _sheet(self) -> Term:
        return Term("mating sheet", self.fit_context.of(self._opening.sheet).measured_thickness)

    def all(self) -> Made:
        """Return all of a row, grid or ring."""
        add: list[Contour] = []
        cut: list[Contour] = []
        features: list[Feature] = []
        for place in places_of(self._opening, self.frame):
            more, less, found = self._one(place)
            add, cut, features = [*add, *more], [*cut, *less], [*features, *found]
        return add, cut, features

    def _one(self, place: OpeningPlace) -> Made:
        opening, station = self._opening, place.along
        match opening.kind:
            case OpeningKind.TAB:
                return self._tab(station)
            case OpeningKind.SLOT:
                return self._slot(station)
            case OpeningKind.NOTCH:
                return [], [self._from_edge(station, opening.width, opening.depth)[0]], []
        middle, turned = self.frame.at(station, place.inward), self._turned(place.turn)
        if opening.kind in (OpeningKind.MORTISE, OpeningKind.PLUS):
            ways = [turned]
            if opening.kind is OpeningKind.PLUS:
                ways.append((-turned[1], turned[0]))
            made = [self._mortise(middle, way) for way in ways]
            cut = [contour for contour, _ in made]
            self._need_inside(cut, self.plate.region.shape)
            return [], cut, [feature for _, feature in made]
        cut = [_plain(opening, middle, turned)]
        self._need_inside(cut, self.plate.region.outer.polygon_shape)
        if shapely.intersection(cut[0].polygon_shape, self.plate.region.shape).area < _LEAST_AREA:
            raise ParameterError(
                f"The {opening.kind.value} lies where {self.plate.name} is open already.",
                hint="Move it onto the plate.", field="along",
            )  # fmt: skip
        return [], cut, []

    def _turned(self, turn: float) -> Point:
        """Return the direction of an opening's width."""
        angle = radians(turn)
        (dx, dy), (nx, ny) = self.frame.direction, self.frame.inward
        return (dx * cos(angle) + nx * sin(angle), dy * cos(angle) + ny * sin(angle))

    def _need_inside(self, contours: list[Contour], shape: shapely.Polygon) -> None:
        if not all(shapely.contains_properly(shape, each.polygon_shape) for each in contours):
            raise ParameterError(
                f"The {self._opening.kind.value} does not lie inside {self.plate.name}.",
                hint="Move it, make it smaller, or make the plate larger.", field="along",
            )  # fmt: skip

    def _mouth(self, station: float) -> tuple[float, float]:
        """Return how far inwards the plate begins and first ends at a station, mm."""
        spans = self.plate.region.spans(self.frame.at(station), self.frame.inward)
        inside = [span for span in spans if span[1] > ROUNDING]
        if not inside:
            raise ParameterError(
                f"{self.plate.name} does not reach so far along its edge.",
                hint=f"The edge is {plain_measure(self.frame.length)} long.", field="along",
            )  # fmt: skip
        return inside[0]

    def _from_edge(self, station: float, width: float, depth: float) -> tuple[Contour, float]:
        """Return a strip that deep into the plate from its edge, and where the edge is."""
        beside = [self._mouth(station + side * width / 2) for side in (-0.999, 0.0, 0.999)]
        mouth, end = beside[1]
        if mouth + depth > end - ROUNDING:
            raise ParameterError(
                f"The {self._opening.kind.value} goes right through {self.plate.name}.",
                hint=f"Less than {plain_measure(end - mouth)} deep will do.", field="depth",
            )  # fmt: skip
        outside = min(start for start, _ in beside) - 0.5
        tool = strip(self.frame.at(station), self.frame.inward, outside, mouth + depth, width)
        return tool, mouth

    def _slot(self, station: float) -> Made:
        width = need_width(self._rule.opening(self._sheet), self.plate, self._rule)
        depth = self._rule.step(Term("depth", self._opening.depth))
        tool, mouth = self._from_edge(station, width.drawn, depth.drawn)
        out = (-self.frame.inward[0], -self.frame.inward[1])
        at = self.frame.at(station, mouth + depth.drawn / 2)
        return [], [tool], [self._feature(FeatureKind.SLOT, width, depth, at, out)]

    def _mortise(self, middle: Point, way: Point) -> tuple[Contour, Feature]:
        rule = self._rule
        width = need_width(rule.opening(self._sheet), self.plate, rule)
        length = need_width(rule.opening(Term("tab", self._opening.width)), self.plate, rule)
        tool = strip(middle, way, -length.drawn / 2, length.drawn / 2, width.drawn)
        tab = self._opening.width
        going = Size((Term("tab", tab),), tab, tab)
        return tool, self._feature(FeatureKind.MORTISE, width, length, middle, way, going)

    def _tab(self, station: float) -> Made:
        opening, rule = self._opening, self._rule
        width = rule.outside(Term("tab", opening.width))
        proud = [Term("proud", opening.proud)] if opening.proud else []
        height = rule.step(self._sheet, *proud)
        if height.drawn < _LEAST_HEIGHT:
            raise ParameterError(
                f"The tab of {self.plate.name} would be no higher than its shoulder.",
                hint="Let it stand out more.", field="proud",
            )  # fmt: skip
        edge = [self._mouth(station + side * width.drawn / 2)[0] for side in (-0.999, 0, 0.999)]
        if max(edge) - min(edge) > _STRAIGHT:
            raise ParameterError(
                f"The edge of {self.plate.name} is not straight where the tab stands.",
                hint="Move the tab, or make it narrower.", field="along",
            )  # fmt: skip
        foot, out = self.frame.at(station, edge[1]), tuple(-n for n in self.frame.inward)
        tool = strip(foot, (out[0], out[1]), -JUST_INSIDE, height.drawn, width.drawn)
        at = self.frame.at(station, edge[1] - height.drawn / 2)
        return [tool], [], [self._feature(FeatureKind.TAB, width, height, at, (out[0], out[1]))]

    def _feature(
        self, kind: FeatureKind, width: Size, depth: Size, at: Point, way: Point,
        going: Size | None = None,
    ) -> Feature:  # fmt: skip
        sheet = self._sheet
        inserted = Size((sheet,), sheet.value, sheet.value) if kind is not FeatureKind.TAB else None
        return Feature(
            kind, self.plate.name, "", self.joint.id, width, depth, at, way, inserted, going,
            self._opening.sheet,
        )  # fmt: skip


def _plain(opening: PlateOpening, middle: Point, way: Point) -> Contour:
    """Return the outline of an opening of typed sizes."""
    width, depth = opening.width, opening.depth
    match opening.kind:
        case OpeningKind.DISC:
            return Contour.circle(middle, width / 2)
        case OpeningKind.POLYGON:
            radius = width / (2 * sin(pi / opening.corners))
            turns = [2 * pi * at / opening.corners + pi / 2 for at in range(opening.corners)]
            return Contour.polygon(
                [along(middle, way, radius * cos(t), radius * sin(t)) for t in turns]
            )
        case OpeningKind.ROUND_ENDED:
            return _round_ended(middle, way, width, depth)
    return strip(middle, way, -width / 2, width / 2, depth)


def _round_ended(middle: Point, way: Point, width: float, depth: float) -> Contour:
    if depth > width + ROUNDING:
        return _round_ended(middle, (-way[1], way[0]), depth, width)
    radius, half = depth / 2, (width - depth) / 2
    if half < ROUNDING:
        return Contour.circle(middle, radius)
    a, b, c, d = (along(middle, way, x, y) for x, y in
                  ((-half, -radius), (half, -radius), (half, radius), (-half, radius)))  # fmt: skip
    return Contour((
        Line(a, b), Arc(b, c, along(middle, way, half)),
        Line(c, d), Arc(d, a, along(middle, way, -half)),
    ))  # fmt: skip
