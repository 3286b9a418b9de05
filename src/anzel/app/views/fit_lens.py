"""What the fit lens shows: for each size at a joint, what meets what, and the sum behind it."""

from dataclasses import dataclass, replace

from anzel.core.number_format import UNIT, format_length
from anzel.geometry.placement import LYING
from anzel.materials.fits import KerfAt, Limits, Size, clearance_limits
from anzel.structure.forms.common_outlines import board
from anzel.structure.model import Feature, FeatureKind, FitContext, Joint, Piece
from anzel.test_pieces.model import TestPiece, TestPieceKind, TestPieceStep


@dataclass(frozen=True)
class LensRow:
    """One size with its sum, the opening and what goes into it, mm.

    `own` is the piece that the size is cut from, `mate` the other. `is_height` marks the height of
    a tab, where nothing is put into an opening.
    """

    title: str
    size: Size
    opening: Size
    inserted: Size
    own: Piece
    mate: Piece
    kerf_at: KerfAt
    is_height: bool = False
    inserted_limits: Limits | None = None

    @property
    def clearance(self) -> float:
        """The produced opening minus what goes into it, mm; negative is interference."""
        return self.opening.produced - self.inserted.produced

    @property
    def clearances(self) -> Limits:
        """The tightest and loosest clearance over the readings of the sheet that goes in."""
        inserted = self.inserted_limits or (self.inserted.produced, self.inserted.produced)
        return clearance_limits((self.opening.produced, self.opening.produced), inserted)


def lens_rows(
    joint: Joint, pieces: dict[str, Piece], fit_context: FitContext
) -> tuple[LensRow, ...]:
    """Return the sizes worth looking at, one of each kind on each of the joint's two pieces."""
    rows: list[LensRow] = []  # what takes the mating sheet comes first
    for name in joint.pieces:
        kinds: set[FeatureKind] = set()
        for feature in joint.features_on(name):
            if feature.kind not in kinds:
                kinds.add(feature.kind)
                rows += _rows(feature, joint, pieces, fit_context)
    rows.sort(key=lambda row: row.size is not row.opening or row.is_height)
    return tuple(rows)


def row_of_test_piece(
    test_piece: TestPiece, step: TestPieceStep, title: str, fit_context: FitContext
) -> LensRow:
    """Return a test piece's opening with what is tried in it, of the same sheet."""
    own = test_piece.pieces[0]
    limits = (
        fit_context.of(own.stock_id).thickness_limits
        if test_piece.kind is TestPieceKind.COMB
        else None
    )
    return LensRow(
        f"{title} engraved {step.label}", step.opening, step.opening, step.inserted, own, own,
        fit_context.kerf_at, False, limits,
    )  # fmt: skip


def _rows(
    feature: Feature, joint: Joint, pieces: dict[str, Piece], fit_context: FitContext
) -> list[LensRow]:
    """Return what a feature opens and what goes in; for a tab its own width and height."""
    own = pieces[feature.piece]
    mate = pieces.get(feature.mate) or _piece_of_sheet(feature.sheet, fit_context)
    width, depth = feature.width, feature.depth

    def row(title: str, size: Size, opening: Size, inserted: Size, height: bool = False) -> LensRow:
        title = f"{own.name}, {title}"
        return LensRow(title, size, opening, inserted, own, mate, fit_context.kerf_at, height)

    if feature.kind is FeatureKind.TAB:
        height = row("tab height", depth, depth, depth, height=True)
        partner = next((f for f in joint.features if f.inserted_along is not None), None)
        return [row("tab width", width, partner.depth, width), height] if partner else [height]
    if feature.inserted is None:
        return []
    names = {
        FeatureKind.SLOT: "slot", FeatureKind.MORTISE: "mortise width",
        FeatureKind.FINGER: "finger gap", FeatureKind.POCKET: "pocket",
    }  # fmt: skip
    across = row(names[feature.kind], width, width, feature.inserted)
    if feature.kind in (FeatureKind.SLOT, FeatureKind.MORTISE):
        across = replace(across, inserted_limits=_limits(feature, mate, fit_context))
    found = [across]
    if feature.inserted_along is not None:
        found.append(row("mortise length", depth, depth, feature.inserted_along))
    return found


def _piece_of_sheet(stock_id: str, fit_context: FitContext) -> Piece:
    """Return a piece for a sheet that goes with a feature and has no plate in the structure."""
    thickness = fit_context.of(stock_id).measured_thickness
    return Piece(stock_id, stock_id, thickness, board(-1, -1, 1, 1), LYING)


def _limits(feature: Feature, mate: Piece, fit_context: FitContext) -> Limits | None:
    """Return the thinnest and thickest that goes in, by the mate's readings."""
    limits = fit_context.of(mate.stock_id).thickness_limits
    if limits is None or feature.inserted is None:
        return None
    extra = feature.inserted.produced - mate.thickness
    return (limits[0] + extra, limits[1] + extra)


_SHORT = {"mating sheet ÷ sin θ": "sheet ÷ sin θ", "own sheet × cot θ": "own × cot θ"}


def sum_lines(row: LensRow, fit: str) -> list[tuple[str, str]]:
    """Return the terms of the sum as label and signed figure."""
    lines = []
    for index, term in enumerate(row.size.terms):
        label = _SHORT.get(term.label, term.label)
        label = f"{fit} clearance" if label == "clearance" else label
        if term.label == "kerf" and row.kerf_at is not KerfAt.DRAWING:
            label = f"kerf: the {row.kerf_at.value}"
        sign = "" if index == 0 else "+ " if term.value >= 0 else "− "
        lines.append((label, f"{sign}{format_length(abs(term.value))}"))
    return lines


def outside_words(row: LensRow, kerf: float) -> str:
    """Return how the outline of the piece comes out, beside its openings."""
    if row.kerf_at is not KerfAt.DRAWING:
        return (
            f"{row.own.name} comes out as large as drawn: the {row.kerf_at.value} minds the kerf."
        )
    if row.own.outset:
        return (
            f"The outline of {row.own.name} is drawn {format_length(kerf)} {UNIT} larger and comes "
            "out as typed."
        )
    return f"The outline of {row.own.name} comes out {format_length(kerf)} {UNIT} smaller."


def spoken(row: LensRow) -> str:
    """Return the lens in words, for those who do not see it."""
    terms = ", ".join(f"{term.label} {format_length(term.value, 3)}" for term in row.size.terms)
    drawn, produced = format_length(row.size.drawn, 3), format_length(row.size.produced, 3)
    return f"{row.title}: {terms}; drawn {drawn}, comes out {produced} {UNIT}"
