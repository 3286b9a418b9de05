"""The edges of an SVG file in mm of its page (SVG 2; CSS Values for units).

Groups, transforms, symbols and uses are followed. Elements that are not drawn are left out, and
drawn elements that are no outlines are counted.
"""

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from anzel.core.tolerances import VANISHING
from anzel.drawings.affine import Affine, scaling, translation
from anzel.drawings.model import (
    MOST_EDGES,
    MOST_REPEATS,
    OURS,
    TELL_EACH,
    DrawnPath,
    IgnoredItems,
    Tell,
    check_extent,
    no_progress,
    repeats_too_often,
)
from anzel.drawings.svg.lengths import Lengths
from anzel.drawings.svg.markup import Markup, Node
from anzel.drawings.svg.path_data import subpaths
from anzel.drawings.svg.shapes import SHAPES, path_commands_of, segments
from anzel.drawings.svg.styles import Styles, with_style
from anzel.drawings.svg.transforms import transform, transform_style
from anzel.drawings.svg.viewports import page_of, view_box, viewport
from anzel.drawings.text_strokes import CAPITAL, TEXT, text_strokes
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment

_NOT_DRAWN = frozenset(
    {"defs", "symbol", "clipPath", "mask", "marker", "pattern", "metadata", "style", "title",
     "desc", "linearGradient", "radialGradient", "filter", "script", "font"}
)  # fmt: skip
_GROUPS = frozenset({"svg", "g", "a", "switch", "symbol"})
_ASIDES = {"image": "picture", "foreignObject": "embedded page"}
_INHERITED = ("visibility", "stroke", "fill", "text-anchor")
_AS_AROUND = frozenset({"", "inherit", "unset"})
_INVISIBLE = frozenset({"hidden", "collapse"})
_EXTENSIONS = frozenset({"http://www.w3.org/1999/xhtml", "http://www.w3.org/1998/Math/MathML"})
"""What browsers can draw besides SVG."""
_ANCHORS = {"middle": 0.5, "end": 1.0}
HREFS = ("href", "xlink:href")


@dataclass(frozen=True, eq=False, slots=True)
class ShapeInstance:
    """A shape where it is drawn.

    Its node, its map to mm, the uses through which it was reached, the values of its attributes,
    with what style sheets set of them, and what lengths in them mean.
    """

    node: Node
    at: Affine
    uses: tuple[Node, ...]
    values: Mapping[str, str]
    lengths: Lengths


@dataclass(frozen=True, slots=True)
class _Context:
    """What an element has from those round it."""

    at: Affine
    lengths: Lengths
    uses: tuple[Node, ...] = ()
    label: str = ""
    style: tuple[str, ...] = ("", "", "", "")
    """The values of the inherited properties."""

    @property
    def colour(self) -> str:
        """The colour of a stroke, or of what is filled where there is no stroke."""
        return next((each for each in self.style[1:3] if each not in ("", "none")), "")


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
        self.shifts: dict[Node, Point] = {}
        """How far each use moves what it shows, in its own units."""
        self.counts: Counter[str] = Counter()
        self._first: dict[str, int] = {}
        self._node = markup.root
        self._styles = Styles(markup.root)
        self.counts += self._styles.counts
        lengths = Lengths(not_understood=self._not_a_length)
        self.units, at, within = page_of(markup.root, units, lengths)
        box = view_box(markup.root)
        low = box[1] + box[3] if box else lengths.px(markup.root.get("height"))
        self.height = at((0.0, low))[1]
        self._ids = {node.get("id"): node for node in markup.root.walk() if node.get("id")}
        self._edges = self._uses = 0
        page = _Context(scaling(scale).compose(at), within)
        self._children(markup.root.children, self._within(page, markup.root, {}))
        check_extent([*self.traces, *self.asides], markup.name)

    @property
    def ignored_items(self) -> tuple[IgnoredItems, ...]:
        """The other items in the file, with the line of the first of each kind."""
        return tuple(
            IgnoredItems(what, count, f"line {self._line(self._first[what])}"
                         if what in self._first else "")
            for what, count in sorted(self.counts.items())
        )  # fmt: skip

    def _line(self, offset: int) -> int:
        return self.markup.content.count(b"\n", 0, offset) + 1

    def _count(self, what: str, node: Node) -> None:
        self.counts[what] += 1
        self._first.setdefault(what, node.offset)

    def _not_a_length(self, text: str) -> None:
        self._count(f"length that is not understood (“{text[:20]}”)", self._node)

    def _draw(self, node: Node, around: _Context) -> None:
        self._node = node
        if node.tag in _NOT_DRAWN and not (node.tag == "symbol" and around.uses):
            return
        own = self._styles.own(node)
        if own.get("display", node.get("display")) == "none":
            self._count("hidden", node)
            return
        if not _is_wanted(node):
            self._count("alternative for other programs", node)
            return
        if node.tag not in SHAPES and node.tag not in _GROUPS and not _is_other(node):
            self._not_known(node)
            return
        here = self._within(around, node, own)
        if any(own.get(name, node.get(name)) not in ("", "none") for name in ("clip-path", "mask")):
            self._count("clip path or mask, not applied", node)
        if node.tag == "use":
            self._use(node, here, own)
        elif node.tag in SHAPES or _is_other(node):
            if here.style[0] in _INVISIBLE and node.tag != "text":
                self._count("hidden", node)
            elif node.tag == "text":
                self._text(node, here, own)
            elif node.tag in _ASIDES:
                self._count(_ASIDES[node.tag], node)
                if node.tag == "image":
                    place = self._instance(node, here, own)
                    self.pictures.append((len(self.instances), place))
            else:
                self._shape(node, here, own)
        else:
            self._group(node, here, own)

    def _group(self, node: Node, here: _Context, own: Mapping[str, str]) -> None:
        name = node.get_local("label") or node.get("id") or here.label
        inner = replace(here, label=name)
        if node.tag == "svg":
            at, lengths = viewport(node, with_style(node.attributes, own), here.lengths)
            inner = replace(inner, at=here.at.compose(at), lengths=lengths)
        children = node.children
        if node.tag == "switch":
            wanted = (each for each in children if _is_wanted(each))
            first = next(wanted, None)
            left = [each for each in children if each is not first and _holds_shapes(each)]
            for each in left:
                self._count("alternative for other programs", each)
            children = [first] if first is not None else []
        self._children(children, inner)

    def _children(self, children: list[Node], here: _Context) -> None:
        for child in children:
            self._draw(child, here)

    def _within(self, around: _Context, node: Node, own: Mapping[str, str]) -> _Context:
        """Return what is inherited within an element, and where it is drawn."""
        styled = tuple(
            before if (value := own.get(name, node.get(name))) in _AS_AROUND else value
            for name, before in zip(_INHERITED, around.style, strict=True)
        )
        at, lengths = around.at, around.lengths
        if "transform" in own:
            at = at.compose(transform_style(own["transform"]))
        elif node.get("transform"):
            at = at.compose(transform(node.get("transform")))
        if node.get("transform-origin") and at is not around.at:
            self._count("origin of a transform that is not understood", node)
        if size := own.get("font-size", node.get("font-size")):
            font = around.lengths.px(size, "font-size", around.lengths.font_size)
            lengths = replace(lengths, font_size=font)
        return replace(around, at=at, lengths=lengths, style=styled)

    def _use(self, node: Node, here: _Context, own: Mapping[str, str]) -> None:
        link = next((node.get(name) for name in HREFS if node.get(name)), "")
        target = self._ids.get(link.removeprefix("#"))
        uses = here.uses
        if target is None or target in uses or node in uses or len(uses) > 20:
            self._count("unresolved reference", node)
            return
        self._uses += 1
        if self._uses > MOST_REPEATS:
            raise repeats_too_often(self.markup.name)
        values = with_style(node.attributes, own)
        x, y = here.lengths.of(values, "x"), here.lengths.of(values, "y")
        self.shifts[node] = (x, y)
        inner = replace(here, at=here.at.compose(translation(x, y)), uses=(*uses, node))
        if target.tag in ("symbol", "svg"):
            shown = with_style(target.attributes, self._styles.own(target))
            at, lengths = viewport(target, shown, here.lengths, values)
            inner = replace(inner, at=inner.at.compose(at), lengths=lengths)
            if target.tag == "svg":  # its own place is in that viewport already
                self._children(target.children, self._within(inner, target, {}))
                return
        self._draw(target, inner)

    def _instance(self, node: Node, here: _Context, own: Mapping[str, str]) -> ShapeInstance:
        values = with_style(node.attributes, own) if own else node.attributes
        return ShapeInstance(node, here.at, here.uses, values, here.lengths)

    def _shape(self, node: Node, here: _Context, own: Mapping[str, str]) -> None:
        if abs(here.at.determinant) < VANISHING:
            self._count("flattened shape", node)
            return
        instance = self._instance(node, here, own)
        parts = path_commands_of(node.tag, instance.values, here.lengths, self.markup.name)
        if not parts:
            self._count("shape without size", node)
            return
        element = len(self.instances)
        if element % TELL_EACH == 0:
            self._tell(f"{self.markup.name}: {element} shapes read …")
        self.instances.append(instance)  # its parts would take much memory
        named = [n for n in (node.get("class"), here.label.lower()) if n in self._left_aside]
        traces = self.asides if named else self.traces
        mark = "/".join((here.label, node.get("class"), here.colour, node.get("style")))
        mark = named[0] if named else mark
        for run in subpaths(parts):
            edges: list[Segment] = []
            numbers: list[int] = []
            start = here.at(parts[run[0]].start)
            for number in run:
                made = segments(parts[number], here.at, start)
                if made:
                    edges += made
                    numbers += [number] * len(made)
                    start = made[-1].end
            if edges:
                traces.append(DrawnPath(element, tuple(edges), numbers, mark))
                self._edges += len(edges)
        if self._edges > MOST_EDGES:
            raise repeats_too_often(self.markup.name)

    def _text(self, node: Node, here: _Context, own: Mapping[str, str]) -> None:
        """Read a text and the spans in it that stand for themselves, as strokes of ours."""
        lengths = here.lengths
        x, y = lengths.of(node.attributes, "x"), lengths.of(node.attributes, "y")
        for part, inner in self._spans(node, here, own):
            x = inner.lengths.of(part.attributes, "x", x)
            y = inner.lengths.of(part.attributes, "y", y)
            y += inner.lengths.of(part.attributes, "dy") if part is not node else 0.0
            size = inner.lengths.font_size
            there = here.at.compose(Affine(d=-1.0, e=x, f=y))
            if not part.text.strip() or size <= 0 or abs(there.determinant) < VANISHING:
                continue
            if inner.style[0] in _INVISIBLE:
                self._count("hidden", part)
                continue
            share = _ANCHORS.get(inner.style[3], 0.0)
            mark = "/".join((here.label, part.get("class"), inner.colour, TEXT))
            for edges in text_strokes(part.text, CAPITAL * size, there, share):
                self.asides.append(DrawnPath(-1, edges, range(len(edges)), mark))
        self._count("text", node)

    def _spans(
        self, node: Node, here: _Context, own: Mapping[str, str]
    ) -> Iterator[tuple[Node, _Context]]:
        yield node, here
        for child in node.children:
            styled = self._styles.own(child)
            if child.tag == "tspan" and styled.get("display", child.get("display")) != "none":
                yield child, self._within(here, child, styled)

    def _not_known(self, node: Node) -> None:
        """Tell of an element that is not drawn because nobody knows what it is."""
        if _holds_shapes(node):
            self._count(f"element that is not understood (“{node.tag[:30]}”)", node)


def _is_other(node: Node) -> bool:
    """Return whether an element is drawn and is neither a group nor a shape."""
    return node.tag in ("use", "text") or node.tag in _ASIDES


def _holds_shapes(node: Node) -> bool:
    return any(each.tag.rpartition(":")[2] in SHAPES for each in node.walk())


def _is_wanted(node: Node) -> bool:
    """Return whether a program that knows SVG and nothing else draws an element (SVG 2, 5.10).

    The language is English, because the file itself cannot say whose it is.
    """
    extensions, language = node.attributes.get("requiredExtensions"), node.get("systemLanguage")
    if extensions is not None and not (
        extensions.split() and _EXTENSIONS.issuperset(extensions.split())
    ):
        return False
    if "systemLanguage" not in node.attributes:
        return True
    return any(each.strip().lower().partition("-")[0] == "en" for each in language.split(","))
