"""DXF drawings, R12 to 2018: read by ezdxf, and written again with changed edges.

Blocks are followed. Entities keep their handles, layers, colours and order. A file without changes
comes back byte for byte.
"""

import io
import logging
import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from math import cos, isclose, radians, sin

from ezdxf import recover, units
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.insert import Insert
from ezdxf.entities.mtext import MText
from ezdxf.entities.text import Text
from ezdxf.enums import InsertUnits
from ezdxf.filemanagement import dxf_stream_info
from ezdxf.filemanagement import read as read_document
from ezdxf.lldxf.const import DXFError
from ezdxf.math import Matrix44

from anzel.core.tolerances import ROUNDING, VANISHING
from anzel.drawings.affine import Affine, scaling
from anzel.drawings.dxf.entities import entity_edges, transformed
from anzel.drawings.model import (
    MOST_EDGES,
    MOST_REPEATS,
    OURS,
    TELL_EACH,
    UNITS,
    DrawingError,
    DrawnPath,
    Tell,
    Units,
    UnitSource,
    check_extent,
    no_progress,
    repeats_too_often,
)  # fmt: skip
from anzel.drawings.text_strokes import TEXT, text_strokes
from anzel.geometry.segments import Segment

_DEEPEST = 20
_REPAIR = re.compile(r'recovered invalid [a-z ]* value "(.*)" near line (\d+) as "(.*)"')
_AS_IT_IS = Affine()
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
        self.asides: list[DrawnPath] = []
        self.counts: Counter[str] = Counter()
        self._edges = self._inserts = 0
        self._off = {
            layer.dxf.name.lower() for layer in document.layers
            if layer.is_off() or layer.is_frozen()
        }  # fmt: skip
        self._draw(document.modelspace(), at, ())
        check_extent([*self.traces, *self.asides], name)

    def _draw(self, entities: Iterable[object], at: Affine, inserts: Chain) -> None:
        for entity in entities:
            if not isinstance(entity, DXFGraphic):
                continue
            layer = str(entity.dxf.layer)
            if layer.lower() in self._off or entity.dxf.get("invisible", 0):
                self.counts["hidden"] += 1
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

    def _text(self, entity: DXFGraphic, at: Affine) -> None:
        """Read an entity that is a text as strokes of ours, too."""
        if entity.dxftype() not in ("TEXT", "MTEXT"):
            return
        is_long = isinstance(entity, MText)
        text = entity.plain_text() if isinstance(entity, Text | MText) else ""
        height = float(entity.dxf.get("char_height" if is_long else "height", 0.0))
        x, y, *_ = entity.dxf.get("insert", (0.0, 0.0, 0.0))
        turn = radians(float(entity.dxf.get("rotation", 0.0)))
        if height <= 0 or abs(at.determinant) < VANISHING:
            return
        for number, line in enumerate(str(text).splitlines()):
            low = -1.6 * height * number - (height if is_long else 0.0)
            c, s = cos(turn), sin(turn)
            there = at.compose(Affine(c, s, -s, c, x - s * low, y + c * low))
            mark = f"{entity.dxf.layer}/{TEXT}"
            for edges in text_strokes(line, height, there):
                self.asides.append(DrawnPath(-1, edges, range(len(edges)), mark))

    def _entity(self, entity: DXFGraphic, at: Affine, inserts: Chain) -> None:
        found = entity_edges(entity)
        if found is None:
            self._text(entity, at)
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
        if at == _AS_IT_IS:
            edges, numbers = found
        else:
            for segment, number in zip(*found, strict=True):
                made = transformed(segment, at)
                edges += made
                numbers += [number] * len(made)
        if edges:
            layer = str(entity.dxf.layer)
            is_aside = layer in self._left_aside
            label = layer if is_aside else f"{layer}/{entity.dxf.get('color', 256)}"
            traces = self.asides if is_aside else self.traces
            traces.append(DrawnPath(element, tuple(edges), numbers, label))
        self._edges += len(edges)
        if self._edges > MOST_EDGES:
            raise repeats_too_often(self.name)


def document_content(
    content: bytes, name: str, *, left_aside: frozenset[str]
) -> tuple[Document, DxfContent]:
    """Return a DXF document and everything drawn in it, in mm.

    Raises
    ------
    DrawingError
    """
    document = load_document(content, name)
    at = scaling(units_of(document, None).millimetres)
    return document, drawn_in(document, at, name, left_aside=left_aside)


def drawn_in(
    document: Document, at: Affine, name: str, tell: Tell = no_progress,
    *, left_aside: frozenset[str] = OURS,
) -> DxfContent:  # fmt: skip
    """Return everything drawn in a document, mapped by `at`."""
    try:
        return DxfContent(document, at, name, tell, left_aside=left_aside)
    except (DXFError, ArithmeticError, LookupError, TypeError, ValueError) as error:
        raise unreadable(name) from error


def load_document(content: bytes, name: str) -> Document:
    """Return a file's content as a document.

    Raises
    ------
    DrawingError
    """
    try:
        return _as_written(content)
    except Exception:  # whatever is wrong with it, the slower way finds out, and mends what it can
        return _mended(content, name)


def _as_written(content: bytes) -> Document:
    """Return a sound text file as a document: half the work of mending one."""
    head = io.TextIOWrapper(io.BytesIO(content), encoding="cp1252", errors="replace")
    encoding = dxf_stream_info(head).encoding
    text = io.TextIOWrapper(io.BytesIO(content), encoding=encoding, errors="surrogateescape")
    return read_document(text)


def _mended(content: bytes, name: str) -> Document:
    repairs = _Repairs()
    logger = logging.getLogger("ezdxf")
    logger.addHandler(repairs)
    try:
        document, _ = recover.read(io.BytesIO(content))
    except Exception as error:  # ezdxf's own errors, and Python's for garbled text
        raise unreadable(name) from error
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


def unreadable(name: str) -> DrawingError:
    """Return the error for a file that is not DXF."""
    repair = "Open it in the program it came from and write it anew as DXF."
    return DrawingError(f"{name} cannot be read as DXF.", hint=repair)


def units_of(document: Document, wanted: str | None) -> Units:
    """Return the unit of a document, or the wanted one."""
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
