"""Crossed stand: two uprights crossing at a right angle under a round top.

Seen from the side an upright has two feet with an arch between them and hollow flanks up to its top
edge, where tabs go through the top plate. The uprights cross on the z axis.
"""

from functools import lru_cache
from math import hypot, sqrt
from typing import ClassVar, Literal

from pydantic import Field

from anzel.core.tolerances import SMALLEST
from anzel.geometry.placement import EAST, NORTH, UP, Placement, Vector
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment
from anzel.structure.dimension import Dimension
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.three_lap import ThreeLap
from anzel.structure.model import FitContext, JointSpec, Plate

UPRIGHTS = ("Upright A", "Upright B", "Upright C")
TOP = "Top"

_SEAT = 0.7
"""Length of an upright's top edge over the top's diameter."""
_TOE_RADIUS, _TOE_HEIGHT, _LIP_HEIGHT = 4.0, 9.0, 4.0
_ROUND: dict[int, tuple[Vector, ...]] = {
    2: (EAST, NORTH),
    3: (EAST, (0.5, sqrt(3) / 2, 0.0), (-0.5, sqrt(3) / 2, 0.0)),
}
"""Which way each upright runs."""


class CrossedStand(Form):
    """The maker's decisions about a crossed stand, mm."""

    shares: ClassVar[frozenset[str]] = frozenset({"split"})
    held: ClassVar[frozenset[str]] = frozenset({"relief"})

    form: Literal["crossed-stand"] = "crossed-stand"
    upright_stock: str = "ply-3"
    top_stock: str = "ply-6"
    uprights: int = Field(default=2, ge=2, le=3, description="Crossing one another, evenly round")
    height: float = Field(default=110, gt=0, description="Table to the upper face of the top")
    foot_span: float = Field(default=150, gt=0, description="Outside to outside of the feet")
    top_diameter: float = Field(default=120, gt=0, description="The round plate on top")
    arch: float = Field(default=34, ge=0, description="Rise of the arch between the feet")
    tab_width: float = Field(default=14, gt=0, description="Width of each tab, as it comes out")
    tab_count: int = Field(
        default=2, ge=2, le=8, multiple_of=2, description="Tabs per upright, in pairs"
    )
    split: float = Field(
        default=0.5, ge=0.2, le=0.8, description="Share of the crossing cut from Upright A"
    )
    relief: float = Field(default=0.2, ge=0, le=5, description="Extra depth of each crossing slot")

    def stock_roles(self) -> dict[str, str]:
        """Return which stock the uprights and the top are cut from."""
        return {"upright_stock": self.upright_stock, "top_stock": self.top_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        thickness = fit_context.of(self.upright_stock).measured_thickness
        shoulder, seat = self._shoulder(fit_context), self.top_diameter * _SEAT
        cell = seat / self.tab_count
        low = self.height - shoulder + 40
        return {
            "height": (low, 800),
            "top_diameter": (40, 800),
            "foot_span": (max(40.0, seat / 2), seat + 4 * (shoulder - _TOE_HEIGHT)),
            "arch": (0, min(self._arch_half(), shoulder - 20)),
            "tab_width": (2.0, cell - 3 * thickness),
        }

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return two uprights on the table, the top resting on their shoulders."""
        shoulder, seat = self._shoulder(fit_context), self.top_diameter * _SEAT
        side = _upright(shoulder, seat, self.foot_span, self._arch_half(), self.arch)
        origin = (0.0, 0.0, 0.0)
        names = UPRIGHTS[: self.uprights]
        half_top = fit_context.of(self.top_stock).measured_thickness / 2
        on_top = (0.0, 0.0, self.height - half_top)
        plates = [
            Plate(name, self.upright_stock, side, Placement(origin, along, UP))
            for name, along in zip(names, _ROUND[self.uprights], strict=True)
        ]
        top = Plate(TOP, self.top_stock, _disc(self.top_diameter), Placement(on_top, EAST, NORTH))
        tabs = self._tabs(seat)
        seats = [TabMortise(f"J{n}", name, TOP, tabs) for n, name in enumerate(names, start=2)]
        crossing: JointSpec = CrossLap("J1", names[0], names[1], self.split, self.relief)
        if self.uprights == 3:
            crossing = ThreeLap("J1", *UPRIGHTS, self.relief)
        return (*plates, top), (crossing, *seats)

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Split and relief belong to the crossing, the tabs to the seat."""
        return ("split", "relief") if joint_id == "J1" else ("tab_width", "tab_count")

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Height and span on the first upright, the diameter on the top."""
        half, shoulder = self.foot_span / 2, self._shoulder(fit_context)
        radius = self.top_diameter / 2
        return (
            Dimension("height", UPRIGHTS[0], (-half, 0), (-half, self.height), 12),
            Dimension("foot_span", UPRIGHTS[0], (-half, 0), (half, 0), -12),
            Dimension("arch", UPRIGHTS[1], (0, 0), (0, min(self.arch, shoulder)), 0),
            Dimension("top_diameter", TOP, (-radius, -radius), (radius, -radius), -12),
        )

    def _shoulder(self, fit_context: FitContext) -> float:
        return self.height - fit_context.of(self.top_stock).measured_thickness

    def _arch_half(self) -> float:
        foot = min(max(0.14 * self.foot_span, 12.0), 30.0) + _TOE_RADIUS
        return max(self.foot_span / 2 - foot, 1.0)

    def _tabs(self, seat: float) -> tuple[tuple[float, float], ...]:
        """Return each tab in the middle of its share of the edge, so none sits on the crossing."""
        cell = seat / self.tab_count
        return tuple(
            ((index + 0.5) * cell - seat / 2, self.tab_width) for index in range(self.tab_count)
        )


@lru_cache(maxsize=64)
def _disc(diameter: float) -> Region:
    return Region.of(Contour.circle((0.0, 0.0), diameter / 2))


@lru_cache(maxsize=64)
def _upright(shoulder: float, seat: float, span: float, arch_half: float, arch: float) -> Region:
    """Return the outline of an upright up to its shoulder, symmetrical about x = 0."""
    foot, edge = span / 2, seat / 2
    toe, flank = foot - _TOE_RADIUS, shoulder - _LIP_HEIGHT
    right: list[Segment] = [
        Line((arch_half, 0.0), (toe, 0.0)),
        Arc((toe, 0.0), (foot, _TOE_RADIUS), (toe, _TOE_RADIUS)),
        Line((foot, _TOE_RADIUS), (foot, _TOE_HEIGHT)),
        _hollow((foot, _TOE_HEIGHT), (edge, flank), min(foot, edge)),
        Line((edge, flank), (edge, shoulder)),
    ]
    left = [_mirrored(segment) for segment in reversed(right)]
    start, end = (-arch_half, 0.0), (arch_half, 0.0)
    under: Segment = _bow(start, end, arch) if arch > SMALLEST else Line(start, end)
    top = Line((edge, shoulder), (-edge, shoulder))
    return Region.of(Contour((*right, top, *left, under)))


def _hollow(start: Point, end: Point, room: float) -> Arc:
    """Return a flank: an arc bowing inwards, never past half the room there is."""
    chord = hypot(end[0] - start[0], end[1] - start[1])
    return _bow(start, end, min(0.14 * chord, 0.45 * room))


def _bow(start: Point, end: Point, rise: float) -> Arc:
    """Return a clockwise arc that rises `rise` to the left of its chord."""
    chord = hypot(end[0] - start[0], end[1] - start[1])
    radius = (chord**2 / 4 + rise**2) / (2 * rise)
    ux, uy = (end[0] - start[0]) / chord, (end[1] - start[1]) / chord
    away = radius - rise
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    return Arc(start, end, (middle[0] + uy * away, middle[1] - ux * away), clockwise=True)


def _mirrored(segment: Segment) -> Segment:
    """Return a segment mirrored in x = 0 and run the other way, so that turning stays the same."""
    start, end = _flip(segment.end), _flip(segment.start)
    if isinstance(segment, Arc):
        return Arc(start, end, _flip(segment.centre), segment.clockwise)
    return Line(start, end)


def _flip(point: Point) -> Point:
    return (-point[0], point[1])
