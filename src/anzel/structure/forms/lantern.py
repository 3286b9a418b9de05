"""Many-sided lantern: walls with windows between a base and a top, diffusers behind them.

Walls may lean inwards. Neighbouring walls interlock by fingers along their common edge; tabs hold
each in base and top, all alike or keyed so that only the right wall fits. A diffuser of a second
stock stands behind every wall, held by a tab of its own at either end. The first wall can be a
door: narrower than the rest, it turns on pins in base and top, and opens outwards.
"""

from dataclasses import dataclass
from math import atan2, cos, hypot, pi, sin, tan
from typing import ClassVar, Literal

from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.tolerances import ROUNDING
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.dimension import Dimension
from anzel.structure.forms.common_outlines import board, lying, polygon_of, regular
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.pin import Pin
from anzel.structure.joints.tab_mortise import TabMortise, shoulder_distance
from anzel.structure.keyed_tabs import keyed_joints
from anzel.structure.model import FitContext, JointSpec, Plate

_LEDGE = 9.0
"""Base and top reach this far beyond the walls, mm."""
_FOOT_WIDTH = 22.0
_MOST_LEAN = 1.2
"""Walls lean inwards or outwards by up to this, as a slope: 50 degrees from upright."""
_DOOR_GAP, _DOOR_AIR = 1.0, 0.4
"""Air between a door and its neighbours, and between it and base and top, mm."""


@dataclass(frozen=True)
class _Lean:
    """The walls' geometry: apothem of their mid-planes at both ends, and how they lean.

    `slope` is the angle from upright; `length` runs along the wall from base to top mid-plane.
    """

    low: float
    high: float
    length: float
    slope: float

    def half_width(self, along: float, sides: int) -> float:
        """Return half of a wall's width at its mid-plane, `along` mm up it."""
        apothem = self.low + (self.high - self.low) * along / self.length
        return apothem * tan(pi / sides)

    def facing(self, turn: float, shift: float = 0.0) -> Placement:
        """Return a wall (or what stands `shift` behind it): x along the side, y up the slope."""
        out: Vector = (cos(turn), sin(turn), 0.0)
        along: Vector = (-sin(turn), cos(turn), 0.0)
        up = (-out[0] * sin(self.slope), -out[1] * sin(self.slope), cos(self.slope))
        normal = (cos(turn) * cos(self.slope), sin(turn) * cos(self.slope), sin(self.slope))
        x, y = out[0] * self.low, out[1] * self.low
        origin = (x - normal[0] * shift, y - normal[1] * shift, -normal[2] * shift)
        return Placement(origin, along, up)


class Lantern(Form):
    """The maker's decisions about a lantern, mm."""

    held: ClassVar[frozenset[str]] = frozenset({"light_opening", "key_step"})

    form: Literal["lantern"] = "lantern"
    wall_stock: str = "ply-3"
    plate_stock: str = "ply-3"
    diffuser_stock: str = "acrylic-3"
    sides: int = Field(default=6, ge=3, le=8, description="How many walls")
    base_width: float = Field(default=130, gt=0, description="Across the base, flat to flat")
    top_width: float = Field(default=90, gt=0, description="Across the top, flat to flat")
    height: float = Field(default=180, gt=0, description="Between base and top")
    frame: float = Field(default=13, gt=0, description="Wall left round a window")
    fingers: int = Field(default=9, ge=3, le=41, description="Fingers and gaps up an edge, odd")
    tab_width: float = Field(default=18, gt=0, description="Of the walls, in base and top")
    light_opening: float = Field(default=40, gt=0, description="Across the hole in the base")
    vent: float = Field(default=30, ge=0, description="Across the hole in the top, 0 for none")
    foot_height: float = Field(default=12, ge=0, description="Of the feet, 0 for none")
    key_step: float = Field(default=0, ge=0, le=4, description="Between walls' tabs; 0: alike")
    diffusers: bool = Field(default=True, description="A diffuser behind every wall")
    door: bool = Field(default=False, description="The first wall opens on a pin hinge")
    play_inside: bool = Field(default=False, description="All play of the tabs on the inner side")

    def stock_roles(self) -> dict[str, str]:
        """Return which stock walls, plates and diffusers are cut from."""
        roles = {"wall_stock": self.wall_stock, "plate_stock": self.plate_stock}
        return {**roles, "diffuser_stock": self.diffuser_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        wall = fit_context.of(self.wall_stock).measured_thickness
        narrow = min(self.base_width, self.top_width) * tan(pi / self.sides)
        reach = 2 * self.height * _MOST_LEAN
        inside = min(self.base_width, self.top_width) - 12 * wall - 8
        return {
            "base_width": (60, 600),
            "top_width": (max(30.0, self.base_width - reach), self.base_width + reach),
            "height": (50, 900),
            "tab_width": self._tab_widths(wall, narrow),
            "frame": (2 * wall, narrow / 2 - 4),
            "light_opening": (5, inside), "vent": (0, inside),
            "fingers": (3, self.height / (2 * wall)),
        }  # fmt: skip

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return the base on its feet, walls round it, the top on them, diffusers inside."""
        lean, lift = self._lean(fit_context), self._lift(fit_context)
        turns = [2 * pi * index / self.sides for index in range(self.sides)]
        wall, plate = self._wall(lean, fit_context), self._raised
        plates = [
            Plate("Base", self.plate_stock, self._plate(lean.low, self.light_opening), lying(lift)),
            Plate("Top", self.plate_stock, self._plate(lean.high, self.vent),
                  lying(lift + self._rise(lean))),
        ]  # fmt: skip
        declared: list[JointSpec] = [*self._held(lean, fit_context)]
        for number, turn in enumerate(turns, start=1):
            shape = self._door(lean, fit_context) if self.door and number == 1 else wall
            at = plate(lean.facing(turn), lift)
            plates.append(Plate(f"Wall {number}", self.wall_stock, shape, at))
            beside = number % self.sides + 1
            if not (self.door and 1 in (number, beside)):
                ends = (f"Wall {number}", f"Wall {beside}")
                declared.append(FingerCorner(f"E{number}", *ends, self.fingers | 1))
        if self.diffusers:
            more = self._diffusers(lean, fit_context, turns, lift)
            plates += more
            for each in more:
                own = each.name.rpartition(" ")[2]
                narrow = ((0.0, self.tab_width * 0.6),)
                declared += [
                    TabMortise(f"DB{own}", each.name, "Base", narrow),
                    TabMortise(f"DT{own}", each.name, "Top", narrow),
                ]
        feet, seats = self._feet(lean, fit_context, lift)
        return (*plates, *feet), (*declared, *seats)

    def _tab_widths(self, wall: float, narrow: float) -> Range:
        """Return one tab in the middle, or two, of which the widest still stands on the edge."""
        if not self.key_step:
            return (4, narrow - 6 * wall)
        key = self.sides * self.key_step
        return (2 + key, narrow - 4 * wall - 2 * _tab_offset(wall, narrow) - key)

    def _held(self, lean: _Lean, fit_context: FitContext) -> list[JointSpec]:
        """Return the walls' tabs in base and top, keyed if wanted; a door's pins."""
        first = 2 if self.door else 1
        play: Literal["both", "lower"] = "lower" if self.play_inside else "both"
        tabs: tuple[tuple[float, float], ...] = ((0.0, self.tab_width),)
        if self.key_step:
            narrow = min(self.base_width, self.top_width) * tan(pi / self.sides)
            offset = _tab_offset(fit_context.of(self.wall_stock).measured_thickness, narrow)
            tabs = ((-offset, self.tab_width), (offset, self.tab_width))
        found: list[JointSpec] = []
        for letter, plate in (("B", "Base"), ("T", "Top")):
            plain = [
                TabMortise(f"{letter}{number}", f"Wall {number}", plate, tabs, play_side=play)
                for number in range(first, self.sides + 1)
            ]
            found += (
                keyed_joints(plain, self.key_step, fit_context.clearance)
                if self.key_step
                else plain
            )
        if self.door:
            at = self._pin_at(lean, fit_context)
            found += [Pin("PB", "Wall 1", "Base", at), Pin("PT", "Wall 1", "Top", at)]
        return found

    def _door_half(self, lean: _Lean, fit_context: FitContext, along: float = 0.0) -> float:
        """Return half the door's width, `along` mm up it.

        It is clear of where its neighbours reach through the corners.
        """
        wall = fit_context.of(self.wall_stock).measured_thickness
        turn = _edge_angle(lean.slope, self.sides)
        beyond = wall * (1 + abs(cos(turn))) / sin(turn) / 2
        return lean.half_width(along, self.sides) - beyond - _DOOR_GAP

    def _pin_at(self, lean: _Lean, fit_context: FitContext) -> float:
        """Return where both pins are, on one line up the door, near its narrower end's edge."""
        wall = fit_context.of(self.wall_stock).measured_thickness
        ends = (self._door_half(lean, fit_context, at) for at in (0.0, lean.length))
        return min(ends) - wall

    def _door(self, lean: _Lean, fit_context: FitContext) -> Region:
        """Return a wall that stays clear of its neighbours, base and top, so that it turns.

        One that leans is shorter by as much as its edges come nearer to base and top.
        """
        wall, plate = (
            fit_context.of(stock).measured_thickness
            for stock in (self.wall_stock, self.plate_stock)
        )
        shoulder = shoulder_distance(pi / 2 - lean.slope, wall, plate)
        pin, slant = self._pin_at(lean, fit_context), abs(sin(lean.slope))
        low, high = shoulder + _DOOR_AIR, lean.length - shoulder - _DOOR_AIR
        if slant > ROUNDING:
            low += (pin + self._door_half(lean, fit_context)) * slant
            high -= (pin + self._door_half(lean, fit_context, lean.length)) * slant
        bottom, top = low + self.frame, high - self.frame
        if top - bottom < self.frame:
            raise ParameterError(
                "A wall that leans so far is no door: to turn it would have to be far shorter.",
                hint="Make base and top more alike, or leave the door out.", field="door",
            )  # fmt: skip

        def quad(from_edge: float, ends: tuple[float, float]) -> list[Point]:
            a, b = (self._door_half(lean, fit_context, at) - from_edge for at in ends)
            return [(-a, ends[0]), (a, ends[0]), (b, ends[1]), (-b, ends[1])]

        opening = Contour.polygon(quad(self.frame, (bottom, top)))
        return polygon_of(quad(0.0, (low, high)), [opening])

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return the fields of one joint: fingers at edges, tabs elsewhere."""
        if joint_id.startswith("E"):
            return ("fingers",)
        return () if joint_id.startswith("P") else ("tab_width",)

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """None: the walls lean, and their sizes follow from the whole."""
        return ()

    def bulb(self, fit_context: FitContext) -> Vector | None:
        """Return the bulb on the axis, standing on the base."""
        return (0.0, 0.0, self._lift(fit_context) + 0.4 * self.height)

    def _lift(self, fit_context: FitContext) -> float:
        """Height of the base's mid-plane."""
        return self.foot_height + fit_context.of(self.plate_stock).measured_thickness / 2

    def _lean(self, fit_context: FitContext) -> _Lean:
        wall, plate = (
            fit_context.of(stock).measured_thickness
            for stock in (self.wall_stock, self.plate_stock)
        )
        low, high = (self.base_width - wall) / 2, (self.top_width - wall) / 2
        rise = self.height + plate
        return _Lean(low, high, hypot(rise, low - high), atan2(low - high, rise))

    def _rise(self, lean: _Lean) -> float:
        return lean.length * cos(lean.slope)

    def _raised(self, placement: Placement, lift: float) -> Placement:
        x, y, z = placement.origin
        return Placement((x, y, z + lift), placement.x_axis, placement.y_axis)

    def _wall(self, lean: _Lean, fit_context: FitContext) -> Region:
        """Return a wall from shoulder to shoulder, wide enough to reach through both edges."""
        wall, plate = (
            fit_context.of(stock).measured_thickness
            for stock in (self.wall_stock, self.plate_stock)
        )
        shoulder = shoulder_distance(pi / 2 - lean.slope, wall, plate)
        low, high = shoulder, lean.length - shoulder
        turn = _edge_angle(lean.slope, self.sides)
        beyond = wall * (1 + abs(cos(turn))) / sin(turn) / 2
        wide, narrow = (lean.half_width(at, self.sides) for at in (low, high))
        steep = (narrow - wide) / (high - low)
        more = beyond * hypot(1, steep)
        a, b = (lean.half_width(at, self.sides) + more for at in (low, high))
        return polygon_of(
            [(-a, low), (a, low), (b, high), (-b, high)], [self._window(lean, low, high)]
        )

    def _window(self, lean: _Lean, low: float, high: float) -> Contour:
        """Return the opening of a wall, `frame` in from its edges."""
        bottom, top = low + self.frame, high - self.frame
        a, b = (lean.half_width(at, self.sides) - self.frame for at in (bottom, top))
        return Contour.polygon([(-a, bottom), (a, bottom), (b, top), (-b, top)])

    def _plate(self, apothem: float, hole: float) -> Region:
        """Return the base or the top: a polygon beyond the walls, with a round hole."""
        holes = [Contour.circle((0.0, 0.0), hole / 2)] if hole > 0 else []
        return polygon_of(regular(self.sides, apothem + _LEDGE), holes)

    def _diffusers(
        self, lean: _Lean, fit_context: FitContext, turns: list[float], lift: float
    ) -> list[Plate]:
        """Return sheets just behind the walls, from shoulder to shoulder, and narrower."""
        wall, plate, own = (
            fit_context.of(stock).measured_thickness
            for stock in (self.wall_stock, self.plate_stock, self.diffuser_stock)
        )
        shift = (wall + own) / 2 + 1.2 * plate  # leaves a web between their mortises
        shoulder = shoulder_distance(pi / 2 - lean.slope, own, plate)
        at = shift * tan(lean.slope)
        low, high = shoulder + at, lean.length - shoulder + at
        inset = (shift + own + wall) * tan(pi / self.sides) + wall
        a, b = (lean.half_width(stop, self.sides) - inset for stop in (low, high))
        shape = polygon_of([(-a, low), (a, low), (b, high), (-b, high)])
        return [
            Plate(f"Diffuser {number}", self.diffuser_stock, shape,
                  self._raised(lean.facing(turn, shift), lift))
            for number, turn in enumerate(turns, start=1)
            if not (self.door and number == 1)
        ]  # fmt: skip

    def _feet(
        self, lean: _Lean, fit_context: FitContext, lift: float
    ) -> tuple[list[Plate], list[JointSpec]]:
        """Return small uprights under the base's corners, a tab of each through it."""
        if self.foot_height <= 0:
            return [], []
        half = fit_context.of(self.plate_stock).measured_thickness / 2
        shape = board(-_FOOT_WIDTH / 2, 0.0, _FOOT_WIDTH / 2, self.foot_height)
        wide = _FOOT_WIDTH / 2
        reach = (lean.low - fit_context.of(self.wall_stock).measured_thickness) * 0.62
        plates: list[Plate] = []
        declared: list[JointSpec] = []
        for number in range(1, self.sides + 1):
            turn = 2 * pi * (number - 0.5) / self.sides
            middle: Point = (reach * cos(turn), reach * sin(turn))
            at = Placement((*middle, lift - half - self.foot_height),
                           (cos(turn), sin(turn), 0.0), (0.0, 0.0, 1.0))  # fmt: skip
            plates.append(Plate(f"Foot {number}", self.wall_stock, shape, at))
            declared.append(TabMortise(f"F{number}", f"Foot {number}", "Base", ((0.0, wide),)))
        return plates, declared


def _tab_offset(wall: float, narrow: float) -> float:
    """Return how far from the middle the two tabs of a keyed wall are."""
    return narrow / 4 - 0.4 * wall


def _edge_angle(slope: float, sides: int) -> float:
    """Return the angle between the normals of neighbouring walls."""
    step = 2 * pi / sides
    cosine = cos(slope) ** 2 * cos(step) + sin(slope) ** 2
    return atan2((1 - cosine**2) ** 0.5, cosine)
