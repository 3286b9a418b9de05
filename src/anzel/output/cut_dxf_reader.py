"""Cut files in DXF: read as drawings are, with what a cut file says of pages, pieces and lines."""

from itertools import groupby

from ezdxf.colors import aci2rgb
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.dxfgfx import DXFGraphic

from anzel.drawings.dxf.reader import document_content
from anzel.output.cut_file_reader import CutElement, CutElements, Metadata, operation_of
from anzel.output.dxf_writer import APPLICATION, OPEN

_BLACK = "#000000"


def read_cut_dxf(content: bytes, name: str) -> CutElements:
    """Return the elements of a cut file, in the file's order.

    Raises
    ------
    DrawingError
    """
    document, drawn = document_content(content, name, left_aside=frozenset())
    elements = []
    for number, paths in groupby(drawn.traces, key=lambda path: path.element):
        entity = drawn.instances[number].entity
        page, piece, label, *_ = _words(entity)
        is_open = label.endswith(OPEN)
        label = label.removesuffix(OPEN)
        kind = label.rstrip(" 0123456789")
        elements.append(
            CutElement(
                page, piece, operation_of(kind or entity.dxf.get("layer", "")),
                (0.0, 0.0), _colour(entity), tuple(paths), label if label != kind else "",
                is_open,
            )
        )  # fmt: skip
    return CutElements(tuple(elements), _metadata(document))


def _colour(entity: DXFGraphic) -> str:
    """Return the colour of an entity's layer: its own, or that of DXF's palette."""
    assert entity.doc is not None
    if entity.dxf.layer not in entity.doc.layers:
        return _BLACK
    layer = entity.doc.layers.get(entity.dxf.layer)
    colour = layer.rgb or aci2rgb(abs(layer.dxf.color))
    return "#{:02x}{:02x}{:02x}".format(*colour)


def _metadata(document: Document) -> dict[str, Metadata]:
    """Return what the document's properties, or in old releases its entities, say of each page."""
    found: dict[str, Metadata] = {}
    for tag, value in document.header.custom_vars:
        page, colon, name = tag.rpartition(": ")
        if colon:
            found.setdefault(page, {})[name] = value
    for entity in document.modelspace():
        page, _, _, *facts = _words(entity)
        for name, equals, value in (each.partition("=") for each in facts):
            if equals:
                found.setdefault(page, {})[name] = value
    return found


def _words(entity: DXFEntity) -> tuple[str, ...]:
    """Return the names that an entity carries: page, piece, operation, and metadata.

    They are empty where it has none.
    """
    if not entity.has_xdata(APPLICATION):
        return ("", "", "")
    words = [str(tag.value) for tag in entity.get_xdata(APPLICATION) if tag.code == 1000]
    return (*words, *("",) * (3 - len(words)))
