"""Edits of found drawings: which files, what they were drawn for, what is held.

Each is a function from one Project to the next and raises MakerError naming what is at fault.
"""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

from anzel.app.edits.project_edits import typed_number
from anzel.app.views.fit_lens import LensRow
from anzel.core.findings import ParameterError
from anzel.core.units import format_length
from anzel.geometry.regions import Region
from anzel.materials.fits import Size, Term
from anzel.project.derive import build_of, sheets_of
from anzel.project.model import Project
from anzel.project.new_project import with_form
from anzel.refit.features import Keep, Kind
from anzel.refit.identical_pieces import twins_of
from anzel.refit.refit import Decision, Refit
from anzel.refit.refitted_regions import regions_of
from anzel.refit.report import warnings_of
from anzel.refit.thickness_estimation import Evidence
from anzel.structure.forms.imported_drawing import (
    FoundDrawing,
    FoundDrawings,
    Seam,
    laid_out,
    look_over,
    parts_of,
    refit_of,
    survey_of,
)


@dataclass(frozen=True)
class Shown:
    """A drawing as the window shows it: what is decided, the refit, how far it is shifted."""

    drawing: FoundDrawing
    refit: Refit
    shift: tuple[float, float]
    pieces: tuple[Region, ...]
    """Its pieces as they lie in it, whole."""
    regions: tuple[Region, ...]
    """What is cut of it, where it lies here: pieces, parts of split ones, keys."""

    @property
    def name(self) -> str:
        """The file's name."""
        return self.drawing.file.name

    @property
    def chart(self) -> tuple[Evidence, ...]:
        """The sizes that speak for a thickness, smallest first, at most eight."""
        return tuple(sorted(self.refit.survey.evidence[:8], key=lambda each: each.value))

    def of_kind(self, kind: Kind) -> list[Decision]:
        """What becomes of its features of a kind."""
        return [each for each in self.refit.decisions if each.feature.kind is kind]

    @property
    def remarks(self) -> list[str]:
        """What was mended, and what to look at before cutting."""
        mends = [mend.said for mend in self.refit.survey.closed.mends]
        return [*mends, *warnings_of(self.refit)]


def bring(project: Project, name: str, content: bytes) -> Project:
    """A file brought in to be refitted: beside those there are, or instead of another structure.
    Raises DrawingError for a file that is none."""
    return take_in(project, look_over(name, content))


def take_in(project: Project, drawing: FoundDrawing) -> Project:
    """A drawing, looked over already, taken in. Raises ParameterError for one without pieces."""
    name = drawing.file.name
    if not survey_of(drawing, 1.0).rings.pieces:
        raise ParameterError(
            f"{name} holds no closed outline to cut.",
            mend="Open lines can be engraved, but make no piece.",
        )
    form = project.structure
    if not isinstance(form, FoundDrawings):
        return with_form(project, FoundDrawings(drawings=(drawing,)))
    others = tuple(each for each in form.drawings if each.file.name != name)
    return project.with_changes(structure=form.with_changes(drawings=(*others, drawing)))


def take_out(project: Project, name: str) -> Project:
    """One drawing taken out. Raises ParameterError for the last."""
    form = form_of(project)
    left = tuple(each for each in form.drawings if each.file.name != name)
    if not left:
        raise ParameterError("The last drawing stays.", mend="Choose another form instead.")
    return project.with_changes(structure=form.with_changes(drawings=left))


def form_of(project: Project) -> FoundDrawings:
    """The project's found drawings. Raises ParameterError where it has another form."""
    if not isinstance(project.structure, FoundDrawings):
        raise ParameterError("This is no found drawing.", mend="Bring one in first.")
    return project.structure


def shown(project: Project) -> list[Shown]:
    """Every drawing refitted, as it lies."""
    form = form_of(project)
    laid = laid_out(form, sheets_of(project))
    parts = parts_of(form, sheets_of(project))
    return [
        Shown(drawing, *laid[at], tuple(p.region for p in parts if p.source[0] == at))
        for at, drawing in enumerate(form.drawings)
    ]


def shown_as(project: Project, name: str) -> Shown:
    """One drawing as the window shows it."""
    return next(each for each in shown(project) if each.name == name)


def drawing_of(project: Project, name: str) -> FoundDrawing:
    """One file and what is decided about it."""
    return next(each for each in form_of(project).drawings if each.file.name == name)


def change_drawing(project: Project, name: str, **changes: Any) -> Project:  # noqa: ANN401
    """What is decided about one drawing changed. Raises ParameterError."""
    form = form_of(project)
    drawings = tuple(
        each.with_changes(**changes) if each.file.name == name else each for each in form.drawings
    )
    return project.with_changes(structure=form.with_changes(drawings=drawings))


def hold(project: Project, name: str, ids: Collection[str], *, held: bool) -> Project:
    """Features, rows, holes, kinds or pieces held as drawn, or let go; a doubtful feature that is
    let go is changed."""
    drawing = drawing_of(project, name)
    wanted = frozenset(ids)
    if held:
        return change_drawing(
            project, name, held=tuple(sorted({*drawing.held, *wanted})),
            sure=tuple(each for each in drawing.sure if each not in wanted),
        )  # fmt: skip
    return change_drawing(
        project, name, held=tuple(each for each in drawing.held if each not in wanted),
        sure=tuple(sorted({*drawing.sure, *(wanted & _doubtful(project, name))})),
    )  # fmt: skip


def switch(project: Project, name: str, feature_id: str) -> Project:
    """A feature held if it is changed, changed if it is held; its like on identical pieces too."""
    each = shown_as(project, name)
    decision = decision_of(each, feature_id)
    alike = twins_of(each.refit, feature_id)
    if decision.feature.row:  # a row is one
        rows = {d.feature.row for d in each.refit.decisions if d.feature.id in alike}
        alike = frozenset(rows)
    is_held = bool({feature_id, decision.feature.row} & {*each.drawing.held})
    is_doubtful = bool(decision.feature.doubt) and feature_id not in each.drawing.sure
    return hold(project, name, alike, held=not (is_held or is_doubtful))


def switch_piece(project: Project, name: str, feature_id: str) -> Project:
    """All of the piece that a feature is on held as drawn, or let go."""
    each = shown_as(project, name)
    piece = f"piece-{decision_of(each, feature_id).feature.piece + 1}"
    return hold(project, name, {piece}, held=piece not in each.drawing.held)


def set_feature(
    project: Project, name: str, feature_id: str, field: str, value: str | float | None
) -> Project:
    """One of a feature's own settings (`mates`, `stays` or `depths`), for its like on identical
    pieces too; None for the usual. Raises ParameterError."""
    each = shown_as(project, name)
    alike = twins_of(each.refit, feature_id)
    others = tuple(pair for pair in getattr(each.drawing, field) if pair[0] not in alike)
    own = tuple((other, value) for other in sorted(alike)) if value is not None else ()
    return change_drawing(project, name, **{field: (*others, *own)})


def split_piece(project: Project, name: str, piece: int, seam: Seam | None) -> Project:
    """A piece of a drawing, by its number from 1, split along a seam, or whole again. Raises
    ParameterError where it cannot be."""
    drawing = drawing_of(project, name)
    others = tuple(each for each in drawing.seams if each.piece != piece)
    own = (seam,) if seam is not None else ()
    return change_drawing(project, name, seams=(*others, *own))


def typed_share(text: str) -> float:
    """A typed share of a length, 0 for where Anzel thinks best. Raises ParameterError."""
    share = typed_number(text, "share")
    if share and not 0.05 <= share <= 0.95:
        raise ParameterError("A seam lies between 0.05 and 0.95 of the length.", field="share")
    return share


def halves_alike(project: Project, name: str, piece: int) -> bool:
    """Whether a piece, by its number from 0, is split into two of one shape."""
    form = form_of(project)
    at = [each.file.name for each in form.drawings].index(name)
    parts = parts_of(form, sheets_of(project))
    return any(part.are_alike for part in parts if part.source == (at, piece))


def decision_of(each: Shown, feature_id: str) -> Decision:
    """What becomes of one feature."""
    return next(d for d in each.refit.decisions if d.feature.id == feature_id)


def lens_row(project: Project, each: Shown, feature_id: str) -> LensRow:
    """A feature's new size for the fit lens."""
    decision, wish = decision_of(each, feature_id), each.refit.wish
    feature = decision.feature
    thickness = wish.thickness_for(feature)
    sheet = Term("mating sheet", thickness)
    inserted = Size((sheet,), thickness, thickness)
    if feature.widening:
        size = wish.rule.opening(sheet)
        title = f"{feature.id}: width"
    else:
        terms = (sheet, Term("proud", wish.proud)) if wish.proud else (sheet,)
        size, title = wish.rule.step(*terms), f"{feature.id}: height"
    if not decision.moved:
        term = Term("as drawn", decision.new)
        kerf = wish.rule.drawn_kerf if feature.widening else 0.0
        size = Size((term,), decision.new, decision.new + kerf)
    own = build_of(project).pieces[0]
    return LensRow(
        title, size, size, inserted, own, own, project.kerf_at, not feature.widening,
    )  # fmt: skip


def kept_sizes(project: Project, each: Shown) -> str:
    """What keeping the fingers' outside or inside comes to, told of the largest piece that has
    some; nothing where there are none."""
    rows = [d.feature.piece for d in each.refit.decisions if d.feature.row]
    if not rows:
        return ""
    form, sheets = form_of(project), sheets_of(project)
    sizes = {}
    for keep in Keep:
        refit = refit_of(form.with_changes(keep=keep.value), each.drawing, sheets)
        regions = regions_of(refit)
        largest = max(set(rows), key=lambda piece: regions[piece].area)
        width, height = regions[largest].size
        sizes[keep] = f"{format_length(width)} × {format_length(height)}"
    kept = Keep(form.keep)
    other = Keep.INSIDE if kept is Keep.OUTSIDE else Keep.OUTSIDE
    return (
        f"Fingers keep the {kept.value}: the largest piece with some is {sizes[kept]} mm; "
        f"with the {other.value} kept {sizes[other]}."
    )


def _doubtful(project: Project, name: str) -> frozenset[str]:
    each = shown_as(project, name)
    return frozenset(d.feature.id for d in each.refit.decisions if d.feature.doubt)
