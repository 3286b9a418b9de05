"""Analysis of a drawing before anything is decided.

Loops, pieces, local shapes, and evidence for its drawn thickness.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from anzel.core.tolerances import LARGEST_GAP
from anzel.drawings.containment import NestedLoops, nest_loops
from anzel.drawings.loops import AssembledLoops, assemble_loops
from anzel.drawings.model import Drawing
from anzel.drawings.retraced import Edges, drawn_once, lines_there_and_back, taken_for_lines
from anzel.refit.bolt_slots import bolt_slot_sides
from anzel.refit.hinges import SlitFields, slit_fields
from anzel.refit.local_shapes import LocalShapes, local_shapes
from anzel.refit.sides import sides_of
from anzel.refit.thickness_estimation import (
    ThicknessEvidence,
    is_sure,
    likeliest_first,
    thickness_evidence,
)


@dataclass(frozen=True)
class DrawingAnalysis:
    """A drawing with its assembled loops, local shapes and thickness evidence."""

    drawing: Drawing
    assembled: AssembledLoops
    shapes: LocalShapes
    evidence: tuple[ThicknessEvidence, ...]
    hinge_slits: int = 0
    """Slits of living hinges, which are held."""
    bolt_slots: int = 0
    """Slots for bolts and nuts, which are held."""

    @property
    def nested(self) -> NestedLoops:
        """The loops, sorted into pieces."""
        return self.shapes.sides.nested

    @property
    def loose_lines(self) -> Iterator[tuple[str, Edges]]:
        """The lines that outline nothing, each once, with their labels."""
        paths = (self.drawing.paths[number] for number in self.assembled.open_paths)
        for path in (*paths, *self.drawing.asides):
            yield from ((path.label, edges) for edges in drawn_once(path.segments))

    def drawn_for(self, sheet: float | None = None) -> float | None:
        """Return the thickness that it was drawn for; None where that has to be asked.

        Sizes far from the maker's own sheet, mm, need more evidence than others.
        """
        if not is_sure(self.evidence, sheet):
            return None
        return likeliest_first(self.evidence, sheet)[0].value


def analyse(drawing: Drawing, largest_gap: float = LARGEST_GAP) -> DrawingAnalysis:
    """Return the analysis of a drawing; gaps up to `largest_gap` mm count as closed."""
    joined = assemble_loops(drawing.paths, largest_gap)
    every, slits = _shapes_and_slits(joined)
    if lines := lines_there_and_back(every.sides.nested, slits.loops):
        joined = taken_for_lines(joined, lines)
        every, slits = _shapes_and_slits(joined)
    bolts, bolt_slots = bolt_slot_sides(every)
    shapes = every.without(slits.loops, slits.sides | bolts)
    return DrawingAnalysis(
        drawing, joined, shapes, thickness_evidence(shapes), slits.slits, bolt_slots
    )


def _shapes_and_slits(joined: AssembledLoops) -> tuple[LocalShapes, SlitFields]:
    every = local_shapes(sides_of(nest_loops(joined.loops)))
    return every, slit_fields(every)
