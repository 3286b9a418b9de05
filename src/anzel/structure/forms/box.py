"""Box: four walls, a bottom held by tabs, a lid, and dividers that lap one another.

The bottom hangs a little above the table between the walls; its tabs show outside. Divider ends
have a tab in each wall; they leave compartments equally wide, or stand where they are told to.
Inside sizes are clear between walls and above the bottom.
"""

from itertools import pairwise
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.number_format import format_length, plain_length
from anzel.structure.dimension import Dimension
from anzel.structure.forms.common_outlines import board, lying, standing
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.model import FitContext, JointSpec, Plate

_EAST_TURN, _NORTH_TURN = 0.0, 1.5707963267948966
_LIP_PLAY = 0.4
"""The lid's lip is this much smaller than the opening on every side, mm."""


Places = tuple[Annotated[float, Field(gt=0)], ...]


class Box(Form):
    """The maker's decisions about a box, mm."""

    places: ClassVar[frozenset[str]] = frozenset({"across_at", "along_at"})

    form: Literal["box"] = "box"
    wall_stock: str = "ply-3"
    bottom_stock: str = "ply-3"
    sizes_are: Literal["outside", "inside"] = "outside"
    width: float = Field(default=160, gt=0, description="Left to right")
    depth: float = Field(default=110, gt=0, description="Front to back")
    height: float = Field(default=70, gt=0, description="Of the walls; inside: above the bottom")
    corner: Literal["fingers", "overlap"] = Field(default="fingers", description="Of the walls")
    fingers: int = Field(default=5, ge=3, le=41, description="Fingers and gaps up a corner, odd")
    overhang: float = Field(
        default=8, ge=2, le=200, description="Of overlapping corners and a jointed lid"
    )
    bottom_raise: float = Field(default=6, ge=2, le=200, description="Table to the bottom")
    tab_width: float = Field(default=14, gt=0, description="Of bottom and dividers")
    across: int = Field(default=1, ge=0, le=12, description="Dividers front to back")
    along: int = Field(default=1, ge=0, le=12, description="Dividers left to right")
    across_at: Places = Field(default=(), description="Their middles, from inside left")
    along_at: Places = Field(default=(), description="Their middles, from inside the front")
    divider_height: float = Field(default=40, gt=0, description="Of the dividers")
    lid: Literal["none", "resting", "lipped", "jointed"] = Field(
        default="lipped", description="On top; jointed: held by tabs of the walls"
    )

    def stock_roles(self) -> dict[str, str]:
        """Return which stock walls (with dividers) and bottom (with lid) are cut from."""
        return {"wall_stock": self.wall_stock, "bottom_stock": self.bottom_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        wall = fit_context.of(self.wall_stock).measured_thickness
        bottom = fit_context.of(self.bottom_stock).measured_thickness
        width, depth, height = self._outside(fit_context)
        cell = min(
            _narrowest(self._middles("across", width, wall), width / 2 - wall),
            _narrowest(self._middles("along", depth, wall), depth / 2 - wall),
        )
        smallest = 2 * wall + 3 * self.tab_width
        tallest = height - self.bottom_raise - bottom
        return {
            "width": (max(30.0, smallest), 2000), "depth": (max(30.0, smallest), 2000),
            "height": (self.bottom_raise + bottom + 15, 1000),
            "tab_width": (2.0, min(cell - 2 * wall, 0.4 * tallest)),
            "divider_height": (self.tab_width + 2 * wall, tallest),
            "fingers": (3, max(3, height / (2 * wall))),
        }  # fmt: skip

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Walls on the table, the bottom between them, dividers on it, the lid on top."""
        walls, corners = self._walls(fit_context)
        bottom, seats = self._bottom(fit_context)
        dividers, laps = self._dividers(fit_context)
        lid = self._lid(fit_context) if self.lid != "none" else []
        plates = (*walls, bottom, *dividers, *lid)
        declared = (*corners, *seats, *laps, *self._lid_tabs())
        return plates, declared

    def unused(self) -> frozenset[str]:
        """Dividers whose places are given are not counted."""
        counted = (("across", self.across_at), ("along", self.along_at))
        return frozenset(field for field, places in counted if places)

    def with_scaled_lengths(self, factor: float) -> Self:
        """Larger or smaller, the dividers' places too."""
        made = super().with_scaled_lengths(factor)
        places = {n: tuple(at * factor for at in getattr(self, n)) for n in self.places}
        return made.with_changes(**places)

    def _middles(self, which: str, outside: float, wall: float) -> list[float]:
        """Return where dividers stand, from the box's middle.

        At the places given, or so that all compartments are equally wide. Raises ParameterError for
        places outside.
        """
        inner = outside - 2 * wall
        places: Places = getattr(self, f"{which}_at")
        if not places:
            count = self.across if which == "across" else self.along
            clear = (inner - count * wall) / (count + 1)
            return [-inner / 2 + (clear + wall) * n + clear + wall / 2 for n in range(count)]
        if max(places) > inner - wall:
            raise ParameterError(
                f"A divider at {plain_length(max(places))} stands outside: "
                f"the box is {format_length(inner, 1)} clear.",
                hint=f"Use less than {format_length(inner - wall, 1)}.", field=f"{which}_at",
            )  # fmt: skip
        return [at - inner / 2 for at in sorted(places)]

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return the fields of one joint: fingers or an overhang at corners, tabs elsewhere."""
        if joint_id.startswith("C"):
            return ("fingers", "overhang")
        return ("tab_width",) if joint_id.startswith(("B", "D", "T")) else ()

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Return width and height on the front wall, and depth on the left wall."""
        width, depth, height = self._outside(fit_context)
        if self.sizes_are == "inside":
            return ()
        return (
            Dimension("width", "Front", (-width / 2, 0), (width / 2, 0), -12),
            Dimension("height", "Front", (-width / 2, 0), (-width / 2, height), 12),
            Dimension("depth", "Left", (-depth / 2, 0), (depth / 2, 0), -12),
        )

    def _outside(self, fit_context: FitContext) -> tuple[float, float, float]:
        if self.sizes_are == "outside":
            return self.width, self.depth, self.height
        wall = 2 * fit_context.of(self.wall_stock).measured_thickness
        floor = self.bottom_raise + fit_context.of(self.bottom_stock).measured_thickness
        return self.width + wall, self.depth + wall, self.height + floor

    def _walls(self, fit_context: FitContext) -> tuple[list[Plate], list[JointSpec]]:
        width, depth, height = self._outside(fit_context)
        wall = fit_context.of(self.wall_stock).measured_thickness
        over = self.overhang if self.corner == "overlap" else 0.0
        x, y = (width - wall) / 2, (depth - wall) / 2
        long = board(-width / 2 - over, 0.0, width / 2 + over, height)
        short = board(-depth / 2 - over, 0.0, depth / 2 + over, height)
        plates = [
            Plate("Front", self.wall_stock, long, standing(0.0, -y, _EAST_TURN)),
            Plate("Back", self.wall_stock, long, standing(0.0, y, _EAST_TURN)),
            Plate("Left", self.wall_stock, short, standing(-x, 0.0, _NORTH_TURN)),
            Plate("Right", self.wall_stock, short, standing(x, 0.0, _NORTH_TURN)),
        ]
        pairs = [(a, b) for a in ("Front", "Back") for b in ("Left", "Right")]
        corners: list[JointSpec] = []
        for number, (long_wall, short_wall) in enumerate(pairs, start=1):
            if self.corner == "fingers":
                cells = self.fingers | 1
                corners.append(FingerCorner(f"C{number}", long_wall, short_wall, cells))
            else:
                corners.append(CrossLap(f"C{number}", long_wall, short_wall))
        return plates, corners

    def _bottom(self, fit_context: FitContext) -> tuple[Plate, list[JointSpec]]:
        width, depth, _ = self._outside(fit_context)
        wall = fit_context.of(self.wall_stock).measured_thickness
        half_x, half_y = width / 2 - wall, depth / 2 - wall
        z = self.bottom_raise + fit_context.of(self.bottom_stock).measured_thickness / 2
        shape = board(-half_x, -half_y, half_x, half_y)
        plate = Plate("Bottom", self.bottom_stock, shape, lying(z))
        seats: list[JointSpec] = [
            TabMortise(f"B{number}", "Bottom", name, ((0.0, self.tab_width),))
            for number, name in enumerate(("Front", "Back", "Left", "Right"), start=1)
        ]
        return plate, seats

    def _dividers(self, fit_context: FitContext) -> tuple[list[Plate], list[JointSpec]]:
        """Return the dividers: front to back lapped from above, left to right from below."""
        width, depth, _ = self._outside(fit_context)
        wall = fit_context.of(self.wall_stock).measured_thickness
        floor = self.bottom_raise + fit_context.of(self.bottom_stock).measured_thickness
        inner_x, inner_y, tall = width - 2 * wall, depth - 2 * wall, self.divider_height
        plates: list[Plate] = []
        declared: list[JointSpec] = []
        tab = ((tall / 2, self.tab_width),)
        across = self._middles("across", width, wall)
        for number, x in enumerate(across, start=1):
            name = f"Across {number}"
            shape = board(-inner_y / 2, 0.0, inner_y / 2, tall)
            plates.append(Plate(name, self.wall_stock, shape, standing(x, 0.0, _NORTH_TURN, floor)))
            declared += [
                TabMortise(f"DA{number}f", name, "Front", tab),
                TabMortise(f"DA{number}b", name, "Back", tab),
            ]
        for number, y in enumerate(self._middles("along", depth, wall), start=1):
            name = f"Along {number}"
            shape = board(-inner_x / 2, 0.0, inner_x / 2, tall)
            plates.append(Plate(name, self.wall_stock, shape, standing(0.0, y, _EAST_TURN, floor)))
            declared += [
                TabMortise(f"DL{number}l", name, "Left", tab),
                TabMortise(f"DL{number}r", name, "Right", tab),
            ]
            declared += [
                CrossLap(f"L{number}.{other}", f"Across {other}", name)
                for other in range(1, len(across) + 1)
            ]
        return plates, declared

    def _lid_tabs(self) -> list[JointSpec]:
        """Return a tab of every wall in a jointed lid, which reaches beyond the walls."""
        if self.lid != "jointed":
            return []
        return [
            TabMortise(
                f"T{number}", name, "Lid", ((0.0, 2 * self.tab_width),)
            )
            for number, name in enumerate(("Front", "Back", "Left", "Right"), start=1)
        ]  # fmt: skip

    def _lid(self, fit_context: FitContext) -> list[Plate]:
        """Return a plate on the walls, and if lipped one under it that keeps it in place."""
        width, depth, height = self._outside(fit_context)
        wall = fit_context.of(self.wall_stock).measured_thickness
        thick = fit_context.of(self.bottom_stock).measured_thickness
        beyond = self.overhang if self.lid == "jointed" else 0.0
        x, y = width / 2 + beyond, depth / 2 + beyond
        over = board(-x, -y, x, y)
        lid = [Plate("Lid", self.bottom_stock, over, lying(height + thick / 2))]
        if self.lid == "lipped":
            x, y = width / 2 - wall - _LIP_PLAY, depth / 2 - wall - _LIP_PLAY
            under = lying(height - thick / 2)
            lid.append(Plate("Lid lip", self.bottom_stock, board(-x, -y, x, y), under))
        return lid


def _narrowest(middles: list[float], half: float) -> float:
    """Return the least distance between neighbouring dividers, or from one to a wall's inside."""
    stops = [-half, *middles, half]
    return min(b - a for a, b in pairwise(stops))
