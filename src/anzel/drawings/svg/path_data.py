"""Path data (SVG 2, 9.3): read into edges with their control points, and written back.

Edges that did not change keep their own text.
"""

import re
from collections.abc import Iterator, Sequence
from math import isfinite
from typing import NamedTuple

from anzel.drawings.model import DrawingError
from anzel.geometry.rigid_transform import Point

_CHUNK = re.compile(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)")
NUMBER = re.compile(r"[-+]?(?:\d++(?:\.\d*+)?|\.\d++)(?:[eE][-+]?\d++)?")
"""A number (SVG 2, 4.1); each digit is looked at once, however long it is."""
_BETWEEN = re.compile(r"[\s,]*")
_PER_EDGE = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
LARGEST_COORDINATE = 1e9
"""Nothing larger can be drawn, in the file's units."""


class PathCommand(NamedTuple):
    """One command of a path, for one edge.

    `letter` and `numbers` are as written. `kind` is the kind of edge (M, L, C, Q, A or Z). `points`
    are its absolute points after its start: (end), (control, control, end) or (control, end). `arc`
    holds (rx, ry, rotation in degrees, large, sweep) of an A.
    """

    letter: str
    numbers: tuple[str, ...]
    kind: str
    start: Point
    points: tuple[Point, ...]
    arc: tuple[float, float, float, bool, bool] | None = None

    @property
    def end(self) -> Point:
        """The end point of the edge."""
        return self.points[-1]

    @property
    def text(self) -> str:
        """The command as it was written, with an explicit letter."""
        return self.letter + " ".join(self.numbers)


def parse_path(data: str, name: str) -> list[PathCommand]:
    """Return every command of path data, including moves.

    Raises
    ------
    DrawingError
        For invalid data.
    """
    reader = _PathReader(name)
    first = _BETWEEN.match(data)
    at = first.end() if first else 0
    parts: list[PathCommand] = []
    for chunk in _CHUNK.finditer(data, at):
        if chunk.start() != at:
            break
        at = chunk.end()
        parts += reader.command(chunk[1], chunk[2])
    if at != len(data) or (parts and parts[0].kind != "M"):
        raise DrawingError(f"{name} has path data that cannot be read: “{data[at : at + 20]}”.")
    return parts


class _PathReader:
    """The running state of a path: current point, start point and last control point."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.here: Point = (0.0, 0.0)
        self.begin: Point = (0.0, 0.0)
        self.control: tuple[str, Point] = ("", (0.0, 0.0))

    def command(self, letter: str, text: str) -> Iterator[PathCommand]:
        """Yield the edges of one letter and the numbers after it."""
        kind = letter.upper()
        words = self._words(kind, text)
        size = _PER_EDGE[kind]
        if size == 0:
            yield self._edge(letter, ())
            return
        if len(words) % size or not words:
            raise DrawingError(
                f"{self.name} has a path command {letter} with {len(words)} numbers."
            )
        for at in range(0, len(words), size):
            yield self._edge(letter, tuple(words[at : at + size]))
            if kind == "M":
                letter = "l" if letter in "ml" else "L"

    def _words(self, kind: str, text: str) -> list[str]:
        if kind == "A":
            return list(self._arc_words(text))
        words = NUMBER.findall(text)
        if NUMBER.sub("", text).strip(" ,\t\r\n\f"):
            raise DrawingError(f"{self.name} has a coordinate that is no number: “{text[:30]}”.")
        return words

    def _arc_words(self, text: str) -> Iterator[str]:
        """Yield the numbers of arcs.

        An arc's two flags are one digit each and may have nothing between them.
        """
        at = count = 0
        while True:
            gap = _BETWEEN.match(text, at)
            at = gap.end() if gap else at
            if at >= len(text):
                return
            if count % 7 in (3, 4) and text[at] in "01":
                yield text[at]
                at += 1
            else:
                word = NUMBER.match(text, at)
                if word is None or count % 7 in (3, 4):
                    raise DrawingError(f"{self.name} has an arc that cannot be read.")
                yield word[0]
                at = word.end()
            count += 1

    def _edge(self, letter: str, words: tuple[str, ...]) -> PathCommand:
        kind = letter.upper()
        start = self.here
        values = [float(word) for word in words]
        if any(not isfinite(v) or abs(v) > LARGEST_COORDINATE for v in values):
            raise DrawingError(f"{self.name} has a coordinate too large to be drawn.")
        part = self._part(letter, words, values)
        self.here = part.end
        if kind == "M":
            self.begin = part.end
        if part.kind in "CQ":
            self.control = (part.kind, part.points[-2])
        else:
            self.control = ("", start)
        return part

    def _part(self, letter: str, words: tuple[str, ...], values: list[float]) -> PathCommand:
        kind, here = letter.upper(), self.here
        ox, oy = here if letter.islower() else (0.0, 0.0)
        if kind == "Z":
            return PathCommand(letter, words, "Z", here, (self.begin,))
        if kind == "H":
            return PathCommand(letter, words, "L", here, ((values[0] + ox, here[1]),))
        if kind == "V":
            return PathCommand(letter, words, "L", here, ((here[0], values[0] + oy),))
        if kind == "A":
            end = (values[5] + ox, values[6] + oy)
            large, sweep = values[3] != 0, values[4] != 0
            arc = (abs(values[0]), abs(values[1]), values[2], large, sweep)
            is_line = not (arc[0] and arc[1])
            return PathCommand(letter, words, "L" if is_line else "A", here, (end,), arc)
        points = tuple((values[i] + ox, values[i + 1] + oy) for i in range(0, len(values), 2))
        if kind in "ST":
            curve = "C" if kind == "S" else "Q"
            mirrored = here
            if self.control[0] == curve:
                mirrored = (2 * here[0] - self.control[1][0], 2 * here[1] - self.control[1][1])
            return PathCommand(letter, words, curve, here, (mirrored, *points))
        return PathCommand(letter, words, kind, here, points)


def subpaths(parts: Sequence[PathCommand]) -> Iterator[list[int]]:
    """Yield the numbers of the edges of each subpath; moves belong to none."""
    run: list[int] = []
    for number, part in enumerate(parts):
        if part.kind == "M":
            if run:
                yield run
            run = []
            continue
        run.append(number)
        if part.kind == "Z":
            yield run
            run = []
    if run:
        yield run
