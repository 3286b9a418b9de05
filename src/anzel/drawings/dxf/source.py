"""DXF drawings: read, and written again with some edges changed and everything else as it was."""

import io
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.insert import Insert
from ezdxf.lldxf.const import DXFError
from ezdxf.math import Matrix44

from anzel.core.tolerances import COINCIDENT
from anzel.drawings.affine import scaling
from anzel.drawings.dxf.entities import Change, entity_edges, set_entity_edges, transformed
from anzel.drawings.dxf.reader import (
    Chain,
    DxfContent,
    EntityInstance,
    drawn_in,
    load_document,
    units_of,
    unreadable,
)
from anzel.drawings.model import (
    ChangedPath,
    Drawing,
    DrawnPath,
    IgnoredItems,
    Tell,
    Units,
    no_progress,
)  # fmt: skip
from anzel.geometry.segments import Segment, with_end_points

Edits = dict[DXFGraphic, dict[Chain, dict[int, list[Change]]]]


def read_dxf(
    content: bytes,
    name: str,
    wanted: str | None = None,
    scale: float = 1.0,
    tell: Tell = no_progress,
) -> Drawing:
    """Return the drawing in a DXF file, `scale` times as large.

    Raises
    ------
    DrawingError
    """
    document = load_document(content, name)
    unit = units_of(document, wanted)
    reading = drawn_in(document, scaling(unit.millimetres * scale), name, tell)
    asides = tuple(IgnoredItems(what, count) for what, count in sorted(reading.counts.items()))
    source = DxfSource(content, name, unit, scale)
    return Drawing(name, tuple(reading.traces), unit, asides, source, asides=tuple(reading.asides))


@dataclass(frozen=True, eq=False)
class DxfSource:
    """The file of a DXF drawing.

    It is loaded again to be written, because ezdxf changes documents in place.
    """

    content: bytes
    name: str
    units: Units
    scale: float

    def written(self, drawing: Drawing, changes: Iterable[ChangedPath]) -> bytes:
        """Return the file's content with some edges changed.

        Everything else stays as it was.
        """
        changed = list(changes)
        if not changed and self.scale == 1:
            return self.content
        document = load_document(self.content, self.name)
        reading = drawn_in(document, scaling(self.units.millimetres * self.scale), self.name)
        edits: dict[DXFGraphic, dict[Chain, dict[int, list[Change]]]] = defaultdict(dict)
        for index, edges in changed:
            drawn_path = drawing.paths[index]
            instance = reading.instances[drawn_path.element]
            own = _own_changes(drawn_path, edges, instance)
            if own:
                edits[instance.entity][instance.inserts] = own
        _apply(document, reading, edits)
        if self.scale != 1:
            grown = Matrix44.scale(self.scale)
            for entity in document.modelspace():
                if isinstance(entity, DXFGraphic):
                    entity.transform(grown)
        stream = io.StringIO()
        try:
            document.write(stream)
        except (DXFError, ArithmeticError, LookupError, TypeError, ValueError) as error:
            raise unreadable(self.name) from error
        return stream.getvalue().encode(document.output_encoding, "dxfreplace")

    def in_units(self, drawing: Drawing, units: Units) -> Drawing:
        """Return the drawing with another length of its unit; the file is not parsed again."""
        at = scaling(units.millimetres / drawing.units.millimetres)

        def moved(paths: Sequence[DrawnPath]) -> tuple[DrawnPath, ...]:
            return tuple(
                replace(path, segments=tuple(transformed(s, at)[0] for s in path.segments))
                for path in paths
            )

        return replace(
            drawing, paths=moved(drawing.paths), asides=moved(drawing.asides), units=units,
            source=replace(self, units=units),
        )  # fmt: skip


def _own_changes(
    drawn_path: DrawnPath, edges: Sequence[Segment | None], instance: EntityInstance
) -> dict[int, list[Change]]:
    """Return the changed parts of an entity in its own units.

    Ends that did not move keep their last digit.
    """
    pairs = list(zip(drawn_path.part_numbers, drawn_path.segments, edges, strict=True))
    changed = {number for number, old, new in pairs if old != new}
    if not changed:
        return {}
    back = instance.at.inverse()
    written, _ = entity_edges(instance.entity) or ([], [])
    is_exact = len(written) == len(pairs)
    found: dict[int, list[Change]] = defaultdict(list)
    for at, (number, old, new) in enumerate(pairs):
        if number not in changed:
            continue
        was = written[at] if is_exact else transformed(old, back)[0]
        now = None if new is None else transformed(new, back)[0]
        if now is not None and new is not None:
            start = was.start if new.start == old.start else now.start
            now = with_end_points(now, start, was.end if new.end == old.end else now.end)
        found[number].append((was, now))
    return found


def _apply(document: Document, reading: DxfContent, edits: Edits) -> None:
    """Change entities in place.

    An insert whose block changes differently from the others gets a block of its own.
    """
    chains: dict[DXFGraphic, list[Chain]] = defaultdict(list)
    for each in reading.instances:
        if each.entity in edits and each.inserts not in chains[each.entity]:
            chains[each.entity].append(each.inserts)
    own: dict[Chain, list[tuple[DXFGraphic, dict[int, list[Change]]]]] = defaultdict(list)
    shared: list[tuple[DXFGraphic, dict[int, list[Change]]]] = []
    for entity, wanted in edits.items():
        every = [(chain, wanted.get(chain, {})) for chain in chains[entity]]
        common = max(every, key=lambda pair: sum(_alike(pair[1], o) for _, o in every))[1]
        shared.append((entity, common))
        for chain, edit in every:
            if chain and not _alike(edit, common):
                own[chain].append((entity, edit))
    blocks = _Blocks(document)
    copies = [
        (blocks.copy_of(entity, chain), edit)
        for chain, each in own.items()
        for entity, edit in each
    ]
    for entity, edit in (*shared, *copies):
        if edit and not set_entity_edges(entity, edit):
            layout = entity.get_layout()
            if layout is not None:
                layout.delete_entity(entity)


def _alike(one: dict[int, list[Change]], other: dict[int, list[Change]]) -> bool:
    """Return whether two changes of an entity, seen through two inserts, are the same."""
    if one.keys() != other.keys():
        return False
    return all(
        (a is None) == (b is None) and (a is None or b is None or _near(a, b))
        for number in one
        for (_, a), (_, b) in zip(one[number], other[number], strict=True)
    )


def _near(one: Segment, other: Segment) -> bool:
    ends = ((one.start, other.start), (one.end, other.end))
    return all(abs(p[0] - q[0]) + abs(p[1] - q[1]) < COINCIDENT for p, q in ends)


class _Blocks:
    """Copies of blocks for single inserts."""

    def __init__(self, document: Document) -> None:
        self.document = document
        self.copies: dict[Chain, dict[DXFGraphic, DXFGraphic]] = {}

    def copy_of(self, entity: DXFGraphic, chain: Chain) -> DXFGraphic:
        """Return the copy of an entity in the block that only the last insert of a chain shows."""
        insert = chain[-1]
        if len(chain) > 1:
            inner = self.copy_of(insert, chain[:-1])
            insert = inner if isinstance(inner, Insert) else insert
        if chain not in self.copies:
            self.copies[chain] = self._copied(insert)
        return self.copies[chain][entity]

    def _copied(self, insert: Insert) -> dict[DXFGraphic, DXFGraphic]:
        block = insert.block()
        if block is None or block.block is None:
            return {}
        name = next(self._names(str(insert.dxf.name)))
        made = self.document.blocks.new(name, base_point=block.block.dxf.base_point)
        pairs: dict[DXFGraphic, DXFGraphic] = {}
        for entity in block:
            if isinstance(entity, DXFGraphic):
                copy = self.document.entitydb.duplicate_entity(entity)
                if isinstance(copy, DXFGraphic):
                    made.add_entity(copy)
                    pairs[entity] = copy
        insert.dxf.name = name
        return pairs

    def _names(self, name: str) -> Iterator[str]:
        number = 2
        while True:
            if (candidate := f"{name}_{number}") not in self.document.blocks:
                yield candidate
            number += 1
