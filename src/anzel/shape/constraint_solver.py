"""Least change under constraints: the point nearest to a start at which all equations hold.

Each step solves the linearised problem exactly: with J the Jacobian, c the residuals and W the
weights, the step d is the shortest correction of c plus the way back to the start within the null
space of J. Where it comes to rest, the change is orthogonal to all that the equations leave free,
which is the first-order condition of least change (Nocedal and Wright, Numerical Optimization,
2006, chapters 12 and 18; the Hessian of the constraints is left out, as in Gauss-Newton).

The rank comes from a QR decomposition with column pivoting (Golub and Van Loan, Matrix
Computations, 2013, 5.4.2), so an equation that follows from others is told from one that
contradicts them.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Equations = Callable[[Floats], tuple[Floats, Floats]]
"""Return the residuals (m,) and their Jacobian (m, n) at a point (n,)."""

SOLVED = 1e-10
"""A residual below this, mm, holds: a thousandth of the nanometre at which points are one."""
AT_REST = 1e-9
"""The change is the least where a step is no longer than this, mm."""
_MIXED = 4
"""So many steps before the last one are mixed with it."""
_SOUND = 1e-4
"""Normal equations whose pivots differ by less than this share are far from singular."""
_RANK = 1e-9
"""A pivot below this share of the largest one is none."""
_MOST_STEPS, _MOST_POLISHING = 120, 12
_LONGEST_STEP = 0.5
"""No step is longer than this share of the size of the figure, so that it does not turn over."""


@dataclass(frozen=True)
class Dependency:
    """An equation that follows from others, by number, and how far it is off where those hold."""

    equation: int
    others: tuple[int, ...]
    off: float

    @property
    def contradicts(self) -> bool:
        """Whether it cannot hold together with the others."""
        return abs(self.off) > 1e3 * SOLVED


@dataclass(frozen=True)
class LeastChange:
    """The point found, whether the independent equations hold there, and what is left free.

    `free` (k, n) spans the directions in which the point can still move; `dependencies` are the
    equations that are not independent.
    """

    point: Floats
    holds: bool
    free: Floats
    dependencies: tuple[Dependency, ...]


def least_change(
    start: Floats, equations: Equations, weights: Floats | None = None, reach: float = 100.0, *,
    begin: Floats | None = None, tells_freedom: bool = True,
    tells_dependencies: bool = True, rest: float = AT_REST,
) -> LeastChange:  # fmt: skip
    """Return the point nearest to `start` (n,) at which the equations hold.

    A variable with a larger weight moves less. `reach` is the size of the figure, in the units of
    the variables. Dependent equations are left out, and told. The search begins at `begin`, which
    helps where the equations are singular at the start, as an arc with its centre on its chord.
    Without `tells_freedom` the solution's `free` is empty, and without `tells_dependencies` so are
    those where all equations hold, which is quicker. The search rests
    where a step is no longer than `rest`; the equations hold to the last digit all the same.
    """
    scale = np.ones_like(start) if weights is None else 1.0 / np.sqrt(weights)
    point = start.copy() if begin is None else begin.copy()
    residuals, jacobian = equations(point)
    if residuals.size == 0:
        return LeastChange(point, True, np.eye(start.size), ())
    if begin is None and np.abs(residuals).max() <= SOLVED:  # what holds is not moved by a hair
        return _told(point, residuals, jacobian, scale, tells_freedom)
    mixer = _Mixer()
    for _ in range(_MOST_STEPS):
        step = _step(residuals, jacobian * scale, (start - point) / scale)
        longest = np.abs(step * scale).max()
        if longest > _LONGEST_STEP * reach:
            step *= _LONGEST_STEP * reach / longest
            mixer.forget()
            point = point + step * scale
        else:
            point = mixer.next(point / scale, step) * scale
        residuals, jacobian = equations(point)
        if longest <= rest:
            break
    for _ in range(_MOST_POLISHING):  # the last digits, by Newton alone
        if np.abs(residuals).max() <= SOLVED / 100:
            break
        correction = _step(residuals, jacobian * scale, None)
        if np.abs(correction).max() <= SOLVED / 100:
            break
        point = point + correction * scale
        residuals, jacobian = equations(point)
    if not tells_dependencies and np.abs(residuals).max() <= SOLVED:
        return LeastChange(point, True, np.zeros((0, point.size)), ())
    return _told(point, residuals, jacobian, scale, tells_freedom)


class _Mixer:
    """Mixes the last few steps, so that a row of ever shorter ones comes to its end sooner.

    Anderson's acceleration of a fixed point, with the differences of steps and of points as
    unknowns of a small least-squares problem (Walker and Ni, SIAM Journal on Numerical Analysis
    49, 2011, from memory). Where it comes to rest, the step itself is nothing, as without it.
    """

    def __init__(self) -> None:
        self._points: list[Floats] = []
        self._steps: list[Floats] = []

    def forget(self) -> None:
        """Begin anew: what was before tells nothing about what comes."""
        self._points, self._steps = [], []

    def next(self, point: Floats, step: Floats) -> Floats:
        """Return the next point after one and the step that leads on from there."""
        if self._steps and np.abs(step).max() > np.abs(self._steps[-1]).max():
            self.forget()
        self._points = [*self._points[-_MIXED:], point]
        self._steps = [*self._steps[-_MIXED:], step]
        if len(self._steps) == 1:
            return point + step
        steps = np.diff(self._steps, axis=0).T
        points = np.diff(self._points, axis=0).T
        shares = np.linalg.lstsq(steps, step, rcond=1e-8)[0]
        mixed: Floats = point + step - (points + steps) @ shares
        return mixed


def _step(residuals: Floats, jacobian: Floats, back: Floats | None) -> Floats:
    """Return the shortest step to zero residuals, with what of `back` leaves them as they are.

    The normal equations J Jᵀ y = r are quick, and good where they are far from singular; a step
    that is a little off is corrected by the next one. Elsewhere it is the decomposition's.
    """
    from scipy.linalg.lapack import dposv  # loading it would delay the window

    right = -residuals if back is None else -residuals - jacobian @ back
    factor, solution, failed = dposv(jacobian @ jacobian.T, right)
    pivots = np.diag(factor)
    if not failed and pivots.min() > _SOUND * pivots.max():
        step: Floats = jacobian.T @ solution
        return step if back is None else step + back
    basis, correction = _correction(residuals, jacobian)
    return correction if back is None else correction + back - basis @ (basis.T @ back)


def _correction(residuals: Floats, jacobian: Floats) -> tuple[Floats, Floats]:
    """Return an orthonormal basis of the rows' space (n, r), and the shortest step to zero (n,).

    Dependent equations have no part in it.
    """
    from scipy.linalg import qr, solve_triangular  # loading it would delay the window

    orthogonal, triangle, pivots = qr(jacobian.T, mode="economic", pivoting=True)
    rank = _rank(triangle)
    basis, square = orthogonal[:, :rank], triangle[:rank, :rank]
    wanted = solve_triangular(square, -residuals[pivots[:rank]], trans="T")
    return basis, basis @ wanted


def _rank(triangle: Floats) -> int:
    pivots = np.abs(np.diag(triangle))
    return int(np.sum(pivots > _RANK * max(pivots.max(initial=0.0), 1e-30)))


def _told(
    point: Floats, residuals: Floats, jacobian: Floats, scale: Floats, tells_freedom: bool
) -> LeastChange:
    """Return the solution at a point, with what is free and what depends on what."""
    from scipy.linalg import qr, solve_triangular  # loading it would delay the window

    free = np.zeros((0, point.size))
    if tells_freedom:
        orthogonal, triangle, pivots = qr((jacobian * scale).T, pivoting=True)
        rank = _rank(triangle)
        free = orthogonal[:, rank:].T * scale
    else:
        triangle, pivots = qr((jacobian * scale).T, mode="r", pivoting=True)
        rank = _rank(triangle)
    mixed = solve_triangular(triangle[:rank, :rank], triangle[:rank, rank:])  # (r, m - r)
    dependencies = []
    for column, equation in enumerate(pivots[rank:]):
        shares = mixed[:, column]
        others = tuple(int(pivots[at]) for at in np.flatnonzero(np.abs(shares) > 1e-6))
        dependencies.append(Dependency(int(equation), others, float(residuals[equation])))
    holds = bool(np.abs(residuals[pivots[:rank]]).max(initial=0.0) <= 10 * SOLVED)
    return LeastChange(point, holds, free, tuple(dependencies))
