"""Edits of imported drawings: which files, what they were drawn for, what is held.

Each is a function from one Project to the next and raises MakerError naming what is at fault.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

from anzel.app.edits.project_edits import typed_number
from anzel.app.views.fit_lens import LensRow
from anzel.core.findings import ParameterError
from anzel.core.number_format import UNIT, format_length
from anzel.drawings.model import label_in_words, label_named
from anzel.geometry.regions import Region
from anzel.materials.fits import Size, Term
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import with_form
from anzel.refit.features import DrawnFeatureKind, KeptSize
from anzel.refit.finger_rows import EdgeInterpretation
from anzel.refit.identical_pieces import congruent_features
from anzel.refit.refit import Decision, Refit
from anzel.refit.refitted_regions import refitted_regions
from anzel.refit.report import refit_findings
from anzel.refit.thickness_estimation import ThicknessEvidence
from anzel.structure.forms.drawn_lines import LineGroup, line_groups
from anzel.structure.forms.imported_drawing import (
    ImportedDrawing,
    ImportedDrawings,
    Laid,
    RefittedPiece,
    Seam,
    analysis_of,
    drawings_side_by_side,
    import_drawing,
    refit_of,
    refitted_pieces,
)
from anzel.structure.line_work import LineWish, PlateLine, lines_within


@dataclass(frozen=True)
class DrawingView:
    """A drawing as the window shows it: the decisions, the refit, and its shift."""

    drawing: ImportedDrawing
    refit: Refit
    shift: tuple[float, float]
    piece_numbers: tuple[Region, ...]
    """Its pieces as they lie in it, whole."""
    regions: tuple[Region, ...]
    """What is cut of it, where it lies here: pieces, parts of split ones, keys."""
    lines: tuple[PlateLine, ...] = ()
    """What lies on its pieces, where it lies here."""

    @property
    def name(self) -> str:
        """The file's name."""
        return self.drawing.file.name

    @property
    def chart(self) -> tuple[ThicknessEvidence, ...]:
        """The sizes that are evidence for a thickness, smallest first, at most eight."""
        return tuple(sorted(self.refit.analysis.evidence[:8], key=lambda each: each.value))

    def of_kind(self, kind: DrawnFeatureKind) -> list[Decision]:
        """Return the decisions about its features of a kind."""
        return [each for each in self.refit.decisions if each.feature.kind is kind]

    @property
    def remarks(self) -> list[str]:
        """What was repaired, and what to look at before cutting."""
        repairs = [repair.description for repair in self.refit.analysis.assembled.repairs]
        return [*repairs, *map(str, refit_findings(self.refit))]


def import_file(project: Project, name: str, content: bytes) -> Project:
    """Return the project with a file to be refitted.

    It joins the present drawings, or replaces another structure. Raises DrawingError for an invalid
    file.
    """
    return add_drawing_file(project, import_drawing(name, content))


def add_drawing_file(project: Project, drawing: ImportedDrawing) -> Project:
    """Return the project with an analysed drawing.

    Raises ParameterError for one without pieces.
    """
    name = drawing.file.name
    if not analysis_of(drawing, 1.0).nested.pieces:
        raise ParameterError(
            f"{name} holds no closed outline to cut.",
            hint="Open lines can be engraved, but make no piece.",
        )
    form = project.structure
    if not isinstance(form, ImportedDrawings):
        return with_form(project, ImportedDrawings(drawings=(drawing,)))
    others = tuple(each for each in form.drawings if each.file.name != name)
    return project.with_changes(structure=form.with_changes(drawings=(*others, drawing)))


def remove_drawing(project: Project, name: str) -> Project:
    """Return the project without one drawing.

    Raises ParameterError for the last one.
    """
    form = imported_drawings(project)
    left = tuple(each for each in form.drawings if each.file.name != name)
    if not left:
        raise ParameterError("The last drawing stays.", hint="Choose another form instead.")
    return project.with_changes(structure=form.with_changes(drawings=left))


def imported_drawings(project: Project) -> ImportedDrawings:
    """Return the project's imported drawings.

    Raises ParameterError where it has another form.
    """
    if not isinstance(project.structure, ImportedDrawings):
        raise ParameterError("This is no found drawing.", hint="Bring one in first.")
    return project.structure


def drawing_views(project: Project) -> list[DrawingView]:
    """Return every drawing refitted, in its place."""
    form = imported_drawings(project)
    laid = drawings_side_by_side(form, fit_context_of(project))
    parts = refitted_pieces(form, fit_context_of(project))
    return [
        _view(drawing, laid[at], [part for part in parts if part.source[0] == at])
        for at, drawing in enumerate(form.drawings)
    ]


def _view(drawing: ImportedDrawing, laid: Laid, parts: Sequence[RefittedPiece]) -> DrawingView:
    lines = [line for part in parts for line in lines_within(part.lines, part.region)]
    return DrawingView(drawing, *laid, tuple(part.region for part in parts), tuple(lines))


def drawing_view(project: Project, name: str) -> DrawingView:
    """Return one drawing as the window shows it.

    Raises ParameterError for one that is not there.
    """
    return drawing_views(project)[number_of_drawing(project, name)]


def drawing_of(project: Project, name: str) -> ImportedDrawing:
    """Return one file and the decisions about it.

    Raises ParameterError for one that is not there.
    """
    return imported_drawings(project).drawings[number_of_drawing(project, name)]


def number_of_drawing(project: Project, name: str) -> int:
    """Return which of the drawings has a name, from 0.

    Raises ParameterError where none has.
    """
    names = [each.file.name for each in imported_drawings(project).drawings]
    if name not in names:
        raise ParameterError(f"There is no drawing “{name}” any more.")
    return names.index(name)


def change_drawing(project: Project, name: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other decisions about one drawing.

    Raises ParameterError.
    """
    form = imported_drawings(project)
    drawings = tuple(
        each.with_changes(**changes) if each.file.name == name else each for each in form.drawings
    )
    return project.with_changes(structure=form.with_changes(drawings=drawings))


def hold(project: Project, name: str, ids: Collection[str], *, held: bool) -> Project:
    """Return the project with features, rows, holes, kinds or pieces held as drawn, or released.

    An uncertain feature that is released is changed.
    """
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


def toggle_feature(project: Project, name: str, feature_id: str) -> Project:
    """Return the project with a feature held if it is changed, changed if it is held.

    The matching features of identical pieces follow.
    """
    each = drawing_view(project, name)
    decision = decision_of(each, feature_id)
    alike = congruent_features(each.refit, feature_id)
    if decision.feature.row:  # a row is one
        rows = {d.feature.row for d in each.refit.decisions if d.feature.id in alike}
        alike = frozenset(rows)
    is_held = bool({feature_id, decision.feature.row} & {*each.drawing.held})
    is_doubtful = bool(decision.feature.uncertainty) and feature_id not in each.drawing.sure
    return hold(project, name, alike, held=not (is_held or is_doubtful))


def toggle_piece(project: Project, name: str, feature_id: str) -> Project:
    """Return the project with all features of the piece held as drawn, or released."""
    each = drawing_view(project, name)
    piece = f"piece-{decision_of(each, feature_id).feature.piece + 1}"
    return hold(project, name, {piece}, held=piece not in each.drawing.held)


def set_feature(
    project: Project, name: str, feature_id: str, field: str, value: str | float | None
) -> Project:
    """Return the project with one setting of a feature changed.

    The setting is `mates`, `stays` or `depths`; None is the default. The matching features of
    identical pieces follow. Raises ParameterError.
    """
    each = drawing_view(project, name)
    alike = congruent_features(each.refit, feature_id)
    others = tuple(pair for pair in getattr(each.drawing, field) if pair[0] not in alike)
    own = tuple((other, value) for other in sorted(alike)) if value is not None else ()
    return change_drawing(project, name, **{field: (*others, *own)})


def take_edge_for(
    project: Project, name: str, edge: str, what: EdgeInterpretation | None
) -> Project:
    """Return the project with a stepped edge taken for tabs, fingers or neither.

    None lets Anzel decide.
    """
    others = tuple(pair for pair in drawing_of(project, name).edges if pair[0] != edge)
    own = ((edge, what.value),) if what is not None else ()
    return change_drawing(project, name, edges=(*others, *own))


def split_piece(project: Project, name: str, piece: int, seam: Seam | None) -> Project:
    """Return the project with a piece of a drawing split along a seam, or whole again.

    Pieces are numbered from 1. Raises ParameterError for an impossible seam.
    """
    drawing = drawing_of(project, name)
    others = tuple(each for each in drawing.seams if each.piece != piece)
    own = (seam,) if seam is not None else ()
    return change_drawing(project, name, seams=(*others, *own))


def line_groups_of(each: DrawingView) -> tuple[LineGroup, ...]:
    """Return the lines of a drawing that outline nothing, by label, and what becomes of them."""
    return line_groups(each.refit.analysis, dict(each.drawing.lines))


def decide_lines(project: Project, name: str, label: str, wish: LineWish) -> Project:
    """Return the project with what becomes of the lines of one label of a drawing.

    Raises ParameterError for a label that no line has.
    """
    each = drawing_view(project, name)
    known = [group.label for group in line_groups_of(each)]
    found = label_named(known, label)
    if found is None:
        labels = ", ".join(f"“{label_in_words(other)}”" for other in known) or "none"
        raise ParameterError(f"No line of {name} is “{label}”.", hint=f"There are: {labels}.")
    others = tuple(pair for pair in each.drawing.lines if pair[0] != found)
    return change_drawing(project, name, lines=(*others, (found, wish)))


def typed_share(text: str) -> float:
    """Return a typed share of a length; 0 means that Anzel chooses.

    Raises ParameterError.
    """
    share = typed_number(text, "share")
    if share and not 0.05 <= share <= 0.95:
        raise ParameterError("A seam lies between 0.05 and 0.95 of the length.", field="share")
    return share


def halves_alike(project: Project, name: str, piece: int) -> bool:
    """Return whether a piece, numbered from 0, is split into two congruent halves.

    A drawing that was just left has none.
    """
    form = project.structure
    if not isinstance(form, ImportedDrawings):
        return False
    at = next((at for at, each in enumerate(form.drawings) if each.file.name == name), None)
    parts = refitted_pieces(form, fit_context_of(project))
    return any(part.are_alike for part in parts if part.source == (at, piece))


def decision_of(each: DrawingView, feature_id: str) -> Decision:
    """Return the decision about one feature."""
    return next(d for d in each.refit.decisions if d.feature.id == feature_id)


def lens_row(project: Project, each: DrawingView, feature_id: str) -> LensRow:
    """Return a feature's new size for the fit lens."""
    decision, wish = decision_of(each, feature_id), each.refit.options
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
    own = solved_structure_of(project).pieces[0]
    return LensRow(
        title, size, size, inserted, own, own, project.kerf_at, not feature.widening,
    )  # fmt: skip


def kept_sizes(project: Project, each: DrawingView) -> str:
    """Return in words what keeping the fingers' outside or inside leads to.

    It is told of the largest piece with fingers; "" where there are none.
    """
    rows = [d.feature.piece for d in each.refit.decisions if d.feature.row]
    if not rows:
        return ""
    form, fit_context = imported_drawings(project), fit_context_of(project)
    sizes = {}
    for keep in KeptSize:
        refit = refit_of(form.with_changes(keep=keep.value), each.drawing, fit_context)
        regions = refitted_regions(refit)
        largest = max(set(rows), key=lambda piece: regions[piece].area)
        width, height = regions[largest].size
        sizes[keep] = f"{format_length(width)} × {format_length(height)}"
    kept = KeptSize(form.keep)
    other = KeptSize.INSIDE if kept is KeptSize.OUTSIDE else KeptSize.OUTSIDE
    return (
        f"Fingers keep the {kept.value}: the largest piece with some is {sizes[kept]} {UNIT}; "
        f"with the {other.value} kept {sizes[other]}."
    )


def _doubtful(project: Project, name: str) -> frozenset[str]:
    each = drawing_view(project, name)
    return frozenset(d.feature.id for d in each.refit.decisions if d.feature.uncertainty)
