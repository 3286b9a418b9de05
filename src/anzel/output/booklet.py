"""The booklet: how the pieces go together, in pictures without words.

First the pieces as they lie, with their marks and counts; then a few steps a page; the finished
thing last. All of it is vectors with their hidden lines removed.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import shapely
from shapely.affinity import affine_transform

from anzel.assembly.bodies import RigidBody, common_box
from anzel.assembly.records import AssemblyProof
from anzel.core.findings import ParameterError
from anzel.illustration import signs
from anzel.illustration.eye import Eye
from anzel.illustration.hidden_lines import Said
from anzel.illustration.picture import Fill, Mark, Picture, Point, Stroke, Text, placed
from anzel.illustration.scenes import BookletScene, scenes_of
from anzel.illustration.step_picture import (
    ACCENT,
    INK,
    PALE_INK,
    DrawnScene,
    drawn_scene,
    marks_of,
)
from anzel.materials.fits import FitName
from anzel.materials.material import Grain
from anzel.output.picture_writers import picture_as_png, picture_as_svg, pictures_as_pdf
from anzel.project.assembly import bodies_in
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.alike_pieces import AlikePieces, alike_pieces
from anzel.structure.model import FeatureKind


@dataclass(frozen=True)
class BookletPage:
    """A page: its size, mm, and how many steps lie beside and above one another."""

    width: float
    height: float
    columns: int
    rows: int


_PAPERS = {
    "A4": BookletPage(210.0, 297.0, 2, 3),
    "LETTER": BookletPage(215.9, 279.4, 2, 3),
    "A5": BookletPage(210.0, 148.0, 2, 1),
}
_EDGE, _GAP = 12.0, 7.0
_GROUP = "#eef4f1"
"""The ground of a step that builds a group by itself."""
_HEAD = 11.0
"""Room for number, count and signs over a picture, mm."""
_LARGEST = 2.0
"""Nothing is shown larger than so many times its true size."""
_MARK_SIZE = 2.8
_SMALLEST_PIECES = 0.2
_SMALL = 0.16
"""New pieces that take less than this share of a picture's width are shown enlarged."""


def page_named(name: str) -> BookletPage:
    """Return a kind of page by its name.

    Raises
    ------
    ParameterError
        Listing the known ones.
    """
    paper = _PAPERS.get(name.strip().upper())
    if paper is None:
        raise ParameterError(
            f"There is no page “{name}” for booklets.", hint="There are: A4, Letter, A5.",
            field="page",
        )  # fmt: skip
    return paper


def booklet_bytes(
    project: Project, proof: AssemblyProof, paper: BookletPage, said: Said = lambda: None
) -> bytes:
    """Return the booklet as a PDF."""
    return pictures_as_pdf(booklet_pages(project, proof, paper, said), project.name)


def booklet_pictures(
    project: Project, proof: AssemblyProof, output: Path, said: Said = lambda: None
) -> Iterator[tuple[Path, bytes]]:
    """Yield a file for each step, numbered after the output's name: SVG or PNG."""
    write = picture_as_png if output.suffix.lower() == ".png" else picture_as_svg
    booklet = _Booklet(project, proof, _PAPERS["A4"], said)
    steps = [booklet.step(drawn, 120.0, 120.0) for drawn in booklet.drawn]
    pictures = [*steps, booklet.finished(120.0, 120.0)]
    digits = max(len(str(len(pictures))), 2)
    for number, picture in enumerate(pictures, start=1):
        name = f"{output.stem}-{number:0{digits}}{output.suffix}"
        yield output.with_name(name), write(picture)


def booklet_pages(
    project: Project, proof: AssemblyProof, paper: BookletPage, said: Said = lambda: None
) -> list[Picture]:
    """Return the pages of the booklet."""
    booklet = _Booklet(project, proof, paper, said)
    return [*booklet.pieces(), *booklet.steps(), booklet.last_page()]


class _Booklet:
    """All that the pages share: bodies, scenes, and one scale for all steps."""

    def __init__(
        self, project: Project, proof: AssemblyProof, paper: BookletPage, said: Said
    ) -> None:
        self.project, self.paper, self.said = project, paper, said
        self.solved = solved_structure_of(project)
        bodies = bodies_in(project)
        self.bodies: dict[str, RigidBody] = {body.name: body for body in bodies.all}
        self.size = float(np.linalg.norm(np.ptp(common_box(bodies.all), axis=0)))
        self.scenes = scenes_of(proof, self.bodies)
        self.drawn = [drawn_scene(scene, self.bodies, self.size, said) for scene in self.scenes]

    def cell(self) -> Point:
        """Return the size of a step's part of the page, mm."""
        paper = self.paper
        width = (paper.width - 2 * _EDGE - (paper.columns - 1) * _GAP) / paper.columns
        height = (paper.height - 2 * _EDGE - (paper.rows - 1) * _GAP) / paper.rows
        return width, height

    def steps(self) -> list[Picture]:
        """Return the pages of steps."""
        width, height = self.cell()
        per_page = self.paper.columns * self.paper.rows
        cells = [self.step(drawn, width, height) for drawn in self.drawn]
        pages = []
        for first in range(0, len(cells), per_page):
            page = self._page()
            for at, cell in enumerate(cells[first : first + per_page]):
                column, row = at % self.paper.columns, at // self.paper.columns
                x = _EDGE + column * (width + _GAP)
                y = self.paper.height - _EDGE - height - row * (height + _GAP)
                page = page.over(cell, (x, y))
            pages.append(page)
        return pages

    def step(self, drawn: DrawnScene, width: float, height: float) -> Picture:
        """Return the picture of one step, with its number, count and signs."""
        scene = drawn.scene
        scale = self._scale(drawn, width, height - _HEAD)
        shown = [*marks_of(drawn, scale), *self._names(drawn, scale)]
        marks = _centred(shown, drawn.bounds, scale, width, height - _HEAD)
        ground = [Fill(shapely.box(0, 0, width, height).buffer(2.0), _GROUP)] if scene.group else []
        marks = [*ground, *marks, *self._enlarged(drawn, scale, width, height)]
        marks.append(Text((0.0, height - 7.5), str(scene.number), 9.0, INK))
        x = 9.0 if scene.number < 10 else 14.0
        if len(scene.new) > 1 and scene.moves:
            count = f"{len(scene.new)} ×"
            marks.append(Text((x, height - 7.5), count, 6.0, ACCENT))
            x += 3.4 * len(count)
        for sign in self._signs(scene):
            marks += [placed(mark, 0.85, (x, height - 9.0)) for mark in sign]
            x += 10.5
        return Picture(width, height, tuple(marks))

    def _names(self, drawn: DrawnScene, scale: float) -> list[Mark]:
        """Return the marks of new pieces over them: those that are engraved on them."""
        engraved = {piece.name for piece in self.solved.pieces if piece.name_strokes}
        marks: list[Mark] = []
        for name, x, y in drawn.tops:
            if name in engraved:
                at, half = (x * scale, y * scale + 1.2), 0.32 * _MARK_SIZE * len(name)
                plate = shapely.box(at[0] - half, at[1] - 0.2, at[0] + half, at[1] + 2.0)
                marks += [Fill(plate.buffer(0.3), "#ffffff"),
                          Text(at, name, _MARK_SIZE, INK, "middle")]  # fmt: skip
        return marks

    def _signs(self, scene: BookletScene) -> list[tuple[Mark, ...]]:
        made = []
        if scene.turns_over:
            made.append(signs.turn_over(INK))
        if scene.turns_about:
            made.append(signs.turn_about(INK))
        new = set(scene.new)
        joints = [
            joint for joint in self.solved.joints
            if new.intersection(joint.pieces) and new.union(scene.there).issuperset(joint.pieces)
        ]  # fmt: skip
        if scene.moves and any(self._is_driven(joint.fit) for joint in joints):
            made.append(signs.mallet(INK))
        kinds = {feature.kind for joint in joints for feature in joint.features}
        if scene.moves and FeatureKind.POCKET in kinds:
            made.append(signs.glue(INK))
        return made

    def _is_driven(self, fit: FitName | None) -> bool:
        """Return whether a joint of a fit class needs a mallet."""
        return (fit or self.project.fits.in_use) is FitName.PRESS

    def _scale(self, drawn: DrawnScene, width: float, height: float) -> float:
        """Return the scale of a step: that of the whole, or of its group, where there is room."""
        same = [d for d in self.drawn if d.scene.group == drawn.scene.group]
        whole = same[-1].at_rest
        fits = [
            min(width / (x1 - x0), height / (y1 - y0))
            for x0, y0, x1, y1 in (whole, drawn.bounds)
        ]  # fmt: skip
        return float(min(0.97 * fits[1], 0.8 * fits[0], _LARGEST))

    def _enlarged(self, drawn: DrawnScene, scale: float, width: float, height: float) -> list[Mark]:
        """Return an enlarged circle of the place where small new pieces go in."""
        scene = drawn.scene
        owner = next((at for at, new in enumerate(drawn.is_new) if new), None)
        areas = [face.area for face in drawn.faces if face.owner == owner]
        areas = [area for area in areas if not area.is_empty]
        if not (scene.there and areas and drawn.ways):
            return []
        x0, y0, x1, y1 = shapely.union_all(areas).bounds
        if max(x1 - x0, y1 - y0) * scale > _SMALL * width:
            return []
        start, end = drawn.ways[0]
        size = max(x1 - x0, y1 - y0, 6.0)
        radius = min(width, height) * 0.2
        reach = 0.6 * size + float(np.hypot(*(end - start))) / 2
        middle = (start + end) / 2
        at = (width - radius - 1, radius + 1)
        return _circle(drawn, (float(middle[0]), float(middle[1])), reach, radius, at)

    def finished(self, width: float, height: float) -> Picture:
        """Return the finished thing."""
        names = tuple(self.bodies)
        scene = BookletScene(len(self.scenes) + 1, names, (), (), Eye())
        drawn = drawn_scene(scene, self.bodies, self.size, self.said)
        x0, y0, x1, y1 = drawn.bounds
        scale = min(0.95 * width / (x1 - x0), 0.95 * height / (y1 - y0), _LARGEST)
        marks = _centred(marks_of(drawn, scale), drawn.bounds, scale, width, height)
        return Picture(width, height, tuple(marks))

    def last_page(self) -> Picture:
        """Return the page with the finished thing."""
        page = self._page()
        width, height = page.width - 2 * _EDGE, page.height - 2 * _EDGE
        return page.over(self.finished(width, height), (_EDGE, _EDGE))

    def pieces(self) -> list[Picture]:
        """Return the pages of the pieces as they lie, with marks and counts, to one scale."""
        groups = sorted(
            alike_pieces(self.solved.pieces), key=lambda each: -each.piece.region.size[1]
        )
        room = (self.paper.width - 2 * _EDGE, self.paper.height - 2 * _EDGE)
        scale = _scale_of_pieces(groups, room)
        places = _in_rows(groups, scale, room)
        pages = [self._page() for _ in range(places[-1][0] + 1)]
        for group, (number, x, y) in zip(groups, places, strict=True):
            cell = _piece_cell(group, scale, self._has_grain(group))
            at = _EDGE + x, self.paper.height - _EDGE - y - cell.height
            pages[number] = pages[number].over(cell, at)
        return pages

    def _has_grain(self, group: AlikePieces) -> bool:
        return self.project.stock(group.piece.stock_id).grain is not Grain.NONE

    def _page(self) -> Picture:
        return Picture(self.paper.width, self.paper.height, ())


def _centred(
    marks: Sequence[Mark], bounds: tuple[float, float, float, float], scale: float,
    width: float, height: float,
) -> list[Mark]:  # fmt: skip
    x0, y0, x1, y1 = (side * scale for side in bounds)
    at = (width - x0 - x1) / 2, (height - y0 - y1) / 2
    return [placed(mark, 1.0, at) for mark in marks]


def _circle(
    drawn: DrawnScene, middle: Point, reach: float, radius: float, at: Point
) -> list[Mark]:  # fmt: skip
    """Return a part of a scene enlarged in a circle."""
    factor = radius / reach
    disc = shapely.Point(at).buffer(radius, 48)
    made: list[Mark] = [Fill(disc, "#ffffff")]
    shift = (at[0] - middle[0] * factor, at[1] - middle[1] * factor)
    for mark in marks_of(drawn, factor, arrows=False):
        moved = placed(mark, 1.0, shift)
        if isinstance(moved, Fill):
            made.append(Fill(shapely.intersection(moved.area, disc), moved.colour))
        elif isinstance(moved, Stroke):
            made.append(
                Stroke(shapely.intersection(moved.lines, disc), moved.colour, moved.width)
            )  # fmt: skip
    made.append(Stroke(disc.exterior, ACCENT, 0.5))
    return made


def _scale_of_pieces(groups: Sequence[AlikePieces], room: Point) -> float:
    """Return the scale at which all pieces lie on one page, if that is not too small."""
    sizes = [group.piece.region.size for group in groups]
    widest, tallest = max(size[0] for size in sizes), max(size[1] for size in sizes)
    scale = min((room[0] - 8.0) / widest, (room[1] - 14.0) / tallest, 1.0)
    while scale > _SMALLEST_PIECES and _in_rows(groups, scale, room)[-1][0]:
        scale *= 0.96
    return scale


def _in_rows(
    groups: Sequence[AlikePieces], scale: float, room: Point
) -> list[tuple[int, float, float]]:  # fmt: skip
    """Return for each piece its page, from 0, and how far right and down it lies there, mm."""
    places, page, x, y, tall = [], 0, 0.0, 0.0, 0.0
    for group in groups:
        width, height = _cell_of(group, scale)
        if x and x + width > room[0]:
            x, y, tall = 0.0, y + tall, 0.0
        if y and y + height > room[1]:
            page, x, y, tall = page + 1, 0.0, 0.0, 0.0
        places.append((page, x, y))
        x, tall = x + width, max(tall, height)
    return places


def _cell_of(group: AlikePieces, scale: float) -> Point:
    """Return the room that a piece needs, with its count under it, mm."""
    wide, tall = group.piece.region.size
    return max(wide * scale, 16.0) + 8.0, tall * scale + 14.0


def _piece_cell(group: AlikePieces, scale: float, grain: bool) -> Picture:
    """Return a piece as it lies, its marks, and how many there are."""
    piece = group.piece
    x0, y0, x1, _ = piece.region.bounds
    width, height = _cell_of(group, scale)
    matrix = [scale, 0, 0, scale, (width - (x0 + x1) * scale) / 2, 10.0 - y0 * scale]
    shape = affine_transform(piece.region.shape, matrix)
    marks: list[Mark] = [Fill(shape, "#f7f5f0"), Stroke(shape.boundary, INK, 0.3)]
    named = [shapely.LineString(stroke) for stroke in piece.name_strokes if len(stroke) > 1]
    if named:
        marks.append(Stroke(affine_transform(shapely.MultiLineString(named), matrix), INK, 0.18))
    marks.append(Text((width / 2, 3.6), f"{group.count} ×", 4.6, ACCENT, "middle"))
    if grain:
        marks += [placed(mark, 0.42, (width / 2 + 8.0, 3.0)) for mark in signs.grain(PALE_INK)]
    return Picture(width, height, tuple(marks))
