"""Openings that lie over what joints have cut."""

from collections.abc import Mapping, Sequence

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
