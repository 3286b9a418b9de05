"""The markup of an SVG file: its elements with their places in the text.

The places allow a few attributes to be changed while every other byte stays. Entities that stand
for markup, for files or for one another are refused: a few lines of them can grow to gigabytes. The
file is parsed by expat, which needs no network and never follows a reference.
"""

import codecs
import re
from collections.abc import Iterator, Mapping
from xml.parsers import expat
from xml.sax.saxutils import escape

from anzel.drawings.model import DrawingError

_DEEPEST = 200
_LONGEST_ENTITY = 300
_MOST_ENTITIES = 100
_MEND = "Open it in the program it came from and write it anew as plain SVG."
_DECLARED = re.compile(rb"""<\?xml[^>]*\bencoding\s*=\s*["']([A-Za-z0-9._-]+)["']""")
_CHARACTERS = re.compile(
    r"ascii|iso8859-\d+|cp\d+|koi8-[ru]|mac-\w+|euc_\w+|shift\w+|gb\w+|big5\w*"
)
"""Codecs in which every markup character is the ASCII one. Others that Python knows are no sets of
characters, or mean something else by these bytes."""
_ATTRIBUTE = re.compile(r"""([^\s=/<>"']+)\s*=\s*("[^"]*"|'[^']*')""")
_NAME = re.compile(r"<[^\s/>]+")
_START_TAG = re.compile(rb"""[^"'>]*(?:"[^"]*"[^"'>]*|'[^']*'[^"'>]*)*>""")


_WITH_TEXT = ("style", "text", "tspan")


class Node:
    """One element.

    Its name, which has a prefix only if it is no element of SVG, its attributes with their
    prefixes, the start of its tag, and its children.
    """

    __slots__ = ("attributes", "children", "end", "offset", "parent", "tag", "text")

    def __init__(
        self, tag: str, attributes: dict[str, str], offset: int, parent: "Node | None"
    ) -> None:
        self.tag = tag
        self.attributes = attributes
        self.offset = offset
        self.end = offset
        self.parent = parent
        self.children: list[Node] = []
        self.text = ""

    def get(self, name: str, otherwise: str = "") -> str:
        """Return the value of an attribute."""
        return self.attributes.get(name, otherwise)

    def get_local(self, name: str) -> str:
        """Return the value of an attribute by its local name, in any namespace.

        "" where there is none.
        """
        found = (v for key, v in self.attributes.items() if key.rpartition(":")[2] == name)
        return next(found, "")

    def walk(self) -> Iterator["Node"]:
        """Yield the element and all its descendants in document order."""
        stack = [self]
        while stack:
            node = stack.pop()
            yield node
            stack.extend(reversed(node.children))


class Markup:
    """The text of a file and its tree of elements.

    Raises DrawingError.
    """

    def __init__(self, content: bytes, name: str) -> None:
        self.name = name
        self.codec = _codec(content)
        try:
            text = content.decode(self.codec)
        except UnicodeError as error:
            raise DrawingError(f"{name} is not text in {self.codec}.", hint=_MEND) from error
        self.content = text.encode("utf-8")
        self.root = self._parsed()

    def _parsed(self) -> Node:
        reader = _Reader(self.name)
        try:
            return reader.read(self.content)
        except expat.ExpatError as error:
            where = f"line {error.lineno}"
            raise DrawingError(
                f"{self.name} is not well-formed SVG ({where}).", hint=_MEND
            ) from error

    def encoded(self, content: bytes) -> bytes:
        """Return UTF-8 text in the encoding of the file."""
        if self.codec == "utf-8":
            return content
        return content.decode("utf-8").encode(self.codec, "xmlcharrefreplace")


class _Reader:
    """Builds the tree from expat's events."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.parser = expat.ParserCreate("utf-8")
        self.parser.buffer_text = True
        self.parser.StartElementHandler = self._start
        self.parser.EndElementHandler = self._end
        self.parser.CharacterDataHandler = self._text
        self.parser.EntityDeclHandler = self._entity
        self.root: Node | None = None
        self.open: list[Node] = []
        self.spaces: list[dict[str, str]] = []
        """For each open element, the namespaces that prefixes stand for."""
        self.own_space: str | None = None
        self.entities = 0

    def read(self, content: bytes) -> Node:
        self.parser.Parse(content, True)
        if self.root is None or self.root.tag != "svg":
            raise DrawingError(f"{self.name} is not an SVG drawing.")
        return self.root

    def _start(self, tag: str, attributes: dict[str, str]) -> None:
        parent = self.open[-1] if self.open else None
        prefix, _, local = tag.rpartition(":")
        space = self._entered(attributes).get(prefix)
        if parent is None:
            self.own_space = space
        name = local if space == self.own_space else f"{prefix or 'other'}:{local}"
        node = Node(name, attributes, self.parser.CurrentByteIndex, parent)
        if parent is None:
            self.root = node
        else:
            parent.children.append(node)
        self.open.append(node)
        if len(self.open) > _DEEPEST:
            raise DrawingError(
                f"{self.name} nests its groups more than {_DEEPEST} deep.", hint=_MEND
            )

    def _entered(self, attributes: Mapping[str, str]) -> dict[str, str]:
        """Return the namespaces of prefixes within an element ("" is the default)."""
        around = self.spaces[-1] if self.spaces else {}
        own = {
            name.partition(":")[2]: value
            for name, value in attributes.items() if name.startswith("xmlns")
        } if "xmlns" in "".join(attributes) else {}  # fmt: skip
        self.spaces.append({**around, **own} if own else around)
        return self.spaces[-1]

    def _end(self, _tag: str) -> None:
        self.spaces.pop()
        self.open.pop().end = self.parser.CurrentByteIndex

    def _text(self, text: str) -> None:
        if self.open and self.open[-1].tag in _WITH_TEXT:
            self.open[-1].text += text

    def _entity(
        self, name: str, is_parameter: bool, value: str | None, *_outside: str | None
    ) -> None:
        self.entities += 1
        bounded = value is not None and len(value) <= _LONGEST_ENTITY
        if is_parameter or not bounded or "&" in (value or "") or "<" in (value or ""):
            raise DrawingError(f"{self.name} declares an entity, “{name}”, that is not safe.")
        if self.entities > _MOST_ENTITIES:
            raise DrawingError(f"{self.name} declares more entities than any drawing needs.")


def _codec(content: bytes) -> str:
    """Return Python's name of the encoding, from the byte order mark or the declaration."""
    if content.startswith((codecs.BOM_UTF32_LE, codecs.BOM_UTF32_BE)):
        return "utf-32"
    if content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    declared = _DECLARED.match(content.removeprefix(codecs.BOM_UTF8))
    if declared is None:
        return "utf-8"
    try:
        found = codecs.lookup(declared[1].decode("ascii")).name
    except LookupError:
        return "utf-8"
    return found if _CHARACTERS.fullmatch(found) else "utf-8"


def tag_end(content: bytes, start: int) -> int:
    """Return where a start tag ends: after the first > outside quotes."""
    found = _START_TAG.match(content, start)
    return found.end() if found else len(content)


def edited_tag(tag: str, changes: Mapping[str, str | None], renamed: str | None) -> str:
    """Return a start tag with changed attributes in their places and new ones at its end."""
    left = dict(changes)

    def put(match: "re.Match[str]") -> str:
        if match[1] not in left:
            return match[0]
        value = left.pop(match[1])
        quote = match[2][0]
        return "" if value is None else f"{match[1]}={quote}{escape(value)}{quote}"

    head = _NAME.match(tag)
    cut = head.end() if head else 0
    start, rest = tag[:cut], tag[cut:]
    if renamed is not None:
        prefix, colon, _ = start[1:].rpartition(":")
        start = f"<{prefix}{colon}{renamed}"
    rest = _ATTRIBUTE.sub(put, rest)
    new = "".join(f' {name}="{escape(value)}"' for name, value in left.items() if value is not None)
    if not new:
        return start + rest
    close = "/>" if rest.endswith("/>") else ">"
    return start + rest.removesuffix(close).rstrip() + new + close
