"""A screen reader's side of AT-SPI: walks every accessible object of a window and presses some.

It is a program of its own, run inside `dbus-run-session`. `screen_reader.py RECORD ACTS COMMAND`
opens the window, reads every object of every step over D-Bus as assistive technology does, presses
painted items, and goes on for so many acts. It writes one JSON record. Interfaces and numbers of
roles and states are those of AT-SPI 2 (https://gitlab.gnome.org/GNOME/at-spi2-core, xml/).
"""

import json
import os
import random
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jeepney import DBusAddress, Properties, new_method_call
from jeepney.io.blocking import DBusConnection, open_dbus_connection

ACCESSIBLE, ACTION = "org.a11y.atspi.Accessible", "org.a11y.atspi.Action"
COMPONENT, ROOT = "org.a11y.atspi.Component", "/org/a11y/atspi/accessible/root"
REGISTRY, TIMEOUT = "org.a11y.atspi.Registry", 20.0
STEPS = (
    "Stock", "Cutter", "Test piece", "Build", "Forecast", "Assemble", "Sheets", "Practice"
)  # fmt: skip
SHOWING = 1 << 25
"""ATSPI_STATE_SHOWING."""
PICKS = "Picks it, as a click does"
"""How a painted item describes what pressing it does."""
Node = tuple[str, str]
"""A bus name and the path of an object on it."""


class Reader:
    """Asks for accessible objects, one call after the other."""

    def __init__(self) -> None:
        session = open_dbus_connection("SESSION")
        bus = DBusAddress("/org/a11y/bus", "org.a11y.Bus", "org.a11y.Bus")
        (address,) = session.send_and_get_reply(new_method_call(bus, "GetAddress")).body
        self._bus: DBusConnection = open_dbus_connection(address)

    def call(self, node: Node, interface: str, method: str, *arguments: Any) -> tuple[Any, ...]:
        """Return what a method answers; an error of the other side is an empty answer."""
        to = DBusAddress(node[1], node[0], interface)
        signature, *values = arguments or (None,)
        message = new_method_call(to, method, signature, tuple(values))
        return self._answered(message)

    def text(self, node: Node, name: str) -> str:
        """Return a property, such as the Name."""
        to = DBusAddress(node[1], node[0], ACCESSIBLE)
        answer = self._answered(Properties(to).get(name))
        return str(answer[0][1]) if answer else ""

    def _answered(self, message: Any) -> tuple[Any, ...]:
        reply = self._bus.send_and_get_reply(message, timeout=TIMEOUT)
        return reply.body if reply.header.message_type.name == "method_return" else ()

    def children(self, node: Node) -> list[Node]:
        """Return the children of an object."""
        answer = self.call(node, ACCESSIBLE, "GetChildren")
        return [(bus, path) for bus, path in answer[0]] if answer else []

    def application(self) -> Node:
        """Wait until Anzel has joined the accessibility bus, and return its root."""
        end = time.monotonic() + 60
        while time.monotonic() < end:
            for node in self.children((REGISTRY, ROOT)):
                if self.children(node):
                    return node
            time.sleep(0.2)
        raise SystemExit("Anzel did not join the accessibility bus.")

    def walk(self, node: Node) -> Iterator[Node]:
        """Yield an object and all below it that is showing."""
        yield node
        for child in self.children(node):
            if self.states(child) & SHOWING:
                yield from self.walk(child)

    def states(self, node: Node) -> int:
        """Return the states of an object, a bit for each."""
        low, high = (self.call(node, ACCESSIBLE, "GetState") or ((0, 0),))[0]
        return int(low) | int(high) << 32

    def read(self, node: Node) -> dict[str, Any]:
        """Ask for all that a screen reader asks of one object."""
        self.call(node, ACCESSIBLE, "GetInterfaces")
        actions = self.call(node, ACTION, "GetActions")
        return {
            "name": self.text(node, "Name"),
            "about": self.text(node, "Description"),
            "role": (self.call(node, ACCESSIBLE, "GetRole") or (0,))[0],
            "states": self.states(node),
            "extents": (self.call(node, COMPONENT, "GetExtents", "u", 0) or ((0, 0, 0, 0),))[0],
            "actions": [name for name, *_ in actions[0]] if actions else [],
            "is_painted": bool(actions) and any(about == PICKS for _, about, _ in actions[0]),
        }

    def press(self, node: Node) -> bool:
        """Press an object; return whether it took that."""
        return bool((self.call(node, ACTION, "DoAction", "i", 0) or (False,))[0])


def main(record: Path, acts: int, command: list[str]) -> None:
    """Read every step, then press and read at random; write what was found."""
    environment = {**os.environ, "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1"}
    window = subprocess.Popen(command, env=environment)
    try:
        record.write_text(json.dumps(_found(Reader(), window, acts)))
    finally:
        window.kill()
        window.wait()


def _found(reader: Reader, window: "subprocess.Popen[bytes]", acts: int) -> dict[str, Any]:
    application = reader.application()
    steps = _steps(reader, application)
    seen: dict[str, list[dict[str, Any]]] = {}
    for name, step in steps.items():
        reader.press(step)
        time.sleep(1.0)
        seen[name] = [reader.read(node) for node in reader.walk(application)]
        _is_alive(window)
    pressed = _pressed_at_random(reader, application, window, steps, acts)
    return {"steps": seen, "pressed": pressed, "alive": window.poll() is None}


def _steps(reader: Reader, application: Node) -> dict[str, Node]:
    """Return the buttons that go to the steps, by name."""
    names = {node: reader.text(node, "Name") for node in reader.walk(application)}
    steps = {
        name.partition(":")[0]: node
        for node, name in names.items()
        if name.partition(":")[0] in STEPS and name.endswith("settled")
    }
    if len(steps) != len(STEPS):
        raise SystemExit(f"Only these steps are there: {', '.join(steps)}.")
    return steps


def _pressed_at_random(
    reader: Reader, application: Node, window: "subprocess.Popen[bytes]",
    steps: dict[str, Node], acts: int,
) -> int:  # fmt: skip
    """Press painted items, step after step; return how many took it."""
    dice, pressed, done = random.Random(39), 0, 0
    while done < acts:
        reader.press(dice.choice(list(steps.values())))
        nodes = [n for n in reader.walk(application) if reader.read(n)["is_painted"]]
        for node in dice.sample(nodes, min(len(nodes), 5)):
            pressed += reader.press(node)
            reader.read(node)
            done += 1
            _is_alive(window)
        done += 1
    return pressed


def _is_alive(window: "subprocess.Popen[bytes]") -> None:
    if window.poll() is not None:
        raise SystemExit(f"The window ended with {window.returncode}.")


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]), sys.argv[3:])
