"""Painted views for those who do not see them: their contents as children with name and role.

A view that paints says in `accessible_items` what stands in it and where. The bridge hands that to
assistive technology (Qt's QAccessible, AT-SPI on Linux): each item has a name, a role, a place, a
state, and can be pressed where a click on it would do something.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol, runtime_checkable

from PySide6.QtCore import QObject, QPoint, QRect, QRectF
from PySide6.QtGui import (
    QAccessible,
    QAccessibleActionInterface,
    QAccessibleEvent,
    QAccessibleInterface,
    QWindow,
)
from PySide6.QtWidgets import QAccessibleWidget, QWidget

Role = QAccessible.Role
_PRESS = "Press"


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


_interfaces: dict[int, "_View"] = {}
"""Kept while their views live: Qt holds them by address."""


def _interface_of(key: str, thing: QObject) -> QAccessibleInterface | None:
    if not isinstance(thing, QWidget) or not isinstance(thing, PaintedView):
        return None
    made = _interfaces[id(thing)] = _View(thing)
    number = id(thing)
    thing.destroyed.connect(lambda: _interfaces.pop(number, None))
    return made


class _View(QAccessibleWidget):
    """A painted view, with one child an item."""

    def __init__(self, view: QWidget) -> None:
        super().__init__(view, Role.List, view.accessibleName())
        self._view = view
        self._children: list[_Item] = []

    def items(self) -> Sequence[AccessibleItem]:
        """Return what is painted now."""
        assert isinstance(self._view, PaintedView)
        return self._view.accessible_items()

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


class _Item(QAccessibleInterface):
    """One item of a view, by its place in the list."""

    def __init__(self, view: _View, index: int) -> None:
        super().__init__()
        self._of, self._index = view, index
        self._action = _Press(self)

    @property
    def item(self) -> AccessibleItem | None:
        """What it stands for now; None where there are fewer items."""
        items = self._of.items()
        return items[self._index] if self._index < len(items) else None

    def isValid(self) -> bool:
        return self.item is not None

    def object(self) -> QObject | None:  # type: ignore[override]
        return None

    def window(self) -> QWindow | None:  # type: ignore[override]
        return self._of.view.window().windowHandle()

    def parent(self) -> QAccessibleInterface | None:  # type: ignore[override]
        return self._of

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
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

    def setText(self, kind: QAccessible.Text, text: str) -> None:
        """Painted words cannot be written to."""

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

    def interface_cast(  # type: ignore[override]
        self, kind: QAccessible.InterfaceType
    ) -> QAccessibleActionInterface | None:
        is_action = kind == QAccessible.InterfaceType.ActionInterface
        item = self.item
        return self._action if is_action and item is not None and item.press is not None else None


class _Press(QAccessibleActionInterface):
    """Does what a click on an item does."""

    def __init__(self, item: _Item) -> None:
        super().__init__()
        self._item = item

    def actionNames(self) -> list[str]:
        return [_PRESS]

    def doAction(self, name: str) -> None:
        item = self._item.item
        if name == _PRESS and item is not None and item.press is not None:
            item.press()

    def keyBindingsForAction(self, name: str) -> list[str]:
        return []

    def localizedActionName(self, name: str) -> str:
        return name

    def localizedActionDescription(self, name: str) -> str:
        return "Picks it, as a click does"
