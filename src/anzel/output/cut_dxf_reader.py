"""Outlines of a DXF file in mm, read by ezdxf.

Circles, polylines with bulges, and chains of lines, arcs and splines that follow one another end to
end.
"""

import io
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from itertools import pairwise
from math import hypot

from ezdxf import units
from ezdxf.colors import aci2rgb
from ezdxf.document import Drawing
from ezdxf.entities.arc import Arc as DxfArc
from ezdxf.entities.circle import Circle
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.line import Line as DxfLine
from ezdxf.entities.lwpolyline import LWPolyline
from ezdxf.entities.polyline import Polyline
from ezdxf.entities.spline import Spline
from ezdxf.enums import InsertUnits
from ezdxf.filemanagement import dxf_stream_info, read
from ezdxf.math import UVec, bulge_to_arc

from anzel.core.tolerances import COINCIDENT, DXF_MEETS
from anzel.cutjob.operations import Operation
from anzel.geometry.coordinate_limits import limit_violation
from anzel.geometry.regions import BridgedContour, Contour
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment, circle, reverse, with_end_points
from anzel.output.cut_file_reader import (
    CutFileError,
    Facts,
    FileLine,
    NamedContour,
    chords_of,
    is_cut,
)
from anzel.output.dxf_writer import APPLICATION

_BLACK = "#000000"


def read_dxf(content: bytes, name: str) -> tuple[list[NamedContour], dict[str, Facts]]:
    """Return the closed outlines to cut, and the metadata of each page.

    Raises
    ------
    CutFileError
    """
    with _readable(content, name) as document:
        return list(_outlines(document, _scale(document))), _facts(document)


def read_lines(content: bytes, name: str) -> list[FileLine]:
    """Return every line, in the file's order, with its layer's colour.

    Raises
    ------
    CutFileError
    """
    with _readable(content, name) as document:
        scale = _scale(document)
        return [line for entity in document.modelspace() for line in _lines(entity, scale)]


@contextmanager
def _readable(content: bytes, name: str) -> Iterator[Drawing]:
    """Return the document; whatever goes wrong with it is worded for the maker."""
    try:
        page = dxf_stream_info(io.StringIO(content.decode("latin-1"))).encoding
        yield read(io.StringIO(content.decode(page, "surrogateescape")))
    except CutFileError:
        raise
    except Exception as error:  # ezdxf's own errors, and Python's for garbled text
        mend = "Open it in the program it came from and write it anew as DXF."
        raise CutFileError(f"{name} cannot be read as DXF.", hint=mend) from error


def _lines(entity: DXFEntity, scale: float) -> list[FileLine]:
    """Return an entity as a line, where it is one."""
    page, piece, said, *_ = _words(entity)
    kind = said.rstrip(" 0123456789")
    operation = Operation(kind) if kind in list(Operation) else Operation.OUTER
    closes = False
    if not isinstance(entity, DXFGraphic):
        return []
    if isinstance(entity, Circle) and not isinstance(entity, DxfArc):
        at = (entity.dxf.center.x * scale, entity.dxf.center.y * scale)
        run: list[Segment] = [circle(at, entity.dxf.radius * scale)]
    elif isinstance(entity, LWPolyline | Polyline):
        closes = bool(entity.is_closed)
        run = list(_polyline(entity, scale, closed=closes))
    else:
        run = _segments(entity, scale)
    if not run:
        return []
    if why := limit_violation(run):
        raise CutFileError(f"A line of the file has {why}.", hint="Check its units.")
    return [FileLine(page, piece, operation, (0.0, 0.0), _colour(entity),
                     (chords_of(run, closes=closes),))]  # fmt: skip


def _colour(entity: DXFGraphic) -> str:
    """Return the colour of an entity's layer: its own, or that of DXF's palette."""
    assert entity.doc is not None
    if entity.dxf.layer not in entity.doc.layers:
        return _BLACK
    layer = entity.doc.layers.get(entity.dxf.layer)
    colour = layer.rgb or aci2rgb(abs(layer.dxf.color))
    return "#{:02x}{:02x}{:02x}".format(*colour)


def _scale(document: Drawing) -> float:
    """Return the mm per drawing unit ($INSUNITS; a file without units is taken as mm)."""
    if document.units == InsertUnits.Unitless or document.units not in set(InsertUnits):
        return 1.0
    return float(units.conversion_factor(InsertUnits(document.units), InsertUnits.Millimeters))


def _facts(document: Drawing) -> dict[str, Facts]:
    """Return what the document's properties, or in old releases its entities, say of each page."""
    found: dict[str, Facts] = {}
    for tag, value in document.header.custom_vars:
        page, colon, fact = tag.rpartition(": ")
        if colon:
            found.setdefault(page, {})[fact] = value
    for entity in document.modelspace():
        page, _, _, *facts = _words(entity)
        for fact, equals, value in (each.partition("=") for each in facts):
            if equals:
                found.setdefault(page, {})[fact] = value
    return found


def _outlines(document: Drawing, scale: float) -> Iterable[NamedContour]:
    chain: list[Segment] = []
    gaps: dict[tuple[str, str, str], list[list[Segment]]] = {}
    for entity in document.modelspace():
        page, piece, operation, *_ = _words(entity)
        kind = operation.rstrip(" 0123456789") or entity.dxf.get("layer", "")
        if not isinstance(entity, DXFGraphic) or not is_cut(kind):
            continue
        if operation != kind and operation:
            _follow(gaps.setdefault((page, piece, operation), []), list(_run(entity, scale)))
        elif isinstance(entity, Circle) and not isinstance(entity, DxfArc):
            centre = (entity.dxf.center.x * scale, entity.dxf.center.y * scale)
            yield NamedContour(page, piece, Contour.circle(centre, entity.dxf.radius * scale))
        elif isinstance(entity, LWPolyline | Polyline) and entity.is_closed:
            if segments := tuple(_polyline(entity, scale)):
                yield NamedContour(page, piece, Contour(segments))
        else:
            chain = _followed(chain, _segments(entity, scale))
            if len(chain) > 1 and _near(chain[0].start, chain[-1].end):
                yield NamedContour(page, piece, _joined(chain))
                chain = []
    for (page, piece, _), runs in gaps.items():
        yield NamedContour(page, piece, BridgedContour(tuple(map(tuple, runs))).closed)


def _words(entity: DXFEntity) -> tuple[str, ...]:
    """Return the names that an entity carries: page, piece, operation, and metadata.

    Empty where it has none.
    """
    if not entity.has_xdata(APPLICATION):
        return ("", "", "")
    words = [str(tag.value) for tag in entity.get_xdata(APPLICATION) if tag.code == 1000]
    return (*words, *("",) * (3 - len(words)))


def _run(entity: DXFGraphic, scale: float) -> Iterable[Segment]:
    """Return an entity of an outline with gaps as segments."""
    if isinstance(entity, LWPolyline | Polyline):
        return list(_polyline(entity, scale, closed=False))
    return _segments(entity, scale)


def _follow(runs: list[list[Segment]], more: list[Segment]) -> None:
    """Add segments to the last run where they go on from it, or begin another."""
    for segment in more:
        if runs and _near(runs[-1][-1].end, segment.start):
            runs[-1].append(with_end_points(segment, runs[-1][-1].end, segment.end))
        elif runs and _near(runs[-1][-1].end, segment.end):
            runs[-1].append(with_end_points(reverse(segment), runs[-1][-1].end, segment.start))
        else:
            runs.append([segment])


def _polyline(
    entity: LWPolyline | Polyline, scale: float, *, closed: bool = True
) -> Iterable[Segment]:  # fmt: skip
    if isinstance(entity, Polyline):
        points = [(v.dxf.location.x, v.dxf.location.y, v.dxf.bulge) for v in entity.vertices]
    else:
        points = [(x, y, bulge) for x, y, bulge in entity.get_points("xyb")]
    corners = [(x * scale, y * scale, bulge) for x, y, bulge in points]
    for (x, y, bulge), (x1, y1, _) in pairwise([*corners, *corners[:1]] if closed else corners):
        is_straight = abs(bulge) * hypot(x1 - x, y1 - y) <= 2 * COINCIDENT
        if not is_straight:
            centre, *_ = bulge_to_arc((x, y), (x1, y1), bulge)
            yield Arc((x, y), (x1, y1), (centre.x, centre.y), clockwise=bulge < 0)
        elif (x, y) != (x1, y1):
            yield Line((x, y), (x1, y1))


def _segments(entity: DXFGraphic, scale: float) -> list[Segment]:
    def at(point: UVec) -> Point:
        x, y, *_ = point
        return (float(x) * scale, float(y) * scale)

    if isinstance(entity, DxfLine):
        return [Line(at(entity.dxf.start), at(entity.dxf.end))]
    if isinstance(entity, DxfArc):
        return [Arc(at(entity.start_point), at(entity.end_point), at(entity.dxf.center))]
    if isinstance(entity, Spline):
        curves = entity.construction_tool().bezier_decomposition()
        return [Cubic(*(at(p) for p in points)) for points in curves if len(points) == 4]
    return []


def _followed(chain: list[Segment], more: list[Segment]) -> list[Segment]:
    """Return the chain with what follows on, turned where needed; begun anew where nothing does."""
    for segment in more:
        if chain and not _near(chain[-1].end, segment.start):
            if _near(chain[-1].end, segment.end):
                segment = reverse(segment)
            elif len(chain) == 1 and _near(chain[0].start, segment.start):
                chain = [reverse(chain[0])]
            elif len(chain) == 1 and _near(chain[0].start, segment.end):
                chain, segment = [reverse(chain[0])], reverse(segment)
            else:
                chain = []
        chain = [*chain, segment]
    return chain


def _joined(chain: list[Segment]) -> Contour:
    """Return the chain with each end put exactly on the next start."""
    ends = [*(segment.start for segment in chain[1:]), chain[0].start]
    return Contour(
        tuple(with_end_points(s, s.start, end) for s, end in zip(chain, ends, strict=True))
    )


def _near(one: Point, other: Point) -> bool:
    return hypot(one[0] - other[0], one[1] - other[1]) < DXF_MEETS
