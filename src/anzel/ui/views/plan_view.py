"""Flat pieces, true to scale: on sheets or in rows, with joints to pick and sizes to click."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QPainter, QPen, QPolygonF, QTransform
from PySide6.QtWidgets import QToolTip

from anzel.app.number_display import shown_length, shown_measure
from anzel.layout.layout import PlacedPiece, SheetPlan
from anzel.project.bounds import Bounds, framed_piece
from anzel.structure.dimension import Dimension
from anzel.structure.joints.cutting_shapes import along
from anzel.structure.model import Feature
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.theme import colour, font, sheet_colour
from anzel.ui.views.dimension_lines import paint_dimension, paint_frame
from anzel.ui.views.joint_markers import REACH, paint_marks
from anzel.ui.views.line_painting import paint_faces, paint_lines
from anzel.ui.views.painted_layer import PaintedLayer, PaintStep
from anzel.ui.views.screen_paths import paths_of
from anzel.ui.views.zoom_canvas import ZoomCanvas


@dataclass(frozen=True)
class PlanContent:
    """What a plan view shows.

    `picked` are the picked joints, `pieces` the picked pieces; `tags` are words under the marks of
    some joints.
    """

    plan: SheetPlan
    tints: dict[str, str]
    dimensions: tuple[Dimension, ...] = ()
    caption: str = ""
    picked: frozenset[str] = frozenset()
    pieces: frozenset[str] = frozenset()
    names: dict[str, str] = field(default_factory=dict)
    tags: dict[str, str] = field(default_factory=dict)
    bounds: Bounds = field(default_factory=Bounds)


class PlanShapes:
    """What is painted of a plan, worked out once: on any thread, because it takes a while."""

    def __init__(self, plan: SheetPlan) -> None:
        self.plan, self.paths = plan, paths_of(plan)
        self.features = [(laid, each) for laid in plan.placed for each in laid.piece.features]
        middles = [laid.transform(feature.at) for laid, feature in self.features]
        self.middles = np.array(middles, dtype=float).reshape(-1, 2)
        """(n, 2) where the features are on the plan, mm."""
        self.roomy = [laid.piece.region.largest_inscribed_circle for laid in plan.placed]


class PlanView(ZoomCanvas):
    """Draws a plan; a click on a joint's mark, a piece or a dimension says so.

    With Shift or Ctrl, what is clicked is added to what is picked.
    """

    joint_picked = Signal(str, bool)
    piece_picked = Signal(str, bool)
    pieces_picked = Signal(list)
    left = Signal()
    dimension_clicked = Signal(str)
    stepped = Signal(int)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.band_drawn.connect(self._pick_within)
        self.setAccessibleName(name)
        self._content: PlanContent | None = None
        self._shapes = PlanShapes(SheetPlan("", 1, 1.0, 1.0, ()))
        self._chips: list[tuple[QRectF, str]] = []
        self._layer = PaintedLayer(self)

    def show_content(self, content: PlanContent, shapes: PlanShapes | None = None) -> None:
        """Show something else, keeping the maker's zoom; its `shapes` may be known already."""
        if self._content is None or content.plan != self._shapes.plan:
            self._shapes = shapes or PlanShapes(content.plan)
        self._content = content
        self.refit()

    def extent(self) -> QRectF:
        if self._content is None:
            return QRectF()
        plan = self._content.plan
        return QRectF(0, 0, plan.width, plan.height)

    def show_piece(self, name: str) -> None:
        """Bring a piece into the middle of the view, so large that it nearly fills it."""
        placed = () if self._content is None else self._content.plan.placed
        for laid in placed:
            if laid.piece.name == name:
                x0, y0, x1, y1 = laid.region.bounds
                self.show_box(QRectF(x0, y0, x1 - x0, y1 - y0))

    def paint_on(self, painter: QPainter) -> None:
        if self._content is None:
            return
        self._chips = []
        content, transform = self._content, self.transform
        looks = (*content.tints.items(), *content.names.items())
        self._layer.paint_on(painter, (self._shapes, looks), transform, self._pieces)
        for at, laid in enumerate(content.plan.placed if content.pieces else ()):
            if laid.piece.name in content.pieces:
                self._paint_piece(painter, at, transform, is_picked=True)
        for dimension in self._content.dimensions:
            self._paint_dimension(painter, dimension)
        self._paint_marks(painter)
        if self._content.caption:
            painter.setFont(font(9, QFont.Weight.DemiBold))
            painter.setPen(colour("soft"))
            painter.drawText(QPointF(14, 24), self._content.caption)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the pieces, each followed by its openings and tabs, then the sizes to click."""
        items: list[AccessibleItem] = []
        content = self._content
        if content is None:
            return items
        for laid in content.plan.placed:
            width, height = laid.piece.region.size
            x0, y0, x1, y1 = laid.region.bounds
            box = QRectF(self.to_view(x0, y1), self.to_view(x1, y0))
            size = f"{shown_length(width, 1)} × {shown_measure(height, 1)}"
            name = laid.piece.name
            items.append(AccessibleItem(
                f"{name}, {size}", box, Role.ListItem, name in content.pieces,
                press=partial(self.piece_picked.emit, name, False),
            ))  # fmt: skip
            for feature in laid.piece.features:
                items.append(self._accessible_feature(laid, feature))
        for box, field_name in self._chips:
            items.append(AccessibleItem(
                field_name.replace("_", " "), box, Role.Button,
                press=partial(self.dimension_clicked.emit, field_name),
            ))  # fmt: skip
        return items

    def _accessible_feature(self, laid: PlacedPiece, feature: Feature) -> AccessibleItem:
        assert self._content is not None
        at, joint = self._at(laid, feature), feature.joint
        return AccessibleItem(
            f"{joint}, {feature.kind.value} of {laid.piece.name}{_taken_by(feature)}",
            QRectF(at.x() - 10, at.y() - 8, 20, 16), Role.Button, joint in self._content.picked,
            f"drawn {shown_length(feature.width.drawn)} × {shown_measure(feature.depth.drawn)}",
            press=lambda: self.joint_picked.emit(joint, False),
        )  # fmt: skip

    def clicked_at(self, position: QPointF, *, is_added: bool = False) -> None:
        for box, field_name in self._chips:
            if box.contains(position):
                self.dimension_clicked.emit(field_name)
                return
        feature, laid = self._feature_near(position), self._laid_under(position)
        if feature is not None:
            self.joint_picked.emit(feature.joint, is_added)
        elif laid is not None:
            self.piece_picked.emit(laid.piece.name, is_added)
        else:
            self.left.emit()

    def _pick_within(self, box: QRectF) -> None:
        if self._content is None:
            return
        outlines = zip(self._content.plan.placed, self._shapes.paths.outlines, strict=True)
        names = [laid.piece.name for laid, path in outlines if box.contains(path.boundingRect())]
        if names:
            self.pieces_picked.emit(names)

    def pick_at(self, position: QPointF) -> None:
        """Pick what is at a place, unless it is among what is picked already."""
        if self._content is None:
            return
        feature, laid = self._feature_near(position), self._laid_under(position)
        is_picked = (
            feature.joint in self._content.picked if feature is not None
            else laid is not None and laid.piece.name in self._content.pieces
        )  # fmt: skip
        if not is_picked:
            self.clicked_at(position)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None:
            self.stepped.emit(step)
        elif event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def hovered_at(self, position: QPointF) -> None:
        laid = self._laid_under(position)
        feature = self._feature_near(position)
        over = feature is not None or any(box.contains(position) for box, _ in self._chips)
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)
        if feature is not None:
            text = f"{feature.joint} · {feature.kind.value}{_taken_by(feature)}: drawn "
            text += f"{shown_length(feature.width.drawn)} × {shown_length(feature.depth.drawn)}"
            QToolTip.showText(self.mapToGlobal(position.toPoint()), text, self)
        elif laid is not None:
            width, height = laid.piece.region.size
            size = f"{shown_length(width, 1)} × {shown_measure(height, 1)}"
            QToolTip.showText(
                self.mapToGlobal(position.toPoint()), f"{laid.piece.name} · {size}", self
            )
        else:
            QToolTip.hideText()

    def _pieces(self) -> Iterator[PaintStep]:
        """Yield what paints each piece, as if it were not picked."""
        for at in range(len(self._shapes.plan.placed)):
            yield partial(self._paint_piece, at=at, transform=self.transform, is_picked=False)

    def _paint_piece(
        self, painter: QPainter, at: int, transform: QTransform, *, is_picked: bool
    ) -> None:  # fmt: skip
        assert self._content
        laid, shapes = self._shapes.plan.placed[at], self._shapes
        edge = ("accent", 2.2) if is_picked else ("ink", 1)
        painter.setPen(QPen(colour(edge[0]), edge[1]))
        painter.setBrush(sheet_colour(self._content.tints.get(laid.piece.stock_id, "#e8d3ad")))
        painter.drawPath(transform.map(shapes.paths.outlines[at]))
        paint_lines(painter, shapes.paths.lines[at], transform)
        paint_faces(painter, laid, transform)
        if is_picked and (frame := framed_piece(self._content.bounds, laid.region)):
            paint_frame(painter, frame, transform)
        if not laid.piece.name_strokes:  # a mark says its name already
            self._paint_name(painter, laid, shapes.roomy[at])

    def _paint_name(
        self, painter: QPainter, laid: PlacedPiece, name_circle: tuple[float, ...]
    ) -> None:
        """The piece's name where it has most room, if it has enough."""
        assert self._content
        x, y, radius = name_circle
        text = self._content.names.get(laid.piece.name, laid.piece.name)
        painter.setFont(font(9, QFont.Weight.Medium))
        half = painter.fontMetrics().horizontalAdvance(text) / 2
        if half < radius * self.scale * 1.15:
            painter.setPen(colour("ink"))
            painter.drawText(self.to_view(*laid.transform((x, y))) + QPointF(-half, 4), text)

    def _paint_marks(self, painter: QPainter) -> None:
        assert self._content
        picked, tags = self._content.picked, self._content.tags
        places = self._feature_pixels()
        for laid, feature in self._shapes.features if picked else ():
            if feature.joint in picked:
                self._paint_picked(painter, laid, feature)
        joints = [feature.joint for _, feature in self._shapes.features]
        paint_marks(painter, joints, places, picked)
        for joint, at in zip(joints, places, strict=True) if tags else ():
            if joint in tags:
                self._paint_tag(painter, QPointF(*at), tags[joint])

    def _feature_pixels(self) -> NDArray[np.float64]:
        """Return (n, 2) where the features are in the view, pixels."""
        shift = np.array([self._offset.x(), self._offset.y()])
        return self._shapes.middles * np.array([self._scale, -self._scale]) + shift

    def _paint_tag(self, painter: QPainter, at: QPointF, text: str) -> None:
        """A word under a mark."""
        painter.setFont(font(8.5, QFont.Weight.Medium))
        wide = painter.fontMetrics().horizontalAdvance(text) + 10
        box = QRectF(at.x() - wide / 2, at.y() + 13, wide, 17)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour("sheet"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(colour("warn" if text.startswith("▲") else "ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_picked(self, painter: QPainter, laid: PlacedPiece, feature: Feature) -> None:
        """The feature's own shape, and its drawn width where there is room."""
        half, length = feature.width.drawn / 2, feature.depth.drawn / 2
        corners = [(-length, -half), (length, -half), (length, half), (-length, half)]
        shape = QPolygonF(
            [
                self.to_view(*laid.transform(along(feature.at, feature.along, x, y)))
                for x, y in corners
            ]
        )
        painter.setPen(QPen(colour("accent"), 2.2))
        tint = QColor(colour("accent"))
        tint.setAlpha(70)
        painter.setBrush(tint)
        painter.drawPolygon(shape)

    def _paint_dimension(self, painter: QPainter, dimension: Dimension) -> None:
        """A dimension line beside its piece, with the size as a chip to click."""
        assert self._content
        laid = next(
            (each for each in self._content.plan.placed if each.piece.name == dimension.piece), None
        )
        if laid is None:
            return
        start, end = laid.transform(dimension.start), laid.transform(dimension.end)
        standing = replace(dimension, start=start, end=end)
        chip = paint_dimension(painter, standing, self.transform, _size_of)
        if chip is not None:
            self._chips.append((chip.box, chip.field))

    def _at(self, laid: PlacedPiece, feature: Feature) -> QPointF:
        return self.to_view(*laid.transform(feature.at))

    def _feature_near(self, position: QPointF) -> Feature | None:
        if self._content is None:
            return None
        if not self._shapes.features:
            return None
        away = self._feature_pixels() - np.array([position.x(), position.y()])
        apart = np.abs(away).sum(axis=1)
        nearest = int(apart.argmin())
        return self._shapes.features[nearest][1] if apart[nearest] < REACH else None

    def _laid_under(self, position: QPointF) -> PlacedPiece | None:
        if self._content is None:
            return None
        point, turned_back = position, self.transform.inverted()[0]
        at = turned_back.map(point)
        for laid, outline in zip(
            self._content.plan.placed, self._shapes.paths.outlines, strict=True
        ):
            if outline.contains(at):
                return laid
        return None


def _size_of(dimension: Dimension) -> str:
    return shown_length(dimension.length, 1)


def _taken_by(feature: Feature) -> str:
    """Return what a feature is for, if that is known."""
    return f" for {feature.goes_with}" if feature.goes_with else ""
