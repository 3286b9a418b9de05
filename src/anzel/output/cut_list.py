"""The cut list as CSV (RFC 4180).

A line for each piece, one for all that are alike, with stock, count, sizes and place on the sheets.
"""

import csv
import io

from anzel.core.number_format import (
    MILLIMETRES,
    UNIT,
    NumberFormat,
    Unit,
    format_length,
    format_quantity,
)
from anzel.project.alike_counts import piece_lines
from anzel.project.derive import layout_of
from anzel.project.model import Project


def columns(numbers: NumberFormat = MILLIMETRES) -> tuple[str, ...]:
    """Return the titles of the columns."""
    unit = numbers.write(UNIT)
    return (
        "piece", "stock", f"measured thickness {unit}", "count", f"width {unit}", f"height {unit}",
        f"area {unit}2", "slots", "mortises", "tabs", "sheets",
    )  # fmt: skip


def cut_list_bytes(project: Project, numbers: NumberFormat = MILLIMETRES) -> bytes:
    """Return the list of all pieces in this job; lengths are decimals with a point."""
    if not numbers.is_metric:
        numbers = NumberFormat(Unit.INCHES, numbers.places)
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(columns(numbers))
    for stock in project.stocks_in_use:
        plans = layout_of(project, stock.id).plans
        where: dict[str, list[str]] = {}
        for plan in plans:
            for laid in plan.placed:
                own = where.setdefault(laid.piece.name, [])
                own += [str(plan.number)] if str(plan.number) not in own else []
        for line in piece_lines(project, stock.id):
            piece = line.piece
            kinds = [feature.kind.value for feature in piece.features]
            thickness, width, height = (
                numbers.write(format_length(each, 3))
                for each in (stock.measured_thickness, *piece.region.size)
            )
            area = numbers.write(format_quantity(piece.region.area, "mm²", 1)).split()[0]
            sheets = dict.fromkeys(n for name in line.names for n in where.get(name, []))
            writer.writerow([
                " + ".join(line.names), stock.name, thickness, line.count, width, height, area,
                *(kinds.count(kind) for kind in ("slot", "mortise", "tab")), " ".join(sheets),
            ])  # fmt: skip
    return text.getvalue().encode("utf-8-sig")  # spreadsheets know it by this as UTF-8
