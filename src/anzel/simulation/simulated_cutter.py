"""A simulated cutter: it reads a cut file as it is written and removes what its beam removes.

The beam is round and as wide as the true kerf; along each edge it wobbles a little. On the line it
follows the drawn outline. With compensation it follows a path half of its *setting* outside it, and
the error of the setting shows in the pieces.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable
from anzel.geometry.regions import Contour, Region
from anzel.output.cut_file_reader import CutFile, CutPiece
from anzel.simulation.simulated_sheet import SimulatedSheet
from anzel.structure.solids import flat_solid

TYPE_CHECKING = False
if TYPE_CHECKING:
    import manifold3d

_ROUND = 6
"""Straight stretches to a quarter of the beam's edge."""
_THINNEST = 0.001


class SimulatedCutter(Immutable):
    """The truth of a cutter: kerf and its wobble (standard deviation from edge to edge), mm."""

    kerf: float = Field(ge=0, le=5)
    wobble: float = Field(default=0.0, ge=0, le=1)
    seed: int = Field(default=0, ge=0)


@dataclass(frozen=True)
class ProducedPiece:
    """A produced piece: the drawn piece, its kept shape on the sheet, the sheet."""

    drawn: CutPiece
    shape: shapely.Polygon
    sheet: SimulatedSheet

    @property
    def name(self) -> str:
        """The piece's name in the file."""
        return self.drawn.name

    @property
    def size(self) -> tuple[float, float]:
        """The produced width and height, mm."""
        left, low, right, high = self.shape.bounds
        return (right - left, high - low)

    @property
    def thickness(self) -> float:
        """The true thickness in the piece's middle, mm."""
        middle = self.shape.centroid
        return self.sheet.thickness_at(middle.x, middle.y)

    def solid(self) -> "manifold3d.Manifold":
        """Return the piece as a solid, about z = 0."""
        return flat_solid(self.shape, self.thickness)


def cut(
    file: CutFile, cutter: SimulatedCutter, sheet: SimulatedSheet, setting: float | None = None
) -> tuple[ProducedPiece, ...]:
    """Return the pieces of a file as produced.

    `setting` is the cutter's own kerf compensation, mm; None takes the file's.

    Raises
    ------
    ParameterError
        For a piece of which nothing is left.
    """
    offset = file.offset_kerf if setting is None else setting
    random = np.random.default_rng(cutter.seed)
    made = [
        ProducedPiece(piece, kept_shape(piece.region, cutter, offset, random), sheet)
        for piece in file.pieces
    ]
    for produced in made:
        if produced.shape.is_empty:
            raise ParameterError(
                f"Nothing is left of {produced.name}: it is thinner than the beam.",
                hint="Draw it larger, or cut with a smaller kerf.",
            )
    return tuple(made)


def kept_shape(
    region: Region, cutter: SimulatedCutter, offset: float, random: np.random.Generator
) -> shapely.Polygon:
    """Return what is left of a region, as chords: all that no part of the beam has reached."""
    path = region.shape if not offset else region.shape.buffer(offset / 2, join_style="mitre")
    edges = _edges(region.contours) if not offset else _ring_edges(path)
    kerfs = np.full(len(edges), cutter.kerf)
    if cutter.wobble:
        kerfs = kerfs + cutter.wobble * np.clip(random.standard_normal(len(edges)), -3, 3)
    beams = shapely.buffer(edges, np.maximum(kerfs, _THINNEST) / 2, quad_segs=_ROUND)
    left = shapely.get_parts(path.difference(shapely.union_all(beams)))
    return max(left, key=lambda part: float(part.area), default=shapely.Polygon())


def _edges(contours: tuple[Contour, ...]) -> list[shapely.LineString]:
    """Return the chords of each segment, one line string per segment."""
    found = []
    for contour in contours:
        corners = [*contour.corners, contour.corners[0]]
        at = 0
        for segment in contour.segments:
            chords = segment.chord_count()
            found.append(shapely.LineString(corners[at : at + chords + 1]))
            at += chords
    return found


def _ring_edges(path: shapely.Polygon) -> list[shapely.LineString]:
    return [
        shapely.LineString(pair)
        for ring in (path.exterior, *path.interiors)
        for pair in zip(ring.coords[:-1], ring.coords[1:], strict=True)
    ]
