"""DXF drawings, R12 to 2018: read by ezdxf, and written again with changed edges.

Blocks are followed. Entities keep their handles, layers, colours and order. A file without changes
comes back byte for byte.
"""

import io
import logging
import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import isclose

from ezdxf import recover, units
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.insert import Insert
from ezdxf.enums import InsertUnits
from ezdxf.lldxf.const import DXFError
from ezdxf.math import Matrix44

from anzel.core.tolerances import COINCIDENT, ROUNDING, VANISHING
from anzel.drawings.affine import Affine, scaling
from anzel.drawings.dxf.entities import Change, entity_edges, set_entity_edges, transformed
from anzel.drawings.model import (
    MOST_EDGES,
    MOST_REPEATS,
    OURS,
    TELL_EACH,
    UNITS,
    Changes,
    Drawing,
    DrawingError,
    DrawnPath,
    IgnoredItems,
    Tell,
    Units,
    UnitSource,
    check_extent,
    no_progress,
    repeats_too_often,
)  # fmt: skip
from anzel.geometry.segments import Segment, with_end_points

_DEEPEST = 20
_REPAIR = re.compile(r'recovered invalid [a-z ]* value "(.*)" near line (\d+) as "(.*)"')
_MIRRORED = Affine(a=-1.0)
"""The object coordinates of an entity that is seen from below (extrusion 0, 0, -1)."""
_WORDS = {
    "TEXT": "text", "MTEXT": "text", "ATTRIB": "text", "ATTDEF": "text", "HATCH": "hatch",
    "IMAGE": "picture", "DIMENSION": "dimension", "POINT": "point", "LEADER": "leader",
}  # fmt: skip
Chain = tuple[Insert, ...]


@dataclass(frozen=True, eq=False)
class EntityInstance:
    """An entity where it is drawn: its map to mm, and the inserts through which it was reached."""

    entity: DXFGraphic
    at: Affine
    inserts: Chain


class DxfContent:
    """Everything drawn in a document."""

    def __init__(
        self, document: Document, at: Affine, name: str, tell: Tell = no_progress,
        *, left_aside: frozenset[str] = OURS,
    ) -> None:  # fmt: skip
        self.name = name
        self._left_aside = left_aside
        self._tell = tell
        self.instances: list[EntityInstance] = []
        self.traces: list[DrawnPath] = []
        self.counts: Counter[str] = Counter()
        self._edges = self._inserts = 0
        self._off = {
            layer.dxf.name.lower() for layer in document.layers
            if layer.is_off() or layer.is_frozen()
        }  # fmt: skip
        self._draw(document.modelspace(), at, ())
        check_extent(self.traces, name)

    def _draw(self, entities: Iterable[object], at: Affine, inserts: Chain) -> None:
        for entity in entities:
            if not isinstance(entity, DXFGraphic):
                continue
            layer = str(entity.dxf.layer)
            if layer.lower() in self._off or entity.dxf.get("invisible", 0):
                self.counts["hidden"] += 1
            elif layer in self._left_aside:
                self.counts["engraved line"] += 1
            elif isinstance(entity, Insert):
                self._insert(entity, at, inserts)
            else:
                self._entity(entity, at, inserts)

    def _insert(self, insert: Insert, at: Affine, inserts: Chain) -> None:
        self._inserts += max(insert.mcount, 1)
        if self._inserts > MOST_REPEATS:
            raise repeats_too_often(self.name)
        block = insert.block()
        if (
            block is None
            or len(inserts) >= _DEEPEST
            or any(each.dxf.name == insert.dxf.name for each in inserts)
        ):
            self.counts["unresolved reference"] += 1
            return
        for each in insert.multi_insert() if insert.mcount > 1 else (insert,):
            inner = at.compose(_flat(each.matrix44()))
            if abs(inner.determinant) < VANISHING:
                self.counts["flattened shape"] += 1
            else:
                self._draw(block, inner, (*inserts, insert))

    def _entity(self, entity: DXFGraphic, at: Affine, inserts: Chain) -> None:
        found = entity_edges(entity)
        if found is None:
            kind = entity.dxftype()
            self.counts[_WORDS.get(kind, kind.lower())] += 1
            return
        extrusion = entity.dxf.get("extrusion", (0, 0, 1))
        if abs(extrusion[0]) > ROUNDING or abs(extrusion[1]) > ROUNDING:
            self.counts["tilted shape"] += 1
            return
        if extrusion[2] < 0 and entity.dxftype() not in ("LINE", "ELLIPSE", "SPLINE"):
            at = at.compose(_MIRRORED)
        element = len(self.instances)
        if element % TELL_EACH == 0:
            self._tell(f"{self.name}: {element} shapes read …")
        self.instances.append(EntityInstance(entity, at, inserts))
        edges: list[Segment] = []
        numbers: list[int] = []
        for segment, number in zip(*found, strict=True):
            made = transformed(segment, at)
            edges += made
            numbers += [number] * len(made)
        if edges:
            label = f"{entity.dxf.layer}/{entity.dxf.get('color', 256)}"
            self.traces.append(DrawnPath(element, tuple(edges), numbers, label))
        self._edges += len(edges)
        if self._edges > MOST_EDGES:
            raise repeats_too_often(self.name)


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
    document = _loaded(content, name)
    unit = _units(document, wanted)
    reading = _read(document, scaling(unit.millimetres * scale), name, tell)
    asides = tuple(IgnoredItems(what, count) for what, count in sorted(reading.counts.items()))
    source = DxfSource(content, name, unit, scale)
    return Drawing(name, tuple(reading.traces), unit, asides, source)


def document_content(
    content: bytes, name: str, *, left_aside: frozenset[str]
) -> tuple[Document, DxfContent]:
    """Return a DXF document and everything drawn in it, in mm.

    Raises
    ------
    DrawingError
    """
    document = _loaded(content, name)
    at = scaling(_units(document, None).millimetres)
    return document, _read(document, at, name, left_aside=left_aside)


def _read(
    document: Document, at: Affine, name: str, tell: Tell = no_progress,
    *, left_aside: frozenset[str] = OURS,
) -> DxfContent:  # fmt: skip
    try:
        return DxfContent(document, at, name, tell, left_aside=left_aside)
    except (DXFError, ArithmeticError, LookupError, TypeError, ValueError) as error:
        raise _unreadable(name) from error


def _loaded(content: bytes, name: str) -> Document:
    repairs = _Repairs()
    logger = logging.getLogger("ezdxf")
    logger.addHandler(repairs)
    try:
        document, _ = recover.read(io.BytesIO(content))
    except Exception as error:  # ezdxf's own errors, and Python's for garbled text
        raise _unreadable(name) from error
    finally:
        logger.removeHandler(repairs)
    if repairs.guessed:
        text, line = repairs.guessed[0]
        raise DrawingError(
            f"{name} has a number that cannot be read, near line {line}: “{text[:30]}”.",
            hint="Open it in the program it came from and write it anew as DXF.",
        )
    return document


class _Repairs(logging.Handler):
    """A log handler that records the numbers that ezdxf guessed. ezdxf only logs them."""

    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.guessed: list[tuple[str, str]] = []

    def emit(self, record: logging.LogRecord) -> None:
        found = _REPAIR.search(record.getMessage())
        if found and not _is_number(found[1], found[3]):
            self.guessed.append((found[1], found[2]))


def _is_number(text: str, taken: str) -> bool:
    """Return whether a text means the number that it was read as."""
    try:
        return isclose(float(text), float(taken), rel_tol=VANISHING)
    except ValueError:
        return False


def _unreadable(name: str) -> DrawingError:
    repair = "Open it in the program it came from and write it anew as DXF."
    return DrawingError(f"{name} cannot be read as DXF.", hint=repair)


def _units(document: Document, wanted: str | None) -> Units:
    if wanted is not None:
        return Units(wanted, UNITS[wanted], UnitSource.ASKED)
    if document.units == InsertUnits.Unitless:
        return Units("mm", 1.0, UnitSource.GUESS)
    if document.units not in set(InsertUnits):
        return Units("mm", 1.0, UnitSource.GUESS)
    kind = InsertUnits(document.units)
    size = float(units.conversion_factor(kind, InsertUnits.Millimeters))
    name = {InsertUnits.Millimeters: "mm", InsertUnits.Inches: "in"}.get(kind, kind.name.lower())
    return Units(name, size, UnitSource.FILE)


def _flat(matrix: Matrix44) -> Affine:
    x, y, e = matrix.ux, matrix.uy, matrix.origin
    return Affine(x.x, x.y, y.x, y.y, e.x, e.y)


@dataclass(frozen=True, eq=False)
class DxfSource:
    """The file of a DXF drawing.

    It is loaded again to be written, because ezdxf changes documents in place.
    """

    content: bytes
    name: str
    units: Units
    scale: float

    def written(self, drawing: Drawing, changes: Changes) -> bytes:
        """Return the file's content with some edges changed.

        Everything else stays as it was.
        """
        if not changes and self.scale == 1:
            return self.content
        document = _loaded(self.content, self.name)
        reading = _read(document, scaling(self.units.millimetres * self.scale), self.name)
        edits: dict[DXFGraphic, dict[Chain, dict[int, list[Change]]]] = defaultdict(dict)
        for index, edges in changes.items():
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
            raise _unreadable(self.name) from error
        return stream.getvalue().encode(document.output_encoding, "dxfreplace")


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


Edits = dict[DXFGraphic, dict[Chain, dict[int, list[Change]]]]


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
