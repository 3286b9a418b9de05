"""Viewports in SVG: the page's units, and where a nested drawing's own units lie (SVG 2, 8)."""

from collections.abc import Mapping
from dataclasses import replace

from anzel.drawings.affine import Affine, scaling, translation
from anzel.drawings.model import UNITS, Units, UnitSource
from anzel.drawings.svg.lengths import Lengths
from anzel.drawings.svg.markup import Node
from anzel.drawings.svg.path_data import NUMBER

_ABSOLUTE = frozenset({"mm", "cm", "in", "pt", "pc", "q"})


def page_of(root: Node, units: str | None, lengths: Lengths) -> tuple[Units, Affine, Lengths]:
    """Return the length of a user unit, the map from user units to mm, and what lengths mean.

    A width and height with absolute units give the length. Pixels alone are a guess, because many
    programs write them without meaning a 96th of an inch.
    """
    box = view_box(root)
    sizes = [lengths.px(root.get(name), name, -1.0) for name in ("width", "height")]
    inner = box[2:] if box else tuple(size if size > 0 else None for size in sizes)
    within = replace(lengths, width=inner[0], height=inner[1])
    if units is not None:
        size = UNITS[units]
        origin = (box[0], box[1]) if box else (0.0, 0.0)
        at = scaling(size).compose(translation(-origin[0], -origin[1]))
        return Units(units, size, UnitSource.ASKED), at, within
    at = scaling(UNITS["px"]).compose(_fitted(root, box, max(sizes[0], 0.0), max(sizes[1], 0.0)))
    written = root.get("width").strip() or root.get("height").strip()
    unit = written.lstrip("+-0123456789.eE ").strip().lower() if written else ""
    known = unit in _ABSOLUTE
    source = UnitSource.FILE if known else UnitSource.GUESS
    return Units(unit if known else "px", at.scale, source), at, within


def view_box(node: Node) -> tuple[float, float, float, float] | None:
    """Return an element's view box; None where it has none that encloses anything."""
    found = tuple(float(word) for word in NUMBER.findall(node.get("viewBox")))
    if len(found) != 4 or found[2] <= 0 or found[3] <= 0:
        return None
    return (found[0], found[1], found[2], found[3])


def viewport(
    node: Node, values: Mapping[str, str], lengths: Lengths, use: Mapping[str, str] | None = None
) -> tuple[Affine, Lengths]:
    """Return the map of a nested viewport into what is round it, and what lengths mean in it.

    A `use` gives its own size to what it shows (SVG 2, 5.6). A viewport without a size is as large
    as the one round it.
    """
    x, y = lengths.of(values, "x"), lengths.of(values, "y")
    width, height = (
        lengths.px((use.get(name, "") if use else "") or values.get(name, "") or "100%", name, -1.0)
        for name in ("width", "height")
    )
    box = view_box(node)
    if box is None:
        known = [size if size >= 0 else None for size in (width, height)]
        return translation(x, y), replace(lengths, width=known[0], height=known[1])
    at = translation(x, y).compose(_fitted(node, box, max(width, 0.0), max(height, 0.0)))
    return at, replace(lengths, width=box[2], height=box[3])


def _fitted(
    node: Node, box: tuple[float, float, float, float] | None, width: float, height: float
) -> Affine:
    """Return the map of a view box into a viewport of a size, px; 0 for a size not known."""
    if box is None:
        return Affine()
    width = width or (height * box[2] / box[3]) or box[2]
    height = height or (width * box[3] / box[2])
    sx, sy = width / box[2], height / box[3]
    align, _, how = node.get("preserveAspectRatio", "xMidYMid meet").strip().partition(" ")
    if align != "none":
        sx = sy = max(sx, sy) if how.strip() == "slice" else min(sx, sy)
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    x = (width - sx * box[2]) * (share.get(align[1:4], 0.5) if align != "none" else 0.0)
    y = (height - sy * box[3]) * (share.get(align[5:8], 0.5) if align != "none" else 0.0)
    return Affine(sx, 0.0, 0.0, sy, x - sx * box[0], y - sy * box[1])
