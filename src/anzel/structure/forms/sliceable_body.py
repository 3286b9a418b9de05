"""A body to slice: one with exact sections, or a mesh.

Sizes in mm, on the z axis.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import cos, sin
from typing import Literal

from anzel.core.asset import Asset
from anzel.structure.forms import analytic_sections, mesh_sections
from anzel.structure.forms.common_outlines import board

BodyName = Literal["sphere", "ellipsoid", "cone", "torus", "egg", "box", "mesh"]


@dataclass(frozen=True)
class Body:
    """A body by name and sizes; `width` and `depth` of a mesh follow from its height."""

    name: BodyName
    width: float
    depth: float
    height: float
    mesh: Asset | None = None
    up: mesh_sections.Up = "z"

    def upright(self, turn: float, d: float) -> analytic_sections.Section:
        """Return the section by an upright plane, in (along the plane to the normal's left, up)."""
        return self.uprights(turn, (d,))[0]

    def uprights(self, turn: float, ds: Sequence[float]) -> tuple[analytic_sections.Section, ...]:
        """Return the sections by a family of such planes."""
        return _uprights(self, round(turn, 12), tuple(round(d, 9) for d in ds))

    def level(self, z: float) -> analytic_sections.Section:
        """Return the section at a height, in (east, north)."""
        return _level(self, round(z, 9))

    def extent(self, turn: float) -> tuple[float, float]:
        """Return how far the body reaches along a level direction, from and to."""
        if self.mesh is not None:
            return mesh_sections.extent(self.mesh, self.up, self.height, round(turn, 12))
        a, b = self.width / 2, self.depth / 2
        if self.name == "box":
            reach = a * abs(cos(turn)) + b * abs(sin(turn))
        else:
            reach = float((a * a * cos(turn) ** 2 + b * b * sin(turn) ** 2) ** 0.5)
        return -reach, reach


@lru_cache(maxsize=128)  # families of sections: two for each structure
def _uprights(
    body: Body, turn: float, ds: tuple[float, ...]
) -> tuple[analytic_sections.Section, ...]:
    if body.mesh is not None:
        return tuple(mesh_sections.uprights(body.mesh, body.up, body.height, turn, ds))
    return tuple(_upright(body, turn, d) for d in ds)


def _upright(body: Body, turn: float, d: float) -> analytic_sections.Section:
    a, b, height = body.width / 2, body.depth / 2, body.height
    match body.name:
        case "sphere" | "ellipsoid":
            return analytic_sections.ellipsoid(a, b, height / 2, turn, d)
        case "cone":
            return analytic_sections.cone(a, height, d)
        case "torus":
            return analytic_sections.torus(a - height / 2, height / 2, d)
        case "egg":
            return analytic_sections.egg(a, height, d)
        case _:
            return analytic_sections.box(a, b, height, turn, d)


@lru_cache(maxsize=256)  # one section for each level
def _level(body: Body, z: float) -> analytic_sections.Section:
    a, b, height = body.width / 2, body.depth / 2, body.height
    if body.mesh is not None:
        return mesh_sections.level(body.mesh, body.up, height, z)
    match body.name:
        case "sphere" | "ellipsoid":
            return analytic_sections.level_ellipsoid(a, b, height / 2, z)
        case "cone":
            return analytic_sections.level_disc(a * (1 - z / height))
        case "torus":
            return analytic_sections.level_torus(a - height / 2, height / 2, z)
        case "egg":
            return analytic_sections.level_disc(analytic_sections.egg_radius(a, height, z))
        case _:
            return (board(-a, -b, a, b),)
