"""Which plates something that a maker adds is for: one, or all that are alike."""

from collections.abc import Callable, Sequence
from typing import Protocol

from anzel.structure.model import JointSpec, Plate
from anzel.structure.openings.edge_frame import Edges
from anzel.structure.openings.opening_joint import OpeningJoint
from anzel.structure.openings.plate_opening import PlateOpening

_ALIKE = 1e-6
"""Plates whose outlines differ by less than this, mm, are alike."""


class OnPlates(Protocol):
    """Something for one plate, or for all plates alike."""

    @property
    def plate(self) -> str:
        """The name of its plate."""

    @property
    def alike(self) -> bool:
        """Whether it is for all plates alike."""


def plates_of(plates: Sequence[Plate], added: OnPlates) -> tuple[str, ...]:
    """Return the names of the plates that something is for: also those that repeat its own."""
    if added.alike:
        return alike_plates(plates, added.plate)
    return (added.plate, *(plate.name for plate in plates if plate.like == added.plate))


def alike_plates(plates: Sequence[Plate], name: str) -> tuple[str, ...]:
    """Return the names of the plates of the same stock and outline as one, that one first."""
    own = next((plate for plate in plates if plate.name == name), None)
    if own is None:
        return (name,)
    others = (
        plate.name for plate in plates
        if plate.name != name and plate.stock_id == own.stock_id and _are_alike(plate, own)
    )  # fmt: skip
    return (name, *others)


def _are_alike(one: Plate, other: Plate) -> bool:
    if one.region == other.region:
        return True
    if abs(one.region.area - other.region.area) > 1:
        return False
    a, b = one.region.shape.normalize(), other.region.shape.normalize()
    return bool(a.equals_exact(b, tolerance=_ALIKE))


def openings_on(
    plates: Sequence[Plate], openings: Sequence[PlateOpening], edges_of: Callable[[str], Edges]
) -> tuple[JointSpec, ...]:
    """Return what to solve for the openings, one for each plate that they are on."""
    return tuple(
        OpeningJoint(opening, name, tuple(edges_of(name).items()))
        for opening in openings
        for name in plates_of(plates, opening)
    )
