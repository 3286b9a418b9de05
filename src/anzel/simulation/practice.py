"""The practice loop without a machine.

Cut a test piece, measure, feel, cut the structure, assemble.

A *workshop* hides a truth (sheets, cutter, calipers, hand) that the project does not know. Only
files as they are written pass from one to the other.
"""

from dataclasses import dataclass

import numpy as np
from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.materials.stock import Stock
from anzel.output.cut_file_reader import parse_cut_file
from anzel.output.export import pages_of_test_piece, render, structure_pages
from anzel.project.derive import (
    derived_test_piece,
    layout_of,
    layout_of_test_piece,
    solved_structure_of,
)
from anzel.project.model import Project
from anzel.simulation.instruments import SimulatedCalipers, SimulatedHand
from anzel.simulation.simulated_cutter import ProducedPiece, SimulatedCutter, cut
from anzel.simulation.simulated_sheet import SimulatedSheet
from anzel.simulation.trial_assembly import LocatedPiece, MeasuredFit, assemble, located_pieces
from anzel.test_pieces.comb import BODY, TONGUE
from anzel.test_pieces.model import TestPieceKind
from anzel.test_pieces.trial import Feel

_OFF_LABEL = 0.05
_TRUE_KERF = (0.10, 0.24)
_SHEET_SIZE = 300.0
"""Calipers reach the edges of a sheet about this large, mm."""


class HiddenTruth(Immutable):
    """The hidden truth of a practice bench: its deviations, mm, and the seed."""

    seed: int = Field(default=1, ge=0, le=999_999)
    spread: float = Field(default=0.01, ge=0, le=1)
    wobble: float = Field(default=0.005, ge=0, le=0.2)
    caliper_zero: float = Field(default=0.01, ge=0, le=0.2)
    hand_noise: float = Field(default=0.0, ge=0, le=0.2)


@dataclass(frozen=True)
class SimulatedWorkshop:
    """Simulated tools for one project, with their truth."""

    sheets: dict[str, SimulatedSheet]
    kerfs: dict[str, float]
    calipers: SimulatedCalipers
    hand: SimulatedHand
    wobble: float
    seed: int

    def cutter(self, stock_id: str, job: int) -> SimulatedCutter:
        """Return the cutter as it cuts one stock on its n-th job."""
        number = sum(map(ord, stock_id)) + 7919 * job + self.seed
        return SimulatedCutter(kerf=self.kerfs[stock_id], wobble=self.wobble, seed=number)


def simulated_workshop(project: Project, truth: HiddenTruth) -> SimulatedWorkshop:
    """Return a workshop with sheets like the project's, but with hidden true thicknesses."""
    random = np.random.default_rng(truth.seed)
    sheets, kerfs = {}, {}
    for number, stock in enumerate(project.stocks):
        off = 1 + _OFF_LABEL * random.uniform(-1, 0.5)
        sheets[stock.id] = SimulatedSheet(
            true_thickness=stock.nominal_thickness * off, spread=truth.spread,
            seed=truth.seed + number,
        )  # fmt: skip
        kerfs[stock.id] = float(random.uniform(*_TRUE_KERF))
    zero = float(random.uniform(-truth.caliper_zero, truth.caliper_zero))
    calipers = SimulatedCalipers(0.01, zero, 0.003, truth.seed)
    hand = SimulatedHand(project.fits, truth.hand_noise, truth.seed)
    return SimulatedWorkshop(sheets, kerfs, calipers, hand, truth.wobble, truth.seed)


def as_believed(project: Project) -> SimulatedWorkshop:
    """Return a workshop where everything is as the project has it, uniform and without noise."""
    sheets = {
        stock.id: SimulatedSheet(true_thickness=stock.measured_thickness)
        for stock in project.stocks
    }
    kerfs = {stock.id: project.kerf_in(stock.id).kerf for stock in project.stocks}
    hand = SimulatedHand(project.fits)
    return SimulatedWorkshop(sheets, kerfs, SimulatedCalipers(0.01, 0.0, 0.0, 0), hand, 0.0, 0)


def measure(shop: SimulatedWorkshop, stock: Stock, count: int, job: int = 0) -> tuple[float, ...]:
    """Return caliper readings of a sheet, at places all over it."""
    random = np.random.default_rng(shop.seed + 31 * job + 1)
    places = random.uniform(0, _SHEET_SIZE, (count, 2))
    sheet = shop.sheets[stock.id]
    return tuple(shop.calipers.read(sheet.thickness_at(x, y)) for x, y in places)


def cut_test_piece(
    shop: SimulatedWorkshop, project: Project, stock_id: str, kind: TestPieceKind, job: int = 0
) -> dict[str, ProducedPiece]:
    """Return a test piece that was written, read back and cut, by the names of its pieces."""
    content = render(pages_of_test_piece(project, stock_id, kind), project.pens, ".svg")
    file = parse_cut_file(content, ".svg")
    produced = cut(file, shop.cutter(stock_id, job), shop.sheets[stock_id])
    return {piece.name: piece for piece in produced}


@dataclass(frozen=True)
class FeltSlot:
    """One slot of a cut comb: drawn width, produced clearance, and how it felt."""

    drawn: float
    clearance: float
    feel: Feel


def feel_comb(
    shop: SimulatedWorkshop, project: Project, stock_id: str, pieces: dict[str, ProducedPiece]
) -> tuple[FeltSlot, ...]:
    """Return how every slot of a cut comb feels with its tongue."""
    body = derived_test_piece(project, stock_id, TestPieceKind.COMB).pieces[0]
    comb = located_pieces(
        [pieces[BODY]], layout_of_test_piece(project, stock_id, TestPieceKind.COMB).plans[0].placed
    )
    tongue = pieces[TONGUE].thickness
    felt = []
    for slot in body.features:
        width = comb[BODY].opening(slot, (1.0, 0.0))
        assert width is not None  # a comb's slots have two walls
        felt.append(FeltSlot(slot.width.drawn, width - tongue, shop.hand.feel(width, tongue)))
    return tuple(felt)


def measure_disc(shop: SimulatedWorkshop, pieces: dict[str, ProducedPiece]) -> tuple[float, float]:
    """Return the measured (outside of the disc, inside of its hole)."""
    disc, hole = pieces["Disc"].shape, pieces["Hole"].shape.interiors[0]
    left, _, right, _ = disc.bounds
    inside_left, _, inside_right, _ = hole.bounds
    return shop.calipers.read(right - left), shop.calipers.read(inside_right - inside_left)


def cut_structure(
    shop: SimulatedWorkshop, project: Project, job: int = 1
) -> dict[str, LocatedPiece]:
    """Return every produced piece of the structure with where it lay.

    The structure is written, read back and cut.
    """
    pieces: dict[str, LocatedPiece] = {}
    for stock in project.stocks_in_use:
        content = render(structure_pages(project, stock_id=stock.id), project.pens, ".svg")
        produced = cut(
            parse_cut_file(content, ".svg"), shop.cutter(stock.id, job), shop.sheets[stock.id]
        )
        laid = [each for plan in layout_of(project, stock.id).plans for each in plan.placed]
        pieces.update(located_pieces(produced, laid))
    return pieces


def assemble_structure(
    shop: SimulatedWorkshop, project: Project, pieces: dict[str, LocatedPiece]
) -> tuple[tuple[MeasuredFit, Feel], ...]:
    """Return every opening of every joint with what went in, and how the hand feels it."""
    met = assemble(solved_structure_of(project), pieces)
    return tuple((each, shop.hand.feel(each.opening, each.inserted)) for each in met)
