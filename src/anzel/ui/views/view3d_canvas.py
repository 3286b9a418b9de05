"""The canvas of the standing structure: what is shown, from where, with which markers on it.

Pictures are rendered on another thread; the canvas shows the last one that arrived. How the maker
turns, picks and drags is in `view3d`.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cache, partial
from itertools import combinations, product
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.app.background import Background, Newest
from anzel.app.number_display import shown
from anzel.assembly.partings import Parting
from anzel.core.error_boundary import UnexpectedError
from anzel.core.findings import MakerError
from anzel.geometry.placement import Vector
from anzel.project.bounds import BoundingBox
from anzel.scene.camera import EYES, Camera
from anzel.scene.render_request import RenderRequest, RenderStyle
from anzel.structure.model import FitContext, SolvedStructure
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.main_thread import MainThread
from anzel.ui.painting import painting
from anzel.ui.theme import colour
from anzel.ui.views.joint_markers import paint_arrow, paint_marks, paint_offer
from anzel.ui.views.render_colours import render_style, to_qimage
from anzel.ui.views.seen_joints import SeenJoints
from anzel.ui.views.zoom_canvas import paint_focus

if TYPE_CHECKING:
    from anzel.scene.offscreen import RenderedPicture

_START_MS = 40
_FRAME = 1 / 40
"""Pictures that take longer than this, s, are drawn plainer while the eye moves."""
_STILL_MS = 180
"""The eye stands still when it has not moved for this long."""


def open_renderer() -> Callable[[RenderRequest], "RenderedPicture"]:
    """Return the function that renders a request, beside the window."""
    from anzel.scene.offscreen import OffscreenRenderer  # loads OpenGL, so only when needed
    from anzel.scene.renderer_process import RendererProcess

    return OffscreenRenderer(RendererProcess()).render


class View3DCanvas(QWidget):
    """Shows a build as it stands."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Standing structure")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(150, 120)
        self._drawing: Background | None = None
        self._newest: Newest | None = None
        self._asked: RenderRequest | None = None
        self._shown: RenderedPicture | None = None
        self._image = QImage()
        self._joints = SeenJoints()
        self._stale, self._released, self._is_slow = True, False, False
        self.missing = ""
        self._lacks_opengl = False
        self._solved: tuple[SolvedStructure, FitContext] | None = None
        self._camera, self._follows = Camera(), True
        self._tints: dict[str, str] = {}
        self._lit_through: frozenset[str] = frozenset()
        self._bulb: Vector | None = None
        self._lamp_on = False
        self._picked: tuple[str, ...] = ()
        self._pieces: tuple[str, ...] = ()
        self._apart, self._cut = 0.0, 0.0
        self._hidden: frozenset[str] = frozenset()
        self._offered: tuple[Vector, ...] = ()
        self._frame: BoundingBox | None = None
        self._outline: tuple[Vector, ...] = ()
        self._carried: tuple[str, Vector] | None = None
        self._proven: tuple[Parting, ...] = ()
        self._placed: tuple[tuple[str, Vector], ...] | None = None
        self._ways: tuple[tuple[Vector, Vector], ...] = ()
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.setInterval(_STILL_MS)
        self._still.timeout.connect(self._redraw)

    def show_build(
        self,
        solved: SolvedStructure,
        fit_context: FitContext,
        tints: dict[str, str],
        picked: tuple[str, ...],
        *,
        pieces: tuple[str, ...] = (),
        offered: tuple[Vector, ...] = (),
        frame: BoundingBox | None = None,
        bulb: Vector | None = None,
        lit_through: frozenset[str] = frozenset(),
        proven: tuple[Parting, ...] = (),
    ) -> None:
        """Show a build, keeping the maker's point of view.

        Picked joints and pieces, offered joints, a frame, a bulb, stocks that glow, proven ways.
        """
        self._solved = (solved, fit_context)
        if not self._lacks_opengl:
            self.missing = ""  # what could not be drawn is tried again
        self._bulb, self._lit_through = bulb, lit_through
        self._tints = tints
        self._picked, self._pieces, self._offered = picked, pieces, offered
        self._frame = frame
        self._carried, self._proven = None, proven
        self._redraw()

    def part_on(self, proven: tuple[Parting, ...]) -> None:
        """Pull the pieces apart on ways that are proven."""
        self._proven = proven
        if self._apart:
            self._redraw()

    def stand(
        self, placed: Mapping[str, Vector], ways: tuple[tuple[Vector, Vector], ...] = ()
    ) -> None:
        """Show pieces off their places, mm, with the ways that lead them in as arrows."""
        self._ways = ways
        if self._placed != tuple(placed.items()):
            self._placed = tuple(placed.items())
            self._still.start()
        self._redraw()

    def show_side(self, outline: tuple[Vector, ...]) -> None:
        """Show the outline of a picked side; of none where there are no corners."""
        self._outline = outline
        self.update()

    @property
    def apart(self) -> float:
        """How far the pieces are pulled apart, 0 to 1."""
        return self._apart

    def pull_apart(self, share: float) -> None:
        """Pull the pieces apart: 0 together, 1 well apart."""
        self._apart = share
        self._redraw()

    def look_from(self, view: str) -> None:
        """Look from a named direction, everything in view; or as somebody at the table does."""
        if view in EYES:
            self._camera, self._follows = self._camera.at_eye(view), False
            self._redraw()
            return
        self._camera = self._camera.looking_from(view)
        self.fit()

    @property
    def camera(self) -> Camera:
        """From where it is looked at."""
        return self._camera

    def look_along(self, azimuth: float, elevation: float, parallel: bool) -> None:
        """Look in a direction, in degrees, everything in view."""
        self._camera = replace(
            self._camera, azimuth=azimuth, elevation=elevation, parallel=parallel
        )
        self.fit()

    def look_from_below(self, below: bool) -> None:
        """Look at the underside, or from above again, at the angle that the maker chose."""
        height = abs(self._camera.elevation) * (-1 if below else 1)
        if height != self._camera.elevation:
            self._camera = replace(self._camera, elevation=height)
            self._redraw()

    def cut_open(self, share: float) -> None:
        """Leave a share of the whole away, towards the eye."""
        self._cut = share
        self._redraw()

    @property
    def is_parallel(self) -> bool:
        """Whether parallel lines stay parallel."""
        return self._camera.parallel

    def in_parallel(self, parallel: bool) -> None:
        """Parallel lines stay parallel, or run together with distance."""
        self._camera = self._camera.in_parallel(parallel)
        self._redraw()

    def turn_lamp(self, on: bool) -> None:
        """The lamp on, in the dusk, or daylight."""
        self._lamp_on = on
        self._redraw()

    @property
    def hidden(self) -> frozenset[str]:
        """The pieces left out."""
        return self._hidden

    def leave_out(self, pieces: frozenset[str]) -> None:
        """Leave pieces out of the picture."""
        if pieces != self._hidden:
            self._hidden = pieces
            self._redraw()

    def fit(self) -> None:
        """Everything in view, and keep it so."""
        self._follows = True
        self._redraw()

    @property
    def is_moving(self) -> bool:
        """Whether things are on their way: pictures are plainer meanwhile if they take long."""
        return self._still.isActive() and (self._is_slow or self._placed is not None)

    def _redraw(self) -> None:
        self._stale = True
        self.update()

    def _move_eye(self, camera: Camera, *, follows: bool) -> None:
        self._camera, self._follows = camera, follows
        self._still.start()
        self._redraw()

    def paintEvent(self, event: QPaintEvent) -> None:
        # the first picture starts OpenGL, which takes a while: the window shall stand before that
        QTimer.singleShot(0 if self._drawing else _START_MS, self, self._ask)
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            if self._shown is not None and not self.missing:
                painter.drawImage(self.rect(), self._image)
                self._paint_marks(painter)
            else:
                painter.setPen(colour("soft"))
                box = QRectF(self.rect()).adjusted(30, 30, -30, -30)
                flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
                painter.drawText(box, int(flags), self.missing)
            paint_focus(painter, self)

    @property
    def is_drawn(self) -> bool:
        """Whether what is on view is the present state, or cannot be drawn at all."""
        if self.missing:
            return True
        shown = self._shown.request if self._shown else None
        settled = not self._stale and not self.is_moving
        return settled and shown is not None and shown == self._asked

    def _ask(self) -> None:
        """Have the present state drawn, unless that is under way already."""
        self._stale = False
        if self._solved is None or self.missing or self._released:
            return
        ratio = self.devicePixelRatioF()
        size = (max(round(self.width() * ratio), 1), max(round(self.height() * ratio), 1))
        request = RenderRequest(
            *self._solved, self._apart, self._camera, self._follows, self._look(), size, self._cut,
            self.is_moving, self._carried, self._proven if self._apart else (), self._placed,
        )  # fmt: skip
        if request != self._asked:
            self._asked = request
            if self._newest is None:
                self._drawing = Background(MainThread(self).post, "anzel-drawing")
                self._newest = Newest(self._drawing, shows_each=True)
                self._renderer = cache(open_renderer)
            renderer = self._renderer
            self._newest.start(
                lambda task: renderer()(request), done=self._arrived, failed=self._cannot_draw
            )

    def _arrived(self, picture: "RenderedPicture") -> None:
        self._shown, self._image = picture, to_qimage(picture)
        if not picture.request.plain:
            self._is_slow = picture.seconds > _FRAME
        if picture.request == self._asked and self._follows:
            # the fitted camera is where the next turn starts from; it needs no new picture
            self._camera = picture.camera
            self._asked = replace(picture.request, camera=picture.camera)
            self._shown = replace(picture, request=self._asked)
        self.update()

    def _cannot_draw(self, error: MakerError) -> None:
        self.missing = shown(str(error))
        self._lacks_opengl = not isinstance(error, UnexpectedError)
        self.update()

    def _look(self) -> RenderStyle:
        joints = self._solved[0].joints if self._solved else ()
        mates = (n for joint in joints if joint.id in self._picked for n in joint.pieces)
        names = frozenset((*mates, *self._pieces))
        return replace(
            render_style(self._tints), picked=names, hidden=self._hidden,
            new=frozenset(self._pieces if self._placed is not None else ()),
            lit_through=self._lit_through, lamp=self._bulb if self._lamp_on else None,
        )  # fmt: skip

    def _marks(self) -> tuple[list[str], NDArray[np.float64]]:
        """Return the joints' names and where, (n, 2) pixels, the picture shows their marks."""
        if self._shown is None or self._shown.request.plain or self._placed is not None:
            return [], np.empty((0, 2))
        return self._joints.of(self._shown, self._hidden, self.size().toTuple())

    def _on_screen(self, points: Sequence[Vector]) -> list[QPointF]:
        """Return where the picture on view shows points of space."""
        assert self._shown is not None
        seen = self._shown.camera.all_to_pixels(points, self.width(), self.height())
        return [QPointF(x, y) for x, y in seen]

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the joints that are in sight, with their two pieces, and then the pieces."""
        if self._shown is None:
            return []
        solved = self._shown.request.solved
        joints = {joint.id: joint for joint in solved.joints}
        marks = [
            AccessibleItem(
                f"{name}, {joints[name].title}", QRectF(x - 10, y - 8, 20, 16),
                Role.Button, name in self._picked, press=partial(self.joint_chosen, name),
            )
            for name, (x, y) in zip(*self._marks(), strict=True)
        ]  # fmt: skip
        return marks + [
            AccessibleItem(
                f"{piece.name}{', hidden' * (piece.name in self._hidden)}", QRectF(self.rect()),
                Role.ListItem, piece.name in self._pieces,
                press=partial(self.piece_chosen, piece.name),
            )
            for piece in solved.pieces
        ]  # fmt: skip

    def piece_chosen(self, name: str) -> None:
        """A piece was chosen without the mouse; subclasses say so."""

    def joint_chosen(self, joint_id: str) -> None:
        """A joint was chosen without the mouse; subclasses say so."""

    def _offers(self) -> list[QPointF]:
        """Return where the picture on view shows joints that could be made."""
        if self._shown is None or self._shown.request.plain or self._apart or not self._offered:
            return []
        return self._on_screen(self._offered)

    def _paint_marks(self, painter: QPainter) -> None:
        if self._shown is not None and self._shown.request.style.lamp is not None:
            return  # with the lamp on one looks at the light
        self._paint_frame(painter)
        self._paint_side(painter)
        self._paint_ways(painter)
        paint_marks(painter, *self._marks(), self._picked)
        for at in self._offers():
            paint_offer(painter, at)

    def _paint_frame(self, painter: QPainter) -> None:
        """The bounds of the whole as a frame of thin lines."""
        if self._frame is None or self._shown is None or self._apart:
            return
        seen = self._on_screen([(x, y, z) for x, y, z in product(*zip(*self._frame, strict=True))])
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashLine))
        for one, other in combinations(range(8), 2):
            if (one ^ other).bit_count() == 1:  # they differ along one axis only
                painter.drawLine(seen[one], seen[other])

    def _paint_side(self, painter: QPainter) -> None:
        """The side that was picked to be placed."""
        if self._shown is None or self._apart or not self._outline:
            return
        painter.setPen(QPen(colour("accent"), 3))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(self._on_screen(self._outline))

    def _paint_ways(self, painter: QPainter) -> None:
        """The ways of what comes in next, as arrows."""
        if self._shown is not None:
            for way in self._ways:
                paint_arrow(painter, *self._on_screen(way))

    def release(self) -> None:
        """Stop drawing for good and give the drawing context back."""
        self._released = True
        if self._drawing is not None:
            self._drawing.close()
            self._drawing = None
