"""Pieces in rows, on no real sheet: for viewing, for files, for test pieces."""

from collections.abc import Sequence
from dataclasses import replace
from typing import TypeVar

from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.layout.layout import PlacedPiece, SheetPlan
from anzel.structure.model import Piece

Thing = TypeVar("Thing")


def in_rows(pieces: Sequence[Piece], aspect: float, gap: float = 24.0) -> SheetPlan:
    """Return all pieces in rows, broken to suit a view `aspect` times as wide as high."""
    sizes = [piece.region.size for piece in pieces]

    def needed(per_row: int) -> float:
        width, height = _size_of(_in_runs(sizes, per_row), gap)
        return max(width / aspect, height)

    return _rows(pieces, sizes, min(range(1, len(pieces) + 1), key=needed), gap)


def _in_runs(each: Sequence[Thing], per_row: int) -> list[Sequence[Thing]]:
    return [each[start : start + per_row] for start in range(0, len(each), per_row)]


def _size_of(rows: Sequence[Sequence[Point]], gap: float) -> Point:
    width = max(sum(w for w, _ in row) + gap * (len(row) + 1) for row in rows)
    return width, gap + sum(max(h for _, h in row) + gap for row in rows)


def _rows(pieces: Sequence[Piece], sizes: Sequence[Point], per_row: int, gap: float) -> SheetPlan:
    rows, runs = _in_runs(pieces, per_row), _in_runs(sizes, per_row)
    (width, top), laid = _size_of(runs, gap), []
    height = top
    for row, row_sizes in zip(rows, runs, strict=True):
        tall = max(h for _, h in row_sizes)
        x = (width - sum(w for w, _ in row_sizes) - gap * (len(row) - 1)) / 2
        top -= gap + tall
        for piece, (w, h) in zip(row, row_sizes, strict=True):
            left, low, _, _ = piece.region.bounds
            laid.append(
                PlacedPiece(
                    piece, RigidTransform().translated(x - left, top + (tall - h) / 2 - low), 0
                )
            )
            x += w + gap
    return SheetPlan("", 1, width, height, tuple(laid))


def side_by_side(pieces: Sequence[Piece], stock_id: str, gap: float = 5.0) -> SheetPlan:
    """Return all pieces in one row, on no real sheet, for viewing or for other programs."""
    laid, x, tallest = [], gap, 0.0
    for piece in pieces:
        for number in range(1, piece.count + 1):
            left, low, _, _ = piece.region.bounds
            width, height = piece.region.size
            laid.append(
                PlacedPiece(piece, RigidTransform().translated(x - left, gap - low), 0, number)
            )
            x += width + gap
            tallest = max(tallest, height)
    return SheetPlan(stock_id, 1, x, tallest + 2 * gap, tuple(laid))


def close_cut(plan: SheetPlan, margin: float) -> SheetPlan:
    """Return the same pieces on a sheet just large enough for them."""
    boxes = [each.region.bounds for each in plan.placed]
    left, low = min(box[0] for box in boxes) - margin, min(box[1] for box in boxes) - margin
    right, top = max(box[2] for box in boxes) + margin, max(box[3] for box in boxes) + margin
    laid = tuple(replace(o, transform=o.transform.translated(-left, -low)) for o in plan.placed)
    return SheetPlan(plan.stock_id, plan.number, right - left, top - low, laid)


def boxes_in_rows(
    sizes: Sequence[tuple[float, float]], aspect: float, *, gap: float, above: float
) -> tuple[list[Point], tuple[float, float]]:
    """Return the lower left corners of boxes in rows from the top down, and the size of the whole.

    Each box has room `above` it for a title. Rows are broken to suit a view `aspect` times as wide
    as high.
    """
    tried = (_boxes(sizes, per_row, gap, above) for per_row in range(1, len(sizes) + 1))

    def needed(made: tuple[list[Point], tuple[float, float]]) -> float:
        return max(made[1][0] / aspect, made[1][1])

    return min(tried, key=needed, default=([], (1.0, 1.0)))


def _boxes(
    sizes: Sequence[tuple[float, float]], per_row: int, gap: float, above: float
) -> tuple[list[Point], tuple[float, float]]:
    rows = _in_runs(sizes, per_row)
    heights = [max(height for _, height in row) + above for row in rows]
    whole = sum(heights) + gap * (len(rows) - 1)
    y, widest = whole, 0.0
    places: list[Point] = []
    for row, height in zip(rows, heights, strict=True):
        x, y = 0.0, y - height
        for width, _ in row:
            places.append((x, y))
            x += width + gap
        y -= gap
        widest = max(widest, x - gap)
    return places, (widest, whole)
