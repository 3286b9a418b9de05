"""What is done while the maker rests, so that nobody waits for it later.

After the start modules, a typeface and helpers are got ready on another thread, then the steps'
pages, one at a time. Garbage is collected only here: that holds everything up, and on another
thread it would end widgets, which Qt does not survive. What a collection leaves is looked through
again only when the maker seems to be away.
"""

import gc
from importlib import import_module
from time import monotonic

from PySide6.QtCore import QEvent, QObject, QTimer

from anzel.app import proving
from anzel.app.navigation import Step
from anzel.app.worker import start_thread
from anzel.core.memory import give_back
from anzel.geometry.lettering import lettering
from anzel.nesting import solving
from anzel.ui.main_window import MainWindow

_MODULES = (
    *(f"anzel.ui.steps.{step.value}_step" for step in Step),
    "anzel.ui.steps.sketch_controller", "anzel.ui.steps.drawing_controller",
    "anzel.ui.widgets.plate_page", "anzel.ui.widgets.piece_page", "anzel.ui.widgets.sketch_page",
    "anzel.ui.widgets.profile_panel", "anzel.app.views.layout_editor",
    "anzel.nesting.validation", "anzel.output.export", "anzel.storage.recovery_store",
    "anzel.ui.dialogs",
)  # fmt: skip
_LOOK_MS = 300
"""Between two looks whether the maker rests."""
_WORTH_IT, _MANY, _TOO_MANY = 20_000, 50_000, 200_000
"""New objects for which garbage is collected in a rest, and the most in a short and in a long one:
a million takes a second. Of more it is collected when the maker is away."""
_RESTS_AFTER, _LONG_REST, _AWAY = 1.0, 5.0, 60.0
"""Seconds without a key, a click or a move of the mouse, and without work."""
_INPUT = {
    QEvent.Type.KeyPress, QEvent.Type.MouseButtonPress, QEvent.Type.MouseButtonRelease,
    QEvent.Type.MouseMove, QEvent.Type.Wheel, QEvent.Type.TouchUpdate,
}  # fmt: skip


class Housekeeping(QObject):
    """Does one thing after the other; it belongs to the window."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self._window = window
        self._loading = start_thread(_load, "anzel-getting-ready")
        self._last_act = monotonic()
        self._unpainted: list[Step] = []
        self._is_thorough = False
        self.is_over = False
        """Whether every page is there."""
        if (handle := window.windowHandle()) is not None:
            handle.installEventFilter(self)
        self._timer = QTimer(self)
        self._timer.setInterval(_LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._timer.start()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in _INPUT:
            self._last_act = monotonic()
        return False

    def _look(self) -> None:
        if self._loading.is_alive():
            return
        if not self._window.is_settled:
            self._last_act = monotonic()
            return
        rest = monotonic() - self._last_act
        self._collect(rest)
        if rest > _RESTS_AFTER and not self.is_over:
            self._make_ready()

    def _collect(self, rest: float) -> None:
        """Collect garbage; all of it at most once in a while that the maker is away."""
        new = gc.get_count()[0]
        is_away = rest > _AWAY and not self._is_thorough
        most = _TOO_MANY if rest > _LONG_REST else _MANY if rest > _RESTS_AFTER else 0
        are_too_many = new > _TOO_MANY
        if not (is_away or are_too_many or _WORTH_IT < new <= most):
            return
        self._is_thorough = is_away
        if is_away:
            gc.unfreeze()
        if is_away or not are_too_many:
            gc.collect()
        gc.freeze()
        start_thread(give_back, "anzel-giving-back")

    def _make_ready(self) -> None:
        """Make the next page, or dress the one that was made."""
        pages = self._window.pages
        missing = [step for step in Step if step not in pages]
        if self._unpainted:
            page = pages[self._unpainted.pop()]
            page.resize(pages[Step.BUILD].size())
            page.grab()  # it is dressed and laid out, which takes as long again
        elif missing:
            self._window.make_page(missing[0])
            self._unpainted.append(missing[0])
        else:
            self.is_over = True


def _load() -> None:
    for helper in (proving.HELPER, solving.HELPER, solving.SQUEEZING):
        helper.start()
    for module in _MODULES:
        import_module(module)
    lettering("Anzel", 3.0, (0.0, 0.0))
