"""Small shapes stowed in the holes of large ones, so that what is left can be packed as if
there were no holes."""

from dataclasses import dataclass, replace

import shapely

from anzel.nesting.bottom_left_fill import FillStrategy, fill
from anzel.nesting.problem import Container, NestingProblem, Orientation, PlacedItem, translated


@dataclass(frozen=True)
class FilledHost:
    """A copy of a host with what is stowed in its holes, as spots relative to the corner of the
    host's bounds in its pose."""

    host: int
    orientation: Orientation
    contents: tuple[PlacedItem, ...] = ()


def fill_holes(
    puzzle: NestingProblem, loose: tuple[int, ...], poses: dict[int, Orientation]
) -> tuple[FilledHost, ...]:
    """Every loose copy as a load by itself, or stowed in another's. `poses` are the hosts'."""
    order = sorted(loose, key=lambda number: -puzzle.items[number].area)
    loads: list[FilledHost] = []
    waiting = list(order)
    while waiting:
        host = waiting.pop(0)
        pose = poses.get(host, puzzle.items[host].orientations[0])
        stowed, waiting = _stowed(puzzle, host, pose, waiting)
        loads.append(FilledHost(host, pose, stowed))
    return tuple(loads)


def _stowed(
    puzzle: NestingProblem, host: int, pose: Orientation, waiting: list[int]
) -> tuple[tuple[PlacedItem, ...], list[int]]:
    """What goes into a host's holes, and what still waits."""
    polygon = puzzle.items[host].oriented(pose)
    found: list[PlacedItem] = []
    for hole in polygon.interiors:
        inside = shapely.Polygon(hole).buffer(-puzzle.spacing)
        fitting = [n for n in waiting if puzzle.items[n].area < inside.area]
        for part in shapely.get_parts(inside) if fitting else ():
            left, low, *_ = part.bounds
            room = Container("hole", translated(part, -left, -low), 1)
            shapes = tuple(replace(s, count=fitting.count(n)) for n, s in enumerate(puzzle.items))
            hole_puzzle = NestingProblem(shapes, (room,), puzzle.spacing, 0.0)
            answer = fill(hole_puzzle, FillStrategy())
            for spot in answer.placed:
                found.append(replace(spot, x=spot.x + left, y=spot.y + low))
                waiting = _without(waiting, spot.item)
                fitting = _without(fitting, spot.item)
    return tuple(found), waiting


def _without(numbers: list[int], number: int) -> list[int]:
    """The list with one of a number taken out."""
    at = numbers.index(number)
    return numbers[:at] + numbers[at + 1 :]


def contents_at(
    puzzle: NestingProblem, load: FilledHost, host: PlacedItem
) -> list[PlacedItem] | None:
    """The spots of a load whose host lies at a spot; None where something stowed may not turn so.

    The load turns with its host: first back from the host's pose, then to the new one.
    """
    if host.orientation.over is not load.orientation.over:
        return None
    turn = host.orientation.turn - load.orientation.turn
    left, low = _corner(puzzle, PlacedItem(load.host, 0, 0, load.orientation, 0.0, 0.0), turn)
    spots = [host]
    for each in load.contents:
        pose = Orientation((each.orientation.turn + turn) % 360, each.orientation.over)
        if pose not in puzzle.items[each.item].orientations:
            return None
        x, y = _corner(puzzle, each, turn)
        at = (host.x + x - left, host.y + y - low)
        spots.append(PlacedItem(each.item, host.container, host.copy_number, pose, *at))
    return spots


def _corner(puzzle: NestingProblem, spot: PlacedItem, turn: float) -> tuple[float, float]:
    """The lower left corner of the bounds of what lies at a spot, after a turn about the origin."""
    m = Orientation(turn % 360).motion
    corners = [m((x, y)) for x, y in puzzle.polygon(spot).exterior.coords]
    return (min(x for x, _ in corners), min(y for _, y in corners))
