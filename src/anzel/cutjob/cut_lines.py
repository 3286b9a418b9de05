"""Cut lines: the lines of a piece on its sheet, each with the cutter's operation along it."""

from dataclasses import dataclass, replace
from functools import cached_property

from anzel.cutjob.labels import labels_of
from anzel.cutjob.operations import Operation
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Stroke, stroke_length
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.tool_path import tool_path
from anzel.layout.layout import PlacedPiece
from anzel.structure.engraved_picture import EngravedPicture
from anzel.structure.line_work import LineOperation

Drawn = Contour | BridgedContour | OpenPath | EngravedPicture | Stroke
_OPERATIONS = {
    LineOperation.SCORE: Operation.SCORE, LineOperation.ENGRAVE: Operation.ENGRAVE,
}  # fmt: skip


@dataclass(frozen=True)
class CutLine:
    """One line on a page, with its operation and the piece that owns it."""

    operation: Operation
    owner: str
    line: Drawn

    def moved(self, motion: RigidTransform) -> "CutLine":
        """Return the line elsewhere."""
        if isinstance(self.line, Contour | OpenPath | EngravedPicture):
            return replace(self, line=self.line.moved(motion))
        if isinstance(self.line, BridgedContour):
            runs = tuple(tuple(s.moved(motion) for s in run) for run in self.line.runs)
            return replace(self, line=replace(self.line, runs=runs))
        return replace(self, line=tuple(map(motion, self.line)))

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
        if isinstance(self.line, EngravedPicture):
            return self.line.rows[0]
        return self.line.runs[0][0].start if isinstance(self.line, BridgedContour) else self.line[0]

    @property
    def end(self) -> Point:
        """The point where the cutter ends."""
        if isinstance(self.line, Contour):
            return self.start
        if isinstance(self.line, OpenPath):
            return self.line.end
        if isinstance(self.line, EngravedPicture):
            return self.line.rows[-1]
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
        line = self.line
        return stroke_length(line.rows if isinstance(line, EngravedPicture) else line)

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

    Of what is engraved and scored only the face that lies up is there. Cuts run `outset` mm outside
    the piece, in the waste. `labels` are engraved or scored where there is room.
    """
    piece, motion = laid.piece, laid.transform
    marks = _on_face(laid, owner, is_back=motion.over)
    marks += [
        CutLine(Operation.INNER, owner, line.path.moved(motion)) for line in piece.lines
        if line.operation is LineOperation.CUT
    ]  # fmt: skip
    if labels is not None:
        own = labels_of(piece, label_height, reversed_over=motion.over)
        marks += [CutLine(labels, owner, tuple(map(motion, stroke))) for stroke in own]
    region = laid.region
    outer, *holes = tool_path(region, outset) if outset else region.contours
    marks += [CutLine(Operation.INNER, owner, hole) for hole in holes]
    return [*marks, CutLine(Operation.OUTER, owner, outer)]


def lines_below(laid: PlacedPiece, owner: str) -> list[CutLine]:
    """Return what is engraved and scored on the face of a placed piece that lies down.

    It is where it is seen from above, as through the sheet.
    """
    return _on_face(laid, owner, is_back=not laid.transform.over)


def _on_face(laid: PlacedPiece, owner: str, *, is_back: bool) -> list[CutLine]:
    """Return the lines and the pictures on one face of a placed piece."""
    piece, motion = laid.piece, laid.transform
    marks = [
        CutLine(Operation.ENGRAVE, owner, picture.moved(motion)) for picture in piece.pictures
        if picture.is_back is is_back
    ]  # fmt: skip
    return marks + [
        CutLine(_OPERATIONS[line.operation], owner, line.path.moved(motion)) for line in piece.lines
        if line.is_back is is_back and line.operation is not LineOperation.CUT
    ]  # fmt: skip
