"""Affine maps of the plane, as in SVG's `matrix(a b c d e f)` and DXF's nested blocks."""

from dataclasses import dataclass
from math import cos, hypot, isclose, radians, sin, tan

from anzel.core.tolerances import ROUNDING
from anzel.geometry.rigid_transform import Point


@dataclass(frozen=True, slots=True)
class Affine:
    """x' = a x + c y + e, y' = b x + d y + f (SVG 2, 8.3)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def __call__(self, point: Point) -> Point:
        """Return the point after the map."""
        x, y = point
        return (self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f)

    def compose(self, inner: "Affine") -> "Affine":
        """Return the map that applies `inner` first and this one second."""
        return Affine(
            self.a * inner.a + self.c * inner.b,
            self.b * inner.a + self.d * inner.b,
            self.a * inner.c + self.c * inner.d,
            self.b * inner.c + self.d * inner.d,
            self.a * inner.e + self.c * inner.f + self.e,
            self.b * inner.e + self.d * inner.f + self.f,
        )

    @property
    def determinant(self) -> float:
        """The factor on areas; negative where the map mirrors."""
        return self.a * self.d - self.b * self.c

    @property
    def is_similarity(self) -> bool:
        """Whether the map keeps circles round."""
        size = max(abs(self.a), abs(self.b), abs(self.c), abs(self.d))
        turned = isclose(self.a, self.d, abs_tol=ROUNDING * size)
        turned = turned and isclose(self.b, -self.c, abs_tol=ROUNDING * size)
        mirrored = isclose(self.a, -self.d, abs_tol=ROUNDING * size)
        return turned or (mirrored and isclose(self.b, self.c, abs_tol=ROUNDING * size))

    @property
    def scale(self) -> float:
        """The factor on lengths of a similarity; otherwise the greater factor of the two axes."""
        return max(hypot(self.a, self.b), hypot(self.c, self.d))

    def inverse(self) -> "Affine":
        """Return the inverse map.

        Raises
        ------
        ZeroDivisionError
            For a map that flattens the plane.
        """
        det = self.determinant
        a, b, c, d = self.d / det, -self.b / det, -self.c / det, self.a / det
        return Affine(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))


def translation(x: float, y: float = 0.0) -> Affine:
    """Return a translation."""
    return Affine(e=x, f=y)


def scaling(x: float, y: float | None = None) -> Affine:
    """Return a scaling about the origin; uniform without `y`."""
    return Affine(a=x, d=x if y is None else y)


def rotation(degrees: float, x: float = 0.0, y: float = 0.0) -> Affine:
    """Return a rotation about a point, from the x towards the y axis."""
    turn = Affine(cos(radians(degrees)), sin(radians(degrees)), -sin(radians(degrees)),
                  cos(radians(degrees)))  # fmt: skip
    return translation(x, y).compose(turn).compose(translation(-x, -y))


def skewing(x: float, y: float = 0.0) -> Affine:
    """Return a skew along x and along y, degrees."""
    return Affine(b=tan(radians(y)), c=tan(radians(x)))
