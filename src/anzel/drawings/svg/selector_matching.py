"""Which rules of style sheets match which elements (Selectors 4), within a bounded effort.

A selector of a few letters, such as `g g g g g`, can ask for every way down a deep drawing. So the
steps from element to element are counted, and too many of them are refused.
"""

from collections.abc import Iterator
from functools import cached_property
from typing import Any
from xml.etree import ElementTree

import cssselect2

from anzel.drawings.model import DrawingError
from anzel.drawings.svg.markup import Node

_MOST_STEPS = 3_000_000
"""Some seconds of matching."""
_STEPS_A_CHILD = 10
"""A step down makes the element it leads to."""
_SIBLINGS_A_STEP = 20
"""Siblings whose names are compared in the time that one step takes."""

TOO_MANY = DrawingError(
    "The drawing has far too many style rules for its elements.",
    hint="Write it anew as plain SVG, without style sheets.",
)
Declarations = tuple[tuple[str, str, bool], ...]
"""Names, values, and whether they are important."""


class _Effort:
    """The steps that are left."""

    def __init__(self) -> None:
        self._left = _MOST_STEPS

    def spend(self, steps: int) -> None:
        """Take some steps; raises DrawingError where too few are left."""
        self._left -= steps
        if self._left < 0:
            raise TOO_MANY


def matched_rules(root: Node, matcher: cssselect2.Matcher, rules: int) -> dict[Node, Declarations]:
    """Return what some rules say of each element they match, weakest first.

    Raises
    ------
    DrawingError
        Where that takes far more steps than any drawing needs.
    """
    twins: dict[ElementTree.Element, Node] = {}
    top = _twin(root, twins)
    effort = _Effort()
    wrapper = _counting(effort)
    found = {}
    for element in wrapper.from_xml_root(top).iter_subtree():
        effort.spend(rules)
        matches = sorted(matcher.match(element), key=lambda each: each[:2])
        if matches:
            every = tuple(each for *_, payload in matches for each in payload)
            found[twins[element.etree_element]] = every
    return found


def _counting(effort: _Effort) -> type[cssselect2.ElementWrapper]:
    """Return a kind of element that counts the steps from it to others."""

    class Siblings(list[ElementTree.Element]):
        def __iter__(self) -> Iterator[ElementTree.Element]:
            effort.spend(len(self) // _SIBLINGS_A_STEP)
            return super().__iter__()

        def __getitem__(self, at: Any) -> Any:  # noqa: ANN401  (an element, or a list of them)
            effort.spend(len(self) // _SIBLINGS_A_STEP)
            return super().__getitem__(at)

    class Counting(cssselect2.ElementWrapper):  # type: ignore[misc]
        @cached_property
        def etree_children(self) -> list[ElementTree.Element]:
            return Siblings(self.etree_element)

        @property
        def ancestors(self) -> Iterator[Any]:
            return self._chain("parent")

        @property
        def previous_siblings(self) -> Iterator[Any]:
            return self._chain("previous")

        def iter_children(self) -> Iterator[Any]:
            for child in super().iter_children():
                effort.spend(_STEPS_A_CHILD)
                yield child

        def _chain(self, link: str) -> Iterator[Any]:
            element = getattr(self, link)
            while element is not None:
                effort.spend(1)
                yield element
                element = getattr(element, link)

    return Counting


def _twin(root: Node, twins: dict[ElementTree.Element, Node]) -> ElementTree.Element:
    """Return the tree of elements as the library of selectors wants it."""
    top = ElementTree.Element(root.tag, root.attributes)
    twins[top] = root
    stack = [(root, top)]
    while stack:
        node, element = stack.pop()
        for child in node.children:
            made = ElementTree.SubElement(element, child.tag, child.attributes)
            twins[made] = child
            stack.append((child, made))
    return top
