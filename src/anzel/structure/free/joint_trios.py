"""Suggestions where three plates cross: on one line, or through one point."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import combinations

import shapely

from anzel.core.tolerances import ON_ONE_LINE
from anzel.geometry.placement import add_scaled, cross, dot, norm
from anzel.structure.free.joint_suggestion import JointSuggestion
from anzel.structure.joints.three_lap import ThreeLap
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.structure.model import Plate
from anzel.structure.plane_intersection import PlaneIntersection


def with_threes(
    plates: Sequence[Plate],
    found: list[JointSuggestion],
    crossings: dict[frozenset[str], tuple[PlaneIntersection, int]],
) -> tuple[JointSuggestion, ...]:
    """Return the suggestions, with three plates that cross on one line joined at once."""
    made, gone = [], set()
    names = list(dict.fromkeys(plate.name for plate in plates))
    for trio in _trios(names, crossings):
        pairs = [frozenset(pair) for pair in combinations(trio, 2)]
        if any(crossings[pair][1] in gone for pair in pairs):
            continue
        lines = [crossings[pair][0] for pair in pairs]
        if all(_same_line(lines[0], line) for line in lines[1:]):
            numbers = [crossings[pair][1] for pair in pairs]
            gone.update(numbers)
            first = found[numbers[0]]
            made.append(JointSuggestion(trio, (ThreeLap(first.ways[0].id, *trio),), first.at))
    at_points = _through_points(plates, found, crossings, gone)
    rest = (each for index, each in enumerate(found) if index not in gone)
    return (*made, *(at_points.get(each.pieces, each) for each in rest))


def _through_points(
    plates: Sequence[Plate], found: Sequence[JointSuggestion],
    crossings: dict[frozenset[str], tuple[PlaneIntersection, int]], gone: set[int],
) -> dict[tuple[str, ...], JointSuggestion]:  # fmt: skip
    """Return suggestions for pairs among three plates through one point, so that they go together.

    Slotted pair by pair the third could never be brought in: it would have to move along two lines
    at once. So one plate goes right through another, first the pair for which that can be.
    """
    made: dict[tuple[str, ...], JointSuggestion] = {}
    by_name = {plate.name: plate for plate in plates}
    for trio in _trios(list(by_name), crossings):
        pairs = [frozenset(pair) for pair in combinations(trio, 2)]
        if any(crossings[pair][1] in gone for pair in pairs):
            continue
        if not _meet_at_a_point(crossings[pairs[0]][0], [by_name[name] for name in trio]):
            continue
        offers = [found[crossings[pair][1]] for pair in pairs]
        if any(offer.pieces in made for offer in offers):
            continue
        for offer in offers:
            through = [way for way in offer.ways if isinstance(way, ThroughMortise)]
            if through:
                others = tuple(way for way in offer.ways if way not in through)
                made[offer.pieces] = replace(offer, ways=(*through, *others))
                break
        else:
            one, two = trio[:2]
            made[offers[0].pieces] = replace(
                offers[0], ways=(),
                why=f"{one}, {two} and {trio[2]} cross at one point, and slots alone never go "
                "together there. Make one narrower, so that it goes through another.",
            )  # fmt: skip
    return made


def _trios(
    names: Sequence[str], crossings: Mapping[frozenset[str], object]
) -> Iterator[tuple[str, str, str]]:
    """Yield three plates each, all of which cross one another."""
    rank = {name: at for at, name in enumerate(names)}
    near: dict[str, set[str]] = {name: set() for name in names}
    for pair in crossings:
        one, other = sorted(pair, key=rank.__getitem__)
        near[one].add(other)
    for one in names:
        for two in sorted(near[one], key=rank.__getitem__):
            for three in sorted(near[one] & near[two], key=rank.__getitem__):
                yield one, two, three


def _meet_at_a_point(line: PlaneIntersection, plates: Sequence[Plate]) -> bool:
    """Return whether three plates have one point in common that lies inside all of them."""
    third = plates[2].placement
    slope = dot(line.axis, third.normal)
    if abs(slope) < ON_ONE_LINE:
        return False
    at = line.at(dot(add_scaled(third.origin, line.origin, -1.0), third.normal) / slope)
    return all(
        plate.region.shape.contains(shapely.Point(plate.placement.to_plate(at))) for plate in plates
    )


def _same_line(one: PlaneIntersection, other: PlaneIntersection) -> bool:
    off = add_scaled(other.origin, one.origin, -1.0)
    return norm(cross(one.axis, other.axis)) < ON_ONE_LINE and norm(cross(off, one.axis)) < 1e-3
