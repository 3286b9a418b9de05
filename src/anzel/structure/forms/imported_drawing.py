"""Imported drawings: SVG or DXF files of somebody else, refitted to this sheet.

The form holds the files as they came and the maker's decisions about them. The refit follows from
those whenever a thickness, a kerf or a fit changes.
"""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from importlib.resources import files
from itertools import chain, count
from typing import Annotated, ClassVar, Literal, Self

import shapely
from pydantic import Field, model_validator

from anzel.core.asset import Asset
from anzel.core.findings import Finding, ParameterError
from anzel.core.immutable import Immutable
from anzel.drawings.model import Tell, no_progress
from anzel.geometry.placement import LYING
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.materials.fits import FitRule, Size, Term
from anzel.refit.analysis import DrawingAnalysis
from anzel.refit.features import DrawnFeatureKind, KeptSize
from anzel.refit.finger_rows import EdgeInterpretation
from anzel.refit.load import load_drawing
from anzel.refit.refit import Anchor, Decision, Refit, RefitOptions, refit_drawing
from anzel.refit.refitted_regions import refitted_regions, with_y_up
from anzel.refit.split import SeamStyle, split
from anzel.structure.artwork.drawn_hinges import USUAL_ANGLE, drawn_hinges
from anzel.structure.dimension import Dimension
from anzel.structure.disconnected_parts import part_letters
from anzel.structure.forms.drawing_findings import drawing_findings
from anzel.structure.forms.drawn_lines import lines_on
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.line_work import LineWish, PlateLine
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    JointSpec,
    Plate,
    SolvedStructure,
)

_APART = 20.0
"""Between drawings laid side by side, mm."""
Name = Annotated[str, Field(max_length=40)]
EdgeChoice = Literal["tabs", "fingers", "neither"]


class Seam(Immutable):
    """Where a piece, by its number in the drawing, is split.

    A share of its length, 0 where the seam is least seen.
    """

    piece: int = Field(ge=1)
    style: SeamStyle = SeamStyle.STEPPED
    share: float = Field(default=0.0, ge=0, lt=1)


class ImportedDrawing(Immutable):
    """One file and the decisions about it.

    `drawn` thicknesses are estimated where none is given. Sizes within `tolerance` mm of a drawn
    thickness count as it; None uses `tolerance_for`. `held` and `sure` name features, rows, holes
    and pieces. By feature: `mates` gives the stock that goes into it where it is not the one it is
    cut from, `stays` the part of it that keeps its place, `depths` the depth of a slot.
    """

    file: Asset
    units: Literal["mm", "in", "px"] | None = None
    drawn: tuple[Annotated[float, Field(gt=0, le=100)], ...] = ()
    tolerance: Annotated[float, Field(ge=0, le=5)] | None = None
    held: tuple[Name, ...] = ()
    sure: tuple[Name, ...] = ()
    mates: tuple[tuple[Name, str], ...] = ()
    lines: tuple[tuple[str, LineWish], ...] = Field(default=(), max_length=1000)
    """What becomes of lines that outline nothing, by label, where the maker has said so."""
    bends: tuple[tuple[Name, Annotated[float, Field(ge=0, le=360)]], ...] = ()
    """By how many degrees hinges are bent, by piece and number ("2.1"), where it is not 90."""
    stays: tuple[tuple[Name, Anchor], ...] = ()
    depths: tuple[tuple[Name, Annotated[float, Field(gt=0, le=5000)]], ...] = ()
    edges: tuple[tuple[Name, EdgeChoice], ...] = ()
    """What stepped edges are, by id, where the maker has said so."""
    seams: tuple[Seam, ...] = ()


def _caddy() -> tuple[ImportedDrawing, ...]:
    """Return a seed caddy drawn for sheet of 3.2 mm, to begin with."""
    content = files(__package__).joinpath("caddy.svg").read_bytes()
    return (ImportedDrawing(file=Asset.of("seed caddy.svg", content)),)


class ImportedDrawings(Form):
    """Drawings of one assembly, refitted together."""

    form: Literal["found"] = "found"
    has_drawings: ClassVar[bool] = True
    drawn: ClassVar[frozenset[str]] = frozenset({"drawings"})
    shares: ClassVar[frozenset[str]] = frozenset({"scale"})
    drawings: tuple[ImportedDrawing, ...] = Field(
        default_factory=_caddy, min_length=1, max_length=40
    )
    scale: float = Field(default=1.0, ge=0.01, le=100, description="Larger or smaller than drawn")
    proud: float = Field(
        default=0.0, ge=-5, le=5, description="How far tabs stand out of their mortises"
    )
    keep: Literal["outside", "inside"] = Field(
        default="outside", description="The size that stays when fingers change height"
    )
    stock: str = "ply-3"

    @model_validator(mode="after")
    def _names_differ(self) -> Self:
        names = [each.file.name for each in self.drawings]
        if len(set(names)) < len(names):
            raise ValueError("two drawings have the same name")
        return self

    def assets(self) -> tuple[Asset, ...]:
        """Return the files."""
        return (*super().assets(), *(each.file for each in self.drawings))

    def stock_roles(self) -> dict[str, str]:
        """Return the stock of all pieces, and those that go into single features."""
        mates = {
            f"{each.file.name} {name}": stock
            for each in self.drawings
            for name, stock in each.mates
        }
        return {"stock": self.stock, **mates}

    def with_stocks(self, roles: dict[str, str]) -> Self:
        """Other stocks for some of the roles."""
        drawings = tuple(
            each.with_changes(
                mates=tuple((n, roles.get(f"{each.file.name} {n}", s)) for n, s in each.mates)
            )
            for each in self.drawings
        )
        return self.with_changes(drawings=drawings, stock=roles.get("stock", self.stock))

    def with_scaled_lengths(self, factor: float) -> Self:
        """Return the drawings larger or smaller; what is held keeps its drawn size."""
        return self.with_changes(scale=self.scale * factor)

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Return no ranges, because no field depends on another."""
        return {}

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return every piece lying where it is drawn, one drawing beside the other."""
        plates = tuple(self._plates(fit_context))
        if not plates:
            raise ParameterError(
                f"{self.drawings[0].file.name} holds no closed outline to cut.",
                hint="Open lines can be engraved, but make no piece.",
            )
        return plates, ()

    def _plates(self, fit_context: FitContext) -> Iterator[Plate]:
        for part in refitted_pieces(self, fit_context):
            angles = dict(self.drawings[part.source[0]].bends)
            bends = tuple(
                angles.get(hinge_id(part, number), USUAL_ANGLE)
                for number, _ in enumerate(drawn_hinges(part.region, part.lines), start=1)
            )
            yield Plate(part.name, self.stock, part.region, LYING, lines=part.lines, bends=bends)

    def drawn_features(self, fit_context: FitContext) -> dict[str, tuple[Feature, ...]]:
        """Return slots, mortises and tabs as they will be cut.

        Webs and ripples refer to them.
        """
        made: dict[str, list[Feature]] = defaultdict(list)
        parts: dict[tuple[int, int], list[RefittedPiece]] = defaultdict(list)
        for part in refitted_pieces(self, fit_context):
            parts[part.source].append(part)
        for drawing, (refit, shift, _) in enumerate(drawings_side_by_side(self, fit_context)):
            for decision in refit.decisions:
                if decision.feature.kind is DrawnFeatureKind.FINGER:
                    continue
                feature = _feature(refit, decision, shift)
                own = parts[drawing, decision.feature.piece]
                home = own[0] if len(own) == 1 else _nearest(own, feature.at)
                made[home.name].append(replace(feature, piece=home.name))
        return {name: tuple(each) for name, each in made.items()}

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """There are no joints: a drawing does not say what stands where."""
        return ()

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """None: sizes are told by pointing at edges."""
        return ()

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return findings on repairs, and on items of the drawings that are on no sheet."""
        return tuple(
            finding for each in self.drawings
            for finding in drawing_findings(
                each.file.name, dict(each.lines), refit_of(self, each, fit_context)
            )
        )  # fmt: skip


@dataclass(frozen=True)
class RefittedPiece:
    """A piece to cut, or a part of one that is split.

    Its name, its shape, its source (drawing, piece), and whether the parts are congruent.
    """

    name: str
    region: Region
    source: tuple[int, int]
    are_alike: bool = False
    lines: tuple[PlateLine, ...] = ()


def hinge_id(part: RefittedPiece, number: int) -> str:
    """Return the id of a hinge: its piece in the drawing and its number on it, from 1."""
    return f"{part.source[1] + 1}.{number}"


def _nearest(parts: Sequence[RefittedPiece], at: Point) -> RefittedPiece:
    """Return the part of a split piece that a place is in, or nearest to."""
    place = shapely.Point(at)
    return min(parts, key=lambda part: part.region.shape.distance(place))


@lru_cache(maxsize=8)
def refitted_pieces(form: ImportedDrawings, fit_context: FitContext) -> tuple[RefittedPiece, ...]:
    """Return every piece where it lies, pieces with a seam in parts.

    Raises
    ------
    ParameterError
        For an impossible seam.
    """
    made: list[RefittedPiece] = []
    keys_from = 0.0
    sheet, rule = fit_context.of(form.stock), fit_context.rule(form.stock)
    stems = _stems([each.file.name for each in form.drawings])
    for drawing, (_, shift, regions) in enumerate(drawings_side_by_side(form, fit_context)):
        seams = {seam.piece: seam for seam in form.drawings[drawing].seams}
        for number, region in enumerate(regions):
            name = f"{stems[drawing]} {number + 1}"
            moved = region.moved(RigidTransform().translated(*shift))
            seam = seams.get(number + 1)
            if seam is None:
                made.append(RefittedPiece(name, moved, (drawing, number)))
                continue
            halves = split(moved, seam.style, sheet.measured_thickness, rule, seam.share)
            for index, part in enumerate(halves.parts):
                part_name = f"{name}{part_letters(index)}"
                made.append(RefittedPiece(part_name, part, (drawing, number), halves.are_alike))
            for key_number, key in enumerate(halves.keys, start=1):
                _, low, right, high = key.bounds
                beside = key.moved(RigidTransform().translated(-right - _APART, keys_from - low))
                keys_from += high - low + _APART / 2
                made.append(RefittedPiece(f"{name} key {key_number}", beside, (drawing, -1)))
    return tuple(_with_lines(form, fit_context, made))


def _stems(files: Sequence[str]) -> list[str]:
    """Return what the pieces of each file are called after: no two files share it."""
    stems: list[str] = []
    for file in files:
        stem = file.rpartition(".")[0] or "Piece"
        numbered = (f"{stem[:70]} no. {number}" for number in count(2))
        wanted = (each[:80] for each in chain((stem, file), numbered))
        stems.append(next(each for each in wanted if each not in stems))
    return stems


def _with_lines(
    form: ImportedDrawings, fit_context: FitContext, parts: Sequence[RefittedPiece]
) -> Iterator[RefittedPiece]:
    """Yield the pieces with the lines that lie on them."""
    lines: dict[str, Sequence[PlateLine]] = {}
    for number, (refit, shift, _) in enumerate(drawings_side_by_side(form, fit_context)):
        own = [part for part in parts if part.source[0] == number and part.source[1] >= 0]
        wishes = dict(form.drawings[number].lines)
        found, _ = lines_on(refit.analysis, wishes, shift, [part.region for part in own])
        lines.update(zip((part.name for part in own), found, strict=True))
    for part in parts:
        yield replace(part, lines=tuple(lines.get(part.name, ())))


def _feature(refit: Refit, decision: Decision, shift: tuple[float, float]) -> Feature:
    """Return a drawn feature as a feature of a structure: its depth runs out of its mouth."""
    found, sides, wish = decision.feature, refit.analysis.shapes.sides, refit.options
    sheet = Term("mating sheet", wish.thickness_for(found))
    size, length = Term("drawn", decision.new), Term("drawn", found.length)
    kerf = wish.rule.drawn_kerf
    side = found.widening[0] if found.widening else found.middle
    x, y = sides.along[side].tolist()
    x, y = (y, -x) if found.kind is DrawnFeatureKind.TAB else (-x, -y)
    x, y = with_y_up(refit, (x, y))
    at = with_y_up(refit, found.at)
    narrow = Size((size,), size.value, size.value + kerf)
    wide = Size((length,), length.value, length.value)
    is_tab = found.kind is DrawnFeatureKind.TAB
    return Feature(
        FeatureKind(found.kind.value), "", "", found.id, wide if is_tab else narrow,
        Size((size,), size.value, size.value) if is_tab else wide,
        (at[0] + shift[0], at[1] + shift[1]), (x, y),
        None if is_tab else Size((sheet,), sheet.value, sheet.value),
    )  # fmt: skip


Laid = tuple[Refit, tuple[float, float], tuple[Region, ...]]


@lru_cache(maxsize=4)
def drawings_side_by_side(form: ImportedDrawings, fit_context: FitContext) -> tuple[Laid, ...]:
    """Return every drawing refitted, with its pieces and its shift.

    The shifts put all side by side, with their lower left corners at the origin's height.
    """
    made = []
    right = 0.0
    for each in form.drawings:
        refit = refit_of(form, each, fit_context)
        regions = tuple(refitted_regions(refit))
        boxes = [region.bounds for region in regions] or [(0.0, 0.0, 0.0, 0.0)]
        left, low = min(box[0] for box in boxes), min(box[1] for box in boxes)
        made.append((refit, (right - left, -low), regions))
        right += max(box[2] for box in boxes) - left + _APART
    return tuple(made)


def refit_of(form: ImportedDrawings, drawing: ImportedDrawing, fit_context: FitContext) -> Refit:
    """Return one drawing refitted for the form's stock."""
    others = tuple((n, fit_context.of(stock).measured_thickness) for n, stock in drawing.mates)
    return _refit(
        drawing, form.scale, form.proud, form.keep,
        (fit_context.of(form.stock).measured_thickness, fit_context.rule(form.stock)), others,
    )  # fmt: skip


@lru_cache(maxsize=16)
def analysis_of(drawing: ImportedDrawing, scale: float) -> DrawingAnalysis:
    """Return the analysis of a drawing.

    Raises
    ------
    DrawingError
    """
    return _survey(drawing.file, drawing.units, scale)


_MOST_LOOKED_OVER = 8
_looked_over: dict[ImportedDrawing, DrawingAnalysis] = {}
"""Drawings that were just looked over elsewhere, where it can be told and stopped."""


def import_drawing(name: str, content: bytes, tell: Tell = no_progress) -> ImportedDrawing:
    """Return a file as an analysed drawing to refit.

    Raises
    ------
    DrawingError
        `tell` raises to stop it.
    """
    drawing = ImportedDrawing(file=Asset.of(name, content))
    while len(_looked_over) >= _MOST_LOOKED_OVER:
        del _looked_over[next(iter(_looked_over))]
    _looked_over[drawing] = load_drawing(content, name, tell=tell)
    return drawing


@lru_cache(maxsize=8)
def _survey(file: Asset, units: str | None, scale: float) -> DrawingAnalysis:
    known = _looked_over.get(ImportedDrawing(file=file)) if units is None and scale == 1 else None
    return known or load_drawing(file.content, file.name, units, scale)


@lru_cache(maxsize=16)
def _refit(
    drawing: ImportedDrawing,
    scale: float,
    proud: float,
    keep: str,
    sheet: tuple[float, FitRule],
    others: tuple[tuple[str, float], ...],
) -> Refit:
    options = RefitOptions(
        *sheet, drawing.drawn, drawing.tolerance, keep=KeptSize(keep), proud=proud,
        held=frozenset(drawing.held), sure=frozenset(drawing.sure), others=dict(others),
        stays=dict(drawing.stays), depths=dict(drawing.depths), scale=scale,
        edges={name: EdgeInterpretation(what) for name, what in drawing.edges},
    )  # fmt: skip
    return refit_drawing(analysis_of(drawing, scale), options)
