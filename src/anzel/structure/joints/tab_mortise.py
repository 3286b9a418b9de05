"""Tab and mortise: tabs on the edge of one plate go through holes in another it stands against.

The tabbed plate ends where its nearer corner touches the other's near face (its *shoulder*). Each
tab starts there and is as long as the way through the mortised sheet, plus what it shall stand
proud (less what it shall be recessed). The mortise's `width` takes the tabbed sheet's thickness,
its `depth` the tab's width.

Plates that meet at an angle θ other than 90°: the mortise takes what the square-ended tab spans of
it (materials.fits.tab_terms), the shoulder stands (t_plate / sin θ + t_tab |cot θ|) / 2 before the
meeting of the mid-planes, and the way through is t_plate / sin θ [derived].

A tab at an edge of the mortised plate leaves an open mortise, where `may_open` says so.

What the crossing takes of a mortise cannot be moved; the clearance on top of it lies evenly on both
sides, or all of it on the side of one face of the tabbed plate, so that the other, which is seen,
touches its edge of the mortise.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import fsum, hypot, sin, tan
from typing import Literal

import numpy as np
import shapely

from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure
from anzel.core.tolerances import EXACTLY_SQUARE, JUST_INSIDE
from anzel.geometry.placement import Vector
from anzel.geometry.prepared import prepared
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import FitName, FitRule, Size, Term, crossing_terms, tab_terms
from anzel.structure.joints.cutting_shapes import (
    Offset,
    Slack,
    Tab,
    along,
    away_from_body,
    need_width,
    strip,
)
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    Joint,
    OutlineChange,
    Plate,
    Solved,
)
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes

_LEAST_HEIGHT = 0.1
"""A tab that is lower holds nothing, mm."""
_STEEPEST = 0.30
"""Sine of the smallest angle at which a tab still makes sense, about 17°."""


@dataclass(frozen=True)
class TabMortise:
    """Tabs of one plate through mortises of another.

    `tabs` are (middle, width) in mm: the middle measured along the edge in the tabbed plate's
    coordinates from its origin, the width after cutting. `proud` negative is recessed. `play_side`
    is where a mortise is wider than its tab: on both sides, or all on the upper (the normal's) or
    the lower side of the tabbed plate. At a corner the mortised plate reaches `beyond` mm past the
    tabbed one; None leaves its edge where it is.
    """

    id: str
    tabbed: str
    mortised: str
    tabs: tuple[Tab, ...]
    proud: Offset = 0.0
    fit: FitName | None = None
    may_open: bool = False
    play_side: Literal["both", "upper", "lower"] = "both"
    beyond: Slack | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        return solve(self, plates[self.tabbed], plates[self.mortised], fit_context)


@dataclass(frozen=True)
class TabbedEdge:
    """A tabbed edge: one joint with its plates and directions.

    In the tabbed plate's coordinates `edge` runs along the shoulder, `out` from it towards the
    tabs' ends, and `shoulder` is its distance along `out`; `along_mortise` is the same edge in the
    mortised plate's coordinates. `middle_off` is how far the common line of the mid-planes lies
    beyond the shoulder.
    """

    joint: TabMortise
    tabbed: Plate
    mortised: Plate
    fit_context: FitContext
    edge: Point
    out: Point
    shoulder: float
    middle_off: float
    angle: float
    along_mortise: Point

    def foot(self, middle: float) -> Point:
        """Return the point of the shoulder at `middle` along the edge."""
        return along(along((0.0, 0.0), self.edge, middle), self.out, self.shoulder)

    def in_world(self, middle: float) -> Vector:
        """Return where the tab crosses the mortised plate's mid-plane, in space."""
        at = along(self.foot(middle), self.out, self.middle_off)
        return self.tabbed.placement.to_world(at)

    def rule(self, plate: Plate) -> FitRule:
        """Return the fit rule for what is cut from one of the plates."""
        return self.fit_context.rule(plate.stock_id, self.joint.fit)

    def thickness(self, plate: Plate) -> float:
        """Return the measured thickness of one of the plates, mm."""
        return self.fit_context.of(plate.stock_id).measured_thickness


def solve(
    joint: TabMortise, tabbed: Plate, mortised: Plate, fit_context: FitContext
) -> tuple[Joint, tuple[OutlineChange, ...]]:
    """Return the tabs and mortises.

    Raises
    ------
    ParameterError
        Where a tab misses its sheet.
    """
    intersection = intersect_planes(tabbed, mortised)
    if sin(intersection.angle) < _STEEPEST:
        raise ParameterError(
            f"{tabbed.name} lies too flat on {mortised.name} for tabs.",
            hint="Turn the plate more upright.",
        )
    case = tabbed_edge(joint, intersection, tabbed, mortised, fit_context)
    tabs = [tab_on(case, *tab) for tab in joint.tabs]
    holes = [_mortise(case, *tab) for tab in joint.tabs]
    _need_edge(case)
    if not joint.may_open:
        _need_room(case, [tool for _, tool in holes])
    solved = Joint(
        joint.id,
        f"{tabbed.name} → {mortised.name}",
        (tabbed.name, mortised.name),
        intersection.angle,
        case.in_world(joint.tabs[0][0]),
        intersection.axis,
        tuple(feature for feature, _ in (*tabs, *holes)),
        joint.fit,
    )
    return solved, (
        OutlineChange(tabbed.name, add=tuple(tool for _, tool in tabs)),
        OutlineChange(mortised.name, cut=tuple(tool for _, tool in holes)),
    )


def tabbed_edge(
    joint: TabMortise,
    intersection: PlaneIntersection,
    tabbed: Plate,
    mortised: Plate,
    fit_context: FitContext,
) -> TabbedEdge:
    """Return the joint with where the tabbed plate's edge and the mortised plate meet."""
    origin, edge = intersection.in_plate(tabbed)
    out = away_from_body(tabbed.region, origin, edge)
    mid_plane = origin[0] * out[0] + origin[1] * out[1]
    own, other = (fit_context.of(each.stock_id).measured_thickness for each in (tabbed, mortised))
    off = shoulder_distance(intersection.angle, own, other)
    along_mortise = intersection.in_plate(mortised)[1]
    return TabbedEdge(
        joint, tabbed, mortised, fit_context, edge, out, mid_plane - off + tabbed.outset,
        off - tabbed.outset, intersection.angle, along_mortise,
    )  # fmt: skip


def shoulder_distance(angle: float, tabbed_thickness: float, mortised_thickness: float) -> float:
    """Return how far a leaning plate's edge ends before the common line of the mid-planes, mm.

    Examples
    --------
    >>> from math import radians
    >>> round(shoulder_distance(radians(90), 3.0, 4.0), 3)
    2.0
    """
    lean = abs(1 / tan(angle)) * tabbed_thickness
    return (mortised_thickness / sin(angle) + (lean if lean > EXACTLY_SQUARE else 0.0)) / 2


def tab_on(
    case: TabbedEdge, middle: float, wanted: float, rooted: float | None = None
) -> tuple[Feature, Contour]:
    """Return a tab as a feature, and what is added for it.

    It is `rooted` so deep below its shoulder, mm; None is as deep as an edge there needs.
    """
    rule = case.rule(case.tabbed)
    width = rule.outside(Term("tab width", wanted))
    through = case.thickness(case.mortised)
    slanted = abs(sin(case.angle) - 1) > EXACTLY_SQUARE
    way = Term("mating sheet ÷ sin θ" if slanted else "mating sheet", through / sin(case.angle))
    proud = [Term("proud", case.joint.proud)] if case.joint.proud else []
    height = rule.step(way, *proud)
    if height.drawn < _LEAST_HEIGHT:
        raise ParameterError(
            f"The tabs of {case.tabbed.name} would be {format_measure(height.drawn)} high.",
            hint=f"Let them be recessed by less than {format_measure(way.value)}.", field="proud",
        )  # fmt: skip
    foot = case.foot(middle)
    inside = min(wanted, height.drawn) / 2 if rooted is None else rooted
    tool = strip(foot, case.out, -inside, height.drawn, width.drawn)
    at = along(foot, case.out, height.drawn / 2)
    names = (case.tabbed.name, case.mortised.name, case.joint.id)
    return Feature(FeatureKind.TAB, *names, width, height, at, case.out), tool


def _mortise(case: TabbedEdge, middle: float, wanted: float) -> tuple[Feature, Contour]:
    rule = case.rule(case.mortised)
    thickness, through = case.thickness(case.tabbed), case.thickness(case.mortised)
    reach = through / sin(case.angle) + case.joint.proud
    taken = tab_terms(thickness, through, reach, case.angle)
    crossing = crossing_terms(thickness, through, case.angle)
    unfilled = fsum(term.value for term in crossing) - fsum(term.value for term in taken)
    width = need_width(rule.opening(*taken), case.mortised, rule)
    length = need_width(rule.opening(Term("tab width", wanted)), case.mortised, rule)
    at = case.mortised.placement.to_plate(case.in_world(middle))
    at = along(at, case.along_mortise, 0.0, _aside(case, rule.clearance))
    if unfilled > 0:
        at = along(at, _lean_direction(case), -unfilled / 2)
    tool = strip(at, case.along_mortise, -length.drawn / 2, length.drawn / 2, width.drawn)
    names = (case.mortised.name, case.tabbed.name, case.joint.id)
    inside = fsum(term.value for term in taken)
    tab = case.rule(case.tabbed).outside(Term("tab width", wanted))
    feature = Feature(
        FeatureKind.MORTISE, *names, width, length, at, case.along_mortise,
        Size(taken, inside, inside), tab,
    )  # fmt: skip
    return feature, tool


def _lean_direction(case: TabbedEdge) -> Point:
    """Return the direction in the mortised plate towards which the tab's end leans, a unit."""
    placement = case.tabbed.placement
    x, y = case.out
    towards = tuple(x * a + y * b for a, b in zip(placement.x_axis, placement.y_axis, strict=True))
    across = case.mortised.placement.direction_to_plate((towards[0], towards[1], towards[2]))
    length = hypot(*across)
    return (across[0] / length, across[1] / length)


def _aside(case: TabbedEdge, clearance: float) -> float:
    """Return how far a mortise lies left of its run, so that its play is on the wanted side."""
    if case.joint.play_side == "both" or clearance <= 0:
        return 0.0
    x, y = case.mortised.placement.direction_to_plate(case.tabbed.placement.normal)
    upper_is_left = case.along_mortise[0] * y - case.along_mortise[1] * x > 0
    side = 1 if (case.joint.play_side == "upper") == upper_is_left else -1
    return side * clearance / 2


def _need_edge(case: TabbedEdge) -> None:
    """Raise ParameterError unless both corners of every tab stand on the plate's edge."""
    corners = [
        along(case.foot(middle), case.out, -JUST_INSIDE, side * width / 2)
        for middle, width in case.joint.tabs
        for side in (-1, 1)
    ]
    places = np.array(corners).reshape(-1, 2)  # there may be no tabs
    if not shapely.intersects_xy(prepared(case.tabbed.region.shape), places).all():
        raise ParameterError(
            f"A tab of {case.tabbed.name} reaches past the end of its edge.",
            hint="Make the tabs narrower or fewer.",
            field="tab_width",
        )


def _need_room(case: TabbedEdge, holes: list[Contour]) -> None:
    """Raise ParameterError unless every mortise lies wholly inside its plate."""
    shapes = shapely.polygons(np.array([hole.corners for hole in holes]))
    if not shapely.contains_properly(prepared(case.mortised.region.shape), shapes).all():
        raise ParameterError(
            f"A mortise would break through the edge of {case.mortised.name}.",
            hint="Make the plate larger, or the tabs narrower.",
            field="tab_width",
        )
