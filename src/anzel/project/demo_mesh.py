"""A wren for the shop window: a small closed mesh of our own, made of round bodies."""

from functools import lru_cache

from anzel.core.asset import Asset
from anzel.structure.forms.mesh_sections import stl_of
from anzel.structure.solids import triangles_of

_ROUND = 64


@lru_cache(maxsize=1)
def wren() -> Asset:
    """Return the mesh, mm, standing on its feet, looking along x."""
    from manifold3d import Manifold  # only when the demo is asked for

    ball = Manifold.sphere(1.0, _ROUND)
    body = ball.scale((46, 34, 36)).rotate((0, -18, 0)).translate((0, 0, 44))
    head = ball.scale((25, 23, 23)).translate((36, 0, 78))
    beak = Manifold.cylinder(26, 7.0, 0.8, _ROUND).rotate((0, 82, 0)).translate((54, 0, 79))
    tail = ball.scale((44, 11, 8)).rotate((0, 52, 0)).translate((-50, 0, 78))
    foot = Manifold.cylinder(16, 18.0, 12.0, _ROUND)
    wings = [
        ball.scale((36, 9, 20)).rotate((0, -12, 6 * side)).translate((-10, 29 * side, 48))
        for side in (-1, 1)
    ]
    whole = body + head + beak + tail + foot + wings[0] + wings[1]
    return Asset.of("wren.stl", stl_of(triangles_of(whole)))
