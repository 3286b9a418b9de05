"""What is painted of a plate that is drawn large: its region, its legs and points, levels."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QTransform

from anzel.geometry.rigid_transform import Point
from anzel.shape.outline_building import segments_of
from anzel.shape.sketch import RelationKind, Sketch
from anzel.ui.theme import colour, sheet_colour
from anzel.ui.views.screen_paths import contour_path, region_path, segments_path
from anzel.ui.views.sketch_content import SketchContent

if TYPE_CHECKING:
    from anzel.ui.views.zoom_canvas import ZoomCanvas

_SEEN_THROUGH = 0.45
"""How much of a plate's colour is left over its picture."""
_POINTS_AND_PAIR = 4
_BEYOND = 0.15
"""An axis goes beyond its outermost points by this share of the way between its two points."""
Levels = tuple[float | None, float | None]
"""The x and y of other points that a dragged one has come to, mm."""


_SIGNS = {
    RelationKind.LEVEL: ((-4, 0, 4, 0),), RelationKind.UPRIGHT: ((0, -4, 0, 4),),
    RelationKind.PARALLEL: ((-2, -4, -2, 4), (2, -4, 2, 4)),
    RelationKind.SQUARE: ((-4, 4, 4, 4), (0, 4, 0, -4)),
    RelationKind.EQUAL: ((-4, -2, 4, -2), (-4, 2, 4, 2)),
    RelationKind.SYMMETRIC: ((0, -5, 0, 5), (-4, -2, -4, 2), (4, -2, 4, 2)),
    RelationKind.TANGENT: ((-4, 3, -2, -2), (-2, -2, 2, -2), (2, -2, 4, 3), (-5, -4, 5, -4)),
}  # fmt: skip
"""Lines of each sign, pixels; parallel, square and symmetric are ISO 1101's, from memory."""


def places_in(sketch: Sketch) -> dict[str, Point]:
    """Return where points and discs' centres are, by id."""
    return sketch.places() | {disc.id: (disc.x, disc.y) for disc in sketch.discs}


def paint_region(painter: QPainter, content: SketchContent, transform: QTransform) -> None:
    """Paint the plate, and dotted what joints make of it."""
    path = region_path(content.region)
    painter.setPen(QPen(colour("ink"), 1))
    painter.setBrush(sheet_colour(content.tint))
    painter.setOpacity(1.0 if content.picture is None else _SEEN_THROUGH)
    painter.drawPath(transform.map(path))
    painter.setOpacity(1.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if content.produced is not None:
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DotLine))
        for contour in content.produced.contours:
            painter.drawPath(transform.map(contour_path(contour)))


def paint_legs(painter: QPainter, content: SketchContent, view: "ZoomCanvas") -> None:
    """The legs and discs that are picked, and small marks of what holds them."""
    names = {thing.name for thing in content.picked}
    marks = _marks(content.sketch)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for path in content.sketch.paths:
        for leg, segment in zip(path.legs, segments_of(path), strict=True):
            if leg.id in names or path.id in names:
                painter.setPen(QPen(colour("accent"), 3))
                painter.drawPath(view.transform.map(segments_path([segment])))
            if leg.id in marks:
                _paint_marks(painter, view.to_view(*segment.point_at(0.5)), marks[leg.id])
    painter.setPen(QPen(colour("accent"), 3))
    for disc in content.sketch.discs:
        if disc.id in names:
            radius = disc.radius * view.scale
            painter.drawEllipse(view.to_view(disc.x, disc.y), radius, radius)


def paint_axes(painter: QPainter, content: SketchContent, view: "ZoomCanvas") -> None:
    """The middle lines that points are symmetric about, and a mark beside each such point."""
    places = places_in(content.sketch)
    pairs: dict[tuple[str, ...], set[str]] = {}
    for relation in content.sketch.relations:
        if relation.kind is RelationKind.SYMMETRIC and len(relation.of) == _POINTS_AND_PAIR:
            pairs.setdefault(relation.of[2:], set()).update(relation.of)
    for pair, names in pairs.items():
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashDotLine))
        painter.drawLine(
            view.transform.map(
                _axis([places[n] for n in pair], [places[n] for n in names if n in places])
            )
        )
        for name in names & places.keys():
            _paint_marks(painter, view.to_view(*places[name]), [RelationKind.SYMMETRIC])


def _axis(pair: Sequence[Point], points: Sequence[Point]) -> QLineF:
    """Return the middle line of two points, a little longer than points reach along it, mm."""
    across = QLineF(QPointF(*pair[0]), QPointF(*pair[1]))
    along = across.normalVector().translated(across.center() - across.p1())
    unit = along.unitVector()
    reach = [QPointF.dotProduct(QPointF(*p) - unit.p1(), unit.p2() - unit.p1()) for p in points]
    beyond = _BEYOND * across.length()
    start, end = min(reach) - beyond, max(reach) + beyond
    return QLineF(unit.pointAt(start), unit.pointAt(end))


def _marks(sketch: Sketch) -> dict[str, list[RelationKind]]:
    """Return the kinds of relations that each leg has, in order."""
    marks: dict[str, list[RelationKind]] = {}
    for relation in sketch.relations:
        for name in relation.of:
            kinds = marks.setdefault(name, [])
            if relation.kind not in kinds:
                kinds.append(relation.kind)
    return marks


def _paint_marks(painter: QPainter, middle: QPointF, kinds: Sequence[RelationKind]) -> None:
    """Paint small signs beside a leg, one after the other; a ring for what has none."""
    painter.setPen(QPen(colour("soft"), 1.6))
    for at, kind in enumerate(kinds):
        place = middle + QPointF(7 + 12 * at, -7)
        for x0, y0, x1, y1 in _SIGNS.get(kind, ()):
            painter.drawLine(place + QPointF(x0, y0), place + QPointF(x1, y1))
        if kind not in _SIGNS:
            painter.drawEllipse(place, 3, 3)


def paint_points(painter: QPainter, content: SketchContent, view: "ZoomCanvas") -> None:
    """Points that can still move are open, those that are held are filled."""
    names = {thing.name for thing in content.picked}
    boxes: dict[str, list[QRectF]] = {"sheet": [], "ink": [], "accent": []}
    transform = view.transform
    for name, place in places_in(content.sketch).items():
        at = transform.map(QPointF(*place))
        look = "accent" if name in names else "sheet" if name in content.free else "ink"
        boxes[look].append(QRectF(at.x() - 3, at.y() - 3, 6, 6))
    for look, squares in boxes.items():
        is_picked = look == "accent"
        painter.setPen(QPen(colour("accent" if is_picked else "ink"), 2 if is_picked else 1))
        painter.setBrush(colour(look))
        painter.drawRects(squares)


def paint_levels(painter: QPainter, levels: Levels, view: "ZoomCanvas") -> None:
    """The levels of other points that a dragged one has come to."""
    tint = QColor(colour("accent"))
    painter.setPen(QPen(tint, 1, Qt.PenStyle.DashLine))
    x, y = levels
    if x is not None:
        painter.drawLine(
            QPointF(view.to_view(x, 0).x(), 0), QPointF(view.to_view(x, 0).x(), view.height())
        )
    if y is not None:
        painter.drawLine(
            QPointF(0, view.to_view(0, y).y()), QPointF(view.width(), view.to_view(0, y).y())
        )
