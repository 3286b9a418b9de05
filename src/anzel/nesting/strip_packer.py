"""The strip packer (spyrrow): asks for a short strip, and stops it on request.

It packs outlines without holes into a strip of given height and unlimited length, as short as it
can, on all processors.
"""

import json
import os
import subprocess
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from math import inf
from queue import Empty, Queue
from threading import Thread
from time import monotonic
from typing import Any

from anzel.core.tolerances import STRIP_SIMPLIFIED, STRIP_SPACING
from anzel.helpers.interpreter import python_command
from anzel.nesting.problem import Item, Orientation

_MOST_WORKERS = 4
"""Threads that share one search. On four of five sets of pieces this found shorter strips than
as many searches of one thread each (benchmarks/sheets.py)."""
_LONGEST_START, _LONGEST_END = 30.0, 5.0
"""Seconds that the packer's process may take to begin, and to end, beside those that it packs."""


@dataclass(frozen=True)
class PackedStrip:
    """A strip.

    Its length, and (number of the item, orientation, x, y) of each copy, with x and y of the item's
    own origin.
    """

    length: float
    copies: tuple[tuple[int, Orientation, float, float], ...]


def short_strips(
    items: Sequence[Item],
    copies: Sequence[tuple[int, bool]],
    height: float,
    spacing: float,
    seconds: float,
    *,
    seed: int,
    stopped: Callable[[], bool],
) -> Iterator[PackedStrip]:
    """Yield ever shorter strips of some copies, for about so many seconds.

    `copies` are (number of the item, turned over or not).
    """
    asked = {
        "height": height, "spacing": spacing + (STRIP_SPACING if spacing else 0.0),
        "seconds": seconds, "seed": seed, "workers": min(os.cpu_count() or 1, _MOST_WORKERS),
        "items": [_item(items[n], n, over, c) for (n, over), c in Counter(copies).items()],
    }  # fmt: skip
    shortest = inf
    end = monotonic() + seconds + _LONGEST_START
    with _packer(asked) as lines:
        while not stopped() and monotonic() < end:
            try:
                line = lines.get(timeout=0.1)
            except Empty:
                continue
            if line is None:
                return
            record = json.loads(line)
            if record["width"] < shortest:
                shortest = record["width"]
                copies_of = (_copy(items, *each) for each in record["placed"])
                yield PackedStrip(shortest, tuple(copies_of))


def _item(item: Item, number: int, over: bool, count: int) -> dict[str, Any]:
    polygon = item.oriented(Orientation(0.0, over)).simplify(STRIP_SIMPLIFIED)
    return {
        "id": f"{number} {int(over)}", "count": count,
        "shape": list(polygon.exterior.coords)[:-1],
        "turns": sorted({each.turn for each in item.orientations if each.over is over}),
    }  # fmt: skip


def _copy(
    items: Sequence[Item], name: str, turn: float, x: float, y: float
) -> tuple[int, Orientation, float, float]:
    """Return a copy by the corner of its bounds instead of its origin."""
    number, over = name.split()
    item = items[int(number)]
    orientation = min(
        (orientation for orientation in item.orientations if orientation.over is bool(int(over))),
        key=lambda orientation: abs((orientation.turn - turn + 180) % 360 - 180),
    )
    lying = item.oriented(Orientation(0.0, orientation.over))
    m = Orientation(orientation.turn).motion
    corners = [m((px, py)) for px, py in lying.exterior.coords]
    left, low = min(p[0] for p in corners), min(p[1] for p in corners)
    return int(number), orientation, x + left, y + low


@contextmanager
def _packer(asked: dict[str, Any]) -> Iterator["Queue[str | None]"]:
    """Yield the queue of lines of the packer's process, None at its end.

    The process ends with the context.
    """
    lines: Queue[str | None] = Queue()
    process = subprocess.Popen(
        python_command("-m", "anzel.nesting.strip_process"),
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip

    def read() -> None:
        assert process.stdin
        assert process.stdout
        with suppress(BrokenPipeError), process.stdin:  # one that has ended finds no strip
            process.stdin.write(json.dumps(asked))
        with process.stdout:
            for line in process.stdout:
                lines.put(line)
        lines.put(None)

    reader = Thread(target=read, daemon=True)
    reader.start()
    try:
        yield lines
    finally:
        process.kill()
        with suppress(subprocess.TimeoutExpired):  # one that the system does not end is left to it
            process.wait(_LONGEST_END)
        reader.join(_LONGEST_END)
