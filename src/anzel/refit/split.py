"""Split of a piece that is too long for the bed.

Along a stepped seam, a straight one held by keys, or a straight cut with nothing added, of which
mirrored halves are one piece twice.

The sizes of steps and keys follow the arithmetic of inlays and fingers. Drawn on one line, the
halves would come apart by a kerf, so every boundary is drawn (k - c/2)/2 further into its gap.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import shapely

from anzel.core.findings import ParameterError
from anzel.geometry.booleans import combine
from anzel.geometry.offset import offset
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Floats
from anzel.materials.fits import FitRule

_WIDE, _DEEP = 6.0, 2.0
"""A step is about so many thicknesses wide and deep. Common practice, no source."""
_KEY_EVERY, _KEY = 20.0, (4.0, 6.0, 3.0)
"""A key for so many thicknesses of seam; its half length, its ends and its waist, in thicknesses.
Common practice, no source."""
_UNLIKE = 0.01
"""Halves are mirror images within this, mm."""
_PLACES = 41
"""Places that are tried for a seam where none is named, over the middle third of the piece."""


class SeamStyle(StrEnum):
    """How the halves hold together."""

    STEPPED = "stepped"
    KEYED = "keyed"
    PLAIN = "plain"
    MIRRORED = "mirrored"


@dataclass(frozen=True)
class SplitPiece:
    """The result of a split.

    Its parts, the keys across the seam, the position of the seam as a share of the length, and
    whether the parts are congruent.
    """

    parts: tuple[Region, ...]
    keys: tuple[Region, ...]
    share: float
    are_alike: bool


def split(
    region: Region, style: SeamStyle, thickness: float, rule: FitRule, share: float = 0.0
) -> SplitPiece:
    """Return a piece split across its length, at a share of it.

    At 0 the seam is where it is shortest and clear of openings, near the middle.

    Raises
    ------
    ParameterError
        Where it cannot be split.
    """
    turn = RigidTransform.rotation(-_heading(region))
    lying = region.moved(turn)
    left, low, right, high = lying.bounds
    place = 0.5 if style is SeamStyle.MIRRORED else share or _best_share(lying)
    x = left + place * (right - left)
    spans = lying.spans((x, low - 1), (0.0, high - low + 2))
    if not spans:
        raise ParameterError("There is nothing to split there.", field="at")
    room = [(low - 1 + a * (high - low + 2), low - 1 + b * (high - low + 2)) for a, b in spans]
    grown = (rule.drawn_kerf - rule.clearance / 2) / 2
    box = (left - 9 * thickness, low - 9 * thickness, right + 9 * thickness, high + 9 * thickness)
    keys: tuple[Region, ...] = ()
    match style:
        case SeamStyle.STEPPED:
            parts = _stepped(lying, x, room, thickness, grown, box)
        case SeamStyle.KEYED:
            parts, keys = _keyed(lying, x, room, thickness, grown, box)
        case SeamStyle.PLAIN:
            parts = _plain(lying, x, box)
        case SeamStyle.MIRRORED:
            parts = _mirrored(lying, x, box)
    back = RigidTransform.rotation(_heading(region))
    moved = tuple(each.moved(back) for each in parts)
    return SplitPiece(moved, tuple(k.moved(back) for k in keys), place, _alike(moved))


def _heading(region: Region) -> float:
    """Return the direction of the longer side of the smallest rectangle round a piece, degrees."""
    corners = np.array(region.shape.minimum_rotated_rectangle.exterior.coords)
    sides = np.diff(corners, axis=0)[:2]
    x, y = sides[int(np.argmax(np.hypot(*sides.T)))]
    return float(np.round(np.degrees(np.arctan2(y, x)), 9))


def _best_share(lying: Region) -> float:
    """Return where a seam is shortest, and so least seen, over the middle third.

    The middle among equals.
    """
    left, low, right, high = lying.bounds
    shares = np.linspace(1 / 3, 2 / 3, _PLACES)
    xs = left + shares * (right - left)
    lines = shapely.linestrings([[(x, low - 1), (x, high + 1)] for x in xs])
    lengths = shapely.length(shapely.intersection(lying.shape, lines))
    crossings = shapely.get_num_geometries(shapely.intersection(lying.shape, lines))
    cost = np.round(lengths + 1000.0 * (crossings - crossings.min()), 6)
    return float(shares[np.lexsort((np.abs(shares - 0.5), cost))[0]])


def _stepped(
    lying: Region,
    x: float,
    room: Sequence[tuple[float, float]],
    thickness: float,
    grown: float,
    box: tuple[float, float, float, float],
) -> tuple[Region, ...]:
    """Return both parts along a boundary that steps across the seam."""
    marks = [y for span in room for y in _marks(*span, thickness)]
    half = _DEEP * thickness / 2
    left, low, right, high = box

    def boundary(grow: float) -> list[Point]:
        """Return the boundary of the part that grows to the right; with less than 0 the other."""
        points: list[Point] = [(x - half + grow, low)]
        for number, y in enumerate(marks):
            rises = number % 2 == 0
            at = y - grow if rises else y + grow
            points += [(x - half + grow if rises else x + half + grow, at),
                       (x + half + grow if rises else x - half + grow, at)]  # fmt: skip
        return [*points, (points[-1][0], high)]

    rest_right = Contour.polygon([(right, low), (right, high), *reversed(boundary(grown))])
    rest_left = Contour.polygon([(left, high), (left, low), *boundary(-grown)])
    return (*combine(lying, cut=(rest_right,)), *combine(lying, cut=(rest_left,)))


def _plain(lying: Region, x: float, box: tuple[float, float, float, float]) -> tuple[Region, ...]:
    """Return both parts of a straight cut."""
    left, low, right, high = box
    rest_right = Contour.polygon([(x, low), (right, low), (right, high), (x, high)])
    rest_left = Contour.polygon([(left, low), (x, low), (x, high), (left, high)])
    return (*combine(lying, cut=(rest_right,)), *combine(lying, cut=(rest_left,)))


def _mirrored(
    lying: Region, x: float, box: tuple[float, float, float, float]
) -> tuple[Region, ...]:
    """Return one half twice: turned over, the second is the other half."""
    one, *others = _plain(lying, x, box)
    over = RigidTransform(over=True)
    mirrored = one.moved(over)
    there = mirrored.moved(RigidTransform().translated(2 * x, 0.0))
    if len(others) != 1 or there.shape.symmetric_difference(others[0].shape).area > _UNLIKE * (
        there.shape.length
    ):
        raise ParameterError(
            "Its halves are not mirror images of one another.", hint="Cut it plainly.", field="hold"
        )
    (left, low, *_), (start, bottom, *_) = others[0].bounds, one.bounds
    return (one, one.moved(RigidTransform().translated(left - start, low - bottom)))


def _marks(low: float, high: float, thickness: float) -> list[float]:
    """Return where the boundary steps in a stretch of seam.

    An even number of widths, so that congruent halves stay congruent, turned about the middle.
    """
    count = max(2, 2 * round((high - low) / (2 * _WIDE * thickness)))
    if (high - low) / count < thickness:
        raise ParameterError(
            "The piece is too narrow there for steps.", hint="Use keys, or another place."
        )
    return [low + (high - low) * i / count for i in range(1, count)]


def _keyed(
    lying: Region,
    x: float,
    room: Sequence[tuple[float, float]],
    thickness: float,
    grown: float,
    box: tuple[float, float, float, float],
) -> tuple[tuple[Region, ...], tuple[Region, ...]]:
    """Return both parts of a straight seam with pockets for keys, and the keys."""
    left, low, right, high = box
    shapes = [key for span in room for key in _keys(x, *span, thickness)]
    pockets = [offset(key, -grown) for key in shapes]
    keys = tuple(Region.of(offset(key, grown)) for key in shapes)
    rest_right = Contour.polygon([(x + grown, low), (right, low), (right, high), (x + grown, high)])
    rest_left = Contour.polygon([(left, low), (x - grown, low), (x - grown, high), (left, high)])
    one, other = (combine(lying, cut=(rest, *pockets)) for rest in (rest_right, rest_left))
    return (*one, *other), keys


def _keys(x: float, low: float, high: float, thickness: float) -> list[Contour]:
    """Return keys, wide at their ends and narrow at the seam, along a stretch of it."""
    reach, ends, waist = (size * thickness for size in _KEY)
    if high - low < ends + 2 * thickness:
        raise ParameterError(
            "The piece is too narrow there for a key.", hint="Split it somewhere else."
        )
    count = max(1, round((high - low) / (_KEY_EVERY * thickness)))
    made = []
    for number in range(count):
        y = low + (high - low) * (number + 0.5) / count
        made.append(
            Contour.polygon(
                [
                    (x - reach, y - ends / 2), (x, y - waist / 2), (x + reach, y - ends / 2),
                    (x + reach, y + ends / 2), (x, y + waist / 2), (x - reach, y + ends / 2),
                ]
            )
        )  # fmt: skip
    return made


def _alike(parts: Sequence[Region]) -> bool:
    """Return whether two parts are congruent, as they are, turned or mirrored."""
    if len(parts) != 2 or abs(parts[0].area - parts[1].area) > 0.01 * parts[0].area:
        return False
    one, other = (np.array(part.outer.vertices) for part in parts)
    return any(_onto(one, ring) for ring in (other, other[::-1] * (-1, 1)))


def _onto(one: Floats, other: Floats) -> bool:
    """Return whether a turn takes one ring of corners onto another, from any first corner."""
    if len(one) != len(other):
        return False
    a = (one - one.mean(axis=0)) @ np.array([1, 1j])
    b = (other - other.mean(axis=0)) @ np.array([1, 1j])
    for start in range(len(b)):
        ring = np.roll(b, -start)
        turn = np.vdot(ring, a)
        if abs(turn) > 0 and np.abs(ring * turn / abs(turn) - a).max() < 0.02:
            return True
    return False
