"""What is painted of found drawings, worked out once for each refit, and on any thread."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainterPath

from anzel.app.edits.drawing_edits import DrawingView
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Segment
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.refit.refit import Decision
from anzel.refit.refitted_regions import changed_edges, unused_lines, with_y_up
from anzel.ui.views.line_painting import LinePaths, line_paths
from anzel.ui.views.path_crowd import PathCrowd
from anzel.ui.views.screen_paths import region_path, segments_path

_MOST_MENDS = 400
Mark = tuple[Point, str, Decision]
"""Where a feature lies, the name of its drawing, and what was decided about it."""


@dataclass(frozen=True, eq=False)
class RefitPaths:
    """The pieces, what moved before and after, lines of no outline, lines on pieces; and marks.

    All in mm, where it lies in the view.
    """

    pieces: tuple[QPainterPath, ...]
    ghosts: PathCrowd
    moved: PathCrowd
    unused: PathCrowd
    lines: LinePaths
    marks: tuple[Mark, ...]
    mended: tuple[Point, ...]

    @property
    def bounds(self) -> QRectF:
        """What all of it takes up."""
        box = self.unused.bounds
        for path in self.pieces:
            box = box.united(path.boundingRect())
        return box


class KeptRefitPaths:
    """The paths of the drawings that are shown, and of those that are about to be."""

    def __init__(self) -> None:
        self._kept: list[tuple[object, RefitPaths]] = []

    def of(self, project: Project, drawings: Sequence[DrawingView]) -> RefitPaths:
        """Return the paths of a project's drawings, made or kept."""
        key = project.structure, fit_context_of(project)
        for other, paths in self._kept:
            if other == key:
                return paths
        made = refit_paths(drawings)
        self._kept = [(key, made), *self._kept[:1]]
        return made


def refit_paths(drawings: Sequence[DrawingView]) -> RefitPaths:
    """Return what is painted of drawings."""
    changes = [change for each in drawings for change in _changes(each)]
    return RefitPaths(
        tuple(region_path(region) for each in drawings for region in each.regions),
        PathCrowd(segments_path(old) for old, _ in changes),
        PathCrowd(segments_path(new) for _, new in changes),
        PathCrowd(
            segments_path([segment.moved(_motion(each)) for segment in line])
            for each in drawings for line in unused_lines(each.refit)
        ),
        line_paths(line for each in drawings for line in each.lines),
        tuple(
            (_place(each, decision.feature.at), each.name, decision)
            for each in drawings for decision in each.refit.decisions
        ),
        tuple(place for each in drawings for place in _mended(each)),
    )  # fmt: skip


def _motion(each: DrawingView) -> RigidTransform:
    return RigidTransform().translated(*each.shift)


def _place(each: DrawingView, at: Point) -> Point:
    return _motion(each)(with_y_up(each.refit, at))


def _changes(each: DrawingView) -> Iterator[tuple[list[Segment], list[Segment]]]:
    motion = _motion(each)
    for old, new in changed_edges(each.refit):
        yield [segment.moved(motion) for segment in old], [segment.moved(motion) for segment in new]


def _mended(each: DrawingView) -> list[Point]:
    repairs = each.refit.analysis.assembled.repairs
    return [_place(each, at) for repair in repairs for at in repair.places][:_MOST_MENDS]
