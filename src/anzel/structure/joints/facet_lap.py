"""A cross-lap with one facet of a bent plate."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from anzel.structure.model import FitContext, JointSpec, Plate, Solved


@dataclass(frozen=True)
class FacetLap:
    """A cross-lap in which the plate `bent` has the outline and placement of one facet."""

    lap: JointSpec
    bent: str
    facet: int

    @property
    def id(self) -> str:
        """The id of the lap."""
        return self.lap.id

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        plate = plates[self.bent]
        facet = plate.bent[self.facet]
        there = replace(plate, region=facet.region, placement=facet.placement)
        return self.lap.solve({**plates, self.bent: there}, fit_context)
