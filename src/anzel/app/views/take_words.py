"""The figures of a structure in words, to compare takes."""

from anzel.project.takes import (
    TakeFigures,
)


def figure_words(figures: TakeFigures) -> str:
    """Return a structure's figures, a line each."""
    lines = [
        f"{figures.pieces} pieces on {figures.sheets} sheet{'s' * (figures.sheets != 1)}",
        f"{figures.area / 100:.0f} cm² of sheet, {figures.cut_length / 1000:.1f} m to cut",
    ]
    if figures.left_out:
        lines.insert(1, f"▲ {figures.left_out} of them too large for any sheet")
    if figures.smallest_web is not None:
        lines.append(f"smallest web {figures.smallest_web:.1f} mm")
    if figures.seen is not None:
        lines.append(f"bulb seen from {figures.seen:.0%} of all directions")
    return "\n".join(lines)
