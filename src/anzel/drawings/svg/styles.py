"""Styles of SVG elements as browsers apply them (CSS Cascade 4; Selectors 4; SVG 2, 6).

An element's own value of a property comes from its presentation attribute, the rules of style
sheets by specificity and order, its style attribute, and those of them that are important.
"""

from collections import Counter
from collections.abc import Iterator, Mapping
from functools import lru_cache

import cssselect2
import tinycss2

from anzel.drawings.model import DrawingError
from anzel.drawings.svg.markup import Node
from anzel.drawings.svg.selector_matching import TOO_MANY, Declarations, matched_rules

GEOMETRY = frozenset({"x", "y", "width", "height", "cx", "cy", "r", "rx", "ry", "d"})
"""Properties that are geometry, which a style sheet may set too (SVG 2, 10)."""
_READ = GEOMETRY | {
    "display", "visibility", "stroke", "fill", "font-size", "text-anchor", "transform", "clip-path",
    "mask",
}  # fmt: skip
_MOST_SELECTORS = 30_000
"""Each takes some 0.1 ms to read."""
_TOO_DEEP = DrawingError(
    "The drawing nests its styles too deep.", hint="Write it anew as plain SVG."
)
_SCREEN = frozenset({"", "all", "screen", "only screen"})


class Styles:
    """What the style sheets of a file say of its elements; `counts` holds what was not understood.

    Elements are known by their nodes. Raises DrawingError for styles nested too deep to be followed
    and for more rules than the elements can be held against in seconds.
    """

    def __init__(self, root: Node) -> None:
        self.counts: Counter[str] = Counter()
        try:
            self._rules = self._read_sheets(root)
        except RecursionError as error:
            raise _TOO_DEEP from error

    def _read_sheets(self, root: Node) -> dict[Node, Declarations]:
        sheets = [node for node in root.walk() if node.tag == "style"]
        if sum(sheet.text.count(mark) for sheet in sheets for mark in ",{") > _MOST_SELECTORS:
            raise TOO_MANY
        matcher = cssselect2.Matcher()
        count = 0
        for sheet in sheets:
            if sheet.get("type", "text/css") in ("", "text/css") and self._is_for_screen(
                sheet.get("media")
            ):
                count += self._add(matcher, sheet.text)
        return matched_rules(root, matcher, count) if count else {}

    def own(self, node: Node) -> dict[str, str]:
        """Return the properties that a style sets on an element itself, by name.

        Presentation attributes are not among them.
        """
        style = node.attributes.get("style")
        rules = self._rules.get(node, ())
        if not style and not rules:
            return {}
        try:
            inline = _declared(style) if style else ()
        except RecursionError as error:
            raise _TOO_DEEP from error
        found: dict[str, str] = {}
        for important in (False, True):
            for name, value, is_important in (*rules, *inline):
                if is_important is important:
                    found[name] = value
        return found

    def _add(self, matcher: cssselect2.Matcher, text: str) -> int:
        """Add the rules of a style sheet, and return how many there are."""
        count = 0
        for rule in self._style_rules(tinycss2.parse_stylesheet(text, True, True)):
            declarations = _read(tinycss2.parse_blocks_contents(rule.content))
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except RecursionError:
                raise
            except Exception:  # the library does not know all selectors, and fails in its own ways
                self.counts["rule of a style sheet that is not understood"] += 1
                continue
            for selector in selectors if declarations else ():
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, declarations)
                    count += 1
        return count

    def _style_rules(self, rules: list[tinycss2.ast.Node]) -> Iterator[tinycss2.ast.QualifiedRule]:
        for rule in rules:
            if rule.type == "qualified-rule":
                yield rule
            elif rule.type == "at-rule" and rule.lower_at_keyword == "media":
                if rule.content and self._is_for_screen(tinycss2.serialize(rule.prelude)):
                    inner = tinycss2.parse_rule_list(rule.content, True, True)
                    yield from self._style_rules(inner)
            elif rule.type == "at-rule" and rule.lower_at_keyword == "import":
                self.counts["style sheet in another file"] += 1
            elif rule.type == "error":
                self.counts["rule of a style sheet that is not understood"] += 1

    def _is_for_screen(self, media: str) -> bool:
        """Return whether one of some media queries holds for a screen of unknown size."""
        queries = [" ".join(query.lower().split()) for query in media.split(",")]
        if any("(" in query for query in queries):
            self.counts["rules for some screens only"] += 1
        return any(query in _SCREEN or query == "not print" for query in queries)


@lru_cache(maxsize=4096)
def _declared(style: str) -> Declarations:
    """Return the declarations of a style attribute that are of use here."""
    return _read(tinycss2.parse_blocks_contents(style))


def _read(content: list[tinycss2.ast.Node]) -> Declarations:
    return tuple(
        (each.lower_name, _text(each.value), each.important)
        for each in content
        if each.type == "declaration" and each.lower_name in _READ
    )


def _text(tokens: list[tinycss2.ast.Node]) -> str:
    text: str = tinycss2.serialize([each for each in tokens if each.type != "comment"])
    return text.strip()


def with_style(attributes: Mapping[str, str], own: Mapping[str, str]) -> Mapping[str, str]:
    """Return an element's attributes with the geometry that a style sets in their place."""
    set_ = {name: value for name, value in own.items() if name in GEOMETRY}
    if "d" in set_:
        set_["d"] = _path_of(set_["d"])
    return {**attributes, **set_} if set_ else attributes


def _path_of(value: str) -> str:
    """Return the path data of the CSS value path("…"), or nothing."""
    for token in tinycss2.parse_component_value_list(value, skip_comments=True):
        if token.type == "function" and token.lower_name == "path":
            return next((part.value for part in token.arguments if part.type == "string"), "")
    return ""
