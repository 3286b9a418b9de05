"""Disconnected parts of plates that their slots leave in several parts.

Each part with a feature becomes a piece.

A slot belongs to the part that its floor lies in. A part without any feature is loose: it is left
out, and a finding says so.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from string import ascii_lowercase

from anzel.core.findings import Finding, Severity
from anzel.core.tolerances import BENEATH_FLOOR
from anzel.geometry.prepared import is_in
from anzel.geometry.regions import Region
from anzel.structure.model import Feature, Joint

Parts = dict[str, Region]
"""Regions by piece name."""


def named_parts(name: str, regions: Sequence[Region]) -> Parts:
    """Return one name for each part: the plate's own name where it is whole."""
    if len(regions) == 1:
        return {name: regions[0]}
    return {f"{name}{part_letters(n)}": region for n, region in enumerate(regions)}


def part_letters(number: int) -> str:
    """Return a for 0, b for 1, z for 25, aa for 26 and so on."""
    before, last = divmod(number, len(ascii_lowercase))
    return (part_letters(before - 1) if before else "") + ascii_lowercase[last]


def assign_features(
    joints: Sequence[Joint], parts: Mapping[str, Parts]
) -> tuple[list[Joint], dict[str, Parts], list[Finding]]:
    """Return the joints with their features assigned to parts.

    Also return the parts that have any feature, and findings on what was left out. `parts` are by
    plate name.
    """
    if all(len(each) == 1 for each in parts.values()):
        return list(joints), dict(parts), []
    moved = [_renamed(joint, parts) for joint in joints]
    used = {feature.piece for joint in moved for feature in joint.features}
    kept, findings = {}, []
    for name, each in parts.items():
        held = {part: region for part, region in each.items() if len(each) == 1 or part in used}
        kept[name] = held
        if len(held) < len(each):
            left = len(each) - len(held)
            message = f"{left} loose part(s) between its slots are left out."
            findings.append(Finding("loose-part", Severity.NOTE, name, message))
    return moved, kept, findings


def _renamed(joint: Joint, parts: Mapping[str, Parts]) -> Joint:
    if all(len(parts[name]) == 1 for name in joint.pieces):
        return joint
    where = {}
    for name in joint.pieces:
        homes = [_home(f, parts[name]) for f in joint.features if f.piece == name]
        where[name] = next((home for home in homes if home), next(iter(parts[name])))
    features = tuple(
        replace(feature, piece=home, mate=where.get(feature.mate, feature.mate))
        for feature in joint.features
        if (home := _home(feature, parts[feature.piece]))
    )
    pieces = tuple(where[name] for name in joint.pieces)
    pairs = tuple((where[one], where[other]) for one, other in joint.pairs)
    title = " × ".join(pieces)
    return replace(joint, title=title, pieces=pieces, features=features, pairs=pairs)


def _home(feature: Feature, parts: Parts) -> str:
    """Return the name of the part that a feature's floor lies in.

    "" where the floor is cut through.
    """
    if len(parts) == 1:
        return next(iter(parts))
    back = feature.depth.drawn / 2 + BENEATH_FLOOR
    x, y = feature.at[0] - back * feature.along[0], feature.at[1] - back * feature.along[1]
    return next((n for n, r in parts.items() if is_in(r.shape, x, y)), "")
