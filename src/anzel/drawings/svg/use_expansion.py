"""Write an SVG file whose parts are used several times.

A part that changes alike everywhere is changed once. A use that changes differently gets a copy of
its own in its place.
"""

import re
from collections.abc import Mapping
from xml.sax.saxutils import quoteattr

from anzel.drawings.svg.element_edits import ElementEdit, full_precision
from anzel.drawings.svg.lengths import pixels
from anzel.drawings.svg.markup import Markup, Node, edited_tag, tag_end
from anzel.drawings.svg.reader import HREFS
from anzel.geometry.rigid_transform import Point

_Uses = tuple[Node, ...]
_ID = re.compile(rb"""\s+id\s*=\s*("[^"]*"|'[^']*')""")


class UseExpansion:
    """The text of a file with edits.

    `shared` edits where an element is written, `own` edits where it is drawn through certain uses.
    `shifts` says how far each use moves what it shows, in its own units.
    """

    def __init__(
        self,
        markup: Markup,
        shared: Mapping[Node, ElementEdit],
        own: Mapping[tuple[Node, _Uses], ElementEdit],
        shifts: Mapping[Node, Point],
    ) -> None:
        self.shifts = shifts
        self.markup = markup
        self.shared = shared
        self.own = own
        self.opened = {uses[: i + 1] for _, uses in own for i in range(len(uses))}
        self.ids = {node.get("id"): node for node in markup.root.walk() if node.get("id")}
        self.touched = self._with_ancestors()

    def written(self, scale: float) -> bytes:
        """Return the whole file with its page `scale` times as large."""
        root = self.markup.root
        content = self.markup.content
        if not self.touched and scale == 1:
            return self.markup.encoded(content)
        stop = self._stop(root)
        text = content[: root.offset] + self._element(root, ()) + content[stop:]
        if scale != 1:
            end = tag_end(text, root.offset)
            tag = edited_tag(text[root.offset : end].decode(), _larger(root, scale), None)
            text = text[: root.offset] + tag.encode() + text[end:]
        return self.markup.encoded(text)

    def _with_ancestors(self) -> set[Node]:
        """Return the elements that are edited or expanded, and their ancestors."""
        found: set[Node] = set()
        for start in [*self.shared, *(uses[-1] for uses in self.opened)]:
            node: Node | None = start
            while node is not None and node not in found:
                found.add(node)
                node = node.parent
        return found

    def _element(self, node: Node, uses: _Uses) -> bytes:
        """Return the text of an element as it is drawn through these uses."""
        content = self.markup.content
        stop = self._stop(node)
        if not uses and node not in self.touched:
            return content[node.offset : stop]
        if node.tag == "use" and (*uses, node) in self.opened:
            return self._opened(node, uses)
        edit = self.own.get((node, uses), self.shared.get(node, ElementEdit()))
        end = tag_end(content, node.offset)
        tag = edited_tag(content[node.offset : end].decode(), edit.attributes, edit.tag)
        made = [tag.encode()]
        at = end
        for child in node.children:
            made += (content[at : child.offset], self._element(child, uses))
            at = self._stop(child)
        closing = content[at:stop]
        if edit.tag is not None and closing:
            closing = re.sub(rb"[^/:\s<>]+(?=\s*>$)", edit.tag.encode(), closing)
        return b"".join([*made, closing])

    def _opened(self, use: Node, uses: _Uses) -> bytes:
        """Return a use replaced by a copy of what it shows."""
        target = self.ids[next(use.get(n) for n in HREFS if use.get(n)).removeprefix("#")]
        inner = _ID.sub(b"", self._element(target, (*uses, use)))
        kept = {
            name: value
            for name, value in use.attributes.items()
            if name not in (*HREFS, "x", "y", "width", "height", "transform")
        }
        x, y = self.shifts[use]
        shift = f"translate({full_precision(x)} {full_precision(y)})" if x or y else ""
        if moves := " ".join(filter(None, (use.get("transform"), shift))):
            kept["transform"] = moves
        if target.tag == "symbol":
            inner = _as_svg(inner, use)
        words = "".join(f" {name}={quoteattr(value)}" for name, value in kept.items())
        prefix = self._prefix(use)
        return f"<{prefix}g{words}>".encode() + inner + f"</{prefix}g>".encode()

    def _prefix(self, node: Node) -> str:
        name = re.match(rb"<([^\s/>]*:)?", self.markup.content[node.offset : node.offset + 80])
        return name[1].decode() if name and name[1] else ""

    def _stop(self, node: Node) -> int:
        """Return where an element ends in the text."""
        content = self.markup.content
        end = tag_end(content, node.offset)
        if content[end - 2 : end] == b"/>":
            return end
        return content.index(b">", node.end) + 1


def _as_svg(symbol: bytes, use: Node) -> bytes:
    """Return the copy of a symbol as a nested viewport, which it is where it is used."""
    end = tag_end(symbol, 0)
    sizes = {name: use.get(name) for name in ("width", "height") if use.get(name)}
    tag = edited_tag(symbol[:end].decode(), sizes, "svg")
    return tag.encode() + re.sub(rb"symbol(?=\s*>$)", b"svg", symbol[end:])


def _larger(root: Node, scale: float) -> dict[str, str]:
    """Return the size of the page times a factor, with its content scaled."""
    made = {}
    for name in ("width", "height"):
        found = re.fullmatch(r"\s*([-+0-9.eE]+?)\s*([a-zA-Z]*|%)\s*", root.get(name))
        if found and found[2] != "%":
            made[name] = f"{float(found[1]) * scale:.9g}{found[2]}"
    if not root.get("viewBox") and len(made) == 2:
        made["viewBox"] = f"0 0 {pixels(root.get('width'))!r} {pixels(root.get('height'))!r}"
    if not made and (box := root.get("viewBox").replace(",", " ").split()):
        made = {"width": f"{float(box[2]) * scale:.9g}", "height": f"{float(box[3]) * scale:.9g}"}
    return made
