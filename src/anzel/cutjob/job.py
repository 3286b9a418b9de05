"""The cut job of one stock: every sheet with its lines in cutting order."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import shapely

from anzel.cutjob.bridges import with_bridges
from anzel.cutjob.cut_lines import CutLine, cut_lines_of, lines_below
from anzel.cutjob.cut_order import in_cut_order
from anzel.cutjob.job_settings import JobSettings, LabelStyle
from anzel.cutjob.operations import Operation
from anzel.cutjob.times import PathLengths, lengths_of
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import RigidTransform
from anzel.layout.layout import PlacedPiece, SheetPlan

_LABELS = {
    LabelStyle.ENGRAVE: Operation.ENGRAVE,
    LabelStyle.SCORE: Operation.SCORE,
    LabelStyle.OFF: None,
}


@dataclass(frozen=True)
class SheetJob:
    """One sheet and its lines in cutting order.

    `back` is what is engraved first, with the sheet's back up; then the sheet is turned over left
    to right.
    """

    plan: SheetPlan
    lines: tuple[CutLine, ...]
    back: tuple[CutLine, ...] = ()

    @cached_property
    def lengths(self) -> PathLengths:
        """The path lengths of the job."""
        return lengths_of(self.lines) + lengths_of(self.back)


def job_of(
    plan: SheetPlan, settings: JobSettings, *, kerf: float = 0.0, outset: float = 0.0
) -> SheetJob:
    """Return the job of a sheet.

    Cuts run `outset` mm outside the pieces; the `kerf` widens the gaps of bridges.
    """
    marks: list[CutLine] = []
    over = RigidTransform(over=True).translated(plan.width, 0.0)
    back: list[CutLine] = []
    for laid, owner in owner_names(plan.placed):
        own = cut_lines_of(
            laid, owner, outset=outset, labels=_LABELS[settings.labels],
            label_height=settings.label_height,
        )  # fmt: skip
        if settings.bridges:
            own = [_held(mark, laid, settings, kerf) for mark in own]
        marks += own
        back += [line.moved(over) for line in lines_below(laid, owner)]
    return SheetJob(plan, in_cut_order(marks), in_cut_order(back))


def owner_names(laid: Sequence[PlacedPiece]) -> list[tuple[PlacedPiece, str]]:
    """Return each placed piece with a name of its own, numbered where several are alike."""
    names: dict[str, int] = {}
    owners = []
    for each in laid:
        names[each.piece.name] = number = names.get(each.piece.name, 0) + 1
        owners.append((each, each.piece.name + (f" {number}" if number > 1 else "")))
    return owners


def _held(mark: CutLine, laid: PlacedPiece, settings: JobSettings, kerf: float) -> CutLine:
    """Return an outline with its bridges; other lines as they are."""
    if mark.operation is not Operation.OUTER or not isinstance(mark.line, Contour):
        return mark
    avoid = [
        shapely.Point(laid.transform(feature.at)).buffer(
            (feature.width.drawn + feature.depth.drawn) / 2 + 1.0, quad_segs=4
        )
        for feature in laid.piece.features
    ]
    line = with_bridges(mark.line, settings.bridges, settings.bridge_width, kerf, avoid)
    return replace(mark, line=line)
