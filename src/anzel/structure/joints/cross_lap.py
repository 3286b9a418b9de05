"""Cross-lap: two plates slotted into one another along the line where their mid-planes meet.

The *overlap* is the part of that line inside both outlines. The plate slotted *from above* loses
its upper part down to the split point, the other its lower part up to it. Width by
stock.fits.crossing_terms; both floors lie on the split point, deepened by the relief.

Where the line meets both outlines in several stretches, one plate must still come down on the
other: the longest stretch is split, and of each further one the plate in the way is cut through.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from anzel.core.findings import ParameterError
from anzel.geometry.placement import Vector, add_scaled, dot
from anzel.materials.fits import FitName, Term, crossing_terms
from anzel.structure.joints.cutting_shapes import Share, Slack
from anzel.structure.joints.line_intervals import SlotOpening, Span, common_spans, spans_of
from anzel.structure.model import Feature, FitContext, Joint, OutlineChange, Plate, Solved
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes

Lapped = tuple[Joint, tuple[OutlineChange, ...]]


@dataclass(frozen=True)
class CrossLap:
    """A cross-lap.

    `split` is the share of the overlap cut from above; `up` is the direction of above (None:
    upwards in space); `slack` is added to both slots' clearance.
    """

    id: str
    from_above: str
    from_below: str
    split: Share = 0.5
    relief: Slack = 0.0
    slack: Slack = 0.0
    up: Vector | None = None
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        return solve(self, plates[self.from_above], plates[self.from_below], fit_context)


def solve(
    lap: CrossLap,
    above: Plate,
    below: Plate,
    fit_context: FitContext,
    split_at: Vector | None = None,
) -> Lapped:
    """Return the slots of a cross-lap, split by its share or level with a point in space.

    Raises
    ------
    ParameterError
        Where the plates cannot be lapped.
    """
    intersection = intersect_planes(above, below, lap.up)
    spans = {plate.name: spans_of(plate, intersection) for plate in (above, below)}
    overlaps = common_spans(spans[above.name], spans[below.name])
    if not overlaps:
        raise ParameterError(
            f"{above.name} and {below.name} do not reach each other.",
            hint="Move them together or leave the joint out.",
        )
    main = max(overlaps, key=lambda span: span[1] - span[0])
    split = main[1] - lap.split * (main[1] - main[0])
    if split_at is not None:
        split = dot(add_scaled(split_at, intersection.origin, -1.0), intersection.axis)
        if not main[0] < split < main[1]:
            raise ParameterError(
                f"{above.name} and {below.name} overlap too little.", hint="Let them overlap more."
            )
    features: list[Feature] = []
    edits = []
    for plate, mate, sign in ((above, below, 1), (below, above, -1)):
        rule, taken = (
            fit_context.rule(plate.stock_id, lap.fit),
            _taken(plate, mate, intersection, fit_context),
        )
        slots = [
            opening.slot(lap.id, mate.name, taken, rule, lap.slack)
            for opening in _openings(
                lap, plate, intersection, spans[plate.name], overlaps, split, sign
            )
        ]
        features += [feature for feature, _ in slots]
        edits.append(OutlineChange(plate.name, cut=tuple(tool for _, tool in slots)))
    low, high = overlaps[0][0], overlaps[-1][1]
    joint = Joint(
        lap.id,
        f"{above.name} × {below.name}",
        (above.name, below.name),
        intersection.angle,
        intersection.at((low + high) / 2),
        intersection.axis,
        tuple(features),
        lap.fit,
    )
    return joint, tuple(edits)


def _openings(
    lap: CrossLap,
    plate: Plate,
    intersection: PlaneIntersection,
    spans: tuple[Span, ...],
    overlaps: tuple[Span, ...],
    split: float,
    sign: int,
) -> list[SlotOpening]:
    """Return one plate's openings.

    To the split point, and through what is in the mate's way beyond it; `sign` is +1 when they open
    upwards.
    """
    openings = [SlotOpening(plate, intersection, spans, split, sign, lap.relief)]
    reached = next(span for span in spans if span[0] <= split <= span[1])
    for island in spans:
        beyond = island[0] >= reached[1] if sign > 0 else island[1] <= reached[0]
        if beyond and any(low < island[1] and high > island[0] for low, high in overlaps):
            middle = (island[0] + island[1]) / 2
            openings.append(
                SlotOpening(plate, intersection, spans, middle, sign, 0.0, through=True)
            )
    return openings


def _taken(
    plate: Plate, mate: Plate, intersection: PlaneIntersection, fit_context: FitContext
) -> tuple[Term, ...]:
    """Return what a plate's slot must take of its mate."""
    own, other = fit_context.of(plate.stock_id), fit_context.of(mate.stock_id)
    return crossing_terms(other.measured_thickness, own.measured_thickness, intersection.angle)
