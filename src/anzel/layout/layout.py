"""Layout of the pieces of one stock on its sheets and scraps.

Sheet coordinates start at a sheet's lower left corner, mm. Pinned pieces stay. Where every piece
has a kept placement (a squeezed layout), all of it stays as long as nothing clashes; otherwise the
quick solver places what is not pinned anew.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import shapely

from anzel.core.findings import Finding, Severity
from anzel.core.number_format import (
    UNIT,
    format_length,
    format_measure,
    plain_length,
    plain_measure,
)
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.layout.available_sheets import AvailableSheets, containers_of
from anzel.layout.orientations import orientations_of
from anzel.layout.sheet_settings import KeptPlacement, SheetSettings
from anzel.nesting.area_bound import fewest_sheets
from anzel.nesting.problem import (
    ContainerKind,
    Item,
    NestingProblem,
    Orientation,
    PlacedItem,
    Solution,
)
from anzel.nesting.solving import solution_by_boxes, solution_of
from anzel.structure.model import Piece

TOO_LARGE = "piece-larger-than-sheet"
CLASH = "pieces-clash"
LOST = "pinned-nowhere"

Copy = tuple[str, int]
"""A piece's name and which copy of it, from 1."""


@dataclass(frozen=True)
class PlacedPiece:
    """One copy of a piece on a sheet, moved there by `transform`."""

    piece: Piece
    transform: RigidTransform
    turn: float
    copy_number: int = 1
    pinned: bool = False

    @cached_property
    def region(self) -> Region:
        """The piece in its place on the sheet."""
        return self.piece.region.moved(self.transform)


@dataclass(frozen=True)
class SheetPlan:
    """One sheet or scrap with what lies on it.

    `container` and `sheet` identify it; an `outline` is given where it does not fill its bounds.
    `on_rack` is its index among the stock's scraps, or among its sheet sizes.
    """

    stock_id: str
    number: int
    width: float
    height: float
    placed: tuple[PlacedPiece, ...]
    container: str = ""
    sheet: int = 0
    outline: shapely.Polygon | None = None
    kind: ContainerKind = ContainerKind.SHEET
    on_rack: int = 0

    @property
    def is_scrap(self) -> bool:
        """Whether it is a scrap."""
        return self.kind is ContainerKind.SCRAP

    @property
    def polygon(self) -> shapely.Polygon:
        """The outline of the sheet itself."""
        return self.outline or shapely.box(0.0, 0.0, self.width, self.height)

    @property
    def utilisation(self) -> float:
        """The area of the pieces over the area of the sheet, 0 to 1."""
        return sum(each.piece.region.area for each in self.placed) / float(self.polygon.area)


@dataclass(frozen=True, eq=False)
class Layout:
    """All sheets of one stock, what did not fit, and the nesting problem and solution."""

    plans: tuple[SheetPlan, ...]
    findings: tuple[Finding, ...]
    problem: NestingProblem
    solution: Solution
    _stock_layout: "_StockLayout"

    @cached_property
    def bound(self) -> int:
        """The lower bound on the number of sheets, by area alone."""
        return fewest_sheets(self.problem)

    @property
    def stock_id(self) -> str:
        """The stock of the layout."""
        return self._stock_layout.supply.stock_id

    def with_solution(self, solution: Solution) -> "Layout":
        """Return the same pieces laid out as another solution of the problem says."""
        return self._stock_layout.layout(self.problem, solution, self._stock_layout.kept())

    @property
    def kept(self) -> tuple[KeptPlacement, ...]:
        """The placement of every copy, to be kept."""
        return tuple(kept_placement_of(plan, laid) for plan in self.plans for laid in plan.placed)


def kept_placement_of(
    plan: SheetPlan, laid: PlacedPiece, *, pinned: bool | None = None
) -> KeptPlacement:
    """Return the placement of a copy on its sheet, to be kept as it is, or pinned or not."""
    x, y, _, _ = laid.region.shape.bounds  # of its chords, as the problem has it
    return KeptPlacement(
        stock_id=plan.stock_id, piece=laid.piece.name, copy_number=laid.copy_number,
        container=plan.container, sheet=plan.sheet, turn=laid.turn, over=laid.transform.over, x=x,
        y=y,
        pinned=laid.pinned if pinned is None else pinned,
    )  # fmt: skip


def transform_to(piece: Piece, orientation: Orientation, x: float, y: float) -> RigidTransform:
    """Return the transform that puts a piece into an orientation at a place.

    (x, y) is the lower left corner of its bounds. The bounds are those of its chords, as in the
    nesting problem.
    """
    turned = orientation.motion
    left, low, _, _ = piece.region.outer.moved(turned).polygon_shape.bounds
    return turned.translated(x - left, y - low)


def lay_out(
    pieces: Sequence[Piece],
    available: AvailableSheets,
    settings: SheetSettings,
    *,
    hidden: Mapping[str, bool | None] | None = None,
    marked: bool = False,
    at_once: bool = False,
) -> Layout:
    """Return pieces of one stock on as few and as small sheets as the quick solver finds.

    A piece larger than every sheet is left out and named in a finding. Where the counted sheets run
    out, more of the largest are used, and a finding says so. `hidden` and `marked`: see
    `layout.orientations`; `at_once`: by boxes alone.
    """
    task = _StockLayout(pieces, available, settings, hidden or {}, marked)
    kept = task.kept()
    problem = task.problem(tuple(placed_item for placed_item, pinned in kept.values() if pinned))
    whole = Solution(tuple(placed_item for placed_item, _ in kept.values()))
    if kept and len(kept) == len(task.wanted) and task.stays(whole):
        solution = whole
    else:
        solution = solution_by_boxes(problem) if at_once else solution_of(problem)
    return task.layout(problem, solution, kept)


class _StockLayout:
    """The pieces of one stock as a nesting problem, and a solution as sheets."""

    def __init__(
        self, pieces: Sequence[Piece], available: AvailableSheets, settings: SheetSettings,
        hidden: Mapping[str, bool | None], marked: bool,
    ) -> None:  # fmt: skip
        self.supply, self.settings, self.containers = available, settings, containers_of(available)
        self.pieces = {piece.name: piece for piece in pieces}
        kinds: dict[tuple[Region, tuple[Orientation, ...]], list[Copy]] = {}
        for piece in pieces:
            orientations = orientations_of(
                piece, available, settings, hidden_front=hidden.get(piece.name), marked=marked
            )
            count = settings.count_of(piece.name, piece.count)
            own = kinds.setdefault((piece.region, orientations), [])
            own.extend((piece.name, number) for number in range(1, count + 1))
        kinds = {kind: copies for kind, copies in kinds.items() if copies}
        self.copies = tuple(map(tuple, kinds.values()))
        self.shapes = tuple(
            Item(copies[0][0], region.shape, len(copies), orientations)
            for (region, orientations), copies in kinds.items()
        )
        self.wanted = {copy: n for n, copies in enumerate(self.copies) for copy in copies}

    def problem(self, fixed: tuple[PlacedItem, ...]) -> NestingProblem:
        """Return the problem with some items fixed."""
        settings = self.settings
        return NestingProblem(
            self.shapes, self.containers, settings.spacing, settings.margin, fixed
        )

    def kept(self) -> dict[Copy, tuple[PlacedItem, bool]]:
        """Return the kept placement of each copy and whether it is pinned.

        Copies whose place is gone are left out.
        """
        found = {}
        for each in self.settings.kept_placements:
            copy = (each.piece, each.copy_number)
            container = self._room(each)
            if (
                each.stock_id == self.supply.stock_id
                and copy in self.wanted
                and container is not None
            ):
                orientation = Orientation(each.turn, each.over)
                placed_item = PlacedItem(
                    self.wanted[copy], container, each.sheet, orientation, each.x, each.y
                )
                found[copy] = (placed_item, each.pinned)
        return found

    def _room(self, kept: KeptPlacement) -> int | None:
        for number, container in enumerate(self.containers):
            if container.name == kept.container and (
                container.count is None or kept.sheet < container.count
            ):
                return number
        return None

    def stays(self, solution: Solution) -> bool:
        """Return whether nothing in a kept layout clashes and every orientation is allowed."""
        from anzel.nesting.validation import clashes

        may = all(
            placed_item.orientation in self.shapes[placed_item.item].orientations
            for placed_item in solution.placed
        )
        return may and not clashes(self.problem(()), solution)

    def layout(
        self,
        problem: NestingProblem,
        solution: Solution,
        kept: Mapping[Copy, tuple[PlacedItem, bool]],
    ) -> Layout:
        """Return sheets with named copies; kept placements keep their copy's name."""
        there = set(solution.placed)
        named = {
            placed_item: copy for copy, (placed_item, _) in kept.items() if placed_item in there
        }
        taken = set(named.values())
        left = [[c for c in copies if c not in taken] for copies in self.copies]
        plans = []
        for number, (container, sheet) in enumerate(solution.sheets, start=1):
            laid = []
            for placed_item in solution.on(container, sheet):
                copy = named.get(placed_item) or left[placed_item.item].pop(0)
                pinned = copy in kept and kept[copy][1] and named.get(placed_item) == copy
                laid.append(self._laid(placed_item, copy, pinned))
            plans.append(self._plan(number, container, sheet, laid))
        found = (
            *(self._too_large(left[shape][0][0]) for shape in dict.fromkeys(solution.left_out)),
            *self._clashing(problem, solution, named),
            *self._lost(kept),
            *self._too_few(solution),
        )
        return Layout(tuple(plans), found, problem, solution, self)

    def _plan(self, number: int, index: int, sheet: int, laid: list[PlacedPiece]) -> SheetPlan:
        container, scraps = self.containers[index], len(self.supply.scraps)
        outline = None if container.is_rectangle else container.polygon
        width, height = container.size
        stock_id = self.supply.stock_id
        return SheetPlan(
            stock_id, number, width, height, tuple(laid), container.name, sheet, outline,
            container.kind, index if index < scraps else index - scraps,
        )  # fmt: skip

    def _laid(self, placed_item: PlacedItem, copy: Copy, pinned: bool) -> PlacedPiece:
        piece = self.pieces[copy[0]]
        motion = transform_to(piece, placed_item.orientation, placed_item.x, placed_item.y)
        return PlacedPiece(piece, motion, placed_item.orientation.turn, copy[1], pinned)

    def _too_large(self, name: str) -> Finding:
        own = " × ".join(f"{format_length(side, 1)}" for side in self.pieces[name].region.size)
        largest = max(self.supply.sizes, key=lambda size: size.width * size.height)
        sheet = f"{plain_length(largest.width)} × {plain_length(largest.height)}"
        return Finding(
            TOO_LARGE, Severity.PROBLEM, name,
            f"{own} {UNIT} does not fit a sheet of {sheet} {UNIT} "
            f"with a margin of {plain_measure(self.settings.margin)}, as it may lie.",
            "Use a larger sheet, a smaller margin, more turns or a smaller structure.",
        )  # fmt: skip

    def _clashing(
        self, problem: NestingProblem, solution: Solution, named: Mapping[PlacedItem, Copy]
    ) -> list[Finding]:
        """Return findings on pinned copies that are too near to each other or to an edge."""
        from anzel.nesting.validation import clashes

        if not problem.fixed:
            return []
        found = []
        for clash in clashes(problem, Solution(problem.fixed)):
            name = _said(named[clash.placed])
            by = f"by {format_measure(clash.by, 1)}"
            if clash.other is None:
                message = f"stands over the edge of its sheet's margin {by}."
            else:
                message = f"is too near to {_said(named[clash.other])}, {by}."
            hint = "Move one of them, or let it be laid again."
            found.append(Finding(CLASH, Severity.PROBLEM, name, message, hint))
        return found

    def _lost(self, kept: Mapping[Copy, tuple[PlacedItem, bool]]) -> list[Finding]:
        """Return findings on pinned copies whose sheet is gone."""
        return [
            Finding(
                LOST, Severity.NOTE, _said((each.piece, each.copy_number)),
                "was pinned to a sheet that is not there any more, and is laid again.",
            )
            for each in self.settings.kept_placements
            if each.pinned and each.stock_id == self.supply.stock_id
            and (each.piece, each.copy_number) in self.wanted
            and (each.piece, each.copy_number) not in kept
        ]  # fmt: skip

    def _too_few(self, solution: Solution) -> list[Finding]:
        """Return findings on sheets that the rack lacks, where its sheets are counted."""
        kinds = [self.containers[container].kind for container, _ in solution.sheets]
        lacking = sum(kind is ContainerKind.TO_BUY for kind in kinds)
        if not lacking:
            return []
        sheets = sum(kind is not ContainerKind.SCRAP for kind in kinds)
        return [
            Finding(
                "too-few-sheets", Severity.WARNING, self.supply.stock_id,
                f"{sheets} sheets are needed and {sheets - lacking} are on the rack.",
                f"Get {lacking} more, or correct the count.",
            )
        ]  # fmt: skip


def _said(copy: Copy) -> str:
    """Return the name of a copy as people say it."""
    return copy[0] if copy[1] == 1 else f"{copy[0]} ({copy[1]})"
