"""Solving a sketch: sizes typed and retyped, points moved, with the least change of all else."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from anzel.core.findings import ParameterError
from anzel.core.linked_groups import linked_groups
from anzel.core.number_format import plain_figure
from anzel.shape.constraint_solver import (
    AT_REST,
    SOLVED,
    Dependency,
    Floats,
    LeastChange,
    least_change,
)
from anzel.shape.equations import (
    Equation,
    EquationSystem,
    arc_equations,
    evaluated,
    relation_equations,
    size_equations,
)
from anzel.shape.sketch import HeldSize, Leg, Relation, SizeKind, Sketch, SketchPoint
from anzel.shape.sketch_variables import SketchVariables

_KEPT = 1e-12
"""What has moved by less, mm, is float dust and keeps its digits."""
_HEAVY = 1e6
"""How much less than others a point that the maker holds moves."""
_FREE = 1e-7
_PREVIEW = 1e-5
_ASIDE = 0.02
_NAMED = 4


@dataclass(frozen=True)
class Freedom:
    """What the sizes and relations leave free: in how many ways, and which points can move."""

    count: int
    points: frozenset[str]


def solved(sketch: Sketch, held: dict[str, tuple[float, float]] | None = None) -> Sketch:
    """Return the sketch with all its sizes and relations holding, changed as little as possible.

    `held` are points that the maker moves, by id: they come as near to their places as they can.

    Raises
    ------
    ParameterError
        Naming the sizes that contradict one another.
    """
    return SketchSolver(sketch, held or ()).solve(held or {})


class SketchSolver:
    """Solves one sketch again and again, as while points are dragged.

    Every solution is the one nearest to the sketch, whatever was asked before; the last one is only
    where the search begins.
    """

    def __init__(self, sketch: Sketch, moved: Iterable[str] = ()) -> None:
        self._sketch = sketch
        self._variables = variables = SketchVariables(sketch)
        places = [number for name in moved for number in variables.point(name)]
        equations = _touched(all_equations(sketch, variables), variables.start, places)
        self._used, self._equations = _compact(equations)
        self._system = EquationSystem(self._equations)
        self._weights = np.ones_like(variables.start)
        self._weights[places] = _HEAVY
        self._reach = _reach(variables.start)
        self._last: Floats | None = None

    def solve(self, held: Mapping[str, tuple[float, float]], *, is_preview: bool = False) -> Sketch:
        """Return the sketch with the moved points as near to their places as they can come.

        For a preview the change is the least to within a hundredth of a micrometre only, which is
        quicker; all sizes hold exactly.

        Raises
        ------
        ParameterError
            Naming the sizes that contradict one another.
        """
        variables = self._variables
        start = variables.start.copy()
        for name, place in held.items():
            start[list(variables.point(name))] = place
        part, weights = start[self._used], self._weights[self._used]
        solution = least_change(
            part, self._system, weights, self._reach, begin=self._last, tells_freedom=False,
            tells_dependencies=False,
            rest=_PREVIEW if is_preview else AT_REST,
        )  # fmt: skip
        if _fails(solution):  # perhaps only because the equations are singular just there
            again = least_change(
                part, self._system, weights, self._reach, begin=_aside(part, self._reach),
                tells_freedom=False,
            )  # fmt: skip
            solution = solution if _fails(again) else again
        _refuse(solution, self._equations, self._sketch)
        self._last = solution.point
        start[self._used] = solution.point
        has_moved = np.abs(start - variables.start) > _KEPT
        return variables.with_values(np.where(has_moved, start, variables.start))


def _compact(equations: list[Equation]) -> tuple[list[int], list[Equation]]:
    """Return the variables that equations depend on, and the equations of those alone.

    Least change leaves all others where they are.
    """
    used = sorted({name for equation in equations for name in equation.variables})
    number = {name: at for at, name in enumerate(used)}
    return used, [
        replace(equation, variables=tuple(number[name] for name in equation.variables))
        for equation in equations
    ]


def _touched(equations: list[Equation], start: Floats, moved: list[int]) -> list[Equation]:
    """Return the equations that have to do with what has moved, or with one that does not hold.

    Where no chain of equations leads from those to another one, least change leaves it alone.
    """
    if not equations:
        return equations
    residuals, _ = evaluated(equations, start)
    rows = np.repeat(np.arange(len(equations)), [len(each.variables) for each in equations])
    names = np.concatenate([each.variables for each in equations])
    links = np.stack([rows, len(equations) + names], 1)
    groups = linked_groups(links, len(equations) + start.size)
    of_equations, of_variables = np.split(groups, [len(equations)])
    wanted = [*of_equations[np.abs(residuals) > SOLVED], *of_variables[moved]]
    touched = np.isin(of_equations, wanted)
    return [equation for equation, is_touched in zip(equations, touched, strict=True) if is_touched]


def freedom_of(sketch: Sketch) -> Freedom:
    """Return what is still free in a solved sketch."""
    variables = SketchVariables(sketch)
    equations = all_equations(sketch, variables)
    start = variables.start
    solution = _solution(start, equations, None, _reach(start), tells_freedom=True)
    if not solution.free.size:
        return Freedom(0, frozenset())
    can_move = np.abs(solution.free).max(axis=0) > _FREE
    points = {name for name, (x, y) in variables.points.items() if can_move[x] or can_move[y]}
    return Freedom(len(solution.free), frozenset(points))


def retyped(sketch: Sketch, name: str, value: float) -> Sketch:
    """Return the sketch with another value of a size.

    Raises
    ------
    ParameterError
        For an unknown size, or naming the sizes that contradict it.
    """
    if sketch.size(name) is None:
        known = ", ".join(size.name for size in sketch.sizes)
        raise ParameterError(f"There is no size “{name}”.", hint=f"There are: {known}.", field=name)
    sizes = [size.with_changes(value=value) if size.name == name else size for size in sketch.sizes]
    return solved(sketch.with_changes(sizes=tuple(sizes)))


def with_size(sketch: Sketch, size: HeldSize) -> Sketch:
    """Return the sketch with one more size that holds.

    Raises
    ------
    ParameterError
        Where it follows from others already, or contradicts them.
    """
    added = sketch.with_changes(sizes=(*sketch.sizes, size))
    _refuse_what_follows(added, size.name)
    return solved(added)


def with_relation(sketch: Sketch, relation: Relation) -> Sketch:
    """Return the sketch with one more relation that holds.

    One that follows from others already is kept; one that contradicts them raises ParameterError.
    """
    return solved(sketch.with_changes(relations=(*sketch.relations, relation)))


def without_size(sketch: Sketch, name: str) -> Sketch:
    """Return the sketch with a size no longer held; nothing moves."""
    return sketch.with_changes(sizes=tuple(s for s in sketch.sizes if s.name != name))


def scaled_sketch(sketch: Sketch, factor: float) -> Sketch:
    """Return a sketch with all its lengths larger or smaller about its origin; angles stay."""
    variables = SketchVariables(sketch)
    made = variables.with_values(variables.start * factor)
    paths = tuple(
        path.with_changes(
            points=[_with_scaled_corner(point, factor) for point in path.points],
            legs=[_with_scaled_controls(leg, old, factor) for leg, old in zip(
                path.legs, before.legs, strict=True)],
        )
        for path, before in zip(made.paths, sketch.paths, strict=True)
    )  # fmt: skip
    sizes = [
        size if size.kind is SizeKind.ANGLE else size.with_changes(value=size.value * factor)
        for size in sketch.sizes
    ]
    corner = sketch.corner.with_changes(size=sketch.corner.size * factor)
    repeats = [
        repeat.with_changes(
            step=tuple(each * factor for each in repeat.step),
            centre=tuple(each * factor for each in repeat.centre),
        )
        for repeat in sketch.repeats
    ]
    return made.with_changes(paths=paths, sizes=sizes, corner=corner, repeats=repeats)


def _with_scaled_corner(point: SketchPoint, factor: float) -> SketchPoint:
    if point.corner is None:
        return point
    corner = point.corner.with_changes(size=point.corner.size * factor)
    return point.with_changes(corner=corner)


def _with_scaled_controls(leg: Leg, before: Leg, factor: float) -> Leg:
    if before.controls is None:
        return leg
    return leg.with_changes(controls=[(x * factor, y * factor) for x, y in before.controls])


def measured(sketch: Sketch, kind: SizeKind, of: tuple[str, ...]) -> float:
    """Return what a size measures now: mm, or degrees for an angle.

    Raises ParameterError where it names what cannot have such a size.
    """
    variables = SketchVariables(sketch)
    probe = HeldSize(name="probe", kind=kind, of=of, value=0.0)
    if kind is SizeKind.ANGLE:
        one, other = (variables.line(name) for name in of)
        u, v = (_span(line.start, line.end, variables.start) for line in (one, other))
        turn = abs(np.arctan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]))
        return float(np.degrees(turn))
    (equation,) = size_equations(probe, variables)
    residuals, _ = evaluated([equation], variables.start)
    return float(residuals[0])


def _span(start: tuple[int, int], end: tuple[int, int], values: Floats) -> tuple[float, float]:
    return (values[end[0]] - values[start[0]], values[end[1]] - values[start[1]])


def all_equations(sketch: Sketch, variables: SketchVariables) -> list[Equation]:
    """Return all equations: those of arcs first, sizes last, so that sizes are what is named."""
    found = arc_equations(variables)
    for relation in sketch.relations:
        found += relation_equations(relation, variables)
    for size in sketch.sizes:
        found += size_equations(size, variables)
    return found


def _solution(
    start: Floats, equations: list[Equation], weights: Floats | None, reach: float, *,
    begin: Floats | None = None, tells_freedom: bool = False,
) -> LeastChange:  # fmt: skip
    return least_change(
        start, EquationSystem(equations), weights, reach, begin=begin,
        tells_freedom=tells_freedom,
    )  # fmt: skip


def _reach(start: Floats) -> float:
    """Return the size of the figure, mm, at least 1."""
    return max(float(np.ptp(start)), 1.0)


def _fails(solution: LeastChange) -> bool:
    return not solution.holds or any(each.contradicts for each in solution.dependencies)


def _aside(start: Floats, reach: float) -> Floats:
    """Return a point a little beside the start, in no special direction, the same every time."""
    beside: Floats = start + _ASIDE * reach * np.sin(1.0 + 2.4 * np.arange(start.size))
    return beside


def _refuse(solution: LeastChange, equations: list[Equation], sketch: Sketch) -> None:
    """Raise ParameterError where not everything can hold."""
    bad = next((each for each in solution.dependencies if each.contradicts), None)
    if bad is not None:
        raise ParameterError(
            f"These cannot hold together: {_owners(bad, equations, sketch)}.",
            hint="Let one of them go, or type another value.", field=equations[bad.equation].owner,
        )  # fmt: skip
    if not solution.holds:
        residuals, _ = evaluated(equations, solution.point)
        worst = equations[int(np.argmax(np.abs(residuals)))].owner
        raise ParameterError(
            f"No outline has the size {_told(worst, sketch)} together with the others.",
            hint="Type another value.", field=worst,
        )  # fmt: skip


def _refuse_what_follows(sketch: Sketch, name: str) -> None:
    variables = SketchVariables(sketch)
    equations = all_equations(sketch, variables)
    _, jacobian = evaluated(equations, variables.start)
    if np.linalg.matrix_rank(jacobian) > np.linalg.matrix_rank(jacobian[:-1]):
        return
    solution = _solution(variables.start, equations, None, _reach(variables.start))
    mine = next(
        (d for d in solution.dependencies
         if name in {equations[at].owner for at in (d.equation, *d.others)}), None,
    )  # fmt: skip
    if mine is not None and not mine.contradicts:
        raise ParameterError(
            f"“{name}” follows from the others already: {_owners(mine, equations, sketch)}.",
            hint="Let one of them go first.", field=name,
        )  # fmt: skip


def _owners(dependency: Dependency, equations: list[Equation], sketch: Sketch) -> str:
    """Return the sizes and relations that depend on one another, sizes first, each once."""
    numbers = (dependency.equation, *dependency.others)
    owners = list(dict.fromkeys(equations[at].owner for at in numbers))
    owners.sort(key=lambda owner: sketch.size(owner) is None)
    words = [_told(owner, sketch) for owner in owners[:_NAMED]]
    more = len(owners) - _NAMED
    return ", ".join(words) + (f" and {more} more" if more > 0 else "")


def _told(owner: str, sketch: Sketch) -> str:
    size = sketch.size(owner)
    if size is None:
        return f"“{owner}”"
    return f"“{owner}” {plain_figure(size.value, size.kind.unit)}"
