"""Playback of a cut file by the simulated cutter's clock.

Line after line, with the time of each and the position of the head.

It knows the job only from the file as written and measures the chords of its curves. So it checks
`cutjob.times`, which sums the lines themselves.
"""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import accumulate, pairwise
from math import hypot

from anzel.core.tolerances import ROUNDING
from anzel.cutjob.operations import Operation
from anzel.geometry.regions import stroke_length
from anzel.geometry.rigid_transform import Point
from anzel.materials.cutter import Cutter
from anzel.output.cut_file_reader import FileLine, read_lines


@dataclass(frozen=True)
class CutMove:
    """A movement of the head along points; `operation` None while it travels.

    `before` is the pierce time before it, s.
    """

    page: str
    piece: str
    operation: Operation | None
    points: tuple[Point, ...]
    seconds: float
    before: float = 0.0
    colour: str = ""

    @cached_property
    def steps(self) -> list[float]:
        """The length up to each point, mm."""
        lengths = (hypot(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(self.points))
        return list(accumulate(lengths, initial=0.0))

    def until(self, seconds: float) -> tuple[Point, ...]:
        """Return the points passed after so many seconds of this move."""
        share = min(
            max((seconds - self.before) / max(self.seconds - self.before, ROUNDING), 0.0), 1.0
        )
        length = share * self.steps[-1]
        at = min(max(bisect_right(self.steps, length), 1), len(self.points) - 1)
        a, b = self.points[at - 1], self.points[at]
        edge = self.steps[at] - self.steps[at - 1]
        part = (length - self.steps[at - 1]) / edge if edge else 1.0
        return (*self.points[:at], (a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1])))


@dataclass(frozen=True)
class Playback:
    """The moves of a file, and when each ends, s."""

    moves: tuple[CutMove, ...]

    @cached_property
    def ends(self) -> list[float]:
        """The time when each move ends, s."""
        return list(accumulate(move.seconds for move in self.moves))

    @property
    def seconds(self) -> float:
        """The duration of the whole file, s."""
        return self.ends[-1] if self.moves else 0.0

    def at(self, seconds: float) -> tuple[int, float]:
        """Return (move under way, seconds into it)."""
        index = min(bisect_right(self.ends, seconds), len(self.moves) - 1)
        return index, seconds - (self.ends[index - 1] if index else 0.0)


def play_back(content: bytes, cutter: Cutter, ending: str = ".svg") -> Playback:
    """Return the moves of a cut file.

    Each page of an SVG file starts from its own lower left corner.
    """
    moves: list[CutMove] = []
    page, head = "", (0.0, 0.0)
    for line in read_lines(content, ending):
        if line.page != page:
            page, head = line.page, line.corner
        for run in line.runs:
            moves += _moves(line, run, head, cutter)
            head = run[-1]
    return Playback(tuple(moves))


def _moves(
    line: FileLine, run: Sequence[Point], head: Point, cutter: Cutter
) -> list[CutMove]:  # fmt: skip
    """Return the travel to a line and the run along it."""
    speeds = {
        Operation.ENGRAVE: cutter.engrave_speed, Operation.SCORE: cutter.score_speed,
        Operation.INNER: cutter.cut_speed, Operation.OUTER: cutter.cut_speed,
    }  # fmt: skip
    found = []
    away = hypot(run[0][0] - head[0], run[0][1] - head[1])
    if away > 0:
        travel = (head, run[0])
        found.append(CutMove(line.page, line.piece, None, travel, away / cutter.travel_speed))
    before = cutter.pierce_time if line.operation.cuts else 0.0
    seconds = before + stroke_length(run) / speeds[line.operation]
    along = CutMove(line.page, line.piece, line.operation, tuple(run), seconds, before, line.colour)
    return [*found, along]
