"""What a drawing file holds, whatever its format: runs of edges in mm, and what else was in it.

Coordinates are those of the page (SVG: from the top left corner, y down; DXF: of the world, y up).
Every edge remembers the element of the file that it came from, so that a changed edge can be
written back to its own place while every other edge keeps its last digit.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

import numpy as np

from anzel.core.findings import MakerError
from anzel.core.number_format import plain_measure
from anzel.core.units import MILLIMETRES_PER_INCH
from anzel.geometry.coordinate_limits import limit_violation
from anzel.geometry.segment_mapping import flipped
from anzel.geometry.segments import Segment


class DrawingError(MakerError):
    """A drawing that cannot be read, or not in bounded time and memory."""


@dataclass(frozen=True, slots=True)
class DrawnPath:
    """A run of edges as one element of a file draws it.

    `part_numbers` gives, for each edge, its part of the element. Several edges share one part where
    the part needs several edges, such as an elliptical arc. `label` is the layer, class or colour;
    loose edges that belong together have it in common.
    """

    element: int
    segments: tuple[Segment, ...]
    part_numbers: Sequence[int]
    label: str = ""


def label_in_words(label: str) -> str:
    """Return a label without its empty parts, as a maker reads and names it."""
    return "/".join(part for part in label.split("/") if part) or "without a name"


def label_named(labels: Iterable[str], named: str) -> str | None:
    """Return which of some labels is named, as it is or in words; None where none is."""
    return next((each for each in labels if named in (each, label_in_words(each))), None)


MOST_REPEATS = 20_000
"""Uses of symbols or inserts of blocks, those within others counted each time: far more than any
sheet has, and few enough to be followed in seconds."""


def repeats_too_often(name: str) -> DrawingError:
    """Return the error for nested repeats that stand for more edges than there is memory for."""
    return DrawingError(
        f"{name} repeats its parts far too often.", hint="Write it anew with fewer copies."
    )


def check_extent(drawn_paths: Sequence[DrawnPath], name: str) -> None:
    """Raise DrawingError for an empty drawing, and for coordinates out of limits."""
    if not drawn_paths:
        raise DrawingError(f"{name} is empty: no line is drawn in it.")
    if why := limit_violation(
        segment for drawn_path in drawn_paths for segment in drawn_path.segments
    ):
        raise DrawingError(f"{name} has {why}.", hint="Check its units.")


UNITS = {"mm": 1.0, "in": MILLIMETRES_PER_INCH, "px": MILLIMETRES_PER_INCH / 96}
"""What one unit of a drawing can be said to be, mm; 1 CSS px is 1/96 in (CSS Values, 6.2)."""
OURS = frozenset({"engrave", "score"})
"""Layers and classes of cut files written here that are not cut."""
MOST_EDGES = 2_000_000
TELL_EACH = 500
"""A reader says how far it is after so many shapes."""
Tell = Callable[[str], None]
"""Hears how far the reading is; may raise to stop it."""


def no_progress(text: str) -> None:
    """Ignore the progress of a reader."""


class UnitSource(StrEnum):
    """How the length of a drawing unit is known."""

    FILE = "the file says so"
    ASKED = "as you said"
    GUESS = "a guess: the file does not say"


@dataclass(frozen=True)
class Units:
    """The length of one drawing unit, and how it is known."""

    name: str
    millimetres: float
    source: UnitSource

    @property
    def description(self) -> str:
        """The unit in words."""
        return f"one unit is {plain_measure(self.millimetres, 6)}, {self.source.value}"


@dataclass(frozen=True)
class IgnoredItems:
    """Items in a file that are no outlines and stay as they are: what they are, and how many.

    `place` says where the first of them is.
    """

    what: str
    count: int
    place: str = ""


ChangedPath = tuple[int, Sequence[Segment | None]]
"""A drawn path by its place in the drawing, and its new edges; None for an edge that goes."""


class Source(Protocol):
    """The file of a drawing, which can be written again with some edges changed."""

    def written(self, drawing: "Drawing", changes: Iterable[ChangedPath]) -> bytes:
        """Return the file's content with some edges changed.

        Everything else stays as it was. Changes come in the order of the drawing.
        """
        ...

    def in_units(self, drawing: "Drawing", units: Units) -> "Drawing":
        """Return the same drawing with another length of its unit."""
        ...


@dataclass(frozen=True)
class Drawing:
    """The edges of a drawing, and the file that they can be written back to."""

    name: str
    paths: tuple[DrawnPath, ...]
    units: Units
    ignored: tuple[IgnoredItems, ...]
    source: Source
    y_down: bool = False
    asides: tuple[DrawnPath, ...] = ()
    """Lines that are drawn on pieces and outline nothing, their label the operation they name."""

    def with_y_up(self, segments: Iterable[Segment]) -> tuple[Segment, ...]:
        """Return edges of the drawing with y up, whatever the file has."""
        return tuple(map(flipped, segments)) if self.y_down else tuple(segments)

    @property
    def size(self) -> tuple[float, float]:
        """The (width, height) over all edges, mm; arcs and curves count as far as they reach."""
        boxes = [edge.bounds for drawn_path in self.paths for edge in drawn_path.segments]
        if not boxes:
            return (0.0, 0.0)
        low, high = np.min(boxes, axis=0), np.max(boxes, axis=0)
        return (float(high[2] - low[0]), float(high[3] - low[1]))
