"""Laying shapes by their bounding boxes alone, with a rectangle packer: quick, and as good as it
gets for what is nearly rectangular."""

from math import ceil, floor

from anzel.nesting.problem import Item, NestingProblem, Orientation, PlacedItem, Solution

_UNITS_PER_MM = 1000
"""The packer works in whole numbers; a thousandth of a millimetre loses nothing."""
_PLENTY = 10_000


def pack_rectangles(puzzle: NestingProblem, *, turning: bool) -> Solution | None:
    """An answer, with boxes turned as it suits or all as they are; None where boxes do not do: odd
    outlines, or something fixed already."""
    if puzzle.fixed or not all(room.is_rectangle for room in puzzle.containers):
        return None
    from rectpack import newPacker  # not while the window starts

    loose = puzzle.loose
    packer = newPacker(rotation=turning)
    for number, shape in enumerate(loose):
        box = [_up(side + puzzle.spacing) for side in _box(puzzle.items[shape])]
        packer.add_rect(*box, rid=number)
    for index, room in sorted(enumerate(puzzle.containers), key=lambda each: each[1].to_buy):
        if puzzle.inner[index].is_empty:
            continue
        left, low, right, high = puzzle.inner[index].bounds
        bin_size = [_down(side + puzzle.spacing) for side in (right - left, high - low)]
        count = len(loose) if room.count is None else min(room.count, _PLENTY)
        if count and min(bin_size) > 0:
            packer.add_bin(*bin_size, count=count, bid=index)
    packer.pack()
    spots: list[PlacedItem] = []
    placed: set[int] = set()
    numbers: dict[int, tuple[int, int]] = {}
    for sheet, x, y, width, height, number in packer.rect_list():
        of = int(packer[sheet].bid)
        taken = sum(each[0] == of for each in numbers.values())
        of, own = numbers.setdefault(sheet, (of, taken))
        pose = _pose(puzzle.items[loose[number]], width >= height)
        if pose is None:
            return None
        left, low, *_ = puzzle.inner[of].bounds
        at = (left + x / _UNITS_PER_MM, low + y / _UNITS_PER_MM)
        spots.append(PlacedItem(loose[number], of, own, pose, *at))
        placed.add(number)
    left_out = tuple(shape for number, shape in enumerate(loose) if number not in placed)
    return Solution(tuple(spots), left_out)


def _box(shape: Item) -> tuple[float, float]:
    return shape.size(shape.orientations[0])


def _pose(shape: Item, lies_flat: bool) -> Orientation | None:
    """The first pose as wide as the packer laid it; None where it may not be turned so."""
    width, height = _box(shape)
    for pose in shape.orientations:
        size = shape.size(pose)
        same_box = abs(sum(size) - width - height) < 1e-6 and min(size) > min(width, height) - 1e-6
        if same_box and (size[0] >= size[1]) is lies_flat:
            return pose
    return shape.orientations[0] if abs(width - height) < 1e-6 else None


def _up(millimetres: float) -> int:
    return ceil(millimetres * _UNITS_PER_MM - 1e-6)


def _down(millimetres: float) -> int:
    return floor(millimetres * _UNITS_PER_MM + 1e-6)
