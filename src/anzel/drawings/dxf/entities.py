"""The edges of single DXF entities in drawing units, and entities with changed edges.

Reference: the DXF reference, group codes of each entity.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise
from math import atan2, degrees, hypot, isclose, pi, tau

import numpy as np
from ezdxf.entities.arc import Arc as DxfArc
from ezdxf.entities.circle import Circle
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.ellipse import Ellipse
from ezdxf.entities.line import Line as DxfLine
from ezdxf.entities.lwpolyline import LWPolyline
from ezdxf.entities.polyline import Polyline
from ezdxf.entities.spline import Spline
from ezdxf.math import Bezier4P, Vec3, bezier_to_bspline, bulge_to_arc

from anzel.core.tolerances import ROUNDING, STRAIGHT_BULGE
from anzel.drawings.affine import Affine
from anzel.drawings.ellipses import cubics
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment

Change = tuple[Segment, Segment | None]
"""An edge as it was and as it is, in the entity's own units; None if it went."""
Edges = tuple[list[Segment], list[int]]
"""Edges, and for each the number of the entity's part it is."""

_HERE = Affine()


def entity_edges(entity: DXFGraphic) -> Edges | None:
    """Return the edges of an entity; None for an entity that draws none."""
    if isinstance(entity, DxfLine):
        start, end = _flat(entity.dxf.start), _flat(entity.dxf.end)
        return ([Line(start, end)], [0]) if start != end else ([], [])
    if isinstance(entity, Circle):
        arc = _arc(entity)
        return ([arc], [0]) if arc is not None else ([], [])
    if isinstance(entity, LWPolyline):
        rows = np.asarray(entity.lwpoints.values).reshape(-1, 5)  # x, y, two widths, bulge
        return _polyline(rows[:, [0, 1, 4]].tolist(), entity.closed)
    if isinstance(entity, Polyline):
        if not (entity.is_2d_polyline or entity.is_3d_polyline):
            return None
        places = [(*_flat(v.dxf.location), v.dxf.get("bulge", 0.0)) for v in entity.vertices]
        return _polyline(places, entity.is_closed)
    if isinstance(entity, Ellipse):
        return _numbered(_ellipse(entity))
    if isinstance(entity, Spline):
        return _numbered(_spline(entity))
    return None


def set_entity_edges(entity: DXFGraphic, changes: dict[int, list[Change]]) -> bool:
    """Give an entity its new edges.

    Return False if nothing of it is left.
    """
    if isinstance(entity, LWPolyline):
        return _change_light(entity, changes)
    if isinstance(entity, Polyline):
        return _change_polyline(entity, changes)
    old = [before for before, _ in changes[0]]
    new = [after for _, after in changes[0] if after is not None]
    if not new:
        return False
    if isinstance(entity, DxfLine):
        entity.dxf.start = _raised(new[0].start, entity.dxf.start)
        entity.dxf.end = _raised(new[0].end, entity.dxf.end)
    elif isinstance(entity, Circle):
        _change_arc(entity, new[0])
    elif isinstance(entity, Ellipse):
        _change_ellipse(entity, old, new)
    elif isinstance(entity, Spline):
        _change_spline(entity, old, new)
    return True


def _flat(point: Vec3) -> Point:
    return (float(point[0]), float(point[1]))


def _raised(point: Point, like: Vec3) -> Vec3:
    return Vec3(point[0], point[1], Vec3(like).z)


def _numbered(segments: list[Segment]) -> Edges:
    return segments, [0] * len(segments)


def _arc(entity: Circle) -> Arc | None:
    centre, radius = _flat(entity.dxf.center), float(entity.dxf.radius)
    if radius <= 0:
        return None
    if not isinstance(entity, DxfArc):
        start = (centre[0] + radius, centre[1])
        return Arc(start, start, centre)
    ends = list(entity.vertices([entity.dxf.start_angle, entity.dxf.end_angle]))
    return Arc(_flat(ends[0]), _flat(ends[1]), centre)


def _polyline(corners: Sequence[tuple[float, float, float]], closed: bool) -> Edges:
    segments: list[Segment] = []
    numbers: list[int] = []
    run = [*corners, corners[0]] if closed and corners else corners
    for number, ((x, y, bulge), (x1, y1, _)) in enumerate(pairwise(run)):
        if (x, y) == (x1, y1):
            continue
        if not abs(bulge) <= STRAIGHT_BULGE:
            centre, *_ = bulge_to_arc((x, y), (x1, y1), bulge)
            segments.append(Arc((x, y), (x1, y1), (centre.x, centre.y), clockwise=bulge < 0))
        else:
            segments.append(Line((x, y), (x1, y1)))
        numbers.append(number)
    return segments, numbers


def _ellipse(entity: Ellipse) -> list[Segment]:
    centre, major = _flat(entity.dxf.center), Vec3(entity.dxf.major_axis)
    rx, ry = major.magnitude, major.magnitude * entity.dxf.ratio
    first, last = float(entity.dxf.start_param), float(entity.dxf.end_param)
    turn = (last - first) % tau or tau
    ends = [_flat(p) for p in entity.vertices([first, first + turn])]
    if isclose(turn, tau, abs_tol=ROUNDING):
        ends[1] = ends[0]
    if isclose(rx, ry, rel_tol=ROUNDING):
        return [Arc(ends[0], ends[1], centre)]
    return list(cubics(centre, (rx, ry, major.angle_deg), (first, turn), _HERE, ends[0], ends[1]))


def _spline(entity: Spline) -> list[Segment]:
    tool = entity.construction_tool()
    if tool.degree == 3 and not tool.is_rational:
        pieces = [[_flat(p) for p in points] for points in tool.bezier_decomposition()]
    else:
        curves = tool.cubic_bezier_approximation(level=6)
        pieces = [[_flat(p) for p in curve.control_points] for curve in curves]
    return [Cubic(*points) for points in pieces if len(points) == 4 and points[0] != points[3]]


def _change_arc(entity: Circle, new: Segment) -> None:
    if not isinstance(new, Arc):
        return
    if (
        hypot(*(a - b for a, b in zip(new.centre, _flat(entity.dxf.center), strict=True)))
        > ROUNDING
    ):
        entity.dxf.center = _raised(new.centre, entity.dxf.center)
    if abs(new.radius - entity.dxf.radius) > ROUNDING:
        entity.dxf.radius = new.radius
    if not isinstance(entity, DxfArc):
        return
    first, last = (new.end, new.start) if new.clockwise else (new.start, new.end)
    for name, point in (("start_angle", first), ("end_angle", last)):
        angle = degrees(atan2(point[1] - new.centre[1], point[0] - new.centre[0]))
        if abs((angle - entity.dxf.get(name) + 180) % 360 - 180) > ROUNDING:
            entity.dxf.set(name, angle % 360)


def _bulge(old: Segment, new: Segment, written: float) -> float:
    """Return the bulge of a polyline's edge; the written value if the edge was only shifted."""
    if not isinstance(new, Arc):
        return 0.0
    shifted = isinstance(old, Arc) and abs(old.sweep - new.sweep) < ROUNDING
    return written if shifted else new.bulge


def _change_light(entity: LWPolyline, changes: dict[int, list[Change]]) -> bool:
    points = [list(p) for p in entity.get_points("xyseb")]
    made = _changed_corners(points, changes, entity.closed, lambda p, xy: [*xy, *p[2:]])
    entity.set_points([tuple(p) for p in made], format="xyseb")
    return len(made) > 1


def _change_polyline(entity: Polyline, changes: dict[int, list[Change]]) -> bool:
    points = [[*v.dxf.location, i, v.dxf.get("bulge", 0.0)] for i, v in enumerate(entity.vertices)]
    made = _changed_corners(points, changes, entity.is_closed, lambda p, xy: [*xy, *p[2:]])
    vertices = list(entity.vertices)
    for x, y, z, index, bulge in made:
        vertices[int(index)].dxf.location = Vec3(x, y, z)
        if bulge != vertices[int(index)].dxf.get("bulge", 0.0):
            vertices[int(index)].dxf.bulge = bulge
    left = {int(p[3]) for p in made}
    for index in reversed(range(len(vertices))):
        if index not in left:
            del entity.vertices[index]
            vertices[index].destroy()
    return len(made) > 1


def _changed_corners(
    points: list[list[float]],
    changes: dict[int, list[Change]],
    closed: bool,
    put: Callable[[list[float], Point], list[float]],
) -> list[list[float]]:
    """Return a polyline's corners (x, y, ..., bulge) after some of its edges changed."""
    count = len(points)
    made: list[list[float]] = []
    for number, point in enumerate(points):
        old, new = changes.get(number, [(None, None)])[0]
        if old is not None and new is None:
            continue  # the edge went, and its first corner with it
        before = changes.get((number - 1) % count, [(None, None)])[0][1]
        if new is not None and old is not None:
            point = put(point, new.start)
            point[-1] = _bulge(old, new, point[-1])
        elif before is not None and not (closed and number == 0 and count == 1):
            point = put(point, before.end)
        made.append(point)
    return made


def _shift(old: list[Segment], new: list[Segment]) -> Point | None:
    """Return the translation that takes all old edges to the new ones; None where there is none."""
    if len(old) != len(new):
        return None
    dx, dy = new[0].start[0] - old[0].start[0], new[0].start[1] - old[0].start[1]
    for a, b in zip(old, new, strict=True):
        pairs = [(a.start, b.start), (a.end, b.end)]
        if isinstance(a, Cubic) and isinstance(b, Cubic):
            pairs = list(zip(a.controls, b.controls, strict=True))
        if any(hypot(q[0] - p[0] - dx, q[1] - p[1] - dy) > ROUNDING for p, q in pairs):
            return None
    return (dx, dy)


def _change_ellipse(entity: Ellipse, old: list[Segment], new: list[Segment]) -> None:
    shift = _shift(old, new)
    if shift is not None:
        entity.dxf.center = Vec3(entity.dxf.center) + Vec3(*shift)
        return
    ends = [Vec3(*new[0].start), Vec3(*new[-1].end)]
    params = list(entity.construction_tool().params_from_vertices(ends))
    entity.dxf.start_param, entity.dxf.end_param = params


def _change_spline(entity: Spline, old: list[Segment], new: list[Segment]) -> None:
    shift = _shift(old, new)
    if shift is not None:
        by = Vec3(*shift)
        entity.control_points = [Vec3(p) + by for p in entity.control_points]
        entity.fit_points = [Vec3(p) + by for p in entity.fit_points]
        return
    pieces = [Bezier4P([Vec3(*p) for p in s.controls]) for s in new if isinstance(s, Cubic)]
    if pieces:
        entity.apply_construction_tool(bezier_to_bspline(pieces))
        entity.fit_points = []


def transformed(segment: Segment, at: Affine) -> list[Segment]:
    """Return an edge after an affine map.

    Several edges where a circular arc does not stay circular.
    """
    start, end = at(segment.start), at(segment.end)
    if isinstance(segment, Line):
        return [Line(start, end)]
    if isinstance(segment, Cubic):
        return [Cubic(start, at(segment.control1), at(segment.control2), end)]
    if at.is_similarity:
        clockwise = segment.clockwise != (at.determinant < 0)
        return [replace(segment, start=start, end=end, centre=at(segment.centre),
                        clockwise=clockwise)]  # fmt: skip
    radius = segment.radius
    turn = segment.sweep if abs(segment.sweep) < 2 * pi else 2 * pi
    return list(
        cubics(segment.centre, (radius, radius, 0.0), (segment.start_angle, turn), at, start, end)
    )
