"""Stack lap: a stack of layers lapped with one plate.

Every layer has a slot, and the plate has one that takes the whole stack.

The plate's slot is as wide as the stack's sheets together (`materials.fits.crossing_terms`), about
the stack's middle plane; layers lie face to face, first to last.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import fsum

from anzel.geometry.placement import Placement, Vector, add_scaled, dot
from anzel.materials.fits import FitName
from anzel.structure.joints import cross_lap
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.cutting_shapes import Share, Slack, along
from anzel.structure.model import FitContext, Joint, Plate, SheetSpec, Solved

_STACK = "\0stack"
"""Stands for the whole stack while the plate's slot is worked out."""


@dataclass(frozen=True)
class StackLap:
    """Layers, slotted from above, lapped with a plate slotted from below."""

    id: str
    layers: tuple[str, ...]
    plate: str
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
        return solve(self, [plates[name] for name in self.layers], plates[self.plate], fit_context)


def solve(lap: StackLap, layers: Sequence[Plate], plate: Plate, fit_context: FitContext) -> Solved:
    """Return the slots of a stack lap.

    Raises
    ------
    ParameterError
        Where the plates cannot be lapped.
    """
    whole, edits = _lap(lap, _stack(layers, fit_context), plate, _with_stack(layers, fit_context))
    # the stack comes to rest on one floor, wherever the outline is abreast of its outer layers
    floor = _floor(lap, whole, plate)
    solved = [_lap(lap, layer, plate, fit_context, floor) for layer in layers]
    own = [replace(f, mate=layers[0].name) for f in whole.features if f.piece == plate.name]
    slots = [f for joint, _ in solved for f in joint.features if f.piece != plate.name]
    joint = Joint(
        lap.id,
        f"{layers[0].name} … {len(layers)} × {plate.name}",
        (plate.name, *(layer.name for layer in layers)),
        whole.angle,
        whole.at,
        whole.axis,
        (*slots, *own),
        lap.fit,
        tuple((layer.name, plate.name) for layer in layers),
    )
    cut = [edit for _, each in solved for edit in each if edit.piece != plate.name]
    return joint, (*cut, *(edit for edit in edits if edit.piece == plate.name))


def _lap(
    lap: StackLap, layer: Plate, plate: Plate, fit_context: FitContext, floor: Vector | None = None
) -> cross_lap.Lapped:
    single = CrossLap(
        lap.id, layer.name, plate.name, lap.split, lap.relief, lap.slack, lap.up, lap.fit
    )
    return cross_lap.solve(single, layer, plate, fit_context, floor)


def _floor(lap: StackLap, whole: Joint, plate: Plate) -> Vector:
    """Return where the plate's slot ends, less the relief, in space."""
    slot = next(f for f in whole.features if f.piece == plate.name)
    back = lap.relief - slot.depth.drawn / 2
    x, y = along(slot.at, slot.along, back)
    return plate.placement.to_world((x, y))


def _stack(layers: Sequence[Plate], fit_context: FitContext) -> Plate:
    """Return the stack as one plate in its middle plane."""
    first, last = layers[0], layers[-1]
    way = add_scaled(last.placement.origin, first.placement.origin, -1.0)
    # the middle of the stack lies between its outer faces, not between the outer mid-planes
    low, high = (fit_context.of(each.stock_id).measured_thickness / 2 for each in (first, last))
    span = dot(way, first.placement.normal)
    shift = (span + (high - low) * (1 if span >= 0 else -1)) / 2
    at = first.placement
    origin = add_scaled(at.origin, at.normal, shift)
    return replace(
        first, name=_STACK, stock_id=_STACK, placement=Placement(origin, at.x_axis, at.y_axis)
    )


def _with_stack(layers: Sequence[Plate], fit_context: FitContext) -> FitContext:
    total = fsum(fit_context.of(layer.stock_id).measured_thickness for layer in layers)
    kerf = fit_context.of(layers[0].stock_id).kerf
    return replace(fit_context, by_stock=(*fit_context.by_stock, SheetSpec(_STACK, total, kerf)))
