"""Commands that show something in the window's views: found, nearer, alone, apart, next."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from anzel.app.navigation import Step
from anzel.app.search import Kind, Match
from anzel.app.session import Session
from anzel.ui.views.view3d import View3D
from anzel.ui.views.zoom_canvas import ZoomCanvas

if TYPE_CHECKING:
    from anzel.ui.main_window import MainWindow


class ViewCommands:
    """Runs them on the views of a window."""

    def __init__(self, window: "MainWindow", session: Session) -> None:
        self._window, self._session = window, session

    def callbacks(self) -> dict[str, Callable[[], object]]:
        """Return a callback for each of them."""
        return {
            "rename": self._rename,
            "next-thing": lambda: self._step_picked(1),
            "previous-thing": lambda: self._step_picked(-1),
            "flat-alone": lambda: self._show_alone(0),
            "standing-alone": lambda: self._show_alone(1),
            "zoom-in": lambda: self._zoom(1.25),
            "zoom-out": lambda: self._zoom(0.8),
            "whole": self._whole,
            "apart": self._pull_apart,
        }

    def _rename(self) -> None:
        """Have the picked plate, sheet or cutter ready for another name."""
        step = self._session.navigation.step
        if step is Step.BUILD and self._session.selection.plate_name:
            self._window.build.panel.plate.focus_name()
        elif step in (Step.STOCK, Step.CUTTER):
            (self._window.stock if step is Step.STOCK else self._window.cutter).focus_name()

    def _step_picked(self, by: int) -> None:
        """Pick the next or previous thing of the kind that is picked in the step shown."""
        page: Any = self._window.pages[self._session.navigation.step]
        line = self._window.build.panel.line if page is self._window.build else page.line
        line.stepped.emit(by)

    def _show_alone(self, number: int) -> None:
        """Show one of the two views of the structure alone, or both."""
        self._session.navigation.go_to(Step.BUILD)
        self._window.build.both.switch_alone(number)

    def _zoom(self, factor: float) -> None:
        """Go nearer or farther in the view that has the focus, or in the standing one."""
        view = self._window.focusWidget()
        if isinstance(view, ZoomCanvas | View3D):
            view.zoom(factor)
        elif self._session.navigation.step is Step.BUILD:
            self._window.build.standing.zoom(factor)

    def go_to_match(self, match: Match) -> None:
        """Show what was found."""
        session = self._session
        match match.kind:
            case Kind.ACTION:
                self._window.actions_by_id[match.id].trigger()
            case Kind.STOCK:
                session.navigation.go_to(Step.STOCK)
                session.selection.pick_stock(match.id)
            case Kind.JOINT:
                session.navigation.go_to(Step.BUILD)
                session.selection.pick_joint(match.id)
            case Kind.PIECE:
                session.navigation.go_to(Step.BUILD)
                self._window.build.show_piece(match.id)
            case Kind.PARAMETER:
                session.navigation.go_to(Step.BUILD)
                self._window.build.panel.focus_field(match.id)

    def _whole(self) -> None:
        self._window.build.standing.fit()
        for step in self._window.pages.values():
            for view in step.findChildren(ZoomCanvas):
                view.fit()

    def _pull_apart(self) -> None:
        self._session.navigation.go_to(Step.BUILD)
        self._window.build.slider.setValue(0 if self._window.build.slider.value() else 60)
