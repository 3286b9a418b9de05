"""Rib lamp: ribs all alike round two or more rings, a shade of light and shadow.

A rib is upright and radial; its outer edge runs through the profile's points, its inner edge
through the inner profile's, or `rib_depth` inside. Rings lie flat and take the ribs in radial slots
from outside; the ribs are slotted from inside. The uppermost ring has spokes and a hole for the
fitting. Every second rib may have a profile of its own, or be shifted up; its slots follow the
rings.
"""

from math import cos, pi, sin
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from anzel.core.asset import Asset
from anzel.core.findings import Finding, ParameterError, Severity
from anzel.core.number_format import (
    format_measure,
    least_length,
    most_length,
    plain_measure,
)
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.booleans import combine
from anzel.geometry.placement import Vector
from anzel.geometry.regions import Contour, Region
from anzel.materials.fits import FitRule, Term
from anzel.structure.dimension import Dimension
from anzel.structure.forms.common_outlines import (
    board,
    disc,
    lying,
    most_slots,
    standing,
    window,
)
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.forms.profile import Profile, TracedPicture, between
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.model import FitContext, JointSpec, Plate, SolvedStructure

BELLY: Profile = (
    (0.0, 0.45, True), (0.2, 0.85, True), (0.45, 1.0, True), (0.75, 0.72, True), (1.0, 0.38, True),
)  # fmt: skip
_LEAST_GRIP, _MOST_GRIP = 2.0, 0.7
"""A ring of its own diameter reaches so far into the ribs, mm, and no further than this share."""
_CLEAR = 10.0
"""A fixture nearer than this to ribs or rings gets too warm for them, mm: common practice, no
source."""


class RibLamp(Form):
    """The maker's decisions about a rib lamp, mm."""

    shares: ClassVar[frozenset[str]] = frozenset({"ring_low", "ring_high"})
    held: ClassVar[frozenset[str]] = frozenset(
        {"fitting_hole", "cord_notch", "fixture_height", "fixture_width"}
    )
    has_profile_curves: ClassVar[bool] = True
    drawn: ClassVar[frozenset[str]] = frozenset({"traced"})
    places: ClassVar[frozenset[str]] = frozenset({"ring_diameters"})

    form: Literal["rib-lamp"] = "rib-lamp"
    rib_stock: str = "ply-3"
    ring_stock: str = "ply-3"
    ribs: int = Field(default=18, ge=3, le=96, description="How many ribs")
    height: float = Field(default=220, gt=0, description="Of a rib")
    radius: float = Field(default=110, gt=0, description="Greatest, to the ribs' outer edge")
    profile: Profile = Field(default=BELLY, min_length=2, max_length=24)
    inner: Profile = Field(default=(), max_length=24, description="Of the inner edge; none follows")
    second: Profile = Field(default=(), max_length=24, description="Of every second rib; or alike")
    traced: TracedPicture | None = None
    rib_depth: float = Field(default=26, gt=0, description="Outer to inner edge of a rib")
    rings: int = Field(default=2, ge=2, le=8, description="How many rings")
    ring_low: float = Field(default=0.15, ge=0.02, le=0.9, description="Lowest ring, of the height")
    ring_high: float = Field(default=0.85, ge=0.1, le=0.98, description="Top ring, of the height")
    ring_width: float = Field(default=22, gt=0, description="Of a ring")
    ring_diameters: tuple[Annotated[float, Field(gt=0, le=2000)], ...] = Field(
        default=(), max_length=8, description="Outside, lowest first; none: as ribs"
    )
    grip: float = Field(default=12, gt=0, description="How deep ring and rib overlap")
    spokes: int = Field(default=3, ge=2, le=12, description="From the top ring to the fitting")
    fitting_hole: float = Field(
        default=40, gt=0, description="For the lamp holder; held on scaling"
    )
    fixture_height: float = Field(default=80, gt=0, description="Holder and bulb under it; held")
    fixture_width: float = Field(default=60, gt=0, description="Holder and bulb across; held")
    shift: float = Field(default=0, ge=0, description="Every second rib up by this")
    cord_notch: float = Field(default=6, ge=0, description="Width, in one rib; 0 for none")

    def stock_roles(self) -> dict[str, str]:
        """Return which stock ribs and rings are cut from."""
        return {"rib_stock": self.rib_stock, "ring_stock": self.ring_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        smallest = min(r for _, r, _ in (*self.profile, *self.second)) * self.radius
        return {
            "height": (60, 900), "radius": (40, 600),
            "rib_depth": (self.grip * 1.6, max(smallest * 0.7, self.grip * 1.6)),
            "ribs": (3, self.most_ribs(fit_context)),
            "ring_high": (self.ring_low + 0.1, 0.98),
            "grip": (4, min(self.rib_depth / 1.6, self.ring_width / 1.3)),
            "ring_width": (self.grip * 1.3, max(self._inner(self.ring_high) * 0.8,
                                                self.grip * 1.3)),
            "fitting_hole": (4, max(4.0, 2 * (self._inner(self.ring_high) - 6))),
            "shift": (0, self.height * min(self.ring_low, 1 - self.ring_high) * 0.8),
        }  # fmt: skip

    def most_ribs(self, fit_context: FitContext) -> int:
        """Return how many ribs the rings carry with webs as thick as their sheet.

        Web between neighbouring radial slots of width w at radius r (handbook of the trade, 3): 2 r
        sin(π/N) - w cos(π/N).
        """
        ring = fit_context.of(self.ring_stock)
        rib = fit_context.of(self.rib_stock).measured_thickness
        slot = FitRule(fit_context.clearance, ring.kerf, fit_context.kerf_at).opening(
            Term("rib", rib)
        )
        floor_radius = min(self._floor(at) for at in self._stations())
        return most_slots(slot.produced, floor_radius, ring.measured_thickness, 96)

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Ribs round the axis, rings at their heights, a lap where each crosses each."""
        plates = [
            Plate(self._ring_name(n), self.ring_stock, self._ring(n), lying(at * self.height))
            for n, at in enumerate(self._stations(), start=1)
        ]
        laps: list[JointSpec] = []
        for number in range(1, self.ribs + 1):
            turn = 2 * pi * (number - 1) / self.ribs
            up: Vector = (cos(turn), sin(turn), 0.0)
            shift = self.shift if number % 2 == 0 else 0.0
            region = self._rib(number % 2 == 0, number == 1)
            name = f"Rib {number}"
            plates.append(Plate(name, self.rib_stock, region, standing(0.0, 0.0, turn, shift)))
            for ring in range(1, self.rings + 1):
                lap = CrossLap(f"J{number}.{ring}", self._ring_name(ring), name, up=up)
                laps.append(lap)
        return tuple(plates), tuple(laps)

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return the grip, which is the depth of every lap."""
        return ("grip",)

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Height and greatest radius, on the first rib."""
        return (Dimension("height", "Rib 1", (self.radius, 0), (self.radius, self.height), -12),)

    def bulb(self, fit_context: FitContext) -> Vector | None:
        """Return the bulb on the axis, hanging from the top ring."""
        return (0.0, 0.0, self.ring_high * self.height - 0.7 * self.fixture_height)

    def assets(self) -> tuple[Asset, ...]:
        """Return the picture that its profile is traced from."""
        return (self.traced.picture,) if self.traced is not None else ()

    def unused(self) -> frozenset[str]:
        """Return the depth where the inner edge is drawn, because that has its own."""
        return frozenset({"rib_depth"} if self.inner else ())

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return findings on a fixture near the ribs or a ring, or below the lamp."""
        top = self.ring_high * self.height
        low = top - self.fixture_height
        if low < 0:
            message = f"hangs {format_measure(-low, 0)} out of the lamp."
            return (_fixture(message, "Make the lamp higher, or hang it from a higher ring."),)
        clear = self.fixture_clearance()
        if clear >= _CLEAR:
            return ()
        return (
            _fixture(
                f"has only {format_measure(clear, 1)} of air beside it.",
                "Widen the lamp there.",
            ),
        )

    def fixture_clearance(self) -> float:
        """Return the distance from holder and bulb to the nearest rib or lower ring, mm."""
        top = self.ring_high * self.height
        low = max(top - self.fixture_height, 0.0)
        heights = [low + (top - low) * step / 24 for step in range(24)]
        radii = [self._inner(height / self.height, second) for height in heights
                 for second in self._kinds]  # fmt: skip
        radii += [
            self._edge(at) - self.ring_width
            for at in self._stations()[:-1]
            if low <= at * self.height < top
        ]
        return min(radii) - self.fixture_width / 2

    def _stations(self) -> list[float]:
        """Return the rings' heights, as shares."""
        step = (self.ring_high - self.ring_low) / (self.rings - 1)
        return [self.ring_low + index * step for index in range(self.rings)]

    def _ring_name(self, number: int) -> str:
        return f"Ring {number}"

    @property
    def _kinds(self) -> tuple[bool, ...]:
        """Which kinds of rib there are: the first, and a second if it differs."""
        return (False, True) if self.second else (False,)

    def _outline(self, second: bool) -> Region:
        outer = self.second if second and self.second else self.profile
        return between(outer, self.inner, self.height, self.radius, self.rib_depth)

    def _inner(self, share: float, second: bool = False) -> float:
        """Return a rib's inner radius at a share of its height, on the true curve."""
        height = min(max(share, COINCIDENT), 1 - COINCIDENT) * self.height
        spans = self._outline(second).spans((0.0, height), (1.0, 0.0))
        if len(spans) != 1:
            raise ParameterError(
                "A ring would miss the ribs or meet them twice.",
                hint="Move the rings, or smooth the profile.", field="ring_low",
            )  # fmt: skip
        return spans[0][0]

    def with_scaled_lengths(self, factor: float) -> Self:
        """Larger or smaller, the rings' own diameters too."""
        made = super().with_scaled_lengths(factor)
        diameters = tuple(each * factor for each in self.ring_diameters)
        return made.with_changes(ring_diameters=diameters)

    def _ribs_from(self, share: float) -> float:
        """Return the radius where all ribs have begun at a ring, the shifted ones too."""
        lower = max(share - self.shift / self.height, 0.0)
        second = self._inner(lower if self.shift else share, bool(self.second))
        return max(self._inner(share), second)

    def _edge(self, share: float) -> float:
        """Return a ring's outer radius: its own, or one that reaches `grip` into all ribs.

        Raises ParameterError for a diameter that misses the ribs.
        """
        inner, stations = self._ribs_from(share), self._stations()
        number = min(range(len(stations)), key=lambda n: abs(stations[n] - share))
        if number >= len(self.ring_diameters):
            return inner + self.grip
        outer = self.ring_diameters[number] / 2
        if not inner + _LEAST_GRIP <= outer <= inner + _MOST_GRIP * self.rib_depth:
            low, high = 2 * (inner + _LEAST_GRIP), 2 * (inner + _MOST_GRIP * self.rib_depth)
            raise ParameterError(
                f"Ring {number + 1} of {plain_measure(2 * outer)} does not hold in the ribs there.",
                hint=f"Between {least_length(low)} and {most_length(high)} will do.",
                field="ring_diameters",
            )  # fmt: skip
        return outer

    def _floor(self, share: float) -> float:
        """Return the radius of a ring's slot floors."""
        return (self._ribs_from(share) + self._edge(share)) / 2

    def _ring(self, number: int) -> Region:
        """Return a ring; the uppermost with spokes and the fitting's hole."""
        outer = self._edge(self._stations()[number - 1])
        inner = outer - self.ring_width
        if number < self.rings or inner <= self.fitting_hole / 2 + self.ring_width:
            hole = self.fitting_hole / 2 if number == self.rings else inner
            return Region.of(disc(2 * outer).outer, (Contour.circle((0.0, 0.0), min(hole, inner)),))
        hub = self.fitting_hole / 2 + self.ring_width * 0.6
        half = self.ring_width * 0.35 / inner
        step = 2 * pi / self.spokes
        openings = [
            window(hub, inner, step * k + half * 1.6, step * (k + 1) - half * 1.6)
            for k in range(self.spokes)
        ]
        middle = Contour.circle((0.0, 0.0), self.fitting_hole / 2)
        return Region.of(disc(2 * outer).outer, (middle, *openings))

    def _rib(self, second: bool, has_notch: bool) -> Region:
        plain = self._outline(second)
        if not has_notch or not self.cord_notch:
            return plain
        z = (self.ring_high + 1) / 2 * self.height
        inner = plain.spans((0.0, z), (1.0, 0.0))[0][0]
        half = self.cord_notch / 2
        notch = board(inner - 2, z - half, inner + self.cord_notch, z + half)
        return combine(plain, cut=[notch.outer])[0]


def _fixture(message: str, hint: str) -> Finding:
    return Finding("fixture", Severity.WARNING, "Fixture", message, hint)
