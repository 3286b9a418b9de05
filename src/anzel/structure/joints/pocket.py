"""Pockets: a plate lying flat in a pocket of another, as an inlay or on a lip.

- *inlay*: the insert lies in the plane of its plate. To leave a gap g on every side the pocket is
  drawn g less half of either kerf beyond the insert (handbook of the trade, 3: the kerfs already
  part them).
- *lipped pocket*: the pocket is in an upper layer; a lower layer right under it has an opening
  smaller by the lip all round, so that the plate rests on it.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import pi

import shapely

from anzel.core.findings import ParameterError
from anzel.core.tolerances import SQUARE
from anzel.geometry.offset import offset
from anzel.geometry.placement import dot
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import RigidTransform
from anzel.materials.fits import FitName, Size, Term
from anzel.structure.joints.cutting_shapes import Offset, Slack
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    Joint,
    OutlineChange,
    Plate,
    Solved,
)


@dataclass(frozen=True)
class Pocket:
    """A plate lying in a pocket.

    `gap` is on every side (None: half the clearance); `lower` names the layer that holds it up with
    a `lip`, if there is one.
    """

    id: str
    insert: str
    plate: str
    gap: Offset | None = None
    lower: str = ""
    lip: Slack = 0.0
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        lower = plates[self.lower] if self.lower else None
        return solve(self, plates[self.insert], plates[self.plate], lower, fit_context)


def solve(
    seat: Pocket, insert: Plate, plate: Plate, lower: Plate | None, fit_context: FitContext
) -> tuple[Joint, tuple[OutlineChange, ...]]:
    """Return the pocket, and the opening under it.

    Raises
    ------
    ParameterError
        Where there is no room.
    """
    rule = fit_context.rule(plate.stock_id, seat.fit)
    gap = rule.clearance / 2 if seat.gap is None else seat.gap
    own, other = rule.drawn_kerf, fit_context.rule(insert.stock_id, seat.fit).drawn_kerf
    there = _motion(insert, plate)
    grown = gap - own / 2 - other / 2
    pocket = offset(insert.region.outer.moved(there), grown)
    _need_inside(plate, insert, pocket)
    edits = [OutlineChange(plate.name, cut=(pocket,))]
    if lower is not None:
        under = offset(insert.region.outer.moved(_motion(insert, lower)), -seat.lip)
        _need_inside(lower, insert, under)
        edits.append(OutlineChange(lower.name, cut=(under,)))
    left, low, right, top = insert.region.outer.bounds  # along the insert, however it is turned
    at = there(((left + right) / 2, (low + top) / 2))
    added = (Term("gap, twice", 2 * gap), Term("kerf", -own - other))

    def opening(drawn: float) -> Size:
        insert_size = drawn - sum(term.value for term in added)
        return Size((Term("insert", insert_size), *added), drawn, drawn + own)

    wide = opening(right - left + 2 * grown)
    inside = wide.terms[0].value
    feature = Feature(
        FeatureKind.POCKET, plate.name, insert.name, seat.id, wide,
        opening(top - low + 2 * grown), at, (-there.sine, there.cosine),
        Size((Term("insert", inside),), inside, inside - other),
    )  # fmt: skip
    joint = Joint(
        seat.id,
        f"{insert.name} in {plate.name}",
        (insert.name, plate.name),
        pi,
        plate.placement.to_world(at),
        plate.placement.normal,
        (feature,),
        seat.fit,
    )
    return joint, tuple(edits)


def _motion(insert: Plate, plate: Plate) -> RigidTransform:
    """Return the transform from the insert's coordinates to the plate's.

    They must face the same way.
    """
    a, b = insert.placement, plate.placement
    if abs(dot(a.normal, b.normal) - 1) > SQUARE:
        raise ParameterError(
            f"{insert.name} does not lie flat on {plate.name}.", hint="Turn it level with it."
        )
    x, y = b.to_plate(a.origin)
    cosine, sine = b.direction_to_plate(a.x_axis)
    return RigidTransform(cosine, sine, x, y)


def _need_inside(plate: Plate, insert: Plate, pocket: Contour) -> None:
    if not shapely.contains_properly(plate.region.shape, pocket.polygon_shape):
        raise ParameterError(
            f"{insert.name} does not lie inside {plate.name}.",
            hint="Make the plate larger, or the insert smaller.",
        )
