"""Spine lamp: rings hung on a curved spine, at equal steps along its curve.

The spine is an upright plate whose middle runs along an arc; rings lap into its front. Slots are
level, or square to the curve. Several layers of spine stand side by side with pegs through them.
"""

from math import cos, radians, sin
from typing import ClassVar, Literal

from pydantic import Field

from anzel.geometry.curves import Arc, Line
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour, Region
from anzel.geometry.placement import Placement, Vector
from anzel.structure.forms.base import Dimension, Form, Range
from anzel.structure.forms.parts import board, disc
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.passing import Passing
from anzel.structure.plates import Declaration, Plate, Sheets

_PEG_WIDTH = 12.0


class SpineLamp(Form):
    """The maker's decisions about a spine lamp, mm."""

    shares: ClassVar[frozenset[str]] = frozenset({"taper"})
    angles: ClassVar[frozenset[str]] = frozenset({"bend"})

    form: Literal["spine-lamp"] = "spine-lamp"
    spine_stock: str = "ply-6"
    ring_stock: str = "ply-3"
    rings: int = Field(default=12, ge=2, le=80, description="How many rings")
    height: float = Field(default=320, gt=0, description="From the first ring to the last")
    bend: float = Field(
        default=50, ge=0, le=120, description="Of the spine, degrees; 0 is straight"
    )
    spine_width: float = Field(default=46, gt=0, description="Of the spine")
    ring_diameter: float = Field(default=150, gt=0, description="Outside, of the widest ring")
    taper: float = Field(default=0.6, ge=0.2, le=1, description="The last ring, of the widest")
    ring_width: float = Field(default=26, gt=0, description="Of a ring")
    grip: float = Field(default=18, gt=0, description="How deep ring and spine overlap")
    slots: Literal["level", "square"] = Field(default="square", description="How rings stand")
    layers: int = Field(default=1, ge=1, le=3, description="Of the spine, side by side")

    def stock_roles(self) -> dict[str, str]:
        """Which stock spine and rings are cut from."""
        return {"spine_stock": self.spine_stock, "ring_stock": self.ring_stock}

    def ranges(self, sheets: Sheets) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        ring = sheets.of(self.ring_stock).measured_thickness
        spine = sheets.of(self.spine_stock).measured_thickness
        return {
            "height": (80, 1500), "rings": (2, self.height / (4 * ring) + 1),
            "spine_width": (self.grip + 3 * spine, 300),
            "ring_diameter": (2 * self.ring_width + 20, 800),
            "ring_width": (self.grip * 0.6 + 2 * ring, 0.45 * self.ring_diameter * self.taper),
            "grip": (4, self.spine_width * 0.6),
        }  # fmt: skip

    def place(self, sheets: Sheets) -> tuple[tuple[Plate, ...], tuple[Declaration, ...]]:
        """Spine layers upright along x; rings in front of them."""
        spine = sheets.of(self.spine_stock).measured_thickness
        region = self._spine()
        offs = [(index - (self.layers - 1) / 2) * spine for index in range(self.layers)]
        names = [f"Spine {index}" if self.layers > 1 else "Spine" for index in
                 range(1, self.layers + 1)]  # fmt: skip
        plates = [
            Plate(name, self.spine_stock, region, Placement((0.0, y, 0.0), _EAST, _UP))
            for name, y in zip(names, offs, strict=True)
        ]
        declared: list[Declaration] = []
        for number, (at, heading) in enumerate(self._stations(), start=1):
            name = f"Ring {number}"
            plates.append(self._ring(name, number, at, heading))
            for layer, spine_name in enumerate(names, start=1):
                out: Vector = (cos(heading), 0.0, sin(heading))
                declared.append(CrossLap(f"J{number}.{layer}", spine_name, name, up=out))
        pegs, through = self._pegs(names, spine)
        return (*plates, *pegs), (*declared, *through)

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Every lap is as deep as the grip."""
        return ("grip",) if joint_id.startswith("J") else ()

    def dimensions(self, sheets: Sheets) -> tuple[Dimension, ...]:
        """None: the spine is curved."""
        return ()

    def bulb(self, sheets: Sheets) -> Vector | None:
        """In the middle of the middle ring."""
        (x, z), turn = self._curve(0.5)
        off = self.spine_width / 2 + self.ring_diameter / 2 - self.grip
        return (x + off * cos(turn), 0.0, z + off * sin(turn))

    def _curve(self, share: float) -> tuple[Point, float]:
        """A point of the spine's middle at a share of its length, and which way is forward."""
        bend = radians(self.bend)
        if bend < 1e-6:
            return (0.0, share * self.height), 0.0
        radius = self.height / bend
        angle = (share - 0.5) * bend
        return (radius * (1 - cos(angle)), self.height / 2 + radius * sin(angle)), -angle

    def _stations(self) -> list[tuple[Point, float]]:
        """(point of the spine's front where a ring laps in, the ring's heading) for each ring."""
        found = []
        for index in range(self.rings):
            (x, z), turn = self._curve(index / (self.rings - 1))
            heading = turn if self.slots == "square" else 0.0
            half = self.spine_width / 2
            found.append(((x + half * cos(turn), z + half * sin(turn)), heading))
        return found

    def _ring(self, name: str, number: int, at: Point, heading: float) -> Plate:
        """A ring whose back reaches `grip` into the spine's front."""
        share = (number - 1) / (self.rings - 1)
        outer = self.ring_diameter / 2 * (1 - (1 - self.taper) * abs(2 * share - 1))
        forward: Vector = (cos(heading), 0.0, sin(heading))
        reach = outer - self.grip
        middle = (at[0] + reach * forward[0], 0.0, at[1] + reach * forward[2])
        hole = Contour.circle((0.0, 0.0), outer - self.ring_width)
        region = Region.of(disc(2 * outer).outer, (hole,))
        return Plate(name, self.ring_stock, region, Placement(middle, forward, (0.0, 1.0, 0.0)))

    def _spine(self) -> Region:
        """A band along the curve, a little longer than from first to last ring."""
        half, more = self.spine_width / 2, self.spine_width * 0.7 / self.height
        (x0, z0), a0 = self._curve(-more)
        (x1, z1), a1 = self._curve(1 + more)
        front0, back0 = _beside(x0, z0, a0, half)
        front1, back1 = _beside(x1, z1, a1, half)
        bend = radians(self.bend)
        if bend < 1e-6:
            return Region.of(Contour.polygon([back0, front0, front1, back1]))
        centre = (self.height / bend, self.height / 2)
        front = Arc(front0, front1, centre, clockwise=True)
        back = Arc(back1, back0, centre)
        return Region.of(Contour((Line(back0, front0), front, Line(front1, back1), back)))

    def _pegs(self, names: list[str], spine: float) -> tuple[list[Plate], list[Declaration]]:
        """Between layers: two pegs through all of them, behind the rings."""
        if self.layers == 1:
            return [], []
        plates: list[Plate] = []
        declared: list[Declaration] = []
        reach = self.layers * spine / 2
        for number, share in enumerate((0.04, 0.96), start=1):
            (x, z), turn = self._curve(share)
            back = self.spine_width * 0.2
            at = (x - back * cos(turn), 0.0, z - back * sin(turn))
            name = f"Peg {number}"
            along: Vector = (-sin(turn), 0.0, cos(turn))
            shape = board(-_PEG_WIDTH / 2, -reach, _PEG_WIDTH / 2, reach)
            plates.append(
                Plate(name, self.ring_stock, shape, Placement(at, along, (0.0, 1.0, 0.0)))
            )
            declared += [
                Passing(f"P{number}.{layer}", name, spine_name)
                for layer, spine_name in enumerate(names, start=1)
            ]
        return plates, declared


_EAST: Vector = (1.0, 0.0, 0.0)
_UP: Vector = (0.0, 0.0, 1.0)


def _beside(x: float, z: float, turn: float, half: float) -> tuple[Point, Point]:
    """The points of the spine's front and back edges beside a point of its middle."""
    dx, dz = half * cos(turn), half * sin(turn)
    return (x + dx, z + dz), (x - dx, z - dz)
