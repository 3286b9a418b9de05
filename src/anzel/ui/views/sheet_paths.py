"""What is painted of sheets on the table, worked out once for each layout.

A piece's own paths are made once; where its copies lie on the table is for the painter.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from PySide6.QtGui import QPainterPath, QTransform

from anzel.app.number_display import shown_length, shown_share
from anzel.app.views.layout_editor import PlacedSheet
from anzel.layout.layout import Layout, PlacedPiece, SheetPlan
from anzel.nesting.problem import ContainerKind
from anzel.structure.line_work import LineOperation
from anzel.structure.model import Piece
from anzel.ui.views.line_painting import LinePaths, line_paths
from anzel.ui.views.screen_paths import polygon_path, region_path

OwnPaths = dict[tuple[int, bool], tuple[Piece, QPainterPath, LinePaths]]
"""A piece with its outline and lines, by which piece it is and whether it is turned over."""


@dataclass(frozen=True)
class SheetPaths:
    """A sheet's edge and the inside of its margin, mm on the table.

    Its title, and how much of it is used.
    """

    edge: QPainterPath
    inside: QPainterPath
    title: str
    used: str


class PiecePaths:
    """The paths of pieces in their own coordinates, kept while the pieces are the same."""

    def __init__(self) -> None:
        self._kept: OwnPaths = {}
        self._ready: OwnPaths = {}

    def prepare(self, layouts: Iterable[Layout]) -> None:
        """Make the paths of layouts that are about to be shown, on another thread."""
        self._ready = _of_pieces((plan for each in layouts for plan in each.plans), self._kept)

    def of_sheets(
        self, sheets: tuple[PlacedSheet, ...], names: Mapping[str, str]
    ) -> list[SheetPaths]:
        """Return what is painted of sheets; `names` are the stocks'."""
        self._kept = _of_pieces((spread.plan for spread in sheets), self._ready, self._kept)
        return [_of_sheet(spread, names) for spread in sheets]

    def of_piece(self, laid: PlacedPiece) -> tuple[QPainterPath, LinePaths]:
        """Return the outline and the lines of a piece on one of those sheets, as it was drawn."""
        _, outline, lines = self._kept[id(laid.piece), laid.transform.over]
        return outline, lines


def on_table(laid: PlacedPiece, spread: PlacedSheet) -> QTransform:
    """Return how a piece as it was drawn comes to lie on the table."""
    transform = laid.transform
    flip = -1.0 if transform.over else 1.0
    return QTransform(
        transform.cosine * flip, transform.sine * flip, -transform.sine, transform.cosine,
        transform.dx + spread.x, transform.dy + spread.y,
    )  # fmt: skip


def _of_sheet(spread: PlacedSheet, names: Mapping[str, str]) -> SheetPaths:
    inside = spread.inside
    return SheetPaths(
        polygon_path(spread.plan.polygon, spread.x, spread.y),
        QPainterPath() if inside.is_empty else polygon_path(inside, spread.x, spread.y),
        _title(spread, names), _used(spread),
    )  # fmt: skip


def _title(spread: PlacedSheet, names: Mapping[str, str]) -> str:
    plan = spread.plan
    what = plan.container if plan.is_scrap else f"sheet {plan.number}"
    size = f"{shown_length(plan.width, 0)} × {shown_length(plan.height, 0)}"
    bought = " (to buy)" if plan.kind is ContainerKind.TO_BUY else ""
    return f"{names.get(plan.stock_id, plan.stock_id)} · {what}{bought} · {size}"


def _used(spread: PlacedSheet) -> str:
    return f"{shown_share(spread.plan.utilisation)} used" if spread.plan.placed else "free"


def _of_pieces(plans: Iterable[SheetPlan], *kept: OwnPaths) -> OwnPaths:
    """Return the own paths of all pieces of plans, of those that are kept or made."""
    paths: OwnPaths = {}
    for plan in plans:
        for laid in plan.placed:
            key = id(laid.piece), laid.transform.over  # no other has it while this is kept
            if key not in paths:
                paths[key] = next((p[key] for p in kept if key in p), None) or _own_paths(laid)
    return paths


def _own_paths(laid: PlacedPiece) -> tuple[Piece, QPainterPath, LinePaths]:
    """Return a piece's outline, and what is cut on it and done to the face that lies up."""
    lines = line_paths(
        line for line in laid.piece.lines
        if line.operation is LineOperation.CUT or line.is_back is laid.transform.over
    )  # fmt: skip
    return laid.piece, region_path(laid.piece.region), lines
