"""Grid stand: boards crossing in a grid, the outermost a frame with overhanging ends, under a top.

All boards lap where they cross. A recess in the inner boards' upper edges makes room for a light;
the top, of another sheet, lies on everything, or takes tabs of the four frame boards.
"""

from typing import ClassVar, Literal

from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Region
from anzel.structure.dimension import Dimension
from anzel.structure.forms.common_outlines import board, lying, polygon_of, standing
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form, need_pitch
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.model import FitContext, JointSpec, Plate

_LEAST_WEB = 1.0
"""Boards closer together than this, mm, leave nothing that can be cut between their slots."""
_WIDEST_TAB, _NARROWEST_TAB = 16.0, 4.0
_NORTH_TURN = 1.5707963267948966


class GridStand(Form):
    """The maker's decisions about a grid stand, mm."""

    shares: ClassVar[frozenset[str]] = frozenset({"split"})
    held: ClassVar[frozenset[str]] = frozenset({"relief"})

    form: Literal["grid-stand"] = "grid-stand"
    board_stock: str = "ply-3"
    top_stock: str = "ply-6"
    width: float = Field(default=200, gt=0, description="Between the frame's mid-planes")
    depth: float = Field(default=140, gt=0, description="Between the frame's mid-planes")
    height: float = Field(default=60, gt=0, description="Of the boards")
    across: int = Field(default=2, ge=0, le=20, description="Inner boards front to back")
    along: int = Field(default=1, ge=0, le=20, description="Inner boards left to right")
    pitch: float = Field(default=0, ge=0, description="Of inner boards; 0 spreads them evenly")
    overhang: float = Field(default=12, ge=4, le=200, description="Ends beyond the frame")
    split: float = Field(default=0.5, ge=0.2, le=0.8, description="Share cut from above")
    relief: float = Field(default=0.2, ge=0, le=5, description="Extra depth of every slot")
    recess: float = Field(default=60, ge=0, description="Room for a light: its width, 0 for none")
    recess_depth: float = Field(default=15, ge=0, description="How deep it is let in")
    top: bool = Field(default=True, description="A plate lying on the grid")
    jointed: bool = Field(default=False, description="The frame's tabs hold the top")

    def stock_roles(self) -> dict[str, str]:
        """Return which stock boards and top are cut from."""
        return {"board_stock": self.board_stock, "top_stock": self.top_stock}

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Least and greatest values, given the other fields."""
        wall = fit_context.of(self.board_stock).measured_thickness
        room = wall + _LEAST_WEB
        most = max(self.across, self.along, 1)
        return {
            "width": ((self.across + 1) * room, 2000), "depth": ((self.along + 1) * room, 2000),
            "height": (20, 400),
            "pitch": (0, min(self.width, self.depth) / most if most > 1 else 2000),
            "recess": (0, max(min(self.width, self.depth) - 2 * room, 0.0)),
            "recess_depth": (0, self.height * 0.45),
            "overhang": (max(4.0, wall), 200),
        }  # fmt: skip

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Boards on the table in two directions, each lapping each of the other direction."""
        need_pitch(self.pitch, fit_context.of(self.board_stock).measured_thickness + _LEAST_WEB)
        xs, ys = self._stations(self.across, self.width), self._stations(self.along, self.depth)
        plates, names_across, names_along = [], [], []
        for number, x in enumerate(xs):
            name = self._name("Across", number, len(xs))
            shape = self._board(self.depth, 0 < number < len(xs) - 1, x)
            plates.append(Plate(name, self.board_stock, shape, standing(x, 0.0, _NORTH_TURN)))
            names_across.append(name)
        for number, y in enumerate(ys):
            name = self._name("Along", number, len(ys))
            shape = self._board(self.width, 0 < number < len(ys) - 1, y)
            plates.append(Plate(name, self.board_stock, shape, standing(0.0, y)))
            names_along.append(name)
        laps = tuple(
            CrossLap(f"J{i}.{j}", one, other, self.split, self.relief)
            for i, one in enumerate(names_across, start=1)
            for j, other in enumerate(names_along, start=1)
        )
        if self.top:
            half_x, half_y = self.width / 2 + self.overhang, self.depth / 2 + self.overhang
            z = self.height + fit_context.of(self.top_stock).measured_thickness / 2
            shape = board(-half_x, -half_y, half_x, half_y)
            plates.append(Plate("Top", self.top_stock, shape, lying(z)))
        return tuple(plates), (*laps, *self._top_tabs(xs, ys, fit_context))

    def unused(self) -> frozenset[str]:
        """Without a top nothing holds it."""
        return frozenset() if self.top else frozenset({"jointed"})

    def _top_tabs(
        self, xs: list[float], ys: list[float], fit_context: FitContext
    ) -> list[JointSpec]:
        """Return two tabs on each frame board, each midway between two boards that cross it."""
        if not (self.top and self.jointed):
            return []
        wall = fit_context.of(self.board_stock).measured_thickness
        made: list[JointSpec] = []
        for number, (name, stations) in enumerate(
            (("Left", ys), ("Right", ys), ("Front", xs), ("Back", xs)), start=1
        ):
            gap = stations[1] - stations[0]
            wide = min(gap - 2 * wall, _WIDEST_TAB)
            if wide < _NARROWEST_TAB:
                raise ParameterError(
                    f"Between the boards that cross {name} there is no room for tabs.",
                    hint="Use fewer boards, or let the top lie on them.", field="jointed",
                )  # fmt: skip
            middles = dict.fromkeys((stations[0] + gap / 2, stations[-1] - gap / 2))
            made.append(TabMortise(f"T{number}", name, "Top", tuple((at, wide) for at in middles)))
        return made

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return split and relief, which every crossing shares."""
        return ("split", "relief") if joint_id.startswith("J") else ()

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Return the height, on the first board."""
        end = -self.depth / 2 - self.overhang
        return (Dimension("height", "Left", (end, 0), (end, self.height), 12),)

    def _name(self, word: str, number: int, count: int) -> str:
        ends = ("Left", "Right") if word == "Across" else ("Front", "Back")
        if number in (0, count - 1):
            return ends[0] if number == 0 else ends[1]
        return f"{word} {number}"

    def _stations(self, inner: int, span: float) -> list[float]:
        """Return where boards cross an axis: the frame at both ends, the inner ones between."""
        pitch = self.pitch or span / (inner + 1)
        between = [(index - (inner - 1) / 2) * pitch for index in range(inner)]
        return [-span / 2, *between, span / 2]

    def _board(self, span: float, is_inner: bool, off: float) -> Region:
        """Return one board, with the recess where an inner one runs through it."""
        end, high = span / 2 + self.overhang, self.height
        half = self.recess / 2
        if not is_inner or half <= 0 or self.recess_depth <= 0 or abs(off) >= half:
            return board(-end, 0.0, end, high)
        low = high - self.recess_depth
        return polygon_of(
            [(-end, 0), (end, 0), (end, high), (half, high), (half, low), (-half, low),
             (-half, high), (-end, high)]
        )  # fmt: skip
