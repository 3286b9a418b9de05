"""What can be done to what is picked, from menus, keys and the right mouse button."""

from collections.abc import Callable, Mapping
from functools import partial

from PySide6.QtCore import QObject, QPointF
from PySide6.QtGui import QAction, QContextMenuEvent
from PySide6.QtWidgets import QAbstractItemView, QApplication, QMenu, QWidget

from anzel.app.background import Background
from anzel.app.navigation import Step
from anzel.app.picked_actions import PICKED_ACTIONS, actions_for, select_all
from anzel.app.session import Session
from anzel.layout.layout import SheetPlan
from anzel.output.export import render, structure_pages
from anzel.ui import clipboard
from anzel.ui.accessibility import PaintedView
from anzel.ui.drag_out import DragOut, FileContent, FileDrag
from anzel.ui.widgets.picked_line import PickedLine

_IN_STEP = {
    Step.STOCK: ("add-reading", "strike-reading", "add-stock", "keep-stock"),
    Step.CUTTER: ("add-cutter",),
    Step.TEST: ("write-test-piece",),
    Step.SHEETS: ("write-sheets", "print", "print-paper"),
}  # fmt: skip
"""What the menus of a step's views and lists begin with where nothing is picked."""
_ALWAYS = ("copy", "paste", "select-all", "up", "show-all", "whole")
"""What every menu of a view ends with."""


class PickedCommands(QObject):
    """Runs the table of actions, and shows it as the menu of every view and list."""

    def __init__(self, window: QWidget, session: Session, jobs: Background) -> None:
        super().__init__(window)
        self._window, self._session, self._jobs = window, session, jobs
        self._entries: Mapping[str, QAction] = {}

    def callbacks(self) -> dict[str, Callable[[], object]]:
        """Return a callback for each action on what is picked."""
        return {
            **{action.id: partial(action.do, self._session) for action in PICKED_ACTIONS},
            "copy": self.copy, "cut": self.cut, "paste": lambda: clipboard.paste(self._session),
            "select-all": lambda: select_all(self._session),
            "show-all": self._session.visibility.show_all,
            "up": self._session.selection.go_up,
            "undraw": lambda: self._session.navigation.draw(""),
        }  # fmt: skip

    def show_menus(self, entries: Mapping[str, QAction]) -> None:
        """Show a menu where the right button is pressed in the window."""
        self._entries = entries

    def make_handle(self, line: PickedLine, sheets: bool = False) -> DragOut:
        """Have the name on top of a panel dragged out: what is picked, or all sheets."""

        def make() -> Callable[[], FileContent]:
            project, things = self._session.project, self._session.selection.things
            if sheets and not things:
                return lambda: (
                    f"{project.name}.svg",
                    render(structure_pages(project), project.pens, ".svg"),
                )
            return lambda: (f"{line.title.text()}.svg", clipboard.svg_of(project, things))

        return DragOut(line.title, self._jobs, make, self._session.status.warn)

    def drag_sheet(self, view: QWidget, plan: SheetPlan) -> None:
        """Drag one sheet out of a view, as a cut file."""
        project = self._session.project

        def work() -> FileContent:
            pages = structure_pages(project, stock_id=plan.stock_id, sheet=plan.number)
            name = f"{project.name}, {plan.stock_id} sheet {plan.number}.svg"
            return name, render(pages, project.pens, ".svg")

        FileDrag(view, self._jobs, self._session.status.warn).begin(work)

    def copy(self) -> None:
        """Put what is picked on the clipboard, drawn in the background."""
        project, things = self._session.project, self._session.selection.things
        self._jobs.start(
            lambda progress: clipboard.svg_of(project, things),
            done=self._copied, failed=self._session.status.warn,
        )  # fmt: skip

    def cut(self) -> None:
        """Put what is picked on the clipboard and take it out."""
        clipboard.put_on_clipboard(
            self._session, clipboard.svg_of(self._session.project, self._session.selection.things)
        )
        next(action for action in PICKED_ACTIONS if action.id == "delete").do(self._session)

    def _copied(self, svg: bytes) -> None:
        if svg:
            clipboard.put_on_clipboard(self._session, svg)
            self._session.status.show("Copied, as a picture and as SVG")

    def show_menu(self, event: QContextMenuEvent) -> None:
        """Show the menu of the view or list that the event came to, and did not take itself."""
        is_mouse = event.reason() == QContextMenuEvent.Reason.Mouse
        at = self._window.childAt(event.pos()) if is_mouse else QApplication.focusWidget()
        while at is not None and not isinstance(at, QAbstractItemView | PaintedView):
            at = at.parentWidget()
        if at is None:
            event.ignore()
            return
        pick_at = getattr(at, "pick_at", None)
        if pick_at is not None and is_mouse:
            pick_at(QPointF(at.mapFrom(self._window, event.pos())))
        self._menu().popup(event.globalPos())

    def _menu(self) -> QMenu:
        menu = QMenu(self._window)
        menu.aboutToHide.connect(menu.deleteLater)
        found = actions_for(self._session)
        for action in found:
            if action.id in self._entries:
                menu.addAction(self._entries[action.id])
            else:
                menu.addAction(action.title, partial(action.do, self._session))
        for action_id in () if found else _IN_STEP.get(self._session.navigation.step, ()):
            menu.addAction(self._entries[action_id])
        menu.addSeparator()
        for action_id in _ALWAYS:
            menu.addAction(self._entries[action_id])
        return menu
