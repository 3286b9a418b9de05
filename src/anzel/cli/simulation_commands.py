"""Commands of the practice bench: cut a file with a simulated cutter."""

from pathlib import Path
from typing import Any

import click

from anzel.app.edits import project_edits
from anzel.cli.common import PATH, as_json_option, say, say_record
from anzel.core.number_format import format_length, signed_length
from anzel.output.cut_file_reader import read_cut_file
from anzel.simulation.opening_measurement import produced_openings
from anzel.simulation.simulated_cutter import ProducedPiece, SimulatedCutter
from anzel.simulation.simulated_cutter import cut as cut_file
from anzel.simulation.simulated_sheet import SimulatedSheet


@click.group()
def bench() -> None:
    """Practise without a machine."""


@bench.command()
@click.argument("file", type=PATH, metavar="CUTFILE")
@click.option("--kerf", required=True, metavar="MM", help="What the beam truly removes.")
@click.option("--thickness", required=True, metavar="MM", help="How thick the sheet truly is.")
@click.option("--spread", default="0", metavar="MM", help="How much that varies over the sheet.")
@click.option("--wobble", default="0", metavar="MM", help="How much the kerf varies by edge.")
@click.option("--seed", type=click.IntRange(min=0), default=0, help="Chooses what varies how.")
@click.option("--offset", metavar="MM", help="The cutter's own; else as the file says.")
@as_json_option
def cut(file: Path, seed: int, as_json: bool, offset: str | None, **typed: str) -> None:
    """Cut an SVG or DXF file, and tell every slot and mortise as produced."""
    size = {field: project_edits.typed_length(text, field) for field, text in typed.items()}
    sheet = SimulatedSheet(true_thickness=1, seed=seed).with_changes(
        true_thickness=size["thickness"], spread=size["spread"]
    )
    cutter = SimulatedCutter(kerf=0, seed=seed).with_changes(
        kerf=size["kerf"], wobble=size["wobble"]
    )
    setting = None if offset is None else project_edits.typed_length(offset, "offset")
    produced = cut_file(read_cut_file(file), cutter, sheet, setting)
    records = [_record(piece) for piece in produced]
    if as_json:
        doubt = {"wobble": size["wobble"], "thickness": size["spread"]}
        say_record({"pieces": records, "uncertainty": doubt})
        return
    for piece in records:
        say(f"{piece['name']} {format_length(piece['width'])} × {format_length(piece['height'])}")
        for each in piece["features"]:
            words = (
                f"{format_length(each['width'], 3)}, clearance {signed_length(each['clearance'])}"
            )
            say(f"    {each['kind']:8}{words}")


COMMANDS = (bench,)


def _record(piece: ProducedPiece) -> dict[str, Any]:
    width, height = piece.size
    features = [
        {"kind": each.kind.value, "width": each.width, "clearance": each.clearance}
        for each in produced_openings(piece)
    ]
    return {"name": piece.name, "width": width, "height": height, "features": features}
