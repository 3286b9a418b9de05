"""The profile of a body of revolution, and a picture to trace it from.

A profile's points are shares: of the height, of the greatest radius; smooth or a corner each.
"""

from collections.abc import Sequence
from functools import lru_cache
from typing import Annotated, Any

from pydantic import BeforeValidator, Field

from anzel.core.asset import Asset
from anzel.core.immutable import Immutable
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.structure.forms.common_outlines import band, joined

Share = Annotated[float, Field(ge=0, le=1)]


def _with_smooth(point: Any) -> Any:  # noqa: ANN401
    """Return a point with its smoothness; a point given as a pair is smooth."""
    return (*point, True) if isinstance(point, tuple | list) and len(point) == 2 else point


ProfilePoint = Annotated[tuple[Share, Share, bool], BeforeValidator(_with_smooth)]
Profile = tuple[ProfilePoint, ...]


class TracedPicture(Immutable):
    """A picture under the drawing.

    Its middle at (x, y) mm, its scale in mm per pixel, its turn, and its fading (0 none, 1
    invisible).
    """

    picture: Asset
    x: float = 0.0
    y: float = 0.0
    mm_per_pixel: float = Field(default=0.25, gt=0, le=1000)
    turn: float = Field(default=0.0, ge=-360, le=360)
    faded: float = Field(default=0.5, ge=0, le=1)


@lru_cache(maxsize=64)
def between(outer: Profile, inner: Profile, height: float, radius: float, depth: float) -> Region:
    """Return what lies between an outer and an inner profile.

    Without an inner one, `depth` mm inside the outer. x is the radius, y the height.
    """
    ahead = _edge(outer, height, radius)
    back = _edge(inner, height, radius) if inner else _edge(outer, height, radius, depth)
    return band(ahead, back)


def _edge(
    profile: Sequence[ProfilePoint], height: float, radius: float, inside: float = 0.0
) -> list[Segment]:
    upward = sorted({(z, r): (z, r, smooth) for z, r, smooth in profile}.values())
    points: list[Point] = [(r * radius - inside, z * height) for z, r, _ in upward]
    return joined(points, [smooth for *_, smooth in upward])
