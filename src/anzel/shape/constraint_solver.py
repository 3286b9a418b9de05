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
from scipy.linalg import qr, solve_triangular

Floats = NDArray[np.float64]
Equations = Callable[[Floats], tuple[Floats, Floats]]
"""Return the residuals (m,) and their Jacobian (m, n) at a point (n,)."""

SOLVED = 1e-10
"""A residual below this, mm, holds: a thousandth of the nanometre at which points are one."""
_AT_REST = 1e-9
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
class Solution:
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
) -> Solution:  # fmt: skip
    """Return the point nearest to `start` (n,) at which the equations hold.

    A variable with a larger weight moves less. `reach` is the size of the figure, in the units of
    the variables. Dependent equations are left out, and told. The search begins at `begin`, which
    helps where the equations are singular at the start, as an arc with its centre on its chord.
    Without `tells_freedom` the solution's `free` is empty, which is quicker.
    """
    scale = np.ones_like(start) if weights is None else 1.0 / np.sqrt(weights)
    point = start.copy() if begin is None else begin.copy()
    residuals, jacobian = equations(point)
    if residuals.size == 0:
        return Solution(point, True, np.eye(start.size), ())
    if np.abs(residuals).max() <= SOLVED:  # what holds already is not moved by a hair
        return _told(point, residuals, jacobian, scale, tells_freedom)
    for _ in range(_MOST_STEPS):
        basis, correction = _correction(residuals, jacobian * scale)
        back = (start - point) / scale
        step = correction + back - basis @ (basis.T @ back)
        longest = np.abs(step * scale).max()
        if longest > _LONGEST_STEP * reach:
            step *= _LONGEST_STEP * reach / longest
        point = point + step * scale
        residuals, jacobian = equations(point)
        if longest <= _AT_REST:
            break
    for _ in range(_MOST_POLISHING):  # the last digits, by Newton alone
        if np.abs(residuals).max() <= SOLVED / 100:
            break
        _, correction = _correction(residuals, jacobian * scale)
        if np.abs(correction).max() <= SOLVED / 100:
            break
        point = point + correction * scale
        residuals, jacobian = equations(point)
    return _told(point, residuals, jacobian, scale, tells_freedom)


def _correction(residuals: Floats, jacobian: Floats) -> tuple[Floats, Floats]:
    """Return an orthonormal basis of the rows' space (n, r), and the shortest step to zero (n,).

    Dependent equations have no part in it.
    """
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
) -> Solution:
    """Return the solution at a point, with what is free and what depends on what."""
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
    return Solution(point, holds, free, tuple(dependencies))
