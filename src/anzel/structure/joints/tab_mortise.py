"""Tab and mortise: tabs on the edge of one plate go through holes in another it stands against.

The tabbed plate ends at the near face of the other (its *shoulder*). Each tab starts there and
is as high as the mortised sheet is thick, plus what it shall stand proud (less what it shall be
recessed). The mortise's `width` takes the tabbed sheet's thickness, its `depth` the tab's width.
"""

from dataclasses import dataclass
from math import pi

import numpy as np
import shapely

from anzel.findings import ParameterError
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour
from anzel.geometry.placement import Vector
from anzel.stock.fits import Term, crossing_terms
from anzel.structure.joints.tools import along, need_width, strip
from anzel.structure.meeting import Meeting, meet
from anzel.structure.plates import Edit, Feature, FeatureKind, Joint, Plate, Sheets

_INSIDE = 1e-4
"""How far inside the edge a tab's corners are looked for, mm."""


@dataclass(frozen=True)
class TabMortise:
    """Declares tabs of one plate through mortises of another.

    `tabs` are (middle, width) in mm: the middle measured along the edge in the tabbed plate's
    coordinates from its origin, the width as it shall come out.
    """

    id: str
    tabbed: str
    mortised: str
    tabs: tuple[tuple[float, float], ...]
    proud: float = 0.0


@dataclass(frozen=True)
class _Case:
    """One declaration with all it needs.

    In the tabbed plate's coordinates `edge` runs along the shoulder, `out` from it towards the
    tabs' ends, and `shoulder` is its distance along `out`; `along_mortise` is the same edge in
    the mortised plate's coordinates.
    """

    joint: TabMortise
    tabbed: Plate
    mortised: Plate
    sheets: Sheets
    edge: Point
    out: Point
    shoulder: float
    along_mortise: Point

    def foot(self, middle: float) -> Point:
        """The point of the shoulder at `middle` along the edge."""
        return along(along((0.0, 0.0), self.edge, middle), self.out, self.shoulder)

    def in_world(self, middle: float) -> Vector:
        """The same point in space."""
        return self.tabbed.placement.to_world(self.foot(middle))


def solve(
    joint: TabMortise, tabbed: Plate, mortised: Plate, sheets: Sheets
) -> tuple[Joint, tuple[Edit, ...]]:
    """The tabs and mortises. Raises ParameterError where one does not find its sheet."""
    meeting = meet(tabbed, mortised)
    if abs(meeting.angle - pi / 2) > 1e-6:
        raise ParameterError(
            f"{tabbed.name} does not stand square on {mortised.name}.",
            mend="Tabs go through a sheet at a right angle only; turn the plate upright.",
        )
    case = _case(joint, meeting, tabbed, mortised, sheets)
    tabs = [_tab(case, *tab) for tab in joint.tabs]
    holes = [_mortise(case, *tab) for tab in joint.tabs]
    _need_edge(case)
    _need_room(case, [tool for _, tool in holes])
    solved = Joint(
        joint.id,
        f"{tabbed.name} → {mortised.name}",
        (tabbed.name, mortised.name),
        meeting.angle,
        case.in_world(joint.tabs[0][0]),
        meeting.axis,
        tuple(feature for feature, _ in (*tabs, *holes)),
    )
    return solved, (
        Edit(tabbed.name, add=tuple(tool for _, tool in tabs)),
        Edit(mortised.name, cut=tuple(tool for _, tool in holes)),
    )


def _case(
    joint: TabMortise, meeting: Meeting, tabbed: Plate, mortised: Plate, sheets: Sheets
) -> _Case:
    origin, edge = meeting.in_plate(tabbed)
    out: Point = (-edge[1], edge[0])
    body = tabbed.region.shape.representative_point()
    if (body.x - origin[0]) * out[0] + (body.y - origin[1]) * out[1] > 0:
        out = (-out[0], -out[1])  # tabs point away from the plate's body
    mid_plane = origin[0] * out[0] + origin[1] * out[1]
    shoulder = mid_plane - sheets.of(mortised.stock_id).measured_thickness / 2
    along_mortise = meeting.in_plate(mortised)[1]
    return _Case(joint, tabbed, mortised, sheets, edge, out, shoulder, along_mortise)


def _tab(case: _Case, middle: float, wanted: float) -> tuple[Feature, Contour]:
    rule = case.sheets.rule(case.tabbed.stock_id)
    width = rule.outside(Term("tab width", wanted))
    mating = Term("mating sheet", case.sheets.of(case.mortised.stock_id).measured_thickness)
    proud = [Term("proud", case.joint.proud)] if case.joint.proud else []
    height = rule.step(mating, *proud)
    foot = case.foot(middle)
    inside = min(wanted, height.drawn) / 2
    tool = strip(foot, case.out, -inside, height.drawn, width.drawn)
    at = along(foot, case.out, height.drawn / 2)
    names = (case.tabbed.name, case.mortised.name, case.joint.id)
    return Feature(FeatureKind.TAB, *names, width, height, at, case.out), tool


def _mortise(case: _Case, middle: float, wanted: float) -> tuple[Feature, Contour]:
    rule = case.sheets.rule(case.mortised.stock_id)
    through = case.sheets.of(case.tabbed.stock_id).measured_thickness
    own = case.sheets.of(case.mortised.stock_id).measured_thickness
    width = need_width(rule.opening(*crossing_terms(through, own, pi / 2)), case.mortised, rule)
    length = need_width(rule.opening(Term("tab width", wanted)), case.mortised, rule)
    at = case.mortised.placement.to_plate(case.in_world(middle))
    tool = strip(at, case.along_mortise, -length.drawn / 2, length.drawn / 2, width.drawn)
    names = (case.mortised.name, case.tabbed.name, case.joint.id)
    return Feature(FeatureKind.MORTISE, *names, width, length, at, case.along_mortise), tool


def _need_edge(case: _Case) -> None:
    """Both corners of every tab must stand on the plate's edge."""
    corners = [
        along(case.foot(middle), case.out, -_INSIDE, side * width / 2)
        for middle, width in case.joint.tabs
        for side in (-1, 1)
    ]
    if not shapely.intersects_xy(case.tabbed.region.shape, np.array(corners)).all():
        raise ParameterError(
            f"A tab of {case.tabbed.name} reaches past the end of its edge.",
            mend="Make the tabs narrower or fewer.",
            field="tab_width",
        )


def _need_room(case: _Case, holes: list[Contour]) -> None:
    """Every mortise must lie wholly inside its plate."""
    shapes = shapely.polygons(np.array([hole.corners for hole in holes]))
    if not shapely.contains_properly(case.mortised.region.shape, shapes).all():
        raise ParameterError(
            f"A mortise would break through the edge of {case.mortised.name}.",
            mend="Make the plate larger, or the tabs narrower.",
            field="tab_width",
        )
