"""Sliceform: a body told by slices that lap one another.

Two families of upright slices: the first family's planes face `direction`, the second's are turned
by `angle` from it; where two cross, the first is slotted from above, the second from below, half
each. Or discs at heights with upright blades fanned round the axis: discs are slotted from outside,
blades from inside (see fan). Slices too small to be cut or to hold are left out.

Shells have a wall of one thickness in the plane of the slice. Between two families they are open
downwards: two closed rings could never be pushed into one another. A cradle is a block less the
body, which lies in it with its top sticking out.
"""

from collections import Counter
from dataclasses import replace
from math import cos, degrees, pi, radians, sin
from typing import ClassVar, Literal, Self

from pydantic import Field, model_validator

from anzel.core.asset import Asset
from anzel.core.findings import Finding, ParameterError
from anzel.core.number_format import plain_measure
from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import RigidTransform
from anzel.structure.dimension import Dimension
from anzel.structure.forms import analytic_sections, mesh_sections, radial_slices
from anzel.structure.forms.common_outlines import lying, standing
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form, need_pitch
from anzel.structure.forms.left_out_slices import SliceCut, left_out
from anzel.structure.forms.shell_and_cradle import cradle, grown, hollowed
from anzel.structure.forms.sliceable_body import Body, BodyName
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.line_intervals import common_spans, spans_of
from anzel.structure.joints.relief_trim import ReliefTrim, partial_overlaps
from anzel.structure.model import FitContext, JointSpec, Plate, SolvedStructure
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes

_OF_LOOP = ("loop_wall", "loop_on", "loop_slice")
_SHORTEST_LAP = 0.05
"""Where slices cross by less than this, mm, they only touch."""


class Sliceform(Form):
    """The maker's decisions about a sliceform, mm."""

    has_sliced_body: ClassVar[bool] = True
    drawn: ClassVar[frozenset[str]] = frozenset({"mesh"})
    angles: ClassVar[frozenset[str]] = frozenset({"direction", "angle"})
    held: ClassVar[frozenset[str]] = frozenset({"relief", "loop", "loop_wall", "play"})

    form: Literal["sliceform"] = "sliceform"
    slice_stock: str = "ply-3"
    body: BodyName = Field(default="egg", description="What is sliced")
    mesh: Asset | None = Field(default=None, description="A closed mesh: STL, OBJ, PLY, 3MF")
    up: mesh_sections.Up = Field(default="z", description="Which of the mesh's axes stands up")
    slices: Literal["crossed", "discs and fan"] = Field(
        default="crossed", description="Two upright families, or discs with blades round the axis"
    )
    width: float = Field(default=140, gt=0, description="East to west; a round body's diameter")
    depth: float = Field(default=110, gt=0, description="North to south; ellipsoid and box only")
    height: float = Field(default=160, gt=0, description="Up; a torus: twice its tube")
    first: int = Field(default=7, ge=1, le=60, description="Slices of the first family, or discs")
    second: int = Field(default=7, ge=1, le=60, description="Of the second family, or blades")
    direction: float = Field(default=0, ge=0, le=180, description="The first family faces, degrees")
    angle: float = Field(default=90, ge=20, le=160, description="Between the families, degrees")
    pitch: float = Field(default=0, ge=0, description="Between slices; 0 spreads them evenly")
    core: float = Field(default=12, gt=0, description="From the axis to the blades of a fan")
    smallest: float = Field(default=12, ge=1, description="Slices smaller than this are left out")
    relief: float = Field(default=0.1, ge=0, le=5, description="Extra depth of every slot")
    wall: float = Field(default=0, ge=0, description="Of shell slices; 0 leaves them solid")
    cradle: bool = Field(default=False, description="A block less the body, for it to lie in")
    margin: float = Field(default=15, gt=0, description="Of a cradle's block, round the body")
    stick_out: float = Field(default=60, ge=0, description="How much of the body a cradle shows")
    play: float = Field(default=0, ge=0, le=10, description="Of a body in its cradle, all round")
    loop: float = Field(default=0, ge=0, le=60, description="Hole to hang it by; 0 for none")
    loop_wall: float = Field(default=0, ge=0, le=40, description="Round the hole; 0 suits the hole")
    loop_on: Literal["second", "first"] = Field(
        default="second", description="The family whose slice carries the loop"
    )
    loop_slice: int = Field(default=0, ge=0, le=60, description="Which slice; 0 is the middle one")
    marks: bool = Field(default=False, description="Every slice's name engraved on it")

    @model_validator(mode="after")
    def _has_its_mesh(self) -> Self:
        if self.body == "mesh" and self.mesh is None:
            raise ValueError("there is no mesh yet: bring one in first")
        return self

    def stock_roles(self) -> dict[str, str]:
        """Return which stock the slices are cut from."""
        return {"slice_stock": self.slice_stock}

    def unused(self) -> frozenset[str]:
        """Return the fields that have no effect on the present kind of slices."""
        idle = set() if self.body in ("ellipsoid", "box") else {"depth"}
        idle |= {"width"} if self.body == "mesh" else {"up"}
        idle |= {"height"} if self.body == "sphere" else set()
        idle |= {"core"} if self.slices == "crossed" else {"direction", "angle", "cradle"}
        if self.cradle and self.slices == "crossed":
            return frozenset(idle | {"wall", "loop", *_OF_LOOP})
        idle |= set() if self.loop else set(_OF_LOOP)
        idle |= set() if self.slices == "crossed" else {"loop_on", "loop_slice"}
        return frozenset(idle | {"margin", "stick_out", "play"})

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        thick = fit_context.of(self.slice_stock).measured_thickness
        body = self._body()
        least = 2.2 * thick / sin(radians(self.angle))
        reaches = [
            high - low
            for turn in (self.direction, self.direction + self.angle)
            for low, high in [body.extent(radians(turn))]
        ]
        most, second = (max(1.0, reach / least) for reach in reaches)
        if self.slices != "crossed":
            most = max(1.0, body.height / (2.2 * thick))
            second = radial_slices.most_blades(self.core, thick, fit_context.rule(self.slice_stock))
        tallest = 0.45 * self.width if self.body == "torus" else 1000
        limits = {
            "width": (30, 1000), "depth": (30, 1000), "height": (15, tallest),
            "first": (1, most), "second": (1, second),
            "pitch": (0, max(reaches)), "core": (2 * thick, 0.4 * min(body.width, body.depth)),
            "smallest": (1, max(body.width, body.depth, body.height)),
            "wall": (0, 0.5 * body.height), "stick_out": (0, body.height - 2),
        }  # fmt: skip
        return {name: limit for name, limit in limits.items() if name not in self.unused()}

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return all slices, and a lap wherever two cross enough."""
        need_pitch(self.pitch, 2.2 * fit_context.of(self.slice_stock).measured_thickness)
        if self.slices == "crossed":
            plates, declared = self._crossed(fit_context)
        else:
            discs = self._discs()
            blades = [plate for cut in self._blade_cuts() for plate in self._plates(cut)]
            plates, declared = radial_slices.laps(discs, blades, self.relief, fit_context)
        if not declared:
            raise ParameterError(
                "No slice of this size is left.", hint="Make the body larger, or `smallest` less.",
                field="smallest",
            )  # fmt: skip
        if self.marks:
            plates = tuple(replace(plate, mark=plate.name) for plate in plates)
        return plates, declared

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return findings on slices, or parts of them, that are not built."""
        thick = fit_context.of(self.slice_stock).measured_thickness
        built = Counter(_slice_of(piece.name) for piece in solved.pieces)
        return left_out(self._cuts(thick), built, self.smallest)

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return the relief, which every crossing shares."""
        return ("relief",)

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """None: every slice differs."""
        return ()

    def _body(self) -> Body:
        if self.body == "mesh" and self.mesh is not None:
            width, depth, height = mesh_sections.proportions(self.mesh, self.up)
            scale = self.height / height
            return Body("mesh", width * scale, depth * scale, self.height, self.mesh, self.up)
        depth = self.depth if self.body in ("ellipsoid", "box") else self.width
        height = self.width if self.body == "sphere" else self.height
        return Body(self.body, self.width, depth, height)

    @property
    def _is_convex(self) -> bool:
        """Whether two slices can meet in one stretch only."""
        return self.body not in ("torus", "mesh") and not self.wall

    def _crossed(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        thick = fit_context.of(self.slice_stock).measured_thickness
        first, second = (
            [plate for cut in cuts for plate in self._plates(cut)] for cuts in self._families(thick)
        )
        hung = ""
        if self.loop and not self.cradle:
            hung = self._hang(first if self.loop_on == "first" else second)
        laps: list[CrossLap] = []
        grazing = []
        for a in first:
            for b in second:
                intersection = intersect_planes(a, b)
                if _lap_length(a, b, intersection) >= _SHORTEST_LAP:
                    name = f"{a.name}×{b.name}"
                    # what carries the loop comes down from above: nothing could pass the loop
                    above, below = (b, a) if a.name == hung else (a, b)
                    laps.append(CrossLap(name, above.name, below.name, 0.5, self.relief))
                    if self._is_convex:
                        continue
                if partial_overlaps(b, a, intersection, fit_context):
                    grazing.append(ReliefTrim(b.name, a.name))
        held = {name for lap in laps for name in (lap.from_above, lap.from_below)}
        plates = tuple(plate for plate in (*first, *second) if plate.name in held)
        trims = (c for c in grazing if {c.trimmed, c.passing} <= held)
        return plates, (*laps, *trims)

    def _hang(self, family: list[Plate]) -> str:
        """Let one slice of a family carry the loop, and return its name.

        Raises ParameterError where that slice is not there.
        """
        number = self.loop_slice
        names = [plate.name[1:].partition(".")[0] for plate in family]
        if not family or (number and str(number) not in names):
            raise ParameterError(
                f"There is no slice {number} in the {self.loop_on} family to carry the loop.",
                hint="Use another slice, or 0 for the middle one.", field="loop_slice",
            )  # fmt: skip
        at = names.index(str(number)) if number else len(family) // 2
        family[at] = _hung(family[at], self.loop, self.loop_wall)
        return family[at].name

    def _cuts(self, thick: float) -> list[SliceCut]:
        """Return all slices of the body, before those that cannot be built are left out."""
        if self.slices == "crossed":
            return [cut for family in self._families(thick) for cut in family]
        return [*self._disc_cuts(), *self._blade_cuts()]

    def _families(self, thick: float) -> tuple[list[SliceCut], list[SliceCut]]:
        one = radians(self.direction)
        return (
            self._family("A", one, self.first, thick),
            self._family("B", one + radians(self.angle), self.second, thick),
        )

    def _family(self, letter: str, turn: float, count: int, thick: float) -> list[SliceCut]:
        body = self._body()
        low, high = body.extent(turn)
        block = self._block(body) if self.cradle else None
        if block is not None:
            low, high = block.extent(turn)
        cuts = []
        stations = _stations(low, high, count, self.pitch)
        # a body in a block needs its room on both faces, where it may be wider than in the middle
        sides = (-thick / 2, 0.0, thick / 2) if block is not None else (0.0,)
        families = [body.uprights(turn, [d + side for _, d in stations]) for side in sides]
        for (number, d), *each in zip(stations, *families, strict=True):
            sections = tuple(region for section in each for region in section)
            if block is not None:
                sections = _in_block(block, sections, turn, d, self.margin, self.play)
            elif self.wall:
                sections = _hollow(sections, self.wall, opened=True)
            at = standing(d * cos(turn), d * sin(turn), turn + pi / 2)
            where = f"{plain_measure(d)} from the axis"
            cuts.append(SliceCut(f"{letter}{number}", where, sections, at))
        return cuts

    def _plates(self, cut: SliceCut) -> list[Plate]:
        """Return a slice's parts that are large enough."""
        parts = cut.parts_of(self.smallest)
        count = len(parts)
        names = [cut.name] if count == 1 else [f"{cut.name}.{n + 1}" for n in range(count)]
        return [
            Plate(each, self.slice_stock, region, cut.at, may_part=True)
            for each, region in zip(names, parts, strict=True)
        ]

    def _block(self, body: Body) -> Body:
        high = self.margin + body.height - self.stick_out
        return Body("box", body.width + 2 * self.margin, body.depth + 2 * self.margin, high)

    def _discs(self) -> list[Plate]:
        plates = [plate for cut in self._disc_cuts() for plate in self._plates(cut)]
        if self.loop and plates:
            plates[-1] = radial_slices.with_hole(plates[-1], self.loop)
        return plates

    def _disc_cuts(self) -> list[SliceCut]:
        body = self._body()
        cuts = []
        for number, z in _stations(0.0, body.height, self.first, self.pitch):
            sections = body.level(z)
            if self.wall:
                sections = _hollow(sections, self.wall, opened=False)
            where = f"{plain_measure(z)} above the ground"
            cuts.append(SliceCut(f"D{number}", where, sections, lying(z)))
        return cuts

    def _blade_cuts(self) -> list[SliceCut]:
        body = self._body()
        cuts = []
        for number in range(1, self.second + 1):
            turn = 2 * pi * (number - 1) / self.second
            sections = body.upright(turn - pi / 2, 0.0)
            if self.wall:
                sections = _hollow(sections, self.wall, opened=False)
            cut = radial_slices.outside(sections, self.core)
            where = f"turned {degrees(turn):g}°"
            cuts.append(SliceCut(f"F{number}", where, cut, standing(0.0, 0.0, turn)))
        return cuts


def _slice_of(name: str) -> str:
    """Return the slice that a piece is, or is a part of."""
    return name.partition(".")[0].partition(" ")[0]


def _stations(low: float, high: float, count: int, pitch: float) -> list[tuple[int, float]]:
    """Return (number, place) of slices spread evenly, or `pitch` apart about the middle."""
    step = pitch or (high - low) / (count + 1)
    middle = (low + high) / 2
    return [(n, middle + (n - (count + 1) / 2) * step) for n in range(1, count + 1)]


def _hollow(
    sections: analytic_sections.Section, wall: float, *, opened: bool
) -> analytic_sections.Section:
    return tuple(part for region in sections for part in hollowed(region, wall, opened=opened))


def _in_block(
    block: Body, sections: analytic_sections.Section, turn: float, d: float, margin: float,
    play: float,
) -> analytic_sections.Section:  # fmt: skip
    """Return a slice of the block less the body, which lies `margin` above its floor with play."""
    raised = [
        part for region in sections
        for part in grown(region.moved(RigidTransform(1.0, 0.0, 0.0, margin)), play)
    ]  # fmt: skip
    return tuple(part for whole in block.upright(turn, d) for part in cradle(whole, raised))


def _hung(plate: Plate, hole: float, wall: float) -> Plate:
    """Return a slice with an eye standing on its top, with a wall of its own or one that suits."""
    top = max(plate.region.outer.corners, key=lambda corner: (corner[1], -abs(corner[0])))
    radius = hole / 2 + (wall or 0.4 * hole)
    eye = (top[0], top[1] + radius - 0.3 * hole)
    added = combine(plate.region, add=[Contour.circle(eye, radius)])[0]
    cut = combine(added, cut=[Contour.circle(eye, hole / 2)])[0]
    return replace(plate, region=cut)


def _lap_length(one: Plate, other: Plate, intersection: PlaneIntersection) -> float:
    """Return how much of the line where two upright plates cross is inside both."""
    shared = common_spans(spans_of(one, intersection), spans_of(other, intersection))
    return max((high - low for low, high in shared), default=0.0)
