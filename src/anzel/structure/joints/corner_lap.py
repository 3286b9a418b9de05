"""Overlapping slots at a corner: two plates run past one another there and are slotted together.

Both plates reach `beyond` mm past the outer face of the other, so that a web is left outside each
slot; the slots are those of a cross-lap.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from anzel.materials.fits import FitName
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.cutting_shapes import Share, Slack
from anzel.structure.model import FitContext, Plate, Solved

USUAL_BEYOND = 8.0
"""How far plates reach past one another unless the maker says otherwise, mm."""


@dataclass(frozen=True)
class CornerLap:
    """A cross-lap at a corner; its numbers are those of a cross-lap."""

    id: str
    from_above: str
    from_below: str
    beyond: Slack = USUAL_BEYOND
    split: Share = 0.5
    relief: Slack = 0.0
    up: tuple[float, float, float] | None = None
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        lap = CrossLap(
            self.id, self.from_above, self.from_below, self.split, self.relief, up=self.up,
            fit=self.fit,
        )  # fmt: skip
        return lap.solve(plates, fit_context)
