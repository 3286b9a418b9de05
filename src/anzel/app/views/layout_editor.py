"""The sheets of a job spread out on a table, and a hand that moves pieces on them.

The table's coordinates are mm, y up. Nothing here knows of a screen.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import shapely

from anzel.app.edits.layout_edits import moved_place
from anzel.geometry.rigid_transform import Point
from anzel.layout.layout import Laid, Layout, SheetPlan, motion_to
from anzel.layout.rows import boxes_in_rows
from anzel.layout.sheet_settings import Kept
from anzel.nesting.problem import Pose, Puzzle, moved
from anzel.nesting.validation import SLACK

_GAP = 30.0
_TITLE = 0.05
"""Room above each sheet for its title, of the highest one's height."""


@dataclass(frozen=True)
class Spread:
    """A sheet on the table: its plan, the layout it is of, and where its corner lies."""

    plan: SheetPlan
    layout: Layout
    x: float
    y: float

    @cached_property
    def polygons(self) -> tuple[shapely.Polygon, ...]:
        """What lies on it, in the sheet's own coordinates."""
        return tuple(laid.region.shape for laid in self.plan.laid)

    @property
    def puzzle(self) -> Puzzle:
        """The distances to keep."""
        return self.layout.puzzle

    @cached_property
    def inside(self) -> shapely.Geometry:
        """The sheet inside its margin."""
        names = [room.name for room in self.puzzle.rooms]
        return self.puzzle.inner[names.index(self.plan.room)]


@dataclass(frozen=True)
class Held:
    """A copy in hand: where it would lie, on which sheet of the table, and what it would be too
    near to there (an edge is told as "the edge")."""

    place: Kept
    sheet: int
    polygon: shapely.Polygon
    clashing: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class SheetTable:
    """Sheets in rows."""

    sheets: tuple[Spread, ...]
    width: float
    height: float

    def at(self, point: Point) -> tuple[int, int] | None:
        """(sheet, number on it) of the copy under a point."""
        for number, spread in enumerate(self.sheets):
            here = shapely.Point(point[0] - spread.x, point[1] - spread.y)
            for index, polygon in enumerate(spread.polygons):
                if polygon.contains(here):
                    return (number, index)
        return None

    def laid(self, where: tuple[int, int]) -> Laid:
        """A copy."""
        return self.sheets[where[0]].plan.laid[where[1]]

    def find(self, piece: str, copy_number: int, stock_id: str) -> tuple[int, int] | None:
        """Where a copy lies."""
        for number, spread in enumerate(self.sheets):
            for index, laid in enumerate(spread.plan.laid):
                own = (laid.piece.name, laid.copy_number, spread.plan.stock_id)
                if own == (piece, copy_number, stock_id):
                    return (number, index)
        return None

    def held(self, where: tuple[int, int], dx: float, dy: float, turn: float = 0.0) -> Held:
        """A copy shifted and turned, on the sheet of its stock that its middle is over (its own
        where that is none)."""
        source = self.sheets[where[0]]
        laid = source.plan.laid[where[1]]
        place = moved_place(source.plan, laid, dx, dy, turn)
        shape = _at(laid, place)
        middle = shape.centroid
        target = where[0]
        for number, spread in enumerate(self.sheets):
            here = (middle.x + source.x - spread.x, middle.y + source.y - spread.y)
            over = 0 <= here[0] <= spread.plan.width and 0 <= here[1] <= spread.plan.height
            if over and spread.plan.stock_id == source.plan.stock_id:
                target = number
        return self._on(where, place, shape, target)

    def sent(self, where: tuple[int, int], target: int) -> Held:
        """A copy on another sheet, in its lower left corner."""
        source, spread = self.sheets[where[0]], self.sheets[target]
        laid = source.plan.laid[where[1]]
        left, low, _, _ = laid.region.shape.bounds
        at = spread.inside.bounds[:2]
        place = moved_place(source.plan, laid, at[0] - left, at[1] - low)
        shape = _at(laid, place)
        shift = (spread.x - source.x, spread.y - source.y)
        carried = place.with_changes(x=place.x + shift[0], y=place.y + shift[1])
        return self._on(where, carried, moved(shape, *shift), target)

    def _on(
        self, where: tuple[int, int], place: Kept, shape: shapely.Polygon, target: int
    ) -> Held:  # fmt: skip
        source, spread = self.sheets[where[0]], self.sheets[target]
        shift = (source.x - spread.x, source.y - spread.y)
        there = moved(shape, *shift)
        settled = place.with_changes(
            x=place.x + shift[0], y=place.y + shift[1],
            room=spread.plan.room, sheet=spread.plan.sheet,
        )  # fmt: skip
        clashing = [
            laid.piece.name
            for index, (laid, polygon) in enumerate(
                zip(spread.plan.laid, spread.polygons, strict=True)
            )
            if (target, index) != where
            and polygon.distance(there) < spread.puzzle.spacing - SLACK / 2
        ]
        if not spread.inside.buffer(SLACK).contains(there):
            clashing.append("the edge")
        on_table = moved(there, spread.x, spread.y)
        return Held(settled, target, on_table, tuple(clashing))


def spread_out(layouts: Sequence[Layout], aspect: float) -> SheetTable:
    """Every sheet, and every scrap that is left free, in rows that suit a view `aspect` times as
    wide as high."""
    plans = [(plan, layout) for layout in layouts for plan in (*layout.plans, *_free(layout))]
    tallest = max((plan.height for plan, _ in plans), default=0.0)
    corners, size = boxes_in_rows(
        [(plan.width, plan.height) for plan, _ in plans], aspect, gap=_GAP,
        above=_TITLE * tallest + 12.0,
    )  # fmt: skip
    spreads = zip(plans, corners, strict=True)
    return SheetTable(tuple(Spread(*each, *corner) for each, corner in spreads), *size)


def _free(layout: Layout) -> list[SheetPlan]:
    """Scraps that nothing lies on."""
    used = {plan.room for plan in layout.plans}
    stock_id = layout.stock_id
    free = []
    for room in layout.puzzle.rooms:
        if room.is_scrap and room.name not in used:
            outline = None if room.is_rectangle else room.polygon
            free.append(SheetPlan(stock_id, 0, *room.size, (), room.name, 0, outline))
    return free


def _at(laid: Laid, place: Kept) -> shapely.Polygon:
    """A copy's polygon at a place of its own sheet."""
    pose = Pose(place.turn, place.over)
    return laid.piece.region.moved(motion_to(laid.piece, pose, place.x, place.y)).shape
