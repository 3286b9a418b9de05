"""Easel: two cheeks hold a ledge and a brace; what stands on it leans back.

Seen from the side a cheek has a foot along the table, a front that leans back and a back edge. The
ledge runs square to the front, low down, and laps both cheeks; the brace stands near the back and
laps them from below. The centre of mass of easel and load must lie over the feet.
"""

from math import cos, radians, sin, tan
from typing import ClassVar, Literal

from pydantic import Field

from anzel.core.findings import Finding, Severity
from anzel.core.number_format import format_measure, plain_measure
from anzel.geometry.placement import NORTH, UP, Placement
from anzel.geometry.rigid_transform import Point
from anzel.structure.dimension import Dimension
from anzel.structure.forms.common_outlines import board, polygon_of
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.model import FitContext, JointSpec, Plate, SolvedStructure

_EDGE = 14.0
_SAFE = 5.0
"""How far inside the feet the centre of mass shall be, mm: common practice, no source."""
_LOAD_DENSITY, _SHEET_DENSITY = 0.9e-3, 0.65e-3
"""g/mm³ of a book or tablet, and of ply: common practice, no source."""


class Easel(Form):
    """The maker's decisions about an easel, mm. x runs to the back, y along the ledge."""

    angles: ClassVar[frozenset[str]] = frozenset({"lean"})
    held: ClassVar[frozenset[str]] = frozenset({"load_thickness", "load_height", "ledge_lip"})

    form: Literal["easel"] = "easel"
    cheek_stock: str = "ply-6"
    cross_stock: str = "ply-6"
    width: float = Field(default=160, gt=0, description="Between the cheeks")
    height: float = Field(default=170, gt=0, description="Top of the cheeks")
    foot: float = Field(default=150, gt=0, description="Length of the cheeks along the table")
    lean: float = Field(default=20, ge=5, le=45, description="Of the front, degrees from upright")
    load_thickness: float = Field(default=22, gt=0, description="Of the book, plate or tablet")
    load_height: float = Field(default=230, gt=0, description="Of what stands on it")
    ledge_lip: float = Field(default=8, ge=0, description="Ledge beyond the load")
    ledge_height: float = Field(default=34, gt=0, description="Along the front, from the table")
    overhang: float = Field(default=20, ge=5, description="Ledge and brace beyond the cheeks")
    brace_height: float = Field(default=60, gt=0, description="Of the brace")

    def stock_roles(self) -> dict[str, str]:
        """Return which stock cheeks and crosspieces are cut from."""
        return {"cheek_stock": self.cheek_stock, "cross_stock": self.cross_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        back = self.foot - self.height * tan(radians(self.lean))
        return {
            "height": (90, 600),
            "foot": (self.height * tan(radians(self.lean)) + 60, 800),
            "width": (40, 800),
            "ledge_height": (25, self.height * 0.4),
            "brace_height": (25, min(self.height * 0.6, max(back * 2, 26))),
        }

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Cheeks upright along x; ledge square to the front; brace upright across."""
        cheek = polygon_of(self._cheek())
        half, over = self.width / 2, self.width / 2 + self.overhang
        plates = [
            Plate(name, self.cheek_stock, cheek, Placement((0.0, y, 0.0), (1.0, 0.0, 0.0), UP))
            for name, y in (("Cheek left", half), ("Cheek right", -half))
        ]
        lean = radians(self.lean)
        out = (-cos(lean), 0.0, sin(lean))
        reach = self.load_thickness + self.ledge_lip
        foot = self._on_front(self.ledge_height)
        deep = 0.5 * self.foot
        ledge = board(-over, -deep * 0.5, over, reach)
        at = Placement((foot[0], 0.0, foot[1]), NORTH, out)
        plates.append(Plate("Ledge", self.cross_stock, ledge, at))
        x = self.foot - 2.2 * _EDGE
        brace = board(-over, 0.0, over, self.brace_height)
        plates.append(Plate("Brace", self.cross_stock, brace, Placement((x, 0.0, 0.0), NORTH, UP)))
        laps: list[JointSpec] = []
        for number, name in enumerate(("Cheek left", "Cheek right"), start=1):
            laps.append(CrossLap(f"L{number}", name, "Ledge", up=out))
            laps.append(CrossLap(f"B{number}", name, "Brace"))
        return tuple(plates), tuple(laps)

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return no fields: all sizes shape the whole."""
        return ()

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Foot and height, on a cheek."""
        return (
            Dimension("foot", "Cheek left", (0, 0), (self.foot, 0), -12),
            Dimension("height", "Cheek left", (self.foot, 0), (self.foot, self.height), -14),
        )

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return a finding where it does not stay upright with its load."""
        over = self.centre_of_mass(solved)
        if _SAFE <= over <= self.foot - _SAFE:
            return ()
        side = "forwards" if over < _SAFE else "backwards"
        return (
            Finding(
                "tips-over", Severity.PROBLEM, "Easel",
                f"with its load it tips {side}: the centre of mass is "
                f"{format_measure(over, 0)} from the front of its feet, "
                f"which are {plain_measure(self.foot)} long.",
                "Lean it less, or make the feet longer.",
            ),
        )  # fmt: skip

    def centre_of_mass(self, solved: SolvedStructure) -> float:
        """Return how far the centre of mass of easel and load is behind the feet's front, mm."""
        masses, moments = [], []
        for piece in solved.pieces:
            middle = piece.region.shape.centroid
            x = piece.placement.to_world((middle.x, middle.y))[0]
            mass = piece.region.area * piece.thickness * _SHEET_DENSITY
            masses.append(mass)
            moments.append(mass * x)
        lean = radians(self.lean)
        base = self._on_front(self.ledge_height)
        middle_x = base[0] + sin(lean) * self.load_height / 2 - cos(lean) * self.load_thickness / 2
        load = self.width * self.load_height * self.load_thickness * _LOAD_DENSITY
        return (sum(moments) + load * middle_x) / (sum(masses) + load)

    def _on_front(self, height: float) -> Point:
        """Return a point of the leaning front, (x, z)."""
        return (_EDGE + height * tan(radians(self.lean)), height)

    def _cheek(self) -> list[Point]:
        """Return the outline from the side: foot, back edge, top, leaning front."""
        top = _EDGE + self.height * tan(radians(self.lean))
        return [
            (0.0, 0.0), (self.foot, 0.0), (self.foot, _EDGE), (top + 2 * _EDGE, self.height),
            (top, self.height), (_EDGE + _EDGE * tan(radians(self.lean)), _EDGE), (0.0, _EDGE),
        ]  # fmt: skip
