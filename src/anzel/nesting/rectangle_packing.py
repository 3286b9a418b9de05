"""Packing of items by their bounding boxes alone, with a rectangle packer.

Quick, and close to the best for items that are nearly rectangular.
"""

from math import ceil, floor

from anzel.core.tolerances import COINCIDENT
from anzel.nesting.problem import (
    ContainerKind,
    Item,
    NestingProblem,
    Orientation,
    PlacedItem,
    Solution,
)

_UNITS_PER_MM = 1000
"""The packer works in whole numbers; a thousandth of a millimetre loses nothing."""
_PLENTY = 10_000


def pack_rectangles(problem: NestingProblem, *, turning: bool) -> Solution | None:
    """Return a solution with boxes turned as it suits, or all as they are.

    None for odd outlines, or where an item is fixed.
    """
    if problem.fixed or not all(container.is_rectangle for container in problem.containers):
        return None
    from rectpack import newPacker  # not while the window starts

    loose = problem.loose
    packer = newPacker(rotation=turning)
    for number, item in enumerate(loose):
        box = [_up(side + problem.spacing) for side in _box(problem.items[item])]
        packer.add_rect(*box, rid=number)
    to_buy_last = sorted(
        enumerate(problem.containers), key=lambda each: each[1].kind is ContainerKind.TO_BUY
    )
    for index, container in to_buy_last:
        if problem.inner[index].is_empty:
            continue
        left, low, right, high = problem.inner[index].bounds
        bin_size = [_down(side + problem.spacing) for side in (right - left, high - low)]
        count = len(loose) if container.count is None else min(container.count, _PLENTY)
        if count and min(bin_size) > 0:
            packer.add_bin(*bin_size, count=count, bid=index)
    packer.pack()
    placed_items: list[PlacedItem] = []
    placed: set[int] = set()
    numbers: dict[int, tuple[int, int]] = {}
    for sheet, x, y, width, height, number in packer.rect_list():
        of = int(packer[sheet].bid)
        taken = sum(each[0] == of for each in numbers.values())
        of, own = numbers.setdefault(sheet, (of, taken))
        orientation = _orientation(problem.items[loose[number]], width >= height)
        if orientation is None:
            return None
        left, low, *_ = problem.inner[of].bounds
        at = (left + x / _UNITS_PER_MM, low + y / _UNITS_PER_MM)
        placed_items.append(PlacedItem(loose[number], of, own, orientation, *at))
        placed.add(number)
    left_out = tuple(item for number, item in enumerate(loose) if number not in placed)
    return Solution(tuple(placed_items), left_out)


def _box(item: Item) -> tuple[float, float]:
    return item.size(item.orientations[0])


def _orientation(item: Item, lies_flat: bool) -> Orientation | None:
    """Return the first orientation as wide as the packer placed it.

    None where the item may not be turned that way.
    """
    width, height = _box(item)
    for orientation in item.orientations:
        size = item.size(orientation)
        same_box = (
            abs(sum(size) - width - height) < COINCIDENT
            and min(size) > min(width, height) - COINCIDENT
        )
        if same_box and (size[0] >= size[1]) is lies_flat:
            return orientation
    return item.orientations[0] if abs(width - height) < COINCIDENT else None


def _up(millimetres: float) -> int:
    return ceil(millimetres * _UNITS_PER_MM - COINCIDENT)


def _down(millimetres: float) -> int:
    return floor(millimetres * _UNITS_PER_MM + COINCIDENT)
