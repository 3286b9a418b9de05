"""Inlays: closed lines of a file as inserts of other sheets, each in a pocket of what is round it.

Every closed line parts what is inside from what is outside, so each makes one insert: of the sheet
that its label has, or of the plate's own where it is an island in a shape of the same label. Cut on
the line, insert and pocket come apart by half of either kerf; what is missing to the wanted gap is
made up for by the insert, or shared (handbook of the trade, 3). Parallels of free curves are off by
less than two micrometres.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from math import atan2, cos, degrees, hypot, pi, radians, sin

import shapely

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.core.number_format import plain_measure
from anzel.core.tolerances import SMALLEST
from anzel.core.wording import counted
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.tool_path import end_tangent, parallel_contour, start_tangent
from anzel.materials.fits import Size, Term
from anzel.structure.artwork.drawn import sized_lines
from anzel.structure.artwork.places import motions_of
from anzel.structure.artwork.records import OnPlate, PlateInlay
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    Joint,
    JointSpec,
    OutlineChange,
    Plate,
    Solved,
)
from anzel.structure.openings.alike import plates_of
from anzel.structure.openings.edge_frame import Edges

_CORNER = radians(20)
"""An outline that turns by more has a corner."""


@dataclass(frozen=True)
class InlayPocket:
    """An insert in its pocket: their drawn outlines in the coordinates of both, and the gap, mm."""

    id: str
    insert: str
    plate: str
    outline: Contour
    pocket: Contour
    gap: float

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint of insert and pocket, and what is cut."""
        plate, insert = plates[self.plate], plates[self.insert]
        own, other = (fit_context.rule(each.stock_id).drawn_kerf for each in (plate, insert))
        turn = _heading(self.pocket)
        lying = RigidTransform.rotation(-turn)
        left, low, right, top = self.pocket.moved(lying).bounds
        inner = self.outline.moved(lying).bounds
        at = RigidTransform.rotation(turn)(((left + right) / 2, (low + top) / 2))

        def opening(drawn: float, inside: float) -> Size:
            made_up = drawn - inside - 2 * self.gap
            terms = (Term("insert", inside), Term("gap, twice", 2 * self.gap),
                     Term("kerf", made_up))  # fmt: skip
            return Size(terms, drawn, drawn + own)

        inside = inner[3] - inner[1]
        feature = Feature(
            FeatureKind.POCKET, plate.name, insert.name, self.id,
            opening(top - low, inside), opening(right - left, inner[2] - inner[0]), at,
            (cos(radians(turn)), sin(radians(turn))),
            Size((Term("insert", inside),), inside, inside - other),
        )  # fmt: skip
        joint = Joint(
            self.id, f"{insert.name} in {plate.name}", (insert.name, plate.name), pi,
            plate.placement.to_world(at), plate.placement.normal, (feature,),
        )  # fmt: skip
        return joint, (OutlineChange(plate.name, cut=(self.pocket,)),)


def _heading(outline: Contour) -> float:
    """Return the direction of the longer side of the smallest rectangle round a shape, degrees."""
    box = shapely.minimum_rotated_rectangle(outline.polygon_shape)
    (ax, ay), (bx, by), (cx, cy) = box.exterior.coords[:3]
    long = max(((bx - ax, by - ay), (cx - bx, cy - by)), key=lambda side: hypot(*side))
    return degrees(atan2(long[1], long[0]))


@dataclass
class Inlays:
    """The inserts as plates, what joins them, and what there is to say."""

    inserts: list[Plate] = field(default_factory=list)
    pockets: list[JointSpec] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)


@dataclass(frozen=True)
class _Shape:
    """One closed line on its plate, and what it lies in."""

    outline: Contour
    label: str
    parent: "_Shape | None"

    @property
    def is_filled(self) -> bool:
        """Whether it is of its label's sheet: an island in a shape of the same label is not."""
        parent = self.parent
        return parent is None or parent.label != self.label or not parent.is_filled


def inlays_on(
    plates: Sequence[Plate], items: Iterable[OnPlate], edges_of: Callable[[str], Edges],
    fit_context: FitContext,
) -> Inlays:  # fmt: skip
    """Return all inlays of some plates; a shape that cannot be made does not stop the others."""
    found = Inlays()
    by_name = {plate.name: plate for plate in plates}
    known = {sheet.stock_id for sheet in fit_context.by_stock}
    for item in items:
        if not isinstance(item, PlateInlay):
            continue
        for name in plates_of(plates, item):
            if name not in by_name:
                continue
            try:
                motions = motions_of(item, by_name[name].region, edges_of(name))
            except ParameterError:
                continue  # it waits, and a finding says why
            _Laying(item, by_name[name], fit_context, found, known).lay(motions)
    return found


@dataclass
class _Laying:
    """One item being laid into one plate."""

    item: PlateInlay
    plate: Plate
    fit_context: FitContext
    found: Inlays
    known: set[str]
    count: int = 0
    made: dict[int, tuple[str, str]] = field(default_factory=dict)
    """The name and stock of each insert, by the identity of its shape."""

    def lay(self, motions: Sequence[RigidTransform]) -> None:
        """Add inserts and pockets for all closed lines, the largest first."""
        lines = [(label, path.moved(m)) for m in motions for label, path in sized_lines(self.item)]
        closed = [(label, Contour(path.segments)) for label, path in lines if path.is_closed]
        if len(closed) < len(lines):
            self._tell(
                "inlay-open", Severity.NOTE,
                f"{counted(len(lines) - len(closed), 'line')} of {self.item.id} left open: they "
                "make no inlay.",
                "Close them in the artwork.",
            )  # fmt: skip
        worst = 0.0
        for shape in _shapes(closed):
            self.count += 1
            name = f"{self.plate.name} {self.item.id}.{self.count}"
            why = self._fault(shape)
            if why:
                self._tell("inlay", Severity.PROBLEM, f"{name} cannot be made: it {why}.",
                           "Change the artwork, or move it.")  # fmt: skip
                continue
            worst = max(worst, self._add(shape, name))
        if worst > SMALLEST:
            self._tell(
                "inlay-corners", Severity.NOTE,
                f"the beam rounds the inner corners of {self.item.id}: sharp corners stand off by "
                f"up to {plain_measure(worst, 3)}.", "Round the artwork's corners a little.",
            )  # fmt: skip

    def _joint_id(self) -> str:
        number = f"{self.item.id}.{self.count}"
        return number if self.plate.name == self.item.plate else f"{number} {self.plate.name}"

    def _tell(self, code: str, severity: Severity, message: str, hint: str) -> None:
        self.found.findings.append(Finding(code, severity, self.plate.name, message, hint))

    def _fault(self, shape: _Shape) -> str:
        """Return why a shape cannot be made; "" where it can."""
        outline = shape.outline.polygon_shape
        if not outline.is_valid:
            return "crosses itself"
        if shape.parent is not None and id(shape.parent) not in self.made:
            return "lies in one that cannot be made"
        body = shape.parent.outline.polygon_shape if shape.parent else self.plate.region.shape
        if not shapely.contains_properly(body, outline):
            where = "one round it" if shape.parent else self.plate.name
            return f"does not lie inside {where}"
        beside = [pocket for pocket in self.found.pockets if isinstance(pocket, InlayPocket)]
        if any(
            pocket.plate == self._around(shape)[0]
            and pocket.pocket.polygon_shape.intersects(outline)
            for pocket in beside
        ):
            return "touches another one"
        if self._drawn(shape)[0] is None or self._drawn(shape)[1] is None:
            return "is smaller than the kerf"
        return ""

    def _around(self, shape: _Shape) -> tuple[str, str]:
        """Return the name and the stock of what a shape lies in."""
        if shape.parent is None:
            return self.plate.name, self.plate.stock_id
        return self.made[id(shape.parent)]

    def _stock(self, shape: _Shape) -> str:
        wanted = dict(self.item.stocks).get(shape.label, self.plate.stock_id)
        return wanted if shape.is_filled and wanted in self.known else self.plate.stock_id

    def _gap(self, shape: _Shape) -> float:
        if self.item.gap is not None:
            return self.item.gap
        return self.fit_context.rule(self._around(shape)[1], self.item.fit).clearance / 2

    def _drawn(self, shape: _Shape) -> tuple[Contour | None, Contour | None]:
        """Return the drawn outlines of an insert and of its pocket; None for one that vanishes."""
        kerfs = [
            self.fit_context.rule(stock).drawn_kerf
            for stock in (self._stock(shape), self._around(shape)[1])
        ]
        missing = sum(kerfs) / 2 - self._gap(shape)
        grown = missing / 2 if self.item.shared else missing
        return _parallel(shape.outline, grown), _parallel(shape.outline, grown - missing)

    def _add(self, shape: _Shape, name: str) -> float:
        """Add an insert and its pocket; return how far its sharpest corner stands off, mm."""
        outline, pocket = self._drawn(shape)
        assert outline is not None
        assert pocket is not None
        stock, around = self._stock(shape), self._around(shape)
        self.made[id(shape)] = (name, stock)
        insert = Plate(name, stock, Region.of(outline), self.plate.placement)
        self.found.inserts.append(insert)
        self.found.pockets.append(
            InlayPocket(self._joint_id(), name, around[0], outline, pocket, self._gap(shape))
        )  # fmt: skip
        kerfs = [self.fit_context.of(each).kerf for each in (around[1], stock)]
        return max(
            (_stand_off(turn, kerfs[0] if turn > 0 else kerfs[1]) for turn in _turns(outline)),
            default=0.0,
        )


def _shapes(closed: Sequence[tuple[str, Contour]]) -> Iterator[_Shape]:
    """Yield closed lines with what they lie in, which comes before them."""
    by_size = sorted(closed, key=lambda pair: -abs(pair[1].signed_area))
    shapes: list[_Shape] = []
    for label, contour in by_size:
        outline = contour if contour.signed_area > 0 else contour.reversed()
        inside = shapely.Point(outline.segments[0].point_at(0.5))
        parent = next(
            (each for each in reversed(shapes) if each.outline.polygon_shape.contains(inside)), None
        )
        shapes.append(_Shape(outline, label, parent))
        yield shapes[-1]


@lru_cache(maxsize=4096)  # all shapes of a few inlays
def _parallel(outline: Contour, distance: float) -> Contour | None:
    return parallel_contour(outline, distance) if distance else outline


def _turns(outline: Contour) -> Iterator[float]:
    """Yield how far an outline turns at each corner, radians; to the left is more than 0."""
    before = outline.segments[-1]
    for segment in outline.segments:
        (ax, ay), (bx, by) = end_tangent(before), start_tangent(segment)
        turn = atan2(ax * by - ay * bx, ax * bx + ay * by)
        if abs(turn) > _CORNER:
            yield turn
        before = segment


def _stand_off(turn: float, kerf: float) -> float:
    """Return how far a sharp corner stands off one that a beam has rounded, mm.

    The corner's angle is φ = π - turn: (1 / sin (φ / 2) - 1) k / 2, at 90° (√2 - 1) k / 2 (handbook
    of the trade, 3, Inlay in curves).
    """
    half = (pi - abs(turn)) / 2
    return (1 / sin(max(half, radians(5))) - 1) * kerf / 2
