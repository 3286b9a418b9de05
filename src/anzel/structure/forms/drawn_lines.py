"""Lines of a found drawing that outline nothing: what becomes of them, and the piece each lies on.

A line in a layer, class or colour that names an operation is what it says. One drawn like the
outlines is cut, as the slits of a living hinge are. What becomes of all others is asked, by label,
and they are left out until that is answered.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import shapely

from anzel.drawings.retraced import Edges
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.refit.analysis import DrawingAnalysis
from anzel.structure.line_work import LineWish, PlateLine, wish_named, worked


@dataclass(frozen=True)
class LineGroup:
    """The lines of one label: how many, how long together, mm, and what becomes of them.

    `wish` is None while that has to be asked.
    """

    label: str
    count: int
    length: float
    wish: LineWish | None


def line_groups(analysis: DrawingAnalysis, wishes: Mapping[str, LineWish]) -> tuple[LineGroup, ...]:
    """Return the lines that outline nothing, by label, in the order of the drawing."""
    found: dict[str, list[Edges]] = {}
    for label, edges in analysis.loose_lines:
        found.setdefault(label, []).append(edges)
    return tuple(
        LineGroup(
            label, len(lines), sum(edge.length for edges in lines for edge in edges),
            wish_of(analysis, label, wishes),
        )
        for label, lines in found.items()
    )  # fmt: skip


def wish_of(
    analysis: DrawingAnalysis, label: str, wishes: Mapping[str, LineWish]
) -> LineWish | None:
    """Return what becomes of the lines of a label; None where it has to be asked."""
    if wish := wishes.get(label) or wish_named(label):
        return wish
    return LineWish.CUT if label in _labels_of_outlines(analysis) else None


def lines_on(
    analysis: DrawingAnalysis, wishes: Mapping[str, LineWish], shift: tuple[float, float],
    regions: Sequence[Region],
) -> tuple[list[list[PlateLine]], int]:  # fmt: skip
    """Return the lines that lie on each of some pieces, and how many lie on none."""
    drawn, beside = drawn_on(analysis, wishes, shift, regions)
    lines = [
        [
            line for wish in LineWish
            for line in worked([path for _, path, its in own if its is wish], wish)
        ]
        for own in drawn
    ]  # fmt: skip
    return lines, beside


def drawn_on(
    analysis: DrawingAnalysis, wishes: Mapping[str, LineWish], shift: tuple[float, float],
    regions: Sequence[Region],
) -> tuple[list[list[tuple[str, OpenPath, LineWish]]], int]:  # fmt: skip
    """Return the label, the path and the wish of lines on each piece, and how many lie on none.

    Those that are left out, or of which it has to be asked, are not among them.
    """
    motion = RigidTransform().translated(*shift)
    found: list[list[tuple[str, OpenPath, LineWish]]] = [[] for _ in regions]
    beside = 0
    for label, edges in analysis.loose_lines:
        wish = wish_of(analysis, label, wishes)
        if wish is None or wish is LineWish.LEAVE_OUT:
            continue
        placed = OpenPath.of(analysis.drawing.with_y_up(edges)).moved(motion)
        chain = shapely.LineString(placed.stroke)
        homes = [own for own, region in zip(found, regions, strict=True)
                 if region.shape.intersects(chain)]  # fmt: skip
        for own in homes:
            own.append((label, placed, wish))
        beside += not homes
    return found, beside


def _labels_of_outlines(analysis: DrawingAnalysis) -> frozenset[str]:
    """Return the labels that most outlines have: those of at least a third of all loops."""
    paths = analysis.drawing.paths
    counts = Counter(
        paths[loop.links[0][0]].label for loop in analysis.assembled.loops if loop.links
    )
    most = max(counts.values(), default=0)
    return frozenset(label for label, count in counts.items() if 3 * count >= most)
