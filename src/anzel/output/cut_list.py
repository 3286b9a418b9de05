"""The cut list as CSV (RFC 4180).

A line for each piece, with its stock, count, sizes and place on the sheets.
"""

import csv
import io

from anzel.project.derive import layout_of, pieces_of
from anzel.project.model import Project

COLUMNS = (
    "piece", "stock", "measured thickness mm", "count", "width mm", "height mm", "area mm2",
    "slots", "mortises", "tabs", "sheets",
)  # fmt: skip


def cut_list_bytes(project: Project) -> bytes:
    """Return the list of all pieces in this job."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for stock in project.stocks_in_use:
        plans = layout_of(project, stock.id).plans
        where: dict[str, list[str]] = {}
        for plan in plans:
            for laid in plan.placed:
                own = where.setdefault(laid.piece.name, [])
                own += [str(plan.number)] if str(plan.number) not in own else []
        for piece in pieces_of(project, stock.id):
            count = project.sheets.count_of(piece.name, piece.count)
            kinds = [feature.kind.value for feature in piece.features]
            width, height = piece.region.size
            writer.writerow([
                piece.name, stock.name, f"{stock.measured_thickness:.3f}", count,
                f"{width:.3f}", f"{height:.3f}", f"{piece.region.area:.1f}",
                *(kinds.count(kind) for kind in ("slot", "mortise", "tab")),
                " ".join(where.get(piece.name, [])),
            ])  # fmt: skip
    return text.getvalue().encode("utf-8-sig")  # spreadsheets know it by this as UTF-8
