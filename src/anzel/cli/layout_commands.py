"""Commands that lay pieces on sheets."""

from collections.abc import Callable
from pathlib import Path
from time import monotonic
from typing import Any

import click
import shapely

from anzel.app.edits import layout_edits, project_edits
from anzel.cli.common import (
    PATH,
    as_json_option,
    load_project,
    need_one_output,
    overridable,
    say,
    say_record,
    write_output,
)
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_number, format_share, plain_length
from anzel.layout.layout import Layout, PlacedPiece
from anzel.project.derive import layout_of
from anzel.project.model import Project
from anzel.storage.atomic_file import FileError, read_whole

_LARGEST = 64 * 1024 * 1024
_SECONDS = 20.0
_ENGINE = click.option("--engine", type=click.Choice(["fast", "squeeze"]), default="fast")
_TIME = click.option("--seconds", type=click.FloatRange(0.1, 86_400), default=_SECONDS)


@click.command()
@click.argument("file", type=PATH)
@click.option("--stock", "stock_id", metavar="ID", help="Only this stock.")
@click.option("--scrap", "scraps", multiple=True, metavar="WxH|FILE.svg", help="To be used up.")
@as_json_option
@_ENGINE
@_TIME
@overridable
def sheets(
    file: Path,
    stock_id: str | None,
    scraps: tuple[str, ...],
    engine: str,
    seconds: float,
    as_json: bool,
    **overrides: Any,  # noqa: ANN401
) -> None:
    """Lay the pieces on sheets and scraps."""
    project = load_project(file, overrides)
    stocks = [project.stock(stock_id)] if stock_id else list(project.stocks_in_use)
    for text in scraps:
        if len(stocks) != 1:
            raise ParameterError("Several sheets are in use.", hint="Say --stock ID for --scrap.")
        project = layout_edits.add_scrap(project, stocks[0].id, _scrap(text), "scrap")
    layouts = [layout_of(project, stock.id) for stock in stocks]
    if engine == "squeeze":
        share = seconds / max(len(layouts), 1)
        layouts = [_squeezed(project, stock.id, share) for stock in stocks]
    for finding in (f for layout in layouts for f in layout.findings):
        say(f"anzel: {finding}", err=True)
    record = _record(layouts)
    if as_json:
        say_record(record)
    else:
        say(_said(record))


@click.command()
@click.argument("file", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="Where to write the answer.")
@as_json_option
@_ENGINE
@_TIME
def layout(file: Path, output: Path, engine: str, seconds: float, as_json: bool) -> None:
    """Lay bare polygons on bare sheets, both in JSON (see docs/layout.md)."""
    from anzel.nesting.quick_solver import solve_quickly
    from anzel.nesting.squeeze import squeeze
    from anzel.output.nesting_json import read_problem, solution_bytes

    need_one_output(output, as_json)
    too_large = FileError(f"{file} is far too large.")
    puzzle = read_problem(read_whole(file, _LARGEST, too_large))
    start = monotonic()
    answer = solve_quickly(puzzle) if engine == "fast" else squeeze(puzzle, seconds)
    write_output(output, solution_bytes(puzzle, answer))
    if as_json:
        say_record({
            "laid": len(answer.placed), "containers": len(answer.sheets),
            "left_out": len(answer.left_out), "seconds": monotonic() - start,
        })  # fmt: skip
        return
    say(
        f"{len(answer.placed)} laid on {len(answer.sheets)}, {len(answer.left_out)} left out, "
        f"in {format_number(monotonic() - start, 1)} s"
    )


COMMANDS = (sheets, layout)


def _squeezed(project: Project, stock_id: str, seconds: float) -> Layout:
    def told(answer: object) -> None:
        say(".", nl=False, err=True)

    def never() -> bool:
        return False

    stopped: Callable[[], bool] = never
    found = layout_edits.squeezed(project, stock_id, seconds, told=told, stopped=stopped)
    say("", err=True)
    return found


def _scrap(text: str) -> shapely.Polygon:
    """Return a scrap from `WxH` or from the largest outline of a drawing."""
    width, by, height = text.lower().partition("x")
    if by and not text.lower().endswith((".svg", ".dxf")):
        sides = [project_edits.typed_length(side, "scrap") for side in (width, height)]
        return shapely.box(0, 0, *sides)
    from anzel.output.cut_file_reader import read_cut_file

    pieces = read_cut_file(Path(text)).pieces
    return max((piece.region.shape for piece in pieces), key=lambda shape: shape.area)


def _record(layouts: list[Layout]) -> dict[str, Any]:
    found = [
        {
            "stock": plan.stock_id, "container": plan.container, "width": plan.width,
            "height": plan.height,
            "pieces": [_laid(each) for each in plan.placed], "utilisation": plan.utilisation,
        }
        for layout in layouts
        for plan in layout.plans
    ]  # fmt: skip
    record = {"sheets": found, "bound": sum(layout.bound for layout in layouts)}
    return record


def _laid(laid: PlacedPiece) -> dict[str, Any]:
    x, y, _, _ = laid.region.bounds
    return {
        "name": laid.piece.name, "x": x, "y": y, "turn": laid.turn, "mirrored": laid.transform.over,
    }  # fmt: skip


def _said(record: dict[str, Any]) -> str:
    lines = []
    for number, sheet in enumerate(record["sheets"], start=1):
        size = f"{plain_length(sheet['width'])} × {plain_length(sheet['height'])}"
        used = format_share(sheet["utilisation"])
        names = ", ".join(piece["name"] for piece in sheet["pieces"])
        lines.append(f"{number}: {sheet['stock']} {size}, {used}: {names}")
    return "\n".join([*lines, f"At least {record['bound']} by area alone."])
