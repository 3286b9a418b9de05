"""The sheets and scraps of one stock, as containers of the nesting problem."""

from dataclasses import dataclass, replace

import shapely

from anzel.materials.material import Faces, Grain
from anzel.materials.scrap import Scrap
from anzel.materials.stock import SheetSize, Stock
from anzel.nesting.problem import Container, ContainerKind


@dataclass(frozen=True)
class AvailableSheets:
    """The sheets and scraps of one stock, its grain direction, and what its faces are like."""

    stock_id: str
    sizes: tuple[SheetSize, ...]
    scraps: tuple[Scrap, ...] = ()
    grain: Grain = Grain.NONE
    faces: Faces = Faces.ALIKE

    @classmethod
    def of(cls, stock: Stock) -> "AvailableSheets":
        """Return what the rack holds of a stock."""
        return cls(stock.id, stock.sheets, stock.scraps, stock.grain, stock.faces)


def containers_of(available: AvailableSheets) -> tuple[Container, ...]:
    """Return scraps and sheets as containers.

    Where all sheets are counted, more of the largest are added, to be bought.
    """
    sizes = available.sizes
    scraps = [
        Container(f"scrap {s.name}", s.polygon(), 1, kind=ContainerKind.SCRAP)
        for s in available.scraps
    ]
    sheets = [
        Container.rectangle(f"size {number}", size.width, size.height, size.count)
        for number, size in enumerate(sizes, start=1)
    ]
    containers = (*scraps, *sheets)
    if all(size.count is not None for size in sizes):
        largest = max(sheets, key=lambda container: container.area)
        containers = (
            *containers,
            replace(largest, name="to buy", count=None, kind=ContainerKind.TO_BUY),
        )
    return containers


def remnants(
    outline: shapely.Polygon, taken: list[shapely.Polygon], spacing: float, least: float
) -> tuple[shapely.Polygon, ...]:
    """Return what is left of a sheet round the pieces cut from it.

    These are the parts with room for a square of side `least`, largest first, each with its bounds
    at the origin and few corners.
    """
    left = outline.difference(shapely.union_all([t.buffer(spacing) for t in taken]))
    sound = left.buffer(-least / 2, join_style="mitre").buffer(least / 2, join_style="mitre")
    parts = [
        part.simplify(0.5) for part in shapely.get_parts(sound.intersection(left))
        if part.geom_type == "Polygon" and part.area >= least * least
    ]  # fmt: skip
    moved = (
        shapely.transform(part, lambda points, at=part.bounds[:2]: points - at) for part in parts
    )
    return tuple(sorted(moved, key=lambda part: -part.area))
