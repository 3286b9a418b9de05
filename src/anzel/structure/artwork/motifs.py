"""Motifs that ship with Anzel: small closed figures to repeat along an edge or round a border.

Each is about 10 units high and stands on its foot, its middle at the middle of what it is placed
by. All are ours.
"""

from math import cos, pi, sin

from anzel.core.asset import Asset
from anzel.core.findings import ParameterError


def _ring(count: int, radius: float, petal: str) -> str:
    turns = (360 * at / count for at in range(count))
    return "".join(
        f'<path transform="rotate({turn:g}) translate(0 {-radius:g})" d="{petal}"/>'
        for turn in turns
    )


def _star(points: int, outer: float, inner: float) -> str:
    corners = [
        (r * sin(pi * at / points), -r * cos(pi * at / points))
        for at in range(2 * points) for r in [outer if at % 2 == 0 else inner]
    ]  # fmt: skip
    path = " L ".join(f"{x:.4f} {y:.4f}" for x, y in corners)
    return f'<path d="M {path} Z"/>'


_DRAWN = {
    "leaf": '<path d="M 0 5 C -4.5 2 -4 -2.5 0 -5 C 4 -2.5 4.5 2 0 5 Z"/>',
    "drop": '<path d="M 0 -5 C 1.2 -2.4 3 -0.6 3 2 A 3 3 0 0 1 -3 2 C -3 -0.6 -1.2 -2.4 0 -5 Z"/>',
    "seed": '<path d="M 0 -5 A 9 9 0 0 1 0 5 A 9 9 0 0 1 0 -5 Z"/>',
    "diamond": '<path d="M 0 -5 L 3 0 L 0 5 L -3 0 Z"/>',
    "disc": '<circle r="4"/>',
    "arch": '<path d="M -3 5 L -3 -2 A 3 3 0 0 1 3 -2 L 3 5 Z"/>',
    "star": _star(6, 5.0, 2.6),
    "blossom": _ring(5, 2.6, "M 0 1.1 C -2.4 -0.4 -1.5 -2.6 0 -2.6 C 1.5 -2.6 2.4 -0.4 0 1.1 Z"),
    "pair of leaves": (
        '<path d="M -0.6 4 C -5 3.4 -5.6 -1 -4.6 -4 C -1.8 -3 -0.2 0 -0.6 4 Z"/>'
        '<path d="M 0.6 4 C 5 3.4 5.6 -1 4.6 -4 C 1.8 -3 0.2 0 0.6 4 Z"/>'
    ),
}
MOTIFS = tuple(_DRAWN)


def motif_file(name: str) -> Asset:
    """Return a motif as an SVG file.

    Raises ParameterError listing the known ones.
    """
    if name not in _DRAWN:
        raise ParameterError(
            f"There is no motif “{name}”.", hint=f"There are: {', '.join(MOTIFS)}."
        )
    text = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="12mm" height="12mm" '
        f'viewBox="-6 -6 12 12"><g id="{name}" fill="none">'
        f"{_DRAWN[name]}</g></svg>"
    )
    return Asset.of(f"{name}.svg", text.encode())
