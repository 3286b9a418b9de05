"""What others made that Anzel ships or is linked with: each part with its licence and its use."""

from dataclasses import dataclass


@dataclass(frozen=True)
class ForeignPart:
    """Something that others made: its name, its licence (SPDX) and what it does here."""

    name: str
    licence: str
    use: str


SHIPPED = (
    ForeignPart("Hanken Grotesk", "OFL-1.1", "the typeface, three weights, unchanged"),
)  # fmt: skip
"""What lies in Anzel's own package."""

LINKED = (
    ForeignPart("Qt and Qt for Python (PySide6, shiboken6)", "LGPL-3.0-only", "the window"),
    ForeignPart("click", "BSD-3-Clause", "the command line"),
    ForeignPart("contourpy", "BSD-3-Clause", "contours of pictures"),
    ForeignPart("cssselect2, tinycss2, webencodings", "BSD-3-Clause", "style sheets in SVG files"),
    ForeignPart("ezdxf", "MIT", "DXF files"),
    ForeignPart("fontTools", "MIT", "outlines of letters"),
    ForeignPart("Hershey-Fonts", "MIT", "engraved single-stroke letters"),
    ForeignPart("lxml", "BSD-3-Clause", "3MF files"),
    ForeignPart("manifold3d", "Apache-2.0", "solids"),
    ForeignPart("moderngl, glcontext", "MIT", "pictures of the standing structure"),
    ForeignPart("networkx", "BSD-3-Clause", "graphs of what is joined"),
    ForeignPart("numpy", "BSD-3-Clause", "arrays"),
    ForeignPart("pillow", "MIT-CMU", "pictures"),
    ForeignPart("platformdirs", "MIT", "the maker's folders"),
    ForeignPart("pydantic, pydantic-core, annotated-types, typing-inspection", "MIT", "records"),
    ForeignPart("pyparsing", "MIT", "parsing, for ezdxf"),
    ForeignPart("pypdfium2 (with PDFium)", "BSD-3-Clause AND Apache-2.0", "pages for the printer"),
    ForeignPart("rectpack", "Apache-2.0", "laying rectangles"),
    ForeignPart("reportlab, charset-normalizer", "BSD-3-Clause AND MIT", "PDF files"),
    ForeignPart("scipy", "BSD-3-Clause", "numerical methods"),
    ForeignPart("shapely (with GEOS)", "BSD-3-Clause AND LGPL-2.1-only", "polygons"),
    ForeignPart("skia-pathops (with Skia)", "BSD-3-Clause", "joined outlines of letters"),
    ForeignPart("spyrrow", "MIT", "squeezing pieces closer"),
    ForeignPart("trimesh", "MIT", "meshes"),
    ForeignPart("typing-extensions", "PSF-2.0", "types"),
)
"""The packages that are installed with Anzel, in the order of their names but for Qt."""


def parts_as_html() -> str:
    """Return all parts as a table for the window."""
    rows = "".join(
        f"<tr><td><b>{part.name}</b></td><td>{part.licence}</td><td>{part.use}</td></tr>"
        for part in (*SHIPPED, *LINKED)
    )
    return f"<table cellspacing=4>{rows}</table>"
