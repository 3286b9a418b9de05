"""Painted views for those who do not see them: their contents as children with name and role.

A view that paints says in `accessible_items` what stands in it and where. The bridge hands that to
assistive technology (Qt's QAccessible, AT-SPI on Linux): each item has a name, a role, a place, a
state, and can be pressed where a click on it would do something.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from time import monotonic
from typing import Protocol, runtime_checkable

from PySide6.QtCore import QEvent, QObject, QPoint, QRect, QRectF
from PySide6.QtGui import (
    QAccessible,
    QAccessibleEvent,
    QAccessibleInterface,
)
from PySide6.QtWidgets import QAbstractButton, QAccessibleWidget, QCheckBox, QWidget

from anzel.ui.widgets.deferred_call import after_event

Role = QAccessible.Role
_PRESS = "Press"
_ITEMS_KEPT = 0.5
"""Seconds after which the items of a view are listed again, even if it was not repainted."""


@dataclass(frozen=True)
class AccessibleItem:
    """Something painted: its name, its place in the view in pixels, and what a press on it does."""

    name: str
    box: QRectF
    role: QAccessible.Role = Role.StaticText
    is_picked: bool = False
    description: str = ""
    press: Callable[[], object] | None = None


@runtime_checkable
class PaintedView(Protocol):
    """A widget that says what it has painted."""

    def accessible_items(self) -> Sequence[AccessibleItem]:
        """Return what stands in the view, in reading order."""
        ...


def install() -> None:
    """Let assistive technology see into painted views, from now on."""
    QAccessible.installFactory(_interface_of)


def announce(widget: QWidget) -> None:
    """Tell assistive technology that the words of a widget have changed."""
    if QAccessible.isActive():
        event = QAccessibleEvent(widget, QAccessible.Event.NameChanged)
        QAccessible.updateAccessibility(event)


_interfaces: dict[int, QAccessibleWidget] = {}
"""Kept while their views live: Qt holds them by address."""


def _interface_of(key: str, thing: QObject) -> QAccessibleInterface | None:
    interface: QAccessibleWidget
    if isinstance(thing, QAbstractButton) and thing.isCheckable():
        interface = _CheckableButton(thing)
    elif isinstance(thing, QWidget) and isinstance(thing, PaintedView):
        interface = _View(thing)
    else:
        return None
    number = id(thing)
    _interfaces[number] = interface
    thing.destroyed.connect(lambda: _interfaces.pop(number, None))
    return interface


class _CheckableButton(QAccessibleWidget):
    """A button that stays down, pressed as by a click.

    Qt's own only toggles it, which whoever waits for a click never hears of.
    """

    def __init__(self, button: QAbstractButton) -> None:
        is_box = isinstance(button, QCheckBox)
        role = Role.RadioButton if button.autoExclusive() else Role.Button
        super().__init__(button, Role.CheckBox if is_box else role)
        self._button = button

    def text(self, kind: QAccessible.Text) -> str:
        if kind == QAccessible.Text.Name:
            return self._button.accessibleName() or self._button.text().replace("&", "")
        return super().text(kind)

    def state(self) -> QAccessible.State:
        state = super().state()
        state.checkable, state.checked = 1, int(self._button.isChecked())
        return state

    def actionNames(self) -> list[str]:
        return [_PRESS, *super().actionNames()]

    def doAction(self, name: str) -> None:
        if name == _PRESS:
            after_event(self._button, self._button.click)
        else:
            super().doAction(name)


class _Repaints(QObject):
    """Calls back whenever a widget is painted, moved or hidden."""

    _KINDS = (QEvent.Type.Paint, QEvent.Type.Move, QEvent.Type.Hide, QEvent.Type.UpdateRequest)

    def __init__(self, widget: QWidget, on_repaint: Callable[[], None]) -> None:
        super().__init__(widget)
        self._on_repaint = on_repaint
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in self._KINDS:
            self._on_repaint()
        return False


class _View(QAccessibleWidget):
    """A painted view, with one child an item."""

    def __init__(self, view: QWidget) -> None:
        super().__init__(view, Role.List, view.accessibleName())
        self._view = view
        self._children: list[_Item] = []
        self._items: tuple[float, Sequence[AccessibleItem]] | None = None
        self._repaints = _Repaints(view, self.forget_items)

    def items(self) -> Sequence[AccessibleItem]:
        """Return the items as they were painted last.

        A reader asks several questions about each of them, so listing them for every question
        would take a time that grows with the square of their number.
        """
        now = monotonic()
        if self._items is not None and now - self._items[0] < _ITEMS_KEPT:
            return self._items[1]
        assert isinstance(self._view, PaintedView)
        items = self._view.accessible_items()
        self._items = (now, items) if self._view.isVisible() else None
        return items

    def forget_items(self) -> None:
        """List the items again for the next question."""
        self._items = None

    def text(self, kind: QAccessible.Text) -> str:
        if kind == QAccessible.Text.Name:
            return self._view.accessibleName()
        return self._view.accessibleDescription() if kind == QAccessible.Text.Description else ""

    def childCount(self) -> int:
        return len(self.items())

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        if not 0 <= index < self.childCount():
            return None
        while len(self._children) <= index:  # never freed before the view: Qt may hold them
            self._children.append(_Item(self, len(self._children)))
        return self._children[index]

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        return next((at for at, each in enumerate(self._children) if each is child), -1)

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        at = self._view.mapFromGlobal(QPoint(x, y)).toPointF()
        for index, item in enumerate(self.items()):
            if item.box.contains(at):
                return self.child(index)
        return None

    @property
    def view(self) -> QWidget:
        """The widget."""
        return self._view


class _Item(QAccessibleWidget):
    """One item of a view, by its place in the list.

    It derives from Qt's own interface of a widget, whose actions are offered in C++. PySide 6.11
    passes an action interface made in Python to Qt as a wrong pointer, which ends the process.
    """

    def __init__(self, view: _View, index: int) -> None:
        super().__init__(view.view, Role.NoRole)
        self._of, self._index = view, index

    @property
    def item(self) -> AccessibleItem | None:
        """What it stands for now; None where there are fewer items."""
        items = self._of.items()
        return items[self._index] if self._index < len(items) else None

    def isValid(self) -> bool:
        return self._of.isValid() and self.item is not None

    def object(self) -> QObject | None:  # type: ignore[override]
        return None  # the widget is the view's object, not its items'

    def parent(self) -> QAccessibleInterface | None:  # type: ignore[override]
        return self._of

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def focusChild(self) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def childCount(self) -> int:
        return 0

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        return -1

    def text(self, kind: QAccessible.Text) -> str:
        item = self.item
        if item is None:
            return ""
        words = {
            QAccessible.Text.Name: item.name, QAccessible.Text.Description: item.description,
        }  # fmt: skip
        return words.get(kind, "")

    def rect(self) -> QRect:
        item = self.item
        if item is None:
            return QRect()
        box = item.box.toAlignedRect()
        return QRect(self._of.view.mapToGlobal(box.topLeft()), box.size())

    def role(self) -> QAccessible.Role:
        item = self.item
        return item.role if item is not None else Role.NoRole

    def state(self) -> QAccessible.State:
        state, item = QAccessible.State(), self.item
        if item is None:
            state.invalid = 1
            return state
        state.selectable = state.focusable = int(item.press is not None)
        state.selected = int(item.is_picked)
        state.readOnly = 1
        state.invisible = int(not self._of.view.isVisible())
        return state

    def actionNames(self) -> list[str]:
        item = self.item
        return [_PRESS] if item is not None and item.press is not None else []

    def doAction(self, name: str) -> None:
        self._of.forget_items()
        item = self.item
        if name == _PRESS and item is not None and item.press is not None:
            # it may open a dialog, and the reader waits for an answer
            after_event(self._of.view, item.press)

    def keyBindingsForAction(self, name: str) -> list[str]:
        return []

    def localizedActionName(self, name: str) -> str:
        return name

    def localizedActionDescription(self, name: str) -> str:
        return "Picks it, as a click does"
