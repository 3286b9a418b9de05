"""How long the interface thread stands still, and how much of the machine others have taken."""

import os
import time
from collections.abc import Callable, Iterable
from pathlib import Path

from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest

BEAT = 0.005
LONGEST = 120.0
Still = tuple[float, float]
"""The longest standstill, and the longest that the interface thread computed meanwhile, ms."""


class Taken:
    """What the host of this machine takes of a processor; see proc(5) on steal."""

    def __init__(self) -> None:
        self._then = self._now()

    @staticmethod
    def _now() -> list[float]:
        rows = Path("/proc/stat").read_text().splitlines()
        each = [row.split() for row in rows if row.startswith("cpu") and row[3] != " "]
        return [int(row[8]) / os.sysconf("SC_CLK_TCK") for row in each]

    def since(self) -> float:
        """Seconds that were taken, since this was asked last, of the processor that lost most."""
        then, self._then = self._then, self._now()
        return max(after - before for before, after in zip(then, self._then, strict=True))


class Heart:
    """Beats every 5 ms on the interface thread, and remembers the longest pause.

    What the host of this machine took of a processor meanwhile does not count.
    """

    def __init__(self) -> None:
        self.forget()
        self._until: Callable[[], bool] = lambda: False
        self._loop = QEventLoop()
        self._timer = QTimer()
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._beat)
        self._timer.start(round(BEAT * 1000))

    def _beat(self) -> None:
        now, own = time.perf_counter(), time.thread_time()
        still = now - self._last - BEAT - self._taken.since()
        self._longest = max(self._longest, still)
        self._own = max(self._own, min(own - self._own_last, still + BEAT))  # else it was taken
        self._last, self._own_last = now, own
        if self._until():
            self._loop.quit()

    def wait(self, until: Callable[[], bool]) -> float:
        """Wait in the event loop. Returns the seconds that it took."""
        begun = time.perf_counter()
        self._until = lambda: until() or time.perf_counter() > begun + LONGEST
        self._loop.exec()
        self._until = lambda: False
        if time.perf_counter() > begun + LONGEST:
            raise TimeoutError("the window does not settle")
        return time.perf_counter() - begun

    def rest(self, seconds: float) -> None:
        """Let time pass."""
        end = time.perf_counter() + seconds
        self.wait(lambda: time.perf_counter() > end)

    def forget(self) -> None:
        """Begin anew."""
        self._longest, self._last = 0.0, time.perf_counter()
        self._own, self._own_last = 0.0, time.thread_time()
        self._taken = Taken()

    @property
    def longest(self) -> Still:
        """The longest standstill since then."""
        return self._longest * 1000, self._own * 1000

    def still(self, act: Callable[[], object], until: Callable[[], bool]) -> Still:
        """Return the longest standstill of something done until it has arrived."""
        self.rest(0.03)
        for handle in QGuiApplication.topLevelWindows():  # the maker is at work
            QTest.keyClick(handle, Qt.Key.Key_Shift)
        self.forget()
        act()
        self.wait(until)
        self.rest(0.03)
        return self.longest


def worst(stills: Iterable[Still]) -> Still:
    """The longest of each."""
    walls, owns = zip(*stills, strict=True)
    return max(walls), max(owns)


def still_words(still: Still) -> str:
    """A standstill, and in brackets what was computed in it."""
    return f"{still[0]:.0f} ({still[1]:.0f})"


class Stolen:
    """What others on the same host have taken of the processors' time since this was made."""

    def __init__(self) -> None:
        self._then = self._now()

    @staticmethod
    def _now() -> list[int]:
        return [int(each) for each in Path("/proc/stat").read_text().split("\n", 1)[0].split()[1:]]

    @property
    def share(self) -> float:
        """The share, 0 to 1, of the time that was wanted; see proc(5) on steal."""
        spent = [now - then for now, then in zip(self._now(), self._then, strict=True)]
        user, nice, system, _, _, irq, softirq, steal = spent[:8]  # without idle and waiting
        return steal / max(user + nice + system + irq + softirq + steal, 1)
