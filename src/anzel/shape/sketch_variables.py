"""The numbers of a sketch as one vector, and where in it each point, leg and disc has its own.

Every point has two, an arc's centre two, a disc three. The handles of a curve are no variables:
they move along with the points they belong to.
"""

from dataclasses import dataclass

import numpy as np

from anzel.core.findings import ParameterError
from anzel.shape.constraint_solver import Floats
from anzel.shape.sketch import FURTHEST, ClosedPath, Disc, Leg, LegKind, Sketch, SketchPoint

Place = tuple[int, int]
"""The numbers of an x and a y."""


@dataclass(frozen=True)
class LinePlaces:
    """The variables of a leg's ends."""

    start: Place
    end: Place


@dataclass(frozen=True)
class ArcPlaces:
    """The variables of an arc."""

    start: Place
    end: Place
    centre: Place


@dataclass(frozen=True)
class DiscPlaces:
    """The variables of a disc."""

    centre: Place
    radius: int


class SketchVariables:
    """The vector of a sketch, and the places in it by id."""

    def __init__(self, sketch: Sketch) -> None:
        self.sketch = sketch
        values: list[float] = []
        self.points: dict[str, Place] = {}
        self.legs: dict[str, tuple[LegKind, Place, Place]] = {}
        self.arcs: dict[str, ArcPlaces] = {}
        self.discs: dict[str, DiscPlaces] = {}

        def place(x: float, y: float) -> Place:
            values.extend((x, y))
            return (len(values) - 2, len(values) - 1)

        for path in sketch.paths:
            at = [place(point.x, point.y) for point in path.points]
            self.points.update(zip((point.id for point in path.points), at, strict=True))
            for leg, start, end in zip(path.legs, at, [*at[1:], at[0]], strict=True):
                self.legs[leg.id] = (leg.kind, start, end)
                if leg.centre is not None:
                    self.arcs[leg.id] = ArcPlaces(start, end, place(*leg.centre))
        for disc in sketch.discs:
            centre = place(disc.x, disc.y)
            values.append(disc.radius)
            self.discs[disc.id] = DiscPlaces(centre, len(values) - 1)
        self.start = np.array(values)

    def point(self, name: str) -> Place:
        """Return the variables of a point, of a disc's centre or of an arc's."""
        if name in self.points:
            return self.points[name]
        return self.centre(name)

    def centre(self, name: str) -> Place:
        """Return the variables of the centre of an arc or disc.

        Raises ParameterError.
        """
        round_one = self.discs.get(name) or self.arcs.get(name)
        if round_one is None:
            raise ParameterError(f"“{name}” is no point and has no centre.")
        return round_one.centre

    def line(self, name: str) -> LinePlaces:
        """Return the variables of a straight leg.

        Raises ParameterError.
        """
        if self.kind(name) is not LegKind.LINE:
            raise ParameterError(f"“{name}” is no straight leg.")
        _, start, end = self.legs[name]
        return LinePlaces(start, end)

    def ends(self, name: str) -> tuple[Place, Place]:
        """Return the variables of a straight leg's ends."""
        line = self.line(name)
        return (line.start, line.end)

    def arc(self, name: str) -> ArcPlaces:
        """Return the variables of an arc.

        Raises ParameterError.
        """
        if name not in self.arcs:
            raise ParameterError(f"“{name}” is no arc.")
        return self.arcs[name]

    def disc(self, name: str) -> DiscPlaces | None:
        """Return the variables of a disc, if it is one."""
        return self.discs.get(name)

    def kind(self, name: str) -> LegKind | None:
        """Return how a leg runs; None for what is no leg."""
        return self.legs[name][0] if name in self.legs else None

    def span(self, name: str) -> tuple[int, ...]:
        """Return the variables of a length: a line's ends, an arc's centre and start, a radius."""
        if (disc := self.disc(name)) is not None:
            return (disc.radius,)
        if name in self.arcs:
            return (*self.arcs[name].centre, *self.arcs[name].start)
        line = self.line(name)
        return (*line.start, *line.end)

    def with_values(self, values: Floats) -> Sketch:
        """Return the sketch with other numbers; what has not moved stays to the last digit."""
        numbers = values.tolist()
        is_near = bool(np.abs(values).max(initial=0.0) <= FURTHEST)
        paths = tuple(self._path(path, numbers, is_near) for path in self.sketch.paths)
        discs = tuple(self._disc(disc, numbers) for disc in self.sketch.discs)
        return self.sketch.with_changes(paths=paths, discs=discs)

    def _path(self, path: ClosedPath, values: list[float], is_near: bool) -> ClosedPath:
        points = tuple(self._point(point, values, is_near) for point in path.points)
        moves = [
            (new.x - old.x, new.y - old.y)
            for new, old in zip(points, path.points, strict=True)
        ]  # fmt: skip
        legs = tuple(
            self._leg(leg, values, moves[at], moves[(at + 1) % len(moves)])
            for at, leg in enumerate(path.legs)
        )
        return path.with_changes(points=points, legs=legs)

    def _point(self, point: SketchPoint, values: list[float], is_near: bool) -> SketchPoint:
        at_x, at_y = self.points[point.id]
        x, y = values[at_x], values[at_y]
        if (x, y) == (point.x, point.y):
            return point
        if is_near:  # what the record would check is known of all at once
            return point.model_copy(update={"x": x, "y": y})
        return point.with_changes(x=x, y=y)

    def _leg(
        self, leg: Leg, values: list[float], from_start: tuple[float, float],
        from_end: tuple[float, float],
    ) -> Leg:  # fmt: skip
        if leg.id in self.arcs:
            centre = tuple(values[at] for at in self.arcs[leg.id].centre)
            return leg if centre == leg.centre else leg.with_changes(centre=centre)
        if leg.controls is None or from_start == from_end == (0.0, 0.0):
            return leg
        (ax, ay), (bx, by) = leg.controls
        moved = ((ax + from_start[0], ay + from_start[1]), (bx + from_end[0], by + from_end[1]))
        return leg.with_changes(controls=moved)

    def _disc(self, disc: Disc, values: list[float]) -> Disc:
        places = self.discs[disc.id]
        x, y = places.centre
        return disc.with_changes(x=values[x], y=values[y], radius=values[places.radius])
