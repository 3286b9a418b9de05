"""SVG drawings: read, and written again with some edges changed and every other byte as it was."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from anzel.drawings.model import ChangedPath, Drawing, Tell, Units, no_progress
from anzel.drawings.svg.element_edits import Change, ElementEdit, element_edit
from anzel.drawings.svg.markup import Markup, Node
from anzel.drawings.svg.reader import ShapeInstance, SvgContent
from anzel.drawings.svg.use_expansion import UseExpansion
from anzel.geometry.rigid_transform import Point

_Uses = tuple[Node, ...]


def read_svg(
    content: bytes,
    name: str,
    units: str | None = None,
    scale: float = 1.0,
    tell: Tell = no_progress,
) -> Drawing:
    """Return the drawing in an SVG file, `scale` times as large.

    Raises
    ------
    DrawingError
    """
    return _drawing(Markup(content, name), units, scale, tell)


def _drawing(markup: Markup, units: str | None, scale: float, tell: Tell) -> Drawing:
    found = SvgContent(markup, units, scale, tell)
    source = SvgSource(markup, found.instances, found.shifts, scale)
    return Drawing(
        markup.name, tuple(found.traces), found.units, found.ignored_items, source, y_down=True,
        asides=tuple(found.asides),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class SvgSource:
    """The file an SVG drawing came from."""

    markup: Markup
    instances: list[ShapeInstance]
    shifts: Mapping[Node, Point]
    scale: float

    def written(self, drawing: Drawing, changes: Iterable[ChangedPath]) -> bytes:
        """Return the file's content with some edges changed.

        Everything else stays as it was.
        """
        edits: dict[Node, dict[_Uses, ElementEdit]] = defaultdict(dict)
        for element, edges in _by_element(drawing, changes):
            instance = self.instances[element]
            edits[instance.node][instance.uses] = element_edit(instance, edges, self.markup.name)
        drawn: dict[Node, list[_Uses]] = defaultdict(list)
        for each in self.instances:
            if each.node in edits:
                drawn[each.node].append(each.uses)
        shared: dict[Node, ElementEdit] = {}
        own: dict[tuple[Node, _Uses], ElementEdit] = {}
        for node, wanted in edits.items():
            every = {uses: wanted.get(uses, ElementEdit()) for uses in drawn[node]}
            shared[node] = every.get((), _most_common(every))
            own.update(((node, uses), edit) for uses, edit in every.items() if edit != shared[node])
        return UseExpansion(self.markup, shared, own, self.shifts).written(self.scale)

    def in_units(self, drawing: Drawing, units: Units) -> Drawing:
        """Return the drawing with another length of its unit, read from its elements again."""
        again = _drawing(self.markup, units.name, self.scale, no_progress)
        return replace(again, units=units)


def _by_element(
    drawing: Drawing, changes: Iterable[ChangedPath]
) -> Iterator[tuple[int, dict[int, list[Change]]]]:
    """Yield, for each changed element, the old and new edges of each changed part."""
    for element, own in groupby(changes, key=lambda each: drawing.paths[each[0]].element):
        found: dict[int, list[Change]] = defaultdict(list)
        for index, edges in own:
            path = drawing.paths[index]
            rows = list(zip(path.part_numbers, path.segments, edges, strict=True))
            changed = {number for number, old, new in rows if old != new}
            for number, old, new in rows:
                if number in changed:
                    found[number].append((old, new))
        if found:
            yield element, found


def _most_common(every: Mapping[_Uses, ElementEdit]) -> ElementEdit:
    kinds: Sequence[ElementEdit] = list(every.values())
    return max(kinds, key=kinds.count)
