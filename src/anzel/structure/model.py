"""The vocabulary of structures.

- *Plate*: a flat shape of one stock, placed in space, before any joint has touched it.
- *Piece*: the plate after its joints: what is cut.
- *Feature*: what a joint leaves on a piece. A *slot* is an opening from an edge, a *mortise* a
  closed hole, a *tab* stands out from an edge, a *finger* gap lies between two fingers of an edge,
  a *pocket* takes a whole piece lying flat. Of a slot or mortise, `width` is the side that takes
  the mate's thickness; `depth` is a slot's mouth-to-floor length, a mortise's other side. Of a tab,
  `width` runs along the edge and `depth` is its height above the shoulder. `inserted` is what goes
  into an opening across its width, `inserted_along` along its depth.
- *Joint*: pieces meeting, mostly two; it knows the features it left on each.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import pairwise
from math import inf
from typing import Protocol

from anzel.core.findings import Finding
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.regions import Contour, Region, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import FitName, FitRule, Fits, KerfAt, Limits, Size
from anzel.structure.engraved_picture import EngravedPicture
from anzel.structure.line_work import LineOperation, PlateLine

USUAL_FITS = Fits()
LEFT_OUT = "left-out"
"""The code of findings that name what a drawing or body holds and no cut file does."""


class FeatureKind(StrEnum):
    """What a joint can leave on a piece."""

    SLOT = "slot"
    MORTISE = "mortise"
    TAB = "tab"
    FINGER = "finger"
    POCKET = "pocket"


@dataclass(frozen=True)
class Facet:
    """A flat part of a bent plate: its outline on the flat plate, and its placement."""

    region: Region
    placement: Placement


@dataclass(frozen=True)
class Plate:
    """A flat shape of one stock placed in space, with a `mark` to engrave where there is room.

    A plate that `may_part`, cut from a sampled body, becomes several pieces where its slots leave
    it in parts. `bends` are the angles, degrees, of hinges that are drawn on it. A `bent` plate
    stands as its facets do, in their order; its `panels` are the facets that joints can be at.
    Tools may run past its outline for `room` mm. Its `lines` lie on it, and end where it is cut
    away. The member of a repeat is `like` the plate of that name. One that comes out in its true
    size is drawn `outset` mm further out all round, which the cutter takes away again.
    """

    name: str
    stock_id: str
    region: Region
    placement: Placement
    mark: str = ""
    may_part: bool = False
    bends: tuple[float, ...] = ()
    bent: tuple[Facet, ...] = ()
    panels: tuple[Facet, ...] = ()
    room: float = inf
    like: str = ""
    outset: float = 0.0
    lines: tuple[PlateLine, ...] = ()
    pictures: tuple[EngravedPicture, ...] = ()


@dataclass(frozen=True)
class Feature:
    """One slot, mortise, tab, finger gap or pocket.

    `at` is its middle, `along` its depth's unit direction. One that has no mate in the structure
    names the stock of the `sheet` that goes with it.
    """

    kind: FeatureKind
    piece: str
    mate: str
    joint: str
    width: Size
    depth: Size
    at: Point
    along: Point
    inserted: Size | None = None
    inserted_along: Size | None = None
    sheet: str = ""

    @property
    def goes_with(self) -> str:
        """What goes into it or takes it: a piece, or a sheet."""
        return self.mate or self.sheet


@dataclass(frozen=True)
class Joint:
    """A solved joint: where it is in space, at which angle (radians), and its features.

    `fit` is its own fit class; None where it has the project's.
    """

    id: str
    title: str
    pieces: tuple[str, ...]
    angle: float
    at: Vector
    axis: Vector
    features: tuple[Feature, ...]
    fit: FitName | None = None
    pairs: tuple[tuple[str, str], ...] = ()
    """Which of its pieces come apart from which, where that is not one after the other."""

    @property
    def separations(self) -> tuple[tuple[str, str], ...]:
        """The pairs that come apart: the second of each leaves the first."""
        return self.pairs or tuple(pairwise(self.pieces))

    def features_on(self, piece: str) -> tuple[Feature, ...]:
        """Return its features on one of its pieces."""
        return tuple(feature for feature in self.features if feature.piece == piece)


@dataclass(frozen=True)
class Piece:
    """A piece to cut: the drawn region, and the lines that lie on it, its engraved name too.

    All are in the plate's coordinates.
    """

    name: str
    stock_id: str
    thickness: float
    region: Region
    placement: Placement
    features: tuple[Feature, ...] = ()
    lines: tuple[PlateLine, ...] = ()
    count: int = 1
    bent: tuple[Facet, ...] = ()
    pictures: tuple[EngravedPicture, ...] = ()
    outset: float = 0.0
    """How far its outline is drawn outside its true size, mm, which the cutter takes away."""

    @property
    def name_strokes(self) -> tuple[Stroke, ...]:
        """The strokes of the name or number that is engraved on it."""
        return tuple(line.path.stroke for line in self.lines if line.is_name)

    @property
    def faces(self) -> frozenset[bool]:
        """The faces that something is engraved or scored on: the front is False, the back True."""
        lines = {line.is_back for line in self.lines if line.operation is not LineOperation.CUT}
        return frozenset(lines | {picture.is_back for picture in self.pictures})


@dataclass(frozen=True)
class SheetSpec:
    """What the solver knows of a stock, mm.

    `thickness_limits` are its thinnest and thickest reading, `fit_shift` is added to the clearance
    of its openings.
    """

    stock_id: str
    measured_thickness: float
    kerf: float
    thickness_limits: Limits | None = None
    fit_shift: float = 0.0


@dataclass(frozen=True)
class FitContext:
    """All stocks in use and the fits.

    It holds the clearance, where the kerf is taken care of, and the fit classes for joints with a
    class of their own. No opening is made with less clearance than `least_clearance`.
    """

    by_stock: tuple[SheetSpec, ...]
    clearance: float
    kerf_at: KerfAt
    fits: Fits = USUAL_FITS
    least_clearance: float = -inf

    def of(self, stock_id: str) -> SheetSpec:
        """Return the sheet of a known stock."""
        return next(sheet for sheet in self.by_stock if sheet.stock_id == stock_id)

    def rule(self, stock_id: str, fit: FitName | None = None) -> FitRule:
        """Return the fit rule for features cut from a stock, in a class (the project's)."""
        sheet = self.of(stock_id)
        clearance = self.clearance if fit is None else self.fits.clearance_of(fit)
        shifted = max(clearance + sheet.fit_shift, self.least_clearance)
        return FitRule(shifted, sheet.kerf, self.kerf_at)


NO_SHEETS = FitContext((), 0.0, KerfAt.DRAWING)
"""Where only names are asked for, and no sheet is known."""


@dataclass(frozen=True)
class OutlineChange:
    """What one joint adds to one plate's outline and cuts from it.

    What keeps off joints is not cut where it would come nearer to one, mm.
    """

    piece: str
    add: tuple[Contour, ...] = ()
    cut: tuple[Contour, ...] = ()
    keep_off: float = 0.0


Solved = tuple[Joint | None, tuple[OutlineChange, ...]]
"""What solving a declaration gives: the joint, if it makes one, and what it does to outlines."""


class JointSpec(Protocol):
    """The specification of a joint between named plates; one kind of joint a file in `joints/`."""

    @property
    def id(self) -> str:
        """The joint's id; "" for a specification that makes no joint."""

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates, by name, and the outline changes.

        Raises
        ------
        ParameterError
            Where it cannot be made.
        """


@dataclass(frozen=True)
class SolvedStructure:
    """A solved structure: everything that the views, checks and files show."""

    pieces: tuple[Piece, ...]
    joints: tuple[Joint, ...]
    findings: tuple[Finding, ...] = field(default=())

    def piece(self, name: str) -> Piece:
        """Return the piece of that name."""
        return next(piece for piece in self.pieces if piece.name == name)
