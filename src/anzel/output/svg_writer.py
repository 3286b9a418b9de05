"""SVG at true size: 1 user unit is 1 mm (viewBox maps to width and height in mm, SVG 2, 8.2).

One group per page, in it one per operation in the order they are run, in that one per piece. Pages
stand side by side. SVG's y runs downwards, so heights are mirrored and an arc's turning with them.
"""

import re
from base64 import b64encode
from collections.abc import Sequence
from math import pi
from xml.etree import ElementTree

from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.operations import Operation, Pens
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Segment
from anzel.output.pages import Backend, Page, draw
from anzel.structure.engraved_picture import EngravedPicture

PAGE_GAP = 20.0
_NAMESPACE = "http://www.w3.org/2000/svg"
FACTS = "urn:anzel:facts"
"""Namespace of a page's facts in its <metadata> (SVG 2, 5.10: any XML may stand there)."""
PIECE = "data-piece"
"""Attribute that gives a group its piece's name (SVG 2, 5.7: data-* is the author's)."""
LEFT = "data-left"
"""Attribute of a page's group: where the page begins, mm from the left."""
BRIDGES = "data-bridges"
"""Attribute of an outline with gaps: how many."""
OPEN = "data-open"
"""Attribute of a line that is no part of an outline."""
ROWS = "data-rows"
"""Attribute of a picture: how far apart its rows are engraved, mm."""
ElementTree.register_namespace("anzel", FACTS)


def svg_bytes(pages: Sequence[Page], pens: Pens) -> bytes:
    """Return an SVG file with all pages."""
    width = sum(page.width for page in pages) + PAGE_GAP * (len(pages) - 1)
    height = max(page.height for page in pages)
    backend = _SvgBackend(width, height, pens)
    ElementTree.SubElement(backend.root, "title").text = " + ".join(page.name for page in pages)
    notes = dict.fromkeys(note for page in pages for note in page.notes)
    ElementTree.SubElement(backend.root, "desc").text = "; ".join(notes)
    draw(pages, backend)
    ElementTree.indent(backend.root, " ")
    content: bytes = ElementTree.tostring(backend.root, encoding="utf-8", xml_declaration=True)
    return content


class _SvgBackend(Backend):
    def __init__(self, width: float, height: float, pens: Pens) -> None:
        self.root = ElementTree.Element(
            "svg",
            {
                "xmlns": _NAMESPACE,
                "version": "1.1",
                "width": f"{number(width)}mm",
                "height": f"{number(height)}mm",
                "viewBox": f"0 0 {number(width)} {number(height)}",
            },
        )
        self.height, self.pens = height, pens
        self.left, self.next_left = 0.0, 0.0
        self.ids: set[str] = set()

    def begin(self, page: Page) -> None:
        self.left = self.next_left
        self.next_left += page.width + PAGE_GAP
        named = {"id": self._id(page.name), LEFT: number(self.left)}
        self.page = ElementTree.SubElement(self.root, "g", named)
        if page.metadata:
            about = ElementTree.SubElement(self.page, "metadata")
            ElementTree.SubElement(about, f"{{{FACTS}}}sheet", dict(page.metadata))
        self.operation: Operation | None = None
        self.owner, self.group = "", self.page

    def contour(self, contour: Contour, line: CutLine) -> None:
        if contour.is_circle and isinstance(only := contour.segments[0], Arc):
            x, y = self._at(only.centre)
            shape = {"cx": number(x), "cy": number(y), "r": number(only.radius)}
            self._element("circle", shape, line)
            return
        self._element("path", {"d": f"{self._run(contour.segments)} Z"}, line)

    def bridged(self, outline: BridgedContour, line: CutLine) -> None:
        runs = " ".join(map(self._run, outline.runs))
        self._element("path", {"d": runs, BRIDGES: str(len(outline.runs))}, line)

    def open_path(self, path: OpenPath, line: CutLine) -> None:
        self._element("path", {"d": self._run(path.segments), OPEN: "yes"}, line)

    def picture(self, picture: EngravedPicture, line: CutLine) -> None:
        """Draw a picture at its true size, clipped to its piece."""
        (ax, ay), (bx, by), _, (dx, dy) = (self._at(corner) for corner in picture.corners)
        kind = "png" if picture.file.content.startswith(b"\x89PNG") else "jpeg"
        data = b64encode(picture.file.content).decode()
        # the unit square with y down, from the upper left corner to the others
        matrix = (bx - ax, by - ay, ax - dx, ay - dy, dx, dy)
        shape = {
            "width": "1", "height": "1", "preserveAspectRatio": "none",
            "transform": f"matrix({' '.join(map(number, matrix))})",
            "href": f"data:image/{kind};base64,{data}",
            ROWS: number(picture.spacing),
        }  # fmt: skip
        self._element("image", shape, line)
        image = self.group[-1]
        for name in ("fill", "stroke-width"):  # the colour says the operation when read back
            image.attrib.pop(name)
        if picture.within is not None:
            clip = ElementTree.Element("clipPath", {"id": self._id(f"{line.owner} picture")})
            outline = " ".join(f"{self._run(c.segments)} Z" for c in picture.within.contours)
            ElementTree.SubElement(clip, "path", {"d": outline, "clip-rule": "evenodd"})
            self.group.remove(image)
            clipped = {"clip-path": f"url(#{clip.get('id')})"}
            holder = ElementTree.SubElement(self.group, "g", clipped)
            holder.append(clip)
            holder.append(image)

    def stroke(self, stroke: Stroke, line: CutLine) -> None:
        points = " ".join(self._pair(point) for point in stroke)
        self._element("polyline", {"points": points}, line)

    def _run(self, segments: Sequence[Segment]) -> str:
        start = f"M{self._pair(segments[0].start)}"
        return " ".join([start, *(self._step(segment) for segment in segments)])

    def _step(self, segment: Segment) -> str:
        end = self._pair(segment.end)
        if isinstance(segment, Arc):
            radius, large = number(segment.radius), int(abs(segment.sweep) > pi)
            return f"A{radius} {radius} 0 {large} {int(segment.clockwise)} {end}"
        if isinstance(segment, Cubic):
            return f"C{self._pair(segment.control1)} {self._pair(segment.control2)} {end}"
        return f"L{end}"

    def _element(self, tag: str, shape: dict[str, str], line: CutLine) -> None:
        pen = self.pens.pen(line.operation)
        if line.operation is not self.operation:
            self.operation, self.owner = line.operation, ""
            layer = self._id(f"{self.page.get('id')} {self.pens.layer(line.operation)}")
            self.layer = ElementTree.SubElement(self.page, "g", {"id": layer})
        if line.owner != self.owner:
            self.owner = line.owner
            name = self._id(f"{self.page.get('id')} {line.owner} {line.operation.field}")
            named = {"id": name, PIECE: line.owner}
            self.group = ElementTree.SubElement(self.layer, "g", named)
        style = {
            "class": line.operation.value.replace(" ", "-"),
            "fill": "none",
            "stroke": pen.colour,
            "stroke-width": number(pen.width),
        }
        ElementTree.SubElement(self.group, tag, shape | style)

    def _at(self, point: Point) -> Point:
        return (point[0] + self.left, self.height - point[1])

    def _pair(self, point: Point) -> str:
        x, y = self._at(point)
        return f"{number(x)},{number(y)}"

    def _id(self, name: str) -> str:
        """Return a readable id that is unique in the file."""
        base = wanted = re.sub(r"[^\w-]+", "-", name).strip("-") or "group"
        count = 1
        while wanted in self.ids:
            count += 1
            wanted = f"{base}-{count}"
        self.ids.add(wanted)
        return wanted


def number(value: float) -> str:
    """Return a coordinate with nine decimals at most: a millionth of a micrometre, no noise."""
    text = f"{value:.9f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text
