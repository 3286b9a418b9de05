"""Joints of plates that hinges bend: each is made at the flat part where its plates meet."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product

import shapely

from anzel.core.findings import ParameterError
from anzel.structure.free.edge_adjustment import brought_to
from anzel.structure.joints.facet_lap import FacetLap
from anzel.structure.joints.registry import plates_of
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.model import Facet, FitContext, JointSpec, Plate, Solved

_SEAM_ROOM = 1.0
"""Tools run past a seam for so much, mm."""


@dataclass(frozen=True)
class BentJoint:
    """A joint with plates that hinges bend.

    Two plates can meet at several flat parts; it is the one of that number among them.
    """

    spec: JointSpec
    hinged: tuple[str, ...]
    number: int

    @property
    def id(self) -> str:
        """The id of the joint."""
        return self.spec.id

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where they meet at no flat part.
        """
        return self.solved(plates, fit_context)[0]

    def solved(
        self, plates: Mapping[str, Plate], fit_context: FitContext
    ) -> tuple[Solved, Mapping[str, Plate]]:
        """Return the joint, and the plates with the flat parts where it is.

        Raises
        ------
        ParameterError
            Where they meet at no flat part.
        """
        why: ParameterError | None = None
        found = 0
        for there in self._ways(plates, fit_context):
            try:
                solved = self.spec.solve(there, fit_context)
            except ParameterError as error:
                why = why or error
                continue
            if _lies_on(solved, {name: there[name] for name in self.hinged}):
                found += 1
                if found > self.number:
                    return solved, there
        try:
            raise why or ParameterError(
                "The plates do not meet once they are bent.", hint="Move them together."
            )
        finally:
            del why  # it knows this frame, which would stay until garbage is collected

    def _ways(
        self, plates: Mapping[str, Plate], fit_context: FitContext
    ) -> Iterator[dict[str, Plate]]:
        """Yield the plates with each choice of flat parts, edges with tabs brought there."""
        panels = [plates[name].panels for name in self.hinged]
        for choice in product(*panels):
            there = dict(plates)
            for name, facet in zip(self.hinged, choice, strict=True):
                there[name] = _as_panel(plates[name], facet)
            if isinstance(self.spec, TabMortise):
                tabbed, mate = there[self.spec.tabbed], there[self.spec.mortised]
                region = brought_to(tabbed, mate, -1.0, fit_context)
                there[self.spec.tabbed] = replace(tabbed, region=region)
            yield there


def panels_of(plate: Plate) -> tuple[Plate, ...]:
    """Return a plate, or the flat parts that its hinges leave."""
    return tuple(_as_panel(plate, facet) for facet in plate.panels) or (plate,)


def _as_panel(plate: Plate, facet: Facet) -> Plate:
    """Return a flat part of a bent plate as a plate of its own."""
    room = min(plate.room, _SEAM_ROOM)
    return replace(
        plate, region=facet.region, placement=facet.placement, room=room, bent=(), panels=()
    )


def at_panels(
    plates: Sequence[Plate], declared: Sequence[JointSpec], fit_context: FitContext
) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
    """Return plates and joints such that joints are made where hinges have bent the plates to.

    Edges with tabs are brought to where they stand then.
    """
    by_name = {plate.name: plate for plate in plates}
    hinged = {plate.name for plate in plates if plate.panels}
    if not hinged:
        return tuple(plates), tuple(declared)
    made: list[JointSpec] = []
    met: Counter[tuple[str, ...]] = Counter()
    for spec in declared:
        names = () if isinstance(spec, FacetLap) else plates_of(spec)
        own = tuple(name for name in names if name in hinged)
        if not own:
            made.append(spec)
            continue
        joint = BentJoint(spec, own, met[names])
        met[names] += 1
        made.append(joint)
        if isinstance(spec, TabMortise):
            _bring(joint, spec, by_name, fit_context)
    return tuple(by_name.values()), tuple(made)


def _bring(
    joint: BentJoint, spec: TabMortise, plates: dict[str, Plate], fit_context: FitContext
) -> None:
    """Bring the edge with tabs to the face that it stands on."""
    try:
        _, there = joint.solved(plates, fit_context)
    except ParameterError:
        return  # the joint itself will say so
    plate = plates[spec.tabbed]
    flat = replace(plate, placement=there[spec.tabbed].placement)
    region = brought_to(flat, there[spec.mortised], -1.0, fit_context)
    plates[spec.tabbed] = replace(plate, region=region)


def _lies_on(solved: Solved, panels: Mapping[str, Plate]) -> bool:
    """Whether all that a joint leaves on bent plates is at the flat parts chosen."""
    joint = solved[0]
    if joint is None:
        return True
    return all(
        panels[feature.piece].region.shape.distance(shapely.Point(feature.at))
        <= feature.depth.drawn
        for feature in joint.features if feature.piece in panels
    )  # fmt: skip
