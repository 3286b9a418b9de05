"""Openings that lie over what joints have cut."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import shapely

from anzel.core.findings import Finding, Severity
from anzel.structure.joints.cutting_shapes import feature_outline
from anzel.structure.model import Joint, OutlineChange

_LEAST_AREA = 0.01


def openings_over_joints(
    joints: Sequence[Joint], openings: Mapping[str, Sequence[OutlineChange]]
) -> list[Finding]:
    """Return a finding for each joint on a plate that an opening of the plate lies over."""
    tools = {
        plate: shapely.union_all([tool.polygon_shape for change in changes for tool in change.cut])
        for plate, changes in openings.items()
        if changes
    }
    return [
        Finding(
            "opening-over-joint", Severity.WARNING, plate, f"an opening lies over {joint.id}.",
            "Move it, or make it smaller.", joint=joint.id,
        )
        for joint in joints
        for plate in joint.pieces
        if plate in tools and any(
            feature_outline(feature).intersection(tools[plate]).area > _LEAST_AREA
            for feature in joint.features_on(plate)
        )
    ]  # fmt: skip


def clear_of_joints(
    joints: Sequence[Joint], openings: Mapping[str, Sequence[OutlineChange]]
) -> dict[str, list[OutlineChange]]:
    """Return the openings of plates without those that would come too near to a joint.

    Only what keeps off joints is left out.
    """
    return {plate: [_clear(change, joints) for change in changes]
            for plate, changes in openings.items()}  # fmt: skip


def _clear(change: OutlineChange, joints: Sequence[Joint]) -> OutlineChange:
    if not change.keep_off or not change.cut:
        return change
    shapes = [
        feature_outline(feature) for joint in joints for feature in joint.features_on(change.piece)
    ]
    near = shapely.union_all(shapes).buffer(change.keep_off)
    kept = tuple(each for each in change.cut if not each.polygon_shape.intersects(near))
    return replace(change, cut=kept)
