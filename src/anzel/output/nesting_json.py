"""The bare nesting problem as JSON, for benchmarks and other programs.

In: `{"sheets": [{"width", "height", "count"?} or {"outline", "holes"?, "count"?}], "pieces":
[{"name", "outline", "holes"?, "count"?, "turns"?, "mirror"?}], "spacing", "margin"}`, outlines as
[[x, y], ...] in mm, turns in degrees (default: quarter turns).

Out: `{"sheets": [{"sheet", "copy", "pieces": [{"name", "x", "y", "turn", "mirrored"}],
"utilisation"}], "left_out", "bound", "density"}`. A mirrored piece is turned over about the y axis;
then it is turned, and shifted so that the lower left corner of its bounds is at (x, y).
"""

import json
from typing import Annotated, Any

import shapely
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from anzel.core.immutable import to_parameter_error
from anzel.nesting.area_bound import fewest_sheets
from anzel.nesting.problem import Container, Item, NestingProblem, Orientation, Solution, density_of
from anzel.storage.atomic_file import FileError

_FURTHEST = 100_000.0
_Coordinate = Annotated[float, Field(ge=-_FURTHEST, le=_FURTHEST)]
Ring = Annotated[list[tuple[_Coordinate, _Coordinate]], Field(min_length=3, max_length=100_000)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class _SheetRecord(_Strict):
    width: float | None = Field(default=None, gt=0, le=100_000)
    height: float | None = Field(default=None, gt=0, le=100_000)
    outline: Ring | None = None
    holes: list[Ring] = Field(default_factory=list)
    count: int | None = Field(default=None, ge=0, le=10_000)


class _PieceRecord(_Strict):
    name: str = Field(max_length=200)
    outline: Ring
    holes: list[Ring] = Field(default_factory=list)
    count: int = Field(default=1, ge=0, le=10_000)
    turns: list[float] = Field(default=[0.0, 90.0, 180.0, 270.0], min_length=1, max_length=360)
    mirror: bool = False


class _FileRecord(_Strict):
    sheets: list[_SheetRecord] = Field(min_length=1, max_length=1000)
    pieces: list[_PieceRecord] = Field(max_length=10_000)
    spacing: float = Field(default=0.0, ge=0, le=1000)
    margin: float = Field(default=0.0, ge=0, le=1000)


def read_problem(content: bytes) -> NestingProblem:
    """Return the problem in a file's content.

    Raises
    ------
    FileError
    """
    try:
        asked = _FileRecord.model_validate_json(content)
    except ValidationError as error:
        raise FileError(
            f"This is no nesting problem: {to_parameter_error(error).message}"
        ) from error
    containers = tuple(_room(number, sheet) for number, sheet in enumerate(asked.sheets, start=1))
    shapes = tuple(
        Item(each.name, _polygon(each.name, each.outline, each.holes), each.count, _poses(each))
        for each in asked.pieces
    )
    return NestingProblem(shapes, containers, asked.spacing, asked.margin)


def solution_bytes(problem: NestingProblem, solution: Solution) -> bytes:
    """Return a solution as a file's content."""
    sheets = []
    for container, copy in solution.sheets:
        placed_items = solution.on(container, copy)
        laid = sum(problem.items[placed_item.item].area for placed_item in placed_items)
        pieces = [
            {
                "name": problem.items[s.item].name, "x": round(s.x, 6), "y": round(s.y, 6),
                "turn": s.orientation.turn, "mirrored": s.orientation.over,
            }
            for s in placed_items
        ]  # fmt: skip
        share = laid / problem.containers[container].area
        sheets.append({"sheet": container, "copy": copy, "pieces": pieces, "utilisation": share})
    record: dict[str, Any] = {
        "sheets": sheets,
        "left_out": [problem.items[number].name for number in solution.left_out],
        "bound": fewest_sheets(problem),
        "density": density_of(problem, solution),
    }
    return json.dumps(record, indent=1).encode()


def _room(number: int, sheet: _SheetRecord) -> Container:
    name = f"sheet {number}"
    if sheet.outline is not None:
        polygon = _polygon(name, sheet.outline, sheet.holes)
        at = polygon.bounds[:2]
        return Container(name, shapely.transform(polygon, lambda points: points - at), sheet.count)
    if sheet.width is None or sheet.height is None:
        raise FileError(f"This is no nesting problem: {name} has neither size nor outline.")
    return Container.rectangle(name, sheet.width, sheet.height, sheet.count)


def _polygon(name: str, outline: Ring, holes: list[Ring]) -> shapely.Polygon:
    polygon = shapely.Polygon(outline, holes)
    if not polygon.is_valid or polygon.area <= 0:
        raise FileError(f"This is no nesting problem: the outline of {name} crosses itself.")
    return polygon


def _poses(piece: _PieceRecord) -> tuple[Orientation, ...]:
    overs = (False, True) if piece.mirror else (False,)
    return tuple(
        Orientation(turn % 360, over) for over in overs for turn in dict.fromkeys(piece.turns)
    )
