"""Hole filling.

Small items are placed in the holes of large ones, so that the rest can be packed as if there were
no holes.
"""

from dataclasses import dataclass, replace

import shapely

from anzel.nesting.bottom_left_fill import FillStrategy, fill
from anzel.nesting.problem import Container, NestingProblem, Orientation, PlacedItem, translated


@dataclass(frozen=True)
class FilledHost:
    """A copy of a host item with the contents of its holes.

    They are placed relative to the corner of the host's bounds in its orientation.
    """

    host: int
    orientation: Orientation
    contents: tuple[PlacedItem, ...] = ()


def fill_holes(
    problem: NestingProblem, loose: tuple[int, ...], orientations: dict[int, Orientation]
) -> tuple[FilledHost, ...]:
    """Return every loose item as a host by itself, or inside another host.

    `orientations` are those of the hosts.
    """
    order = sorted(loose, key=lambda number: -problem.items[number].area)
    filled_hosts: list[FilledHost] = []
    waiting = list(order)
    while waiting:
        host = waiting.pop(0)
        orientation = orientations.get(host, problem.items[host].orientations[0])
        stowed, waiting = _stowed(problem, host, orientation, waiting)
        filled_hosts.append(FilledHost(host, orientation, stowed))
    return tuple(filled_hosts)


def _stowed(
    problem: NestingProblem, host: int, orientation: Orientation, waiting: list[int]
) -> tuple[tuple[PlacedItem, ...], list[int]]:
    """Return what goes into a host's holes, and what still waits."""
    polygon = problem.items[host].oriented(orientation)
    found: list[PlacedItem] = []
    for hole in polygon.interiors:
        inside = shapely.Polygon(hole).buffer(-problem.spacing)
        fitting = [n for n in waiting if problem.items[n].area < inside.area]
        for part in shapely.get_parts(inside) if fitting else ():
            left, low, *_ = part.bounds
            container = Container("hole", translated(part, -left, -low), 1)
            items = tuple(replace(s, count=fitting.count(n)) for n, s in enumerate(problem.items))
            hole_problem = NestingProblem(items, (container,), problem.spacing, 0.0)
            solution = fill(hole_problem, FillStrategy())
            for placed_item in solution.placed:
                found.append(replace(placed_item, x=placed_item.x + left, y=placed_item.y + low))
                waiting = _without(waiting, placed_item.item)
                fitting = _without(fitting, placed_item.item)
    return tuple(found), waiting


def _without(numbers: list[int], number: int) -> list[int]:
    """Return the list with one occurrence of a number removed."""
    at = numbers.index(number)
    return numbers[:at] + numbers[at + 1 :]


def contents_at(
    problem: NestingProblem, filled_host: FilledHost, host: PlacedItem
) -> list[PlacedItem] | None:
    """Return a host and its contents placed where the host lies.

    None where some content may not turn that way.

    The contents turn with their host: first back from the host's orientation, then to the new one.
    """
    if host.orientation.over is not filled_host.orientation.over:
        return None
    turn = host.orientation.turn - filled_host.orientation.turn
    left, low = _corner(
        problem, PlacedItem(filled_host.host, 0, 0, filled_host.orientation, 0.0, 0.0), turn
    )
    placed_items = [host]
    for each in filled_host.contents:
        orientation = Orientation((each.orientation.turn + turn) % 360, each.orientation.over)
        if orientation not in problem.items[each.item].orientations:
            return None
        x, y = _corner(problem, each, turn)
        at = (host.x + x - left, host.y + y - low)
        placed_items.append(
            PlacedItem(each.item, host.container, host.copy_number, orientation, *at)
        )
    return placed_items


def _corner(problem: NestingProblem, placed_item: PlacedItem, turn: float) -> tuple[float, float]:
    """Return the lower left corner of the bounds of a placed item after a turn about the origin."""
    m = Orientation(turn % 360).motion
    corners = [m((x, y)) for x, y in problem.polygon(placed_item).exterior.coords]
    return (min(x for x, _ in corners), min(y for _, y in corners))
