"""Small shapes stowed in the holes of large ones, so that what is left can be packed as if
there were no holes."""

from dataclasses import dataclass, replace

import shapely

from anzel.nesting.bottom_left_fill import Manner, fill
from anzel.nesting.problem import Pose, Puzzle, Room, Spot, moved


@dataclass(frozen=True)
class Load:
    """A copy of a host with what is stowed in its holes, as spots relative to the corner of the
    host's bounds in its pose."""

    host: int
    pose: Pose
    stowed: tuple[Spot, ...] = ()


def stow(puzzle: Puzzle, loose: tuple[int, ...], poses: dict[int, Pose]) -> tuple[Load, ...]:
    """Every loose copy as a load by itself, or stowed in another's. `poses` are the hosts'."""
    order = sorted(loose, key=lambda number: -puzzle.shapes[number].area)
    loads: list[Load] = []
    waiting = list(order)
    while waiting:
        host = waiting.pop(0)
        pose = poses.get(host, puzzle.shapes[host].poses[0])
        stowed, waiting = _stowed(puzzle, host, pose, waiting)
        loads.append(Load(host, pose, stowed))
    return tuple(loads)


def _stowed(
    puzzle: Puzzle, host: int, pose: Pose, waiting: list[int]
) -> tuple[tuple[Spot, ...], list[int]]:
    """What goes into a host's holes, and what still waits."""
    polygon = puzzle.shapes[host].posed(pose)
    found: list[Spot] = []
    for hole in polygon.interiors:
        inside = shapely.Polygon(hole).buffer(-puzzle.spacing)
        fitting = [n for n in waiting if puzzle.shapes[n].area < inside.area]
        for part in shapely.get_parts(inside) if fitting else ():
            left, low, *_ = part.bounds
            room = Room("hole", moved(part, -left, -low), 1)
            shapes = tuple(replace(s, count=fitting.count(n)) for n, s in enumerate(puzzle.shapes))
            hole_puzzle = Puzzle(shapes, (room,), puzzle.spacing, 0.0)
            answer = fill(hole_puzzle, Manner())
            for spot in answer.spots:
                found.append(replace(spot, x=spot.x + left, y=spot.y + low))
                waiting = _without(waiting, spot.shape)
                fitting = _without(fitting, spot.shape)
    return tuple(found), waiting


def _without(numbers: list[int], number: int) -> list[int]:
    """The list with one of a number taken out."""
    at = numbers.index(number)
    return numbers[:at] + numbers[at + 1 :]


def unloaded(puzzle: Puzzle, load: Load, host: Spot) -> list[Spot] | None:
    """The spots of a load whose host lies at a spot; None where something stowed may not turn so.

    The load turns with its host: first back from the host's pose, then to the new one.
    """
    if host.pose.over is not load.pose.over:
        return None
    turn = host.pose.turn - load.pose.turn
    left, low = _corner(puzzle, Spot(load.host, 0, 0, load.pose, 0.0, 0.0), turn)
    spots = [host]
    for each in load.stowed:
        pose = Pose((each.pose.turn + turn) % 360, each.pose.over)
        if pose not in puzzle.shapes[each.shape].poses:
            return None
        x, y = _corner(puzzle, each, turn)
        at = (host.x + x - left, host.y + y - low)
        spots.append(Spot(each.shape, host.room, host.sheet, pose, *at))
    return spots


def _corner(puzzle: Puzzle, spot: Spot, turn: float) -> tuple[float, float]:
    """The lower left corner of the bounds of what lies at a spot, after a turn about the origin."""
    m = Pose(turn % 360).motion
    corners = [m((x, y)) for x, y in puzzle.polygon(spot).exterior.coords]
    return (min(x for x, _ in corners), min(y for _, y in corners))
