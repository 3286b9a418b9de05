"""What several test modules need: shapes of every kind, sheets, and careful comparisons."""

from collections.abc import Iterable
from itertools import combinations
from math import hypot, pi

import manifold3d
import numpy as np
import shapely

from anzel.checks.interference import Interference
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Arc, Cubic, Line, Segment, circle
from anzel.materials.fits import KerfAt
from anzel.structure.model import FitContext, Joint, Plate, SheetSpec, SolvedStructure
from anzel.structure.solids import produced_solid

WALL = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
"""Upright, along world x."""
FLOOR = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def sheets(
    thin: float = 2.94,
    thick: float = 5.86,
    *,
    kerf: float = 0.16,
    clearance: float = 0.05,
    kerf_at: KerfAt = KerfAt.DRAWING,
) -> FitContext:
    """Two stocks, "thin" and "thick"."""
    return FitContext(
        (SheetSpec("thin", thin, kerf), SheetSpec("thick", thick, kerf)), clearance, kerf_at
    )


def rack(
    thin: float = 2.94,
    thick: float = 5.86,
    kerf: float = 0.16,
    clearance: float = 0.05,
    kerf_at: KerfAt = KerfAt.DRAWING,
) -> FitContext:
    """The sheets that forms start with."""
    stocks = (
        SheetSpec("ply-3", thin, kerf),
        SheetSpec("ply-6", thick, 0.2),
        SheetSpec("acrylic-3", 2.85, 0.2),
    )
    return FitContext(stocks, clearance, kerf_at)


def rectangle(width: float, height: float, x: float = 0.0, y: float = 0.0) -> Contour:
    """A rectangle with its lower left corner at (x, y)."""
    return Contour.polygon([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])


def blob() -> Contour:
    """An outline of all three kinds of segment: a line, a half circle and a cubic."""
    return Contour(
        (
            Line((0.0, 0.0), (40.0, 0.0)),
            Arc((40.0, 0.0), (40.0, 20.0), (40.0, 10.0)),
            Cubic((40.0, 20.0), (30.0, 35.0), (10.0, 5.0), (0.0, 20.0)),
            Line((0.0, 20.0), (0.0, 0.0)),
        )
    )


def upright(name: str, angle_degrees: float, region: Region | None = None) -> Plate:
    """A thin wall through the z axis, turned about it."""
    angle = angle_degrees * pi / 180
    along = (float(np.cos(angle)), float(np.sin(angle)), 0.0)
    shape = region or Region.of(rectangle(200, 60, -100, 0))
    return Plate(name, "thin", shape, Placement((0.0, 0.0, 0.0), along, (0.0, 0.0, 1.0)))


SEGMENTS: dict[str, Segment] = {
    "line": Line((1.0, 2.0), (7.0, -3.0)),
    "tiny line": Line((0.0, 0.0), (1e-4, 0.0)),
    "quarter arc": Arc((10.0, 0.0), (0.0, 10.0), (0.0, 0.0)),
    "clockwise arc": Arc((0.0, 10.0), (10.0, 0.0), (0.0, 0.0), clockwise=True),
    "long arc": Arc((0.0, 10.0), (10.0, 0.0), (0.0, 0.0)),
    "circle": circle((3.0, -4.0), 7.5),
    "cubic": Cubic((0.0, 0.0), (10.0, 20.0), (20.0, -20.0), (30.0, 5.0)),
    "straight cubic": Cubic((0.0, 0.0), (1.0, 1.0), (2.0, 2.0), (3.0, 3.0)),
    "loop": Cubic((0.0, 0.0), (30.0, 30.0), (-20.0, 30.0), (10.0, 0.0)),
}
CONTOURS: dict[str, Contour] = {
    "rectangle": rectangle(30, 20),
    "sliver": rectangle(100, 0.02),
    "circle": Contour.circle((5.0, 5.0), 12.0),
    "huge circle": Contour.circle((0.0, 0.0), 5000.0),
    "blob": blob(),
}


def assert_close(one: tuple[float, ...], other: tuple[float, ...], within: float = 1e-9) -> None:
    """Two points or tuples of numbers are the same within a distance."""
    __tracebackhide__ = True
    gap = hypot(*(a - b for a, b in zip(one, other, strict=True)))
    assert gap <= within, f"{one} and {other} are {gap:g} apart"


def assert_sound(region: Region) -> None:
    """Closed (by construction), simple, oriented, and nothing invented below 0.01 mm."""
    __tracebackhide__ = True
    assert shapely.is_valid(region.shape), shapely.is_valid_reason(region.shape)
    assert region.outer.signed_area > 0
    assert all(hole.signed_area < 0 for hole in region.holes)


def kinds(segments: Iterable[Segment]) -> list[str]:
    """The kinds of segments in order."""
    return [type(segment).__name__ for segment in segments]


def interferences(solved: SolvedStructure, fit_context: FitContext) -> tuple[Interference, ...]:
    """The overlap at every joint, in the joints' order."""
    solids = {piece.name: produced_solid(piece, fit_context) for piece in solved.pieces}
    return tuple(_at_joint(joint, solids) for joint in solved.joints)


def _at_joint(joint: Joint, solids: dict[str, manifold3d.Manifold]) -> Interference:
    """The worst of a joint's pairs."""
    pairs = [
        Interference(joint.id, (one, other), float((solids[one] ^ solids[other]).volume()))
        for one, other in combinations(joint.pieces, 2)
    ]
    return max(pairs, key=lambda pair: pair.volume)


SLITS = "".join(f'<path d="M{30 + 2 * n} {10 + n % 2 * 8}V60"/>' for n in range(20))
HINGE = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80">'
    f'<g id="outline"><path d="M5 5H115V75H5Z"/>{SLITS}</g>'
    '<g id="name"><path d="M80 20C90 10 100 30 110 20"/><path d="M80 40H100V200"/></g>'
    '<path class="engrave" d="M10 10L20 20"/></svg>'
)
"""A panel with a living hinge of twenty slits, a name in a layer of its own, an engraved line."""
