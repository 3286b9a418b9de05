"""Cut lines: the lines of a piece on its sheet, each with the cutter's operation along it."""

from dataclasses import dataclass
from functools import cached_property

from anzel.cutjob.labels import labels_of
from anzel.cutjob.operations import Operation
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Stroke, stroke_length
from anzel.geometry.rigid_transform import Point
from anzel.geometry.tool_path import tool_path
from anzel.layout.layout import PlacedPiece
from anzel.structure.line_work import LineOperation

Drawn = Contour | BridgedContour | OpenPath | Stroke
_OPERATIONS = {
    LineOperation.CUT: Operation.INNER, LineOperation.SCORE: Operation.SCORE,
    LineOperation.ENGRAVE: Operation.ENGRAVE,
}  # fmt: skip


@dataclass(frozen=True)
class CutLine:
    """One line on a page, with its operation and the piece that owns it."""

    operation: Operation
    owner: str
    line: Drawn

    @cached_property
    def contour(self) -> Contour | None:
        """The closed outline of a cut, its bridges closed; None for other lines."""
        if isinstance(self.line, BridgedContour):
            return self.line.closed
        return self.line if isinstance(self.line, Contour) else None

    @property
    def start(self) -> Point:
        """The point where the cutter begins."""
        if isinstance(self.line, Contour):
            return self.line.segments[0].start
        if isinstance(self.line, OpenPath):
            return self.line.start
        return self.line.runs[0][0].start if isinstance(self.line, BridgedContour) else self.line[0]

    @property
    def end(self) -> Point:
        """The point where the cutter ends."""
        if isinstance(self.line, Contour):
            return self.start
        if isinstance(self.line, OpenPath):
            return self.line.end
        return (
            self.line.runs[-1][-1].end if isinstance(self.line, BridgedContour) else self.line[-1]
        )

    @cached_property
    def length(self) -> float:
        """The length of the path, mm."""
        if isinstance(self.line, Contour | OpenPath):
            return self.line.length
        if isinstance(self.line, BridgedContour):
            return sum(segment.length for run in self.line.runs for segment in run)
        return stroke_length(self.line)

    @property
    def pierces(self) -> int:
        """How many times the cutter enters the sheet."""
        if not self.operation.cuts:
            return 0
        return len(self.line.runs) if isinstance(self.line, BridgedContour) else 1


def cut_lines_of(
    laid: PlacedPiece, owner: str, *, outset: float = 0.0, labels: Operation | None = None,
    label_height: float = 5.0,
) -> list[CutLine]:  # fmt: skip
    """Return the lines of a placed piece: its engraving, its line work, its holes, its outline.

    Cuts run `outset` mm outside the piece, in the waste. `labels` are engraved or scored where
    there is room.
    """
    piece, motion = laid.piece, laid.transform
    marks = [CutLine(Operation.ENGRAVE, owner, tuple(map(motion, s))) for s in piece.engraved]
    marks += [
        CutLine(_OPERATIONS[line.operation], owner, line.path.moved(motion)) for line in piece.lines
    ]
    if labels is not None:
        own = labels_of(piece, label_height, reversed_over=motion.over)
        marks += [CutLine(labels, owner, tuple(map(motion, stroke))) for stroke in own]
    region = laid.region
    outer, *holes = tool_path(region, outset) if outset else region.contours
    marks += [CutLine(Operation.INNER, owner, hole) for hole in holes]
    return [*marks, CutLine(Operation.OUTER, owner, outer)]
