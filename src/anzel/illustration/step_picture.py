"""The picture of a scene: what is there in light ink, what is new in strong tint, and its way."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from anzel.assembly.bodies import RigidBody, common_box
from anzel.geometry.placement import Vector, scaled
from anzel.geometry.segments import Floats
from anzel.illustration.hidden_lines import Said, VisibleFace, visible_faces
from anzel.illustration.picture import Fill, Mark, Stroke
from anzel.illustration.scenes import BookletScene
from anzel.illustration.signs import arrow_head

INK, PALE_INK, ACCENT = "#2b2a26", "#8d8a80", "#b4481e"
_NEW_FACE, _NEW_WALL = "#97d3c5", "#4f9f8f"
_OLD_FACE, _OLD_WALL = "#f7f5f0", "#e6e2d8"
_NEAREST, _FURTHEST = 0.16, 0.5
"""Pieces are shown so far away, in shares of the whole's size; a way may go on."""
_STILL: Vector = (0.0, 0.0, 0.0)


@dataclass(frozen=True, eq=False)
class DrawnScene:
    """What is seen of a scene on the sheet, in mm of the thing, with its bounds."""

    scene: BookletScene
    faces: tuple[VisibleFace, ...]
    is_new: tuple[bool, ...]
    ways: tuple[tuple[Floats, Floats], ...]
    """For each move where its pieces' middle is shown, and where it goes, on the sheet."""
    tops: tuple[tuple[str, float, float], ...]
    """For each new piece its name, and where its uppermost corner is shown."""
    at_rest: tuple[float, float, float, float]
    """The bounds on the sheet when everything is in its place."""

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """The bounds of all that is seen."""
        boxes = np.array([face.area.bounds for face in self.faces if not face.area.is_empty])
        low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
        return (float(low[0]), float(low[1]), float(high[0]), float(high[1]))


def drawn_scene(
    scene: BookletScene, bodies: Mapping[str, RigidBody], size: float, said: Said = lambda: None
) -> DrawnScene:
    """Return a scene with hidden lines removed; the whole thing is so large, mm."""
    away = {
        name: scaled(move.direction, -min(max(move.distance, _NEAREST * size), _FURTHEST * size))
        for move in scene.moves
        for name in move.pieces
    }
    names = (*scene.there, *scene.new)
    shown = [bodies[name] for name in names]
    offsets = [away.get(name, _STILL) for name in names]
    tolerance = size / 4000.0
    faces = visible_faces(shown, scene.eye, offsets, tolerance, said)
    is_new = tuple(name in scene.new for name in names)
    seen = scene.eye.on_sheet(np.concatenate([body.corners for body in shown]))
    (x0, y0), (x1, y1) = seen.min(axis=0).tolist(), seen.max(axis=0).tolist()
    tops = tuple(
        (name, *_top(scene.eye.on_sheet(bodies[name].corners + np.array(away.get(name, _STILL)))))
        for name in scene.new
    )
    ways = _ways(scene, bodies, away)
    return DrawnScene(scene, tuple(faces), is_new, ways, tops, (x0, y0, x1, y1))


def _top(corners: Floats) -> tuple[float, float]:
    x, y = corners[corners[:, 1].argmax()].tolist()
    return x, y


def _ways(
    scene: BookletScene, bodies: Mapping[str, RigidBody], away: Mapping[str, Vector]
) -> tuple[tuple[Floats, Floats], ...]:
    made = []
    for move in scene.moves:
        middle = common_box(bodies[name] for name in move.pieces).mean(axis=0)
        start = middle + np.asarray(away[move.pieces[0]])
        made.append((scene.eye.on_sheet(start), scene.eye.on_sheet(middle)))
    return tuple(made)


def marks_of(drawn: DrawnScene, scale: float, *, arrows: bool = True) -> list[Mark]:
    """Return a scene's marks at a scale, in the order of drawing."""
    marks: list[Mark] = []
    for new in (False, True):
        faces = [face for face in drawn.faces if drawn.is_new[face.owner] is new]
        marks += _bodies(faces, new, scale)
    if arrows:
        for start, end in drawn.ways:
            marks += _arrow(start * scale, end * scale)
    return marks


def _bodies(faces: Sequence[VisibleFace], new: bool, scale: float) -> list[Mark]:
    """Return areas, then inner lines, then the heavier outline of what is new or there."""
    if not faces:
        return []
    matrix = [scale, 0.0, 0.0, scale, 0.0, 0.0]
    colours = (_NEW_FACE, _NEW_WALL) if new else (_OLD_FACE, _OLD_WALL)
    marks: list[Mark] = []
    for is_wall in (False, True):
        areas = [face.area for face in faces if face.is_wall is is_wall]
        whole = shapely.affinity.affine_transform(shapely.union_all(areas), matrix)
        if not whole.is_empty:
            marks.append(Fill(whole, colours[is_wall]))
    lines = shapely.union_all([face.lines for face in faces])
    inner = shapely.affinity.affine_transform(shapely.line_merge(lines), matrix)
    marks.append(Stroke(inner, INK if new else PALE_INK, 0.22 if new else 0.14))
    outline = shapely.union_all([face.area.buffer(0.01 / scale) for face in faces]).boundary
    outer = shapely.affinity.affine_transform(outline, matrix)
    marks.append(Stroke(outer, INK if new else PALE_INK, 0.42 if new else 0.26))
    return marks


def _arrow(start: Floats, end: Floats) -> list[Mark]:
    """Return the way in as an arrow with a white edge, so that it stands out on anything."""
    length = float(np.hypot(*(end - start)))
    if length < 2.0:
        return []
    way = (end - start) / length
    head = min(3.2, 0.35 * length)
    tail, neck = start + way * 0.12 * length, end - way * (0.12 * length + head)
    if float((neck - tail) @ way) <= 0:
        tail, neck = start, end - way * head
    shaft = shapely.LineString([tail, neck])
    tip = arrow_head(
        (float(neck[0]), float(neck[1])), (float(way[0]), float(way[1])), head
    )  # fmt: skip
    return [
        Stroke(shaft, "#ffffff", 1.9), Fill(tip.buffer(0.5), "#ffffff"),
        Stroke(shaft, ACCENT, 1.0), Fill(tip, ACCENT),
    ]  # fmt: skip
