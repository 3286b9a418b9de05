"""The time that a job takes and what it costs.

Time = Σ length / speed + Σ travel / travel speed + entries × pierce time (handbook of the trade,
8).
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields
from math import fsum, hypot

from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.cut_order import HOME
from anzel.cutjob.operations import Operation
from anzel.geometry.regions import BridgedContour
from anzel.materials.cutter import Cutter


@dataclass(frozen=True)
class PathLengths:
    """Path lengths by operation, mm, and how many times the cutter enters the sheet."""

    engraved: float = 0.0
    scored: float = 0.0
    cut: float = 0.0
    travel: float = 0.0
    pierces: int = 0

    def __add__(self, other: "PathLengths") -> "PathLengths":
        return PathLengths(*(getattr(self, f.name) + getattr(other, f.name) for f in fields(self)))


@dataclass(frozen=True)
class JobTimes:
    """Seconds by operation."""

    engraving: float
    scoring: float
    cutting: float
    travel: float
    piercing: float

    @property
    def whole(self) -> float:
        """The sum of all times, s."""
        return self.engraving + self.scoring + self.cutting + self.travel + self.piercing

    def __add__(self, other: "JobTimes") -> "JobTimes":
        return JobTimes(*(getattr(self, f.name) + getattr(other, f.name) for f in fields(self)))


NO_TIME = JobTimes(0.0, 0.0, 0.0, 0.0, 0.0)


def lengths_of(marks: Sequence[CutLine]) -> PathLengths:
    """Return the path lengths of lines cut in their order, starting from the sheet's corner."""
    by: dict[Operation, float] = dict.fromkeys(Operation, 0.0)
    travel, head = [], HOME
    for mark in marks:
        by[mark.operation] += mark.length
        travel.append(hypot(mark.start[0] - head[0], mark.start[1] - head[1]))
        if isinstance(mark.line, BridgedContour):
            for run, after in zip(mark.line.runs[:-1], mark.line.runs[1:], strict=True):
                (x0, y0), (x1, y1) = run[-1].end, after[0].start
                travel.append(hypot(x1 - x0, y1 - y0))
        head = mark.end
    return PathLengths(
        by[Operation.ENGRAVE], by[Operation.SCORE], by[Operation.INNER] + by[Operation.OUTER],
        fsum(travel), sum(mark.pierces for mark in marks),
    )  # fmt: skip


def times_of(lengths: PathLengths, cutter: Cutter) -> JobTimes:
    """Return the times that a cutter takes."""
    return JobTimes(
        lengths.engraved / cutter.engrave_speed,
        lengths.scored / cutter.score_speed,
        lengths.cut / cutter.cut_speed,
        lengths.travel / cutter.travel_speed,
        lengths.pierces * cutter.pierce_time,
    )
