"""Spine lamp: rings, or one long spiral strip, hung on a curved spine at equal steps along it.

The spine is an upright plate whose middle runs along an arc; rings lap into its front. Slots are
level, or square to the curve. Several layers of spine stand side by side with pegs through them;
those between the outer two can stand back, which leaves a channel for a strip of lights.
"""

from math import cos, degrees, pi, radians, sin
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.core.number_format import format_quantity, plain_measure
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.placement import EAST, UP, Placement, Vector
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line
from anzel.structure.dimension import Dimension
from anzel.structure.forms.common_outlines import board, disc
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.forms.spiral import Frame, Spiral, slope
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.facet_lap import FacetLap
from anzel.structure.joints.stack_lap import StackLap
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.structure.model import FitContext, JointSpec, Plate, SolvedStructure

_PEG_WIDTH = 12.0
_STRIP = "Strip"
_STRIP_GRIP = 0.7
_BESIDE = 3.0
"""The strip lies flat this far beside the spine, mm."""
_CORE = 6.0
"""The innermost turn of a spiral leaves this radius free, mm."""
_TURN = 1.3
"""Turns of a hung strip, and rings, are at least so many sheets apart along the spine."""
_NARROWEST, _LEAST_GAP = 1.0, 0.3
"""A strip can be as narrow as this, mm, and its turns as near as a cutter parts them."""
_STEEP = 35.0
"""A strip of sheet that comes down steeper than this twists hard: common practice, no source."""


class SpineLamp(Form):
    """The maker's decisions about a spine lamp, mm."""

    shares: ClassVar[frozenset[str]] = frozenset({"taper"})
    angles: ClassVar[frozenset[str]] = frozenset({"bend"})
    held: ClassVar[frozenset[str]] = frozenset({"slack", "channel"})
    moves_joints: ClassVar[bool] = True

    form: Literal["spine-lamp"] = "spine-lamp"
    spine_stock: str = "ply-6"
    ring_stock: str = "ply-3"
    hangs: Literal["rings", "spiral"] = Field(default="rings", description="On the spine")
    rings: int = Field(default=12, ge=2, le=80, description="How many rings, or turns")
    height: float = Field(default=320, gt=0, description="First to last ring; the hung length")
    bend: float = Field(
        default=50, ge=0, le=120, description="Of the spine, degrees; 0 is straight"
    )
    spine_width: float = Field(default=46, gt=0, description="Of the spine")
    ring_diameter: float = Field(default=150, gt=0, description="Outside, of the widest ring")
    taper: float = Field(default=0.6, ge=0.2, le=1, description="The last ring, of the widest")
    ring_width: float = Field(default=26, gt=0, description="Of a ring")
    strip_width: float = Field(default=8, gt=0, description="Of the spiral strip")
    strip_gap: float = Field(default=2, gt=0, description="Between its turns, as cut flat")
    spiral_diameter: float = Field(default=280, gt=0, description="Outside, of its widest turn")
    grip: float = Field(default=18, gt=0, description="How deep ring and spine overlap")
    slack: float = Field(default=0, ge=0, le=1, description="More play in every slot; held")
    slots: Literal["level", "square"] = Field(default="square", description="How rings stand")
    layers: int = Field(default=1, ge=1, le=7, description="Of the spine, side by side")
    channel: float = Field(default=0, ge=0, description="Depth, for a strip of lights; held")

    def stock_roles(self) -> dict[str, str]:
        """Return which stock spine and rings are cut from."""
        return {"spine_stock": self.spine_stock, "ring_stock": self.ring_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        ring = fit_context.of(self.ring_stock).measured_thickness
        spine = fit_context.of(self.spine_stock).measured_thickness
        return {
            "height": (80, 1500), "rings": (2, self.height / (_TURN * ring) + 1),
            "spine_width": (self.grip + 3 * spine, 300),
            "ring_diameter": (2 * self.ring_width + 20, 800),
            "ring_width": (self.grip * 0.6 + 2 * ring, 0.45 * self.ring_diameter * self.taper),
            "grip": (4, self.spine_width * 0.6),
            "channel": (0, self.spine_width * 0.6 if self.layers > 2 else 0),
            **(self._spiral_ranges(ring) if self.hangs == "spiral" else {}),
        }  # fmt: skip

    def _spiral_ranges(self, strip: float) -> dict[str, Range]:
        """Return the ranges of a spiral, whose turns lie within one another on the sheet."""
        pitch, half = self.strip_width + self.strip_gap, self.spiral_diameter / 2
        return {
            "rings": (2, min((half - _CORE) / pitch, self.height / (_TURN * strip) + 1)),
            "spiral_diameter": (2 * (self.rings * pitch + _CORE), 1500),
            "strip_width": (
                _NARROWEST,
                max((half - _CORE) / self.rings - self.strip_gap, _NARROWEST),
            ),
            "strip_gap": (
                _LEAST_GAP,
                max((half - _CORE) / self.rings - self.strip_width, _LEAST_GAP),
            ),
        }

    def unused(self) -> frozenset[str]:
        """Return the fields of rings for a spiral, and those of a spiral for rings."""
        if self.hangs == "spiral":
            return frozenset({"ring_width", "ring_diameter", "taper"})
        return frozenset({"strip_width", "strip_gap", "spiral_diameter"})

    @property
    def _grip(self) -> float:
        """A strip overlaps its spine by no more than most of its width."""
        return (
            self.grip if self.hangs == "rings" else min(self.grip, _STRIP_GRIP * self.strip_width)
        )

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Spine layers upright along x; rings in front of them."""
        spine = fit_context.of(self.spine_stock).measured_thickness
        region = self._spine()
        offs = [(index - (self.layers - 1) / 2) * spine for index in range(self.layers)]
        names = [f"Spine {index}" if self.layers > 1 else "Spine" for index in
                 range(1, self.layers + 1)]  # fmt: skip
        inner = self._spine(self.channel) if self.channel else region
        plates = [
            Plate(name, self.spine_stock, inner if 0 < index < self.layers - 1 else region,
                  Placement((0.0, y, 0.0), EAST, UP))
            for index, (name, y) in enumerate(zip(names, offs, strict=True))
        ]  # fmt: skip
        hung, declared = self._hung(names, spine)
        pegs, through = self._pegs(names, spine, fit_context.rule(self.ring_stock).drawn_kerf / 2)
        return (*plates, *hung, *pegs), (*declared, *through)

    def _hung(self, spines: list[str], thick: float) -> tuple[list[Plate], list[JointSpec]]:
        """Return rings, or the strip, and a lap with every layer of the spine that they reach."""
        if 0 < self.channel < self._grip:
            raise ParameterError(
                "The channel is no deeper than the slots.",
                hint=f"Use more than {plain_measure(self._grip)}, or 0 for none.", field="channel",
            )  # fmt: skip
        plates: list[Plate] = []
        declared: list[JointSpec] = []
        if self.hangs == "spiral":
            plates.append(self._strip(thick))
        for number in range(1, self.rings + 1):
            at, heading = self._station(self._share(number - 1))
            name = f"Ring {number}" if self.hangs == "rings" else _STRIP
            if self.hangs == "rings":
                plates.append(self._ring(name, number, at, heading))
            out: Vector = (cos(heading), 0.0, sin(heading))
            laps = self._laps(number, spines, name, out)
            facet = self._spiral(thick).middle_of(number - 1)
            declared += [
                lap if self.hangs == "rings" else FacetLap(lap, _STRIP, facet) for lap in laps
            ]
        return plates, declared

    def _share(self, turns: float) -> float:
        """Return how far along the spine a ring or turn is, from 0, with what was moved by hand.

        Between two turns of a strip what was moved changes evenly.
        """
        moved = [0.0] * self.rings
        for change in self.own_joints:
            number = change.joint.removeprefix("J").partition(".")[0]
            if number.isdigit() and 1 <= int(number) <= self.rings:
                moved[int(number) - 1] = change.moved
        by = float(np.interp(turns, np.arange(self.rings), moved))
        return turns / (self.rings - 1) + by / self.height

    def _laps(self, number: int, spines: list[str], name: str, out: Vector) -> list[JointSpec]:
        """Return a ring with the whole stack, or with both sides of the channel."""
        if self.layers > 1 and not self.channel:
            return [StackLap(f"J{number}", tuple(spines), name, slack=self.slack, up=out)]
        sides = [spines[0]] if self.layers == 1 else [spines[0], spines[-1]]
        return [
            CrossLap(f"J{number}.{side}", spine, name, slack=self.slack, up=out)
            for side, spine in enumerate(sides, start=1)
        ]

    def _spiral(self, spine: float = 1.0) -> Spiral:
        """Return the strip, held by a spine whose layers are so thick."""
        pitch, held = self.strip_width + self.strip_gap, self.layers * spine / 2 + _BESIDE
        return Spiral(self.rings, self.spiral_diameter / 2, self.strip_width, pitch, held)

    def _strip(self, thick: float) -> Plate:
        """Return the spiral strip.

        The back of every turn reaches `grip` into the front of the spine.
        """
        spiral = self._spiral(thick)

        def frame(turns: float) -> Frame:
            (x, z), heading = self._station(self._share(turns))
            reach = spiral.radius(2 * pi * turns) - self._grip
            forward: Vector = (cos(heading), 0.0, sin(heading))
            middle = (x + reach * forward[0], 0.0, z + reach * forward[2])
            return middle, forward, (-forward[2], 0.0, forward[0])

        facets = spiral.facets(frame)
        return Plate(
            _STRIP, self.ring_stock, spiral.region(), facets[spiral.middle_of(0)].placement,
            bent=facets, room=self.strip_gap / 2,
        )  # fmt: skip

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return the grip, which is the depth of every lap."""
        return ("grip",) if joint_id.startswith("J") else ()

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """None: the spine is curved."""
        return ()

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return findings on the strip: its length, and whether it comes down too steeply."""
        if self.hangs == "rings":
            return ()
        spiral = self._spiral()
        sheet = fit_context.of(self.ring_stock).measured_thickness
        narrow = () if self.strip_width >= 2 * sheet else (
            Finding(
                "strip", Severity.WARNING, _STRIP,
                f"only {plain_measure(self.strip_width)} wide, less than two sheets.",
                "It breaks easily and bends sideways. Make the strip wider or the sheet thinner.",
            ),
        )  # fmt: skip
        steep = degrees(slope(spiral, self.height))
        words = f"{format_quantity(spiral.length / 1000, 'm', 1)} long, comes down at {steep:.0f}°."
        if steep <= _STEEP:
            return (*narrow, Finding("strip", Severity.NOTE, _STRIP, words))
        hint = "Use more turns, a wider spiral or a shorter hang."
        return (*narrow, Finding("strip", Severity.WARNING, _STRIP, words, hint))

    def bulb(self, fit_context: FitContext) -> Vector | None:
        """Return the bulb in the middle of the middle ring."""
        (x, z), turn = self._curve(0.5)
        wide = self.ring_diameter if self.hangs == "rings" else self.spiral_diameter * 0.6
        off = self.spine_width / 2 + wide / 2 - self._grip
        return (x + off * cos(turn), 0.0, z + off * sin(turn))

    def _curve(self, share: float) -> tuple[Point, float]:
        """Return a point of the spine's middle at a share of its length, and its heading."""
        bend = radians(self.bend)
        if bend < COINCIDENT:
            return (0.0, share * self.height), 0.0
        radius = self.height / bend
        angle = (share - 0.5) * bend
        return (radius * (1 - cos(angle)), self.height / 2 + radius * sin(angle)), -angle

    def _station(self, share: float) -> tuple[Point, float]:
        """Return where a ring laps into the spine's front, and the ring's heading.

        The place is a share of the spine's length.
        """
        (x, z), turn = self._curve(share)
        half = self.spine_width / 2
        heading = turn if self.slots == "square" else 0.0
        return (x + half * cos(turn), z + half * sin(turn)), heading

    def _ring(self, name: str, number: int, at: Point, heading: float) -> Plate:
        """Return a ring whose back reaches `grip` into the spine's front."""
        share = (number - 1) / (self.rings - 1)  # the taper knows nothing of what was moved
        outer = self.ring_diameter / 2 * (1 - (1 - self.taper) * abs(2 * share - 1))
        forward: Vector = (cos(heading), 0.0, sin(heading))
        reach = outer - self.grip
        middle = (at[0] + reach * forward[0], 0.0, at[1] + reach * forward[2])
        hole = Contour.circle((0.0, 0.0), outer - self.ring_width)
        region = Region.of(disc(2 * outer).outer, (hole,))
        return Plate(name, self.ring_stock, region, Placement(middle, forward, (0.0, 1.0, 0.0)))

    def _spine(self, recess: float = 0.0) -> Region:
        """Return a band along the curve, a little longer than from first to last ring.

        Its front may stand back.
        """
        half, more = self.spine_width / 2, self.spine_width * 0.7 / self.height
        (x0, z0), a0 = self._curve(-more)
        (x1, z1), a1 = self._curve(1 + more)
        front0, back0 = _beside(x0, z0, a0, half - recess, half)
        front1, back1 = _beside(x1, z1, a1, half - recess, half)
        bend = radians(self.bend)
        if bend < COINCIDENT:
            return Region.of(Contour.polygon([back0, front0, front1, back1]))
        centre = (self.height / bend, self.height / 2)
        front = Arc(front0, front1, centre, clockwise=True)
        back = Arc(back1, back0, centre)
        return Region.of(Contour((Line(back0, front0), front, Line(front1, back1), back)))

    def _pegs(
        self, names: list[str], spine: float, outset: float
    ) -> tuple[list[Plate], list[JointSpec]]:
        """Return two pegs through all layers, behind the rings.

        They are drawn larger all round by `outset`, which the cut takes away.
        """
        if self.layers == 1:
            return [], []
        plates: list[Plate] = []
        declared: list[JointSpec] = []
        reach, half = self.layers * spine / 2 + outset, _PEG_WIDTH / 2 + outset
        for number, share in enumerate((0.04, 0.96), start=1):
            (x, z), turn = self._curve(share)
            back = self.spine_width * (0.35 if self.channel else 0.2)
            at = (x - back * cos(turn), 0.0, z - back * sin(turn))
            name = f"Peg {number}"
            along: Vector = (-sin(turn), 0.0, cos(turn))
            shape = board(-half, -reach, half, reach)
            standing = Placement(at, along, (0.0, 1.0, 0.0))
            plates.append(Plate(name, self.ring_stock, shape, standing, outset=outset))
            declared += [
                ThroughMortise(f"P{number}.{layer}", name, spine_name)
                for layer, spine_name in enumerate(names, start=1)
            ]
        return plates, declared


def _beside(x: float, z: float, turn: float, ahead: float, behind: float) -> tuple[Point, Point]:
    """Return points before and behind one of the spine's middle."""
    dx, dz = cos(turn), sin(turn)
    return (x + ahead * dx, z + ahead * dz), (x - behind * dx, z - behind * dz)
