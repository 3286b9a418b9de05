"""What there is in a drawing, before anything is decided: loops, pieces, shapes, and the sizes that
speak for a thickness."""

from dataclasses import dataclass

from anzel.drawings.containment import Rings, nested
from anzel.drawings.loops import LARGEST_GAP, Closed, closed
from anzel.drawings.model import Drawing
from anzel.refit.local_shapes import Shapes, measured
from anzel.refit.sides import sides_of
from anzel.refit.thickness_estimation import Evidence, evidence, is_sure


@dataclass(frozen=True)
class Survey:
    """A drawing looked over."""

    drawing: Drawing
    closed: Closed
    shapes: Shapes
    evidence: tuple[Evidence, ...]

    @property
    def rings(self) -> Rings:
        """Its loops, sorted into pieces."""
        return self.shapes.sides.rings

    @property
    def is_sure(self) -> bool:
        """Whether the first size of the evidence needs no asking."""
        return is_sure(self.evidence)


def surveyed(drawing: Drawing, largest_gap: float = LARGEST_GAP) -> Survey:
    """Look a drawing over; gaps up to `largest_gap` mm count as closed."""
    joined = closed(drawing.traces, largest_gap)
    shapes = measured(sides_of(nested(joined.loops)))
    return Survey(drawing, joined, shapes, evidence(shapes))
