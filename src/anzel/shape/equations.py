"""The equations of a sketch: one residual, in mm, for every size, relation and arc.

A residual is a plain function of a few coordinates. Its derivatives are taken by the complex step
(Squire and Trapp, SIAM Review 40, 1998): exact to the last digit, as long as the function is
analytic, which is why lengths are square roots here and never absolute values.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, radians

import numpy as np

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Indices
from anzel.shape.constraint_solver import Floats
from anzel.shape.residuals import (
    Complex,
    Residual,
    cosine,
    cross,
    difference,
    difference_of_middles,
    difference_of_reach,
    distance,
    itself,
    left_of,
    longest,
    middle_along,
    reach_across,
    reach_along,
    sine,
    turn,
)
from anzel.shape.sketch import (
    HeldSize,
    LegKind,
    Relation,
    RelationKind,
    SizeKind,
)
from anzel.shape.sketch_variables import ArcPlaces, LinePlaces, SketchVariables

_STEP = 1e-30
_STEPS = [1j * _STEP * np.eye(count) for count in range(11)]
"""A step of each of so many variables; no equation has more."""


@dataclass(frozen=True)
class Equation:
    """A function of variables, and whose it is: of a size, a relation, an arc.

    The residual is `factor` times the function less `wanted`. Equations that share a function are
    evaluated together, which is why it is one of the module where that is possible.
    """

    residual: Residual
    variables: tuple[int, ...]
    owner: str
    wanted: float = 0.0
    factor: float = 1.0


class EquationSystem:
    """Equations made ready to be evaluated again and again, alike ones together."""

    def __init__(self, equations: Sequence[Equation]) -> None:
        self._count = len(equations)
        alike: dict[Residual, list[int]] = {}
        for row, equation in enumerate(equations):
            alike.setdefault(equation.residual, []).append(row)
        self._groups = [_alike(residual, rows, equations) for residual, rows in alike.items()]

    def __call__(self, point: Floats) -> tuple[Floats, Floats]:
        """Return the residuals (m,) and their Jacobian (m, n) at a point (n,)."""
        values = np.zeros(self._count)
        jacobian = np.zeros((self._count, point.size))
        for group in self._groups:
            stepped = point[group.names].T[:, :, None] + group.steps
            found = group.residual(stepped)  # (k, v)
            values[group.rows] = group.factor * found[:, 0].real - group.wanted
            slopes = group.slope_factor * found.imag
            if group.has_doubles:
                np.add.at(jacobian, (group.rows[:, None], group.names), slopes)
            else:
                jacobian[group.rows[:, None], group.names] = slopes
        return values, jacobian


@dataclass(frozen=True)
class _Alike:
    """Equations of one function: their rows, variables (k, v), factors, and what is wanted."""

    residual: Residual
    rows: Indices
    names: Indices
    steps: Complex
    factor: Floats
    slope_factor: Floats
    wanted: Floats
    has_doubles: bool
    """Whether an equation names a variable twice, so that its slopes add up."""


def _alike(residual: Residual, rows: list[int], equations: Sequence[Equation]) -> _Alike:
    names = np.array([equations[row].variables for row in rows])
    factor = np.array([equations[row].factor for row in rows])
    wanted = np.array([equations[row].wanted for row in rows])
    has_doubles = any(len(set(each)) < names.shape[1] for each in names.tolist())
    return _Alike(
        residual, np.array(rows), names, _STEPS[names.shape[1]][:, None, :], factor,
        factor[:, None] / _STEP, wanted, has_doubles,
    )  # fmt: skip


def evaluated(equations: Sequence[Equation], point: Floats) -> tuple[Floats, Floats]:
    """Return the residuals (m,) and their Jacobian (m, n) at a point (n,)."""
    return EquationSystem(equations)(point)


def size_equations(size: HeldSize, sketch: SketchVariables) -> list[Equation]:
    """Return the equation of a size.

    Raises ParameterError where it names what cannot have such a size.
    """
    value, owner = size.value, size.name
    match size.kind, len(size.of):
        case (SizeKind.ALONG_X | SizeKind.ALONG_Y, 2):
            axis = int(size.kind is SizeKind.ALONG_Y)
            a, b = (sketch.point(name)[axis] for name in size.of)
            sign = -1.0 if sketch.start[b] < sketch.start[a] else 1.0
            return [Equation(difference, (a, b), owner, value, sign)]
        case (SizeKind.DISTANCE, 2):
            ends = (*sketch.point(size.of[0]), *sketch.point(size.of[1]))
            return [Equation(distance, ends, owner, value)]
        case (SizeKind.LENGTH, 1):
            line = sketch.line(size.of[0])
            return [Equation(distance, (*line.start, *line.end), owner, value)]
        case (SizeKind.TO_LEG, 2):
            line, point = sketch.line(size.of[1]), sketch.point(size.of[0])
            names = (*line.start, *line.end, *point)
            sign = _side(names, sketch)
            return [Equation(left_of, names, owner, value, sign)]
        case (SizeKind.ANGLE, 2):
            return [_angle(size, sketch)]
        case (SizeKind.RADIUS | SizeKind.DIAMETER, 1):
            radius = value / 2 if size.kind is SizeKind.DIAMETER else value
            return [_radius(size.of[0], radius, sketch, owner)]
    raise ParameterError(f"The size “{owner}” names what cannot have a {size.kind.value}.")


def _angle(size: HeldSize, sketch: SketchVariables) -> Equation:
    """Return the equation of the angle between two lines, on the side where it lies now."""
    one, other = (sketch.line(name) for name in size.of)
    names = (*one.start, *one.end, *other.start, *other.end)
    now = sketch.start[list(names)].astype(complex)
    long = longest(now)
    sign = 1.0 if cross(now).real >= 0 else -1.0
    wanted = radians(size.value)

    def residual(v: Complex) -> Complex:
        off = sign * turn(v) - wanted
        wrapped: Complex = long * (off - 2 * pi * np.round(off.real / (2 * pi)))
        return wrapped

    return Equation(residual, names, size.name)


def _radius(name: str, radius: float, sketch: SketchVariables, owner: str) -> Equation:
    if (disc := sketch.disc(name)) is not None:
        return Equation(itself, (disc.radius,), owner, radius)
    arc = sketch.arc(name)
    return Equation(distance, (*arc.centre, *arc.start), owner, radius)


def relation_equations(relation: Relation, sketch: SketchVariables) -> list[Equation]:
    """Return the equations of a relation.

    Raises ParameterError where it names what cannot be so related.
    """
    kind, of = relation.kind, relation.of
    owner = f"{kind.value} {', '.join(of)}"
    match kind, len(of):
        case (RelationKind.LEVEL | RelationKind.UPRIGHT, 1 | 2):
            axis = int(kind is RelationKind.LEVEL)
            ends = sketch.ends(of[0]) if len(of) == 1 else tuple(map(sketch.point, of))
            return [_same(ends[0][axis], ends[1][axis], owner)]
        case (RelationKind.PARALLEL | RelationKind.SQUARE, 2):
            return [_direction(of, kind is RelationKind.SQUARE, sketch, owner)]
        case (RelationKind.TANGENT, 2):
            return [_tangent(of, sketch, owner)]
        case (RelationKind.EQUAL, 2):
            return [_equal(of, sketch, owner)]
        case (RelationKind.CONCENTRIC, 2):
            one, other = (sketch.centre(name) for name in of)
            return [_same(a, b, owner) for a, b in zip(one, other, strict=True)]
        case (RelationKind.SYMMETRIC, 3):
            return _symmetric(of, sketch, owner)
        case (RelationKind.SYMMETRIC, 4):
            return _symmetric_as_others(of, sketch, owner)
        case (RelationKind.CENTRED_X | RelationKind.CENTRED_Y, 4):
            axis = int(kind is RelationKind.CENTRED_Y)
            names = tuple(sketch.point(name)[axis] for name in of)
            return [Equation(difference_of_middles, names, owner)]
        case (RelationKind.ON, 2):
            return [_on(of, sketch, owner)]
        case (RelationKind.FIXED, 1):
            return [_stays(at, sketch.start[at], owner) for at in sketch.point(of[0])]
    raise ParameterError(f"“{owner}” names what cannot be so related.")


def arc_equations(sketch: SketchVariables) -> list[Equation]:
    """Return for every arc that both its ends are as far from its centre."""
    return [
        Equation(
            difference_of_reach, (*arc.centre, *arc.start, *arc.end), name
        )
        for name, arc in sketch.arcs.items()
    ]  # fmt: skip


def _same(one: int, other: int, owner: str) -> Equation:
    return Equation(difference, (one, other), owner)


def _stays(variable: int, value: float, owner: str) -> Equation:
    return Equation(itself, (variable,), owner, value)


def _direction(of: tuple[str, ...], square: bool, sketch: SketchVariables, owner: str) -> Equation:
    one, other = (sketch.line(name) for name in of)
    names = (*one.start, *one.end, *other.start, *other.end)
    now = sketch.start[list(names)].astype(complex)
    long = longest(now)
    return Equation(cosine if square else sine, names, owner, factor=long)


def _tangent(of: tuple[str, ...], sketch: SketchVariables, owner: str) -> Equation:
    """Return the equation of two tangent legs, at their common point if they have one."""
    one, other = sorted(of, key=lambda name: sketch.kind(name) is not LegKind.LINE)
    arc = sketch.arc(other)
    if sketch.kind(one) is LegKind.LINE:
        return _line_touches(sketch.line(one), arc, sketch, owner)
    first = sketch.arc(one)
    shared = _shared(first, arc)
    if shared is not None:
        names = (*first.centre, *shared, *arc.centre, *shared)
        return Equation(reach_across, names, owner)
    names = (*first.centre, *first.start, *arc.centre, *arc.start)
    now = sketch.start[list(names)].astype(complex)
    reach = (abs(distance(now[:4])), abs(distance(now[4:])), abs(distance(now[[0, 1, 4, 5]])))
    outside = abs(reach[0] + reach[1] - reach[2]) <= abs(abs(reach[0] - reach[1]) - reach[2])
    sign = 1.0 if outside else -1.0
    order = 1.0 if outside or reach[0] >= reach[1] else -1.0

    def residual(v: Complex) -> Complex:
        return distance(v[[0, 1, 4, 5]]) - order * (distance(v[:4]) + sign * distance(v[4:]))

    return Equation(residual, names, owner)


def _line_touches(
    line: LinePlaces, arc: ArcPlaces, sketch: SketchVariables, owner: str
) -> Equation:
    shared = _shared(line, arc)
    if shared is not None:
        names = (*line.start, *line.end, *arc.centre, *shared)
        return Equation(reach_along, names, owner)
    names = (*line.start, *line.end, *arc.centre, *arc.start)
    side = _side(names[:6], sketch)
    return Equation(lambda v: side * left_of(v[:6]) - distance(v[4:]), names, owner)


def _side(names: tuple[int, ...], sketch: SketchVariables) -> float:
    """Return 1 where a point (x, y) lies left of a line (x, y, x, y) now, and -1 on its right."""
    return -1.0 if left_of(sketch.start[list(names)].astype(complex)).real < 0 else 1.0


def _shared(one: LinePlaces | ArcPlaces, other: LinePlaces | ArcPlaces) -> tuple[int, int] | None:
    """Return the point in which two legs meet, if they follow one another."""
    common = {one.start, one.end} & {other.start, other.end}
    return next(iter(common), None) if len(common) == 1 else None


def _equal(of: tuple[str, ...], sketch: SketchVariables, owner: str) -> Equation:
    """Return the equation of two lines of one length, or two arcs or discs of one radius."""
    spans = [sketch.span(name) for name in of]
    cut = len(spans[0])
    names = (*spans[0], *spans[1])

    def long(v: Complex) -> Complex:
        return distance(v) if len(v) == 4 else v[0]

    return Equation(lambda v: long(v[:cut]) - long(v[cut:]), names, owner)


def _symmetric(of: tuple[str, ...], sketch: SketchVariables, owner: str) -> list[Equation]:
    axis = sketch.line(of[2])
    one, other = sketch.point(of[0]), sketch.point(of[1])
    names = (*axis.start, *axis.end, *one, *other)

    def middle(v: Complex) -> Complex:
        half = np.stack([(v[4] + v[6]) / 2, (v[5] + v[7]) / 2])
        return left_of(np.concatenate([v[:4], half]))

    return [
        Equation(middle, names, owner),
        Equation(reach_along, names, owner),
    ]


def _symmetric_as_others(
    of: tuple[str, ...], sketch: SketchVariables, owner: str
) -> list[Equation]:  # fmt: skip
    """Return the equations of two points about the middle line of two others.

    One point named twice lies on that line.
    """
    one, other, first, second = (sketch.point(name) for name in of)
    middle = Equation(middle_along, (*first, *second, *one, *other), owner)
    if one == other:
        return [middle]
    return [middle, Equation(reach_across, (*first, *second, *one, *other), owner)]


def _on(of: tuple[str, ...], sketch: SketchVariables, owner: str) -> Equation:
    point = sketch.point(of[0])
    if (disc := sketch.disc(of[1])) is not None:
        round_one = (*disc.centre, *point, disc.radius)
        return Equation(lambda v: distance(v[:4]) - v[4], round_one, owner)
    if sketch.kind(of[1]) is LegKind.LINE:
        line = sketch.line(of[1])
        return Equation(left_of, (*line.start, *line.end, *point), owner)
    arc = sketch.arc(of[1])
    names = (*arc.centre, *point, *arc.start)
    return Equation(difference_of_reach, names, owner)
