"""Pulling the structure apart: each piece moved back along the way it goes in."""

from anzel.geometry.placement import Vector, dot, plus, unit
from anzel.structure.plates import Build, FeatureKind, Joint

_STILL: Vector = (0.0, 0.0, 0.0)


def offsets_apart(build: Build, distance: float) -> dict[str, Vector]:
    """How far each piece is moved, mm, so that at every joint the two stand `distance` apart.

    The second piece of a joint moves out of the first's slot by its mouth, or off its tabs.
    """
    moved = {piece.name: _STILL for piece in build.pieces}
    if distance <= 0:
        return moved
    ways = [
        (pair, _way_out(joint, pair[0], build)) for joint in build.joints for pair in joint.partings
    ]
    for _ in build.pieces:
        for (first, second), way in ways:
            apart = dot(plus(moved[second], moved[first], -1.0), way)
            if apart < distance - 1e-9:
                moved[second] = plus(moved[second], way, distance - apart)
    return moved


def _way_out(joint: Joint, first: str, build: Build) -> Vector:
    """The direction in which the joint's next piece leaves this one."""
    placement = build.piece(first).placement
    for feature in reversed(joint.features_on(first)):
        if feature.kind not in (FeatureKind.MORTISE, FeatureKind.POCKET):
            x, y = feature.along
            way = plus(plus(_STILL, placement.x_axis, x), placement.y_axis, y)
            return unit(way)
    return placement.normal
