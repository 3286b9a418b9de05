"""The figures of a structure in words, to compare takes."""

from anzel.core.number_format import format_measure, format_quantity, format_share
from anzel.core.wording import counted
from anzel.project.estimate import format_duration
from anzel.project.takes import (
    TakeFigures,
)


def figure_words(figures: TakeFigures) -> str:
    """Return a structure's figures, a line each."""
    area = format_quantity(figures.area / 100, "cm²", 0)
    lines = [
        f"{counted(figures.pieces, 'piece')} on {counted(figures.sheets, 'sheet')}",
        f"{area} of sheet, {format_quantity(figures.cut_length / 1000, 'm', 1)} to cut",
        f"{format_duration(figures.seconds)} on the cutter",
    ]
    if figures.left_out:
        lines.insert(1, f"▲ {figures.left_out} of them too large for any sheet")
    if figures.smallest_web is not None:
        lines.append(f"smallest web {format_measure(figures.smallest_web, 1)}")
    if figures.seen is not None:
        lines.append(f"bulb seen from {format_share(figures.seen)} of all directions")
    return "\n".join(lines)
