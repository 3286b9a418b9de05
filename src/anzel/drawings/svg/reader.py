"""The edges of an SVG file in mm of its page (SVG 2; CSS Values for units).

Groups, transforms, symbols and uses are followed. Elements that are not drawn are left out, and
drawn elements that are no outlines are counted.
"""

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import astuple, dataclass
from math import inf, isfinite

from anzel.core.tolerances import VANISHING
from anzel.drawings.affine import Affine, rotation, scaling, skewing, translation
from anzel.drawings.model import (
    MOST_EDGES,
    MOST_REPEATS,
    OURS,
    TELL_EACH,
    UNITS,
    DrawingError,
    DrawnPath,
    IgnoredItems,
    Tell,
    Units,
    UnitSource,
    check_extent,
    no_progress,
    repeats_too_often,
)
from anzel.drawings.svg.markup import Markup, Node
from anzel.drawings.svg.path_data import NUMBER, subpaths
from anzel.drawings.svg.shapes import SHAPES, path_commands_of, pixels, segments
from anzel.drawings.text_strokes import CAPITAL, TEXT, text_strokes
from anzel.geometry.segments import Segment

_TRANSFORM = re.compile(r"[\s,]*+([a-zA-Z]++)\s*+\(([^()]*+)\)")
_HIDDEN = {"display": ("none",), "visibility": ("hidden", "collapse")}
_NOT_DRAWN = frozenset(
    {"defs", "symbol", "clipPath", "mask", "marker", "pattern", "metadata", "style", "title",
     "desc", "linearGradient", "radialGradient", "filter", "script", "font"}
)  # fmt: skip
_ASIDES = {"image": "picture", "foreignObject": "embedded page"}
HREFS = ("href", "xlink:href")


@dataclass(frozen=True, eq=False)
class ShapeInstance:
    """A shape where it is drawn.

    Its node, its map to mm, and the uses through which it was reached.
    """

    node: Node
    at: Affine
    uses: tuple[Node, ...]


class SvgContent:
    """Everything drawn in a file.

    Raises DrawingError.
    """

    def __init__(
        self, markup: Markup, units: str | None, scale: float, tell: Tell = no_progress,
        *, left_aside: frozenset[str] = OURS,
    ) -> None:  # fmt: skip
        self.markup = markup
        self._left_aside = left_aside
        self._tell = tell
        self.instances: list[ShapeInstance] = []
        self.traces: list[DrawnPath] = []
        self.asides: list[DrawnPath] = []
        self.pictures: list[tuple[int, ShapeInstance]] = []
        """Each with how many shapes are drawn before it."""
        self.counts: Counter[str] = Counter()
        self.units, at = _page(markup.root, units)
        box = _view_box(markup.root)
        low = box[1] + box[3] if box else pixels(markup.root.get("height"))
        self.height = at((0.0, low))[1]
        self._ids = {node.get("id"): node for node in markup.root.walk() if node.get("id")}
        self._hidden = _hidden_by_style(markup.root)
        self._edges = self._uses = 0
        for child in markup.root.children:
            self._draw(child, scaling(scale).compose(at), (), "")
        check_extent([*self.traces, *self.asides], markup.name)

    @property
    def ignored_items(self) -> tuple[IgnoredItems, ...]:
        """The other items in the file."""
        return tuple(IgnoredItems(what, count) for what, count in sorted(self.counts.items()))

    def _draw(self, node: Node, at: Affine, uses: tuple[Node, ...], label: str) -> None:
        if self._is_hidden(node):
            self.counts["hidden"] += 1
            return
        if node.tag in _NOT_DRAWN and not (node.tag == "symbol" and uses):
            return
        if node.tag == "text":
            self._text(node, at.compose(transform(node.get("transform"))), label)
            return
        at = at.compose(transform(node.get("transform")))
        if node.tag in _ASIDES:
            self.counts[_ASIDES[node.tag]] += 1
            if node.tag == "image":
                self.pictures.append((len(self.instances), ShapeInstance(node, at, uses)))
            return
        if node.tag == "use":
            self._use(node, at, uses, label)
        elif node.tag in SHAPES:
            self._shape(node, at, uses, label)
        else:
            if node.tag == "svg":
                at = at.compose(_viewport(node))
            name = node.get_local("label") or node.get("id") or label
            for child in node.children[:1] if node.tag == "switch" else node.children:
                self._draw(child, at, uses, name)

    def _use(self, node: Node, at: Affine, uses: tuple[Node, ...], label: str) -> None:
        link = next((node.get(name) for name in HREFS if node.get(name)), "")
        target = self._ids.get(link.removeprefix("#"))
        if target is None or target in uses or node in uses or len(uses) > 20:
            self.counts["unresolved reference"] += 1
            return
        self._uses += 1
        if self._uses > MOST_REPEATS:
            raise repeats_too_often(self.markup.name)
        at = at.compose(translation(pixels(node.get("x")), pixels(node.get("y"))))
        if target.tag == "symbol":
            at = at.compose(_viewport(target, node))
        self._draw(target, at, (*uses, node), label)

    def _shape(self, node: Node, at: Affine, uses: tuple[Node, ...], label: str) -> None:
        if abs(at.determinant) < VANISHING:
            self.counts["flattened shape"] += 1
            return
        parts = path_commands_of(node, self.markup.name)
        if not parts:
            self.counts["shape without size"] += 1
            return
        element = len(self.instances)
        if element % TELL_EACH == 0:
            self._tell(f"{self.markup.name}: {element} shapes read …")
        self.instances.append(ShapeInstance(node, at, uses))  # its parts would take much memory
        named = [name for name in (node.get("class"), label.lower()) if name in self._left_aside]
        is_aside = bool(named)
        traces = self.asides if is_aside else self.traces
        mark = "/".join((label, node.get("class"), _colour(node), node.get("style")))
        mark = named[0] if is_aside else mark
        for run in subpaths(parts):
            edges: list[Segment] = []
            numbers: list[int] = []
            here = at(parts[run[0]].start)
            for number in run:
                made = segments(parts[number], at, here)
                if made:
                    edges += made
                    numbers += [number] * len(made)
                    here = made[-1].end
            if edges:
                traces.append(DrawnPath(element, tuple(edges), numbers, mark))
                self._edges += len(edges)
        if self._edges > MOST_EDGES:
            raise repeats_too_often(self.markup.name)

    def _text(self, node: Node, at: Affine, label: str) -> None:
        """Read a text and the spans in it that stand for themselves, as strokes of ours."""
        x, y = pixels(node.get("x")), pixels(node.get("y"))
        for span in (node, *(each for each in node.children if each.tag == "tspan")):
            x, y = pixels(span.get("x"), x), pixels(span.get("y"), y)
            y += pixels(span.get("dy")) if span is not node else 0.0
            size = pixels(_style(span, "font-size"), _FONT_SIZE)
            there = at.compose(Affine(d=-1.0, e=x, f=y))
            if not span.text.strip() or size <= 0 or abs(there.determinant) < VANISHING:
                continue
            share = _ANCHORS.get(_style(span, "text-anchor"), 0.0)
            mark = "/".join((label, span.get("class"), _colour(span), TEXT))
            for edges in text_strokes(span.text, CAPITAL * size, there, share):
                self.asides.append(DrawnPath(-1, edges, range(len(edges)), mark))
        self.counts["text"] += 1

    def _is_hidden(self, node: Node) -> bool:
        if any(node.get(name) in hides for name, hides in _HIDDEN.items()):
            return True
        if _hides(node.get("style")):
            return True
        if not self._hidden:
            return False
        names = {node.tag, f"#{node.get('id')}", *(f".{c}" for c in node.get("class").split())}
        return bool(names & self._hidden)


_FONT_SIZE = 16.0
"""The size of type where none is said, px (CSS Fonts, 2.5: medium)."""
_ANCHORS = {"middle": 0.5, "end": 1.0}


def _style(node: Node, name: str) -> str:
    """Return an inherited property of a text, from its style or its attribute; "" for none."""
    at: Node | None = node
    while at is not None:
        words = (declaration.partition(":") for declaration in at.get("style").split(";"))
        own = next((value.strip() for key, _, value in words if key.strip() == name), at.get(name))
        if own:
            return own
        at = at.parent
    return ""


def _colour(node: Node) -> str:
    """Return the colour of a shape's stroke, or of its fill where it has none.

    Both are inherited (SVG 2, 13).
    """
    for name in ("stroke", "fill"):
        at: Node | None = node
        while at is not None and not at.get(name):
            at = at.parent
        if at is not None and at.get(name) != "none":
            return at.get(name)
    return ""


def transform(text: str) -> Affine:
    """Return the map of a transform attribute.

    The first transform written is applied last (SVG 2, 8.5).

    Raises
    ------
    DrawingError
    """
    whole, at = Affine(), 0
    while found := _TRANSFORM.match(text, at):  # from where the last ended: never twice over
        numbers = [float(word) for word in NUMBER.findall(found[2])]
        if all(map(isfinite, numbers)):
            whole = whole.compose(_one_transform(found[1], numbers))
        else:
            whole = Affine(a=inf)
        at = found.end()
    if text[at:].strip(" ,\t\r\n\f"):
        raise DrawingError(f"The drawing has a transform that cannot be read: “{text[at:][:40]}”.")
    if not all(map(isfinite, astuple(whole))):
        raise DrawingError("The drawing has a transform with numbers out of reason.")
    return whole


def _one_transform(name: str, numbers: list[float]) -> Affine:
    count = len(numbers)
    if name == "matrix" and count == 6:
        return Affine(*numbers)
    if name == "translate" and count in (1, 2):
        return translation(*numbers)
    if name == "scale" and count in (1, 2):
        return scaling(*numbers)
    if name == "rotate" and count in (1, 3):
        return rotation(*numbers)
    if name in ("skewX", "skewY") and count == 1:
        return skewing(numbers[0]) if name == "skewX" else skewing(0.0, numbers[0])
    raise DrawingError(f"The drawing has a transform that cannot be read: “{name[:40]}”.")


def _page(root: Node, units: str | None) -> tuple[Units, Affine]:
    """Return the length of a user unit, and the map from user units to mm on the page.

    A width and height with absolute units give the length. Pixels alone are a guess, because many
    programs write them without meaning a 96th of an inch.
    """
    box = _view_box(root)
    if units is not None:
        size = UNITS[units]
        origin = (box[0], box[1]) if box else (0.0, 0.0)
        at = scaling(size).compose(translation(-origin[0], -origin[1]))
        return Units(units, size, UnitSource.ASKED), at
    at = scaling(UNITS["px"]).compose(_viewport(root))
    written = root.get("width").strip() or root.get("height").strip()
    unit = written.lstrip("+-0123456789.eE ").strip().lower() if written else ""
    known = unit in ("mm", "cm", "in", "pt", "pc", "q")
    source = UnitSource.FILE if known else UnitSource.GUESS
    return Units(unit if known else "px", at.scale, source), at


def _view_box(node: Node) -> tuple[float, ...] | None:
    found = tuple(float(word) for word in NUMBER.findall(node.get("viewBox")))
    return found if len(found) == 4 and found[2] > 0 and found[3] > 0 else None


def _viewport(node: Node, use: Node | None = None) -> Affine:
    """Return the map of a viewport's view box into the viewport (SVG 2, 8.2 and 8.6)."""
    sizes: Mapping[str, str] = {
        name: (use.get(name) if use else "") or node.get(name) for name in ("width", "height")
    }
    is_root = node.parent is None
    x, y = (0.0, 0.0) if is_root else (pixels(node.get("x")), pixels(node.get("y")))
    box = _view_box(node)
    if box is None:
        return translation(x, y)
    width = pixels(sizes["width"]) or (pixels(sizes["height"]) * box[2] / box[3]) or box[2]
    height = pixels(sizes["height"]) or (width * box[3] / box[2])
    sx, sy = width / box[2], height / box[3]
    align, _, how = node.get("preserveAspectRatio", "xMidYMid meet").strip().partition(" ")
    if align != "none":
        sx = sy = max(sx, sy) if how.strip() == "slice" else min(sx, sy)
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    x += (width - sx * box[2]) * (share.get(align[1:4], 0.5) if align != "none" else 0.0)
    y += (height - sy * box[3]) * (share.get(align[5:8], 0.5) if align != "none" else 0.0)
    return Affine(sx, 0.0, 0.0, sy, x - sx * box[0], y - sy * box[1])


def _hidden_by_style(root: Node) -> set[str]:
    """Return the simple selectors whose elements a style sheet hides."""
    rules = (
        rule.partition("{")
        for node in root.walk()
        if node.tag == "style"
        for rule in node.text.split("}")
    )
    return {
        selector.strip()
        for selectors, _, body in rules
        if _hides(body)
        for selector in selectors.split(",")
    }


def _hides(style: str) -> bool:
    """Return whether a style hides an element."""
    words = (declaration.partition(":") for declaration in style.split(";"))
    return any(value.strip() in _HIDDEN.get(name.strip(), ()) for name, _, value in words)
