"""Pieces in rows for looking at, as large as a view of some proportions can show them."""

from collections.abc import Sequence

from anzel.geometry.motion import Motion
from anzel.sheets.layout import Laid, SheetPlan
from anzel.structure.plates import Piece


def in_rows(pieces: Sequence[Piece], aspect: float, gap: float = 24.0) -> SheetPlan:
    """All pieces in rows, breaking where it suits a view `aspect` times as wide as high."""
    plans = [_rows(pieces, per_row, gap) for per_row in range(1, len(pieces) + 1)]
    return min(plans, key=lambda plan: max(plan.width / aspect, plan.height))


def _rows(pieces: Sequence[Piece], per_row: int, gap: float) -> SheetPlan:
    rows = [pieces[start : start + per_row] for start in range(0, len(pieces), per_row)]
    sizes = [[piece.region.size for piece in row] for row in rows]
    width = max(sum(w for w, _ in row) + gap * (len(row) + 1) for row in sizes)
    top = gap + sum(max(h for _, h in row) + gap for row in sizes)
    laid, height = [], top
    for row, row_sizes in zip(rows, sizes, strict=True):
        tall = max(h for _, h in row_sizes)
        x = (width - sum(w for w, _ in row_sizes) - gap * (len(row) - 1)) / 2
        top -= gap + tall
        for piece, (w, h) in zip(row, row_sizes, strict=True):
            left, low, _, _ = piece.region.bounds
            laid.append(Laid(piece, Motion().shifted(x - left, top + (tall - h) / 2 - low), 0))
            x += w + gap
    return SheetPlan("", 1, width, height, tuple(laid))
