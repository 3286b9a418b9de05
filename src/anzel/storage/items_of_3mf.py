"""How many bodies a 3MF file builds (3MF Core Specification, 3.4 and 4.2).

An object may consist of others, again and again, so a short file can stand for any number of them.
"""

from collections import defaultdict
from io import BytesIO
from xml.etree import ElementTree


def items_of_3mf(model: bytes) -> int:
    """Return how many bodies the items of a model part come to.

    Raises ParseError for markup that is none, and ValueError for objects that hold themselves.
    """
    components: dict[str, list[str]] = defaultdict(list)
    items, current = [], ""
    for event, element in ElementTree.iterparse(BytesIO(model), events=("start", "end")):
        kind = element.tag.rpartition("}")[2]
        if event == "start" and kind == "object":
            current = element.get("id", "")
        elif event == "start" and kind == "component":
            components[current].append(element.get("objectid", ""))
        elif event == "start" and kind == "item":
            items.append(element.get("objectid", ""))
        elif event == "end":
            element.clear()
    bodies = _bodies(components)
    return sum(bodies.get(each, 1) for each in items)


def _bodies(components: dict[str, list[str]]) -> dict[str, int]:
    """Return how many bodies each object with components comes to."""
    from networkx import DiGraph, NetworkXUnfeasible, topological_sort  # takes a while to load

    graph = DiGraph((own, part) for own, parts in components.items() for part in parts)
    found: dict[str, int] = {}
    try:
        for each in reversed(list(topological_sort(graph))):
            parts = components.get(each, [])
            found[each] = sum(found.get(part, 1) for part in parts) if parts else 1
    except NetworkXUnfeasible as error:
        raise ValueError("an object holds itself") from error
    return found
