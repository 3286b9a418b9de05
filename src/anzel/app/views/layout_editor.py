"""The layout editor's view model: the sheets of a job side by side, and pieces dragged on them.

Its coordinates are mm, y up. Nothing here knows of a screen.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import shapely

from anzel.app.edits.layout_edits import moved_placement
from anzel.core.tolerances import CHORD_SLACK
from anzel.geometry.rigid_transform import Point
from anzel.layout.layout import Layout, PlacedPiece, SheetPlan, transform_to
from anzel.layout.rows import boxes_in_rows
from anzel.layout.sheet_settings import KeptPlacement
from anzel.nesting.problem import ContainerKind, NestingProblem, Orientation, translated

_GAP = 30.0
_TITLE = 0.05
"""Room above each sheet for its title, of the highest one's height."""


@dataclass(frozen=True)
class PlacedSheet:
    """A sheet in the view: its plan, its layout, and where its corner lies."""

    plan: SheetPlan
    layout: Layout
    x: float
    y: float

    @cached_property
    def polygons(self) -> tuple[shapely.Polygon, ...]:
        """The pieces on it, in the sheet's own coordinates."""
        return tuple(laid.region.shape for laid in self.plan.placed)

    @property
    def problem(self) -> NestingProblem:
        """The nesting problem with the distances to keep."""
        return self.layout.problem

    @cached_property
    def inside(self) -> shapely.Geometry:
        """The sheet inside its margin."""
        names = [container.name for container in self.problem.containers]
        return self.problem.inner[names.index(self.plan.container)]


@dataclass(frozen=True)
class DragPreview:
    """A dragged copy: its placement, the sheet under it, and what it would be too near to.

    An edge is "the edge".
    """

    place: KeptPlacement
    sheet: int
    polygon: shapely.Polygon
    clashing: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class LayoutEditor:
    """Sheets in rows."""

    sheets: tuple[PlacedSheet, ...]
    width: float
    height: float
    spare: tuple[PlacedSheet, ...] = ()
    """Sheets of every size on the rack that nothing lies on yet; they are not in the view."""

    def at(self, point: Point) -> tuple[int, int] | None:
        """Return (sheet, number on it) of the copy under a point; None where there is none."""
        for number, spread in enumerate(self.sheets):
            here = shapely.Point(point[0] - spread.x, point[1] - spread.y)
            for index, polygon in enumerate(spread.polygons):
                if polygon.contains(here):
                    return (number, index)
        return None

    def laid(self, where: tuple[int, int]) -> PlacedPiece:
        """Return a placed copy."""
        return self.sheets[where[0]].plan.placed[where[1]]

    def find(self, piece: str, copy_number: int, stock_id: str) -> tuple[int, int] | None:
        """Return where a copy lies; None where it does not."""
        for number, spread in enumerate(self.sheets):
            for index, laid in enumerate(spread.plan.placed):
                own = (laid.piece.name, laid.copy_number, spread.plan.stock_id)
                if own == (piece, copy_number, stock_id):
                    return (number, index)
        return None

    def drag_preview(
        self, where: tuple[int, int], dx: float, dy: float, turn: float = 0.0
    ) -> DragPreview:
        """Return the preview of a shifted and turned copy.

        It is on the sheet of its stock that its middle is over, or on its own.
        """
        source = self.sheets[where[0]]
        laid = source.plan.placed[where[1]]
        place = moved_placement(source.plan, laid, dx, dy, turn)
        shape = _at(laid, place)
        middle = shape.centroid
        target = where[0]
        for number, spread in enumerate(self.sheets):
            here = (middle.x + source.x - spread.x, middle.y + source.y - spread.y)
            over = 0 <= here[0] <= spread.plan.width and 0 <= here[1] <= spread.plan.height
            if over and spread.plan.stock_id == source.plan.stock_id:
                target = number
        return self._on(where, place, shape, target)

    def sent_to_sheet(self, where: tuple[int, int], target: int) -> DragPreview:
        """Return the preview of a copy on another sheet, in its lower left corner.

        Numbers past those of the sheets in the view are those of spare ones.
        """
        source, spread = self.sheets[where[0]], self._sheet(target)
        laid = source.plan.placed[where[1]]
        left, low, _, _ = laid.region.shape.bounds
        at = spread.inside.bounds[:2]
        place = moved_placement(source.plan, laid, at[0] - left, at[1] - low)
        shape = _at(laid, place)
        shift = (spread.x - source.x, spread.y - source.y)
        carried = place.with_changes(x=place.x + shift[0], y=place.y + shift[1])
        return self._on(where, carried, translated(shape, *shift), target)

    def _sheet(self, number: int) -> PlacedSheet:
        return (*self.sheets, *self.spare)[number]

    def _on(
        self, where: tuple[int, int], place: KeptPlacement, shape: shapely.Polygon, target: int
    ) -> DragPreview:  # fmt: skip
        source, spread = self.sheets[where[0]], self._sheet(target)
        shift = (source.x - spread.x, source.y - spread.y)
        there = translated(shape, *shift)
        settled = place.with_changes(
            x=place.x + shift[0], y=place.y + shift[1],
            container=spread.plan.container, sheet=spread.plan.sheet,
        )  # fmt: skip
        clashing = [
            laid.piece.name
            for index, (laid, polygon) in enumerate(
                zip(spread.plan.placed, spread.polygons, strict=True)
            )
            if (target, index) != where
            and polygon.distance(there) < spread.problem.spacing - CHORD_SLACK / 2
        ]
        if not spread.inside.buffer(CHORD_SLACK).contains(there):
            clashing.append("the edge")
        on_table = translated(there, spread.x, spread.y)
        return DragPreview(settled, target, on_table, tuple(clashing))


def edit_layouts(layouts: Sequence[Layout], aspect: float) -> LayoutEditor:
    """Return an editor of every sheet and every free scrap.

    The rows suit a view `aspect` times as wide as high.
    """
    plans = [(plan, layout) for layout in layouts for plan in (*layout.plans, *_free(layout))]
    tallest = max((plan.height for plan, _ in plans), default=0.0)
    corners, size = boxes_in_rows(
        [(plan.width, plan.height) for plan, _ in plans], aspect, gap=_GAP,
        above=_TITLE * tallest + 12.0,
    )  # fmt: skip
    spreads = zip(plans, corners, strict=True)
    sheets = tuple(PlacedSheet(*each, *corner) for each, corner in spreads)
    spare = tuple(
        PlacedSheet(plan, layout, 0.0, 0.0) for layout in layouts for plan in _unused(layout)
    )
    return LayoutEditor(sheets, *size, spare)


def _unused(layout: Layout) -> list[SheetPlan]:
    """Return the next sheet of every size that the rack still has."""
    used = Counter(plan.container for plan in layout.plans)
    sizes = [each for each in layout.problem.containers if each.kind is not ContainerKind.SCRAP]
    return [
        SheetPlan(
            layout.stock_id, 0, *each.size, (), each.name, used[each.name], None, each.kind, number
        )
        for number, each in enumerate(sizes)
        if each.count is None or used[each.name] < each.count
    ]  # fmt: skip


def _free(layout: Layout) -> list[SheetPlan]:
    """Return the scraps that nothing lies on."""
    used = {plan.container for plan in layout.plans}
    stock_id = layout.stock_id
    free = []
    for container in layout.problem.containers:
        if container.kind is ContainerKind.SCRAP and container.name not in used:
            outline = None if container.is_rectangle else container.polygon
            free.append(
                SheetPlan(
                    stock_id, 0, *container.size, (), container.name, 0, outline, container.kind
                )
            )
    return free


def _at(laid: PlacedPiece, place: KeptPlacement) -> shapely.Polygon:
    """Return a copy's polygon at a placement on its own sheet."""
    orientation = Orientation(place.turn, place.over)
    return laid.piece.region.moved(transform_to(laid.piece, orientation, place.x, place.y)).shape
