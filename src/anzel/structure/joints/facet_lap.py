"""A cross-lap with a bent plate, where one of its facets is."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from anzel.structure.model import FitContext, JointSpec, Plate, Solved


@dataclass(frozen=True)
class FacetLap:
    """Declares a cross-lap in which the plate `bent` has the outline and place of a facet."""

    lap: JointSpec
    bent: str
    facet: int

    @property
    def id(self) -> str:
        """The lap's."""
        return self.lap.id

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """The joint among the plates. Raises ParameterError where it cannot be."""
        plate = plates[self.bent]
        facet = plate.bent[self.facet]
        there = replace(plate, region=facet.region, placement=facet.placement)
        return self.lap.solve({**plates, self.bent: there}, fit_context)
