"""Sliceform: a body told by two families of upright slices that lap one another.

The first family's planes face `direction`, the second's are turned by `angle` from it. Where two
slices cross, the first is slotted from above, the second from below, half each. Slices
too small to be cut or to hold are left out.
"""

from functools import lru_cache
from math import cos, pi, radians, sin
from typing import ClassVar, Literal

from pydantic import Field

from anzel.findings import ParameterError
from anzel.geometry.outlines import Region
from anzel.structure.forms import bodies
from anzel.structure.forms.base import Dimension, Form, Range, need_pitch
from anzel.structure.forms.parts import standing
from anzel.structure.joints.clearing import Clearing, grazed
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.spans import common_spans, spans_of
from anzel.structure.meeting import Meeting, meet
from anzel.structure.plates import Declaration, Plate, Sheets

_SHORTEST_LAP = 0.05
"""Where slices cross by less than this, mm, they only touch."""


class Sliceform(Form):
    """The maker's decisions about a sliceform, mm."""

    angles: ClassVar[frozenset[str]] = frozenset({"direction", "angle"})
    held: ClassVar[frozenset[str]] = frozenset({"relief"})

    form: Literal["sliceform"] = "sliceform"
    slice_stock: str = "ply-3"
    body: Literal["sphere", "ellipsoid", "cone", "torus", "egg", "box"] = Field(
        default="egg", description="What is sliced"
    )
    width: float = Field(default=140, gt=0, description="East to west; a round body's diameter")
    depth: float = Field(default=110, gt=0, description="North to south; ellipsoid and box only")
    height: float = Field(default=160, gt=0, description="Up; a torus: twice its tube")
    first: int = Field(default=7, ge=1, le=60, description="Slices of the first family")
    second: int = Field(default=7, ge=1, le=60, description="Slices of the second family")
    direction: float = Field(default=0, ge=0, le=180, description="The first family faces, degrees")
    angle: float = Field(default=90, ge=20, le=160, description="Between the families, degrees")
    pitch: float = Field(default=0, ge=0, description="Between slices; 0 spreads them evenly")
    smallest: float = Field(default=12, ge=1, description="Slices smaller than this are left out")
    relief: float = Field(default=0.1, ge=0, le=5, description="Extra depth of every slot")

    def stock_roles(self) -> dict[str, str]:
        """Which stock the slices are cut from."""
        return {"slice_stock": self.slice_stock}

    def ranges(self, sheets: Sheets) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        thick = sheets.of(self.slice_stock).measured_thickness
        most = max(1.0, min(self.width, self._depth) / (2.2 * thick / sin(radians(self.angle))))
        tallest = 0.9 * self.width if self.body == "torus" else 1000
        return {
            "width": (30, 1000), "depth": (30, 1000),
            "height": (15, tallest / 2 if self.body == "torus" else tallest),
            "first": (1, most), "second": (1, most),
            "pitch": (0, self.width),
            "smallest": (1, self.height / 2),
        }  # fmt: skip

    def place(self, sheets: Sheets) -> tuple[tuple[Plate, ...], tuple[Declaration, ...]]:
        """Both families, and a lap wherever one of each crosses enough."""
        need_pitch(self.pitch, 2.2 * sheets.of(self.slice_stock).measured_thickness)
        one = radians(self.direction)
        other = one + radians(self.angle)
        first, second = self._family("A", one, self.first), self._family("B", other, self.second)
        if not first or not second:
            raise ParameterError(
                "No slice of this size is left.", mend="Make the body larger, or `smallest` less.",
                field="smallest",
            )  # fmt: skip
        laps, grazing = [], []
        for a in first:
            for b in second:
                meeting = meet(a, b)
                if _lap_length(a, b, meeting) >= _SHORTEST_LAP:
                    name = f"{a.name}×{b.name}"
                    laps.append(CrossLap(name, a.name, b.name, 0.5, self.relief))
                elif grazed(b, a, meeting, sheets):
                    grazing.append(Clearing(b.name, a.name))
        held = {name for lap in laps for name in (lap.from_above, lap.from_below)}
        plates = tuple(plate for plate in (*first, *second) if plate.name in held)
        trims = (c for c in grazing if {c.trimmed, c.passing} <= held)
        return plates, (*laps, *trims)

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Every crossing shares the relief."""
        return ("relief",)

    def dimensions(self, sheets: Sheets) -> tuple[Dimension, ...]:
        """None: every slice differs."""
        return ()

    @property
    def _depth(self) -> float:
        return self.depth if self.body in ("ellipsoid", "box") else self.width

    def _family(self, letter: str, turn: float, count: int) -> list[Plate]:
        reach = self._reach(turn)
        pitch = self.pitch or 2 * reach / (count + 1)
        plates = []
        for number in range(1, count + 1):
            d = (number - (count + 1) / 2) * pitch
            regions = [r for r in self._section(turn, d) if max(r.size) >= self.smallest
                       and min(r.size) >= self.smallest / 3]  # fmt: skip
            for part, region in enumerate(regions):
                name = f"{letter}{number}" + (f".{part + 1}" if len(regions) > 1 else "")
                at = standing(d * cos(turn), d * sin(turn), turn + pi / 2)
                plates.append(Plate(name, self.slice_stock, region, at))
        return plates

    def _reach(self, turn: float) -> float:
        """How far the body reaches along a direction."""
        a, b = self.width / 2, self._depth / 2
        if self.body == "box":
            return a * abs(cos(turn)) + b * abs(sin(turn))
        return float((a * a * cos(turn) ** 2 + b * b * sin(turn) ** 2) ** 0.5)

    def _section(self, turn: float, d: float) -> bodies.Section:
        sizes = (self.width / 2, self._depth / 2, self.height)
        return _section(self.body, *sizes, round(turn, 12), round(d, 9))


@lru_cache(maxsize=512)
def _section(
    body: str, a: float, b: float, height: float, turn: float, d: float
) -> tuple[Region, ...]:
    match body:
        case "sphere":
            return bodies.ellipsoid(a, a, a, turn, d)
        case "ellipsoid":
            return bodies.ellipsoid(a, b, height / 2, turn, d)
        case "cone":
            return bodies.cone(a, height, d)
        case "torus":
            return bodies.torus(a - height / 2, height / 2, d)
        case "egg":
            return bodies.egg(a, height, d)
        case _:
            return bodies.box(a, b, height, turn, d)


def _lap_length(one: Plate, other: Plate, meeting: Meeting) -> float:
    """How much of the line where two upright plates cross is inside both."""
    shared = common_spans(spans_of(one, meeting), spans_of(other, meeting))
    return max((high - low for low, high in shared), default=0.0)
