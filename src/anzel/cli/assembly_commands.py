"""Commands of assembly: the proven order, the booklet, and the standing solids."""

from pathlib import Path
from typing import Any

import click

from anzel.app.views.assembly_play import step_words
from anzel.assembly.records import AssemblyProof, AssemblyStep, Move
from anzel.cli.common import (
    DIGITS,
    PATH,
    STREAM,
    Exact,
    as_json_option,
    ending_of,
    format_option,
    load_project,
    need_ending,
    need_one_output,
    overridable,
    say,
    say_record,
    write_output,
)
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure
from anzel.project.assembly import assembly_of


@click.command()
@click.argument("file", type=PATH)
@as_json_option
@click.option("-o", "--output", type=PATH, help="BOOKLET.pdf, or .svg or .png: one per step.")
@click.option("--page", default="A4", help="A4, Letter, or A5: landscape.")
@overridable
def assembly(
    file: Path, as_json: bool, output: Path | None, page: str, **overrides: Any  # noqa: ANN401
) -> None:  # fmt: skip
    """Prove in which order the pieces go together; write it as a booklet without words."""
    project = load_project(file, overrides)
    found = assembly_of(project)
    if output is not None:
        from anzel.output.booklet import booklet_bytes, booklet_pictures, page_named

        need_ending(output, ".pdf", ".svg", ".png")
        paper = page_named(page)
        need_one_output(output, as_json)
        if output.suffix.lower() == ".pdf" or str(output) == STREAM:
            write_output(output, booklet_bytes(project, found.proof, paper))
        else:
            for name, content in booklet_pictures(project, found.proof, output):
                write_output(name, content)
                if not as_json:
                    say(str(name))
    if as_json:
        say_record(_proof_record(found.proof))
        return
    if output is not None and found.proof.ok:
        return
    is_taken = str(output) == STREAM  # standard output holds the booklet
    for at, step in enumerate(found.proof.steps):
        say(f"{at + 1:3}  {_step_words(step)}", err=is_taken)
    for finding in found.findings:
        say(f"{finding.code}: {finding.message}", err=is_taken)
    from anzel.project.mends import mends_for  # loads networkx

    for mend in mends_for(project, found.proof):
        say(f"it would go with {mend.words}", err=is_taken)


@click.command()
@click.argument("file", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="OUT.3mf, .stl, .obj or .glb")
@format_option("3mf", "stl", "obj", "glb")
@click.option("--step", type=int, metavar="N", help="Only what is there after the N-th step.")
@overridable
def solids(
    file: Path, output: Path, form: str | None, step: int | None,
    **overrides: Any,  # noqa: ANN401
) -> None:  # fmt: skip
    """Write the standing structure: one body for each piece, as produced, in its place."""
    from anzel.output.solid_files import ENDINGS, solids_bytes

    ending = ending_of(output, form, *(each[1:] for each in ENDINGS))
    project = load_project(file, overrides)
    names = None
    if step is not None:
        steps = assembly_of(project).proof.steps
        if not 1 <= step <= len(steps):
            raise ParameterError(
                f"There is no step {step}.", hint=f"The order has {len(steps)} steps."
            )
        names = frozenset(name for each in steps[:step] for name in each.pieces)
    write_output(output, solids_bytes(project, ending, names))


COMMANDS = (assembly, solids)


def _proof_record(proof: AssemblyProof) -> dict[str, Any]:
    return {
        "ok": proof.ok,
        "steps": [
            {
                "pieces": step.pieces,
                "moves": [_move_record(move) for move in step.moves],
                "group": step.group or None,
            }
            for step in proof.steps
        ],
        "locked": [{"pieces": each.pieces, "why": each.why} for each in proof.locked],
    }


def _move_record(move: Move) -> dict[str, Any]:
    return {
        "pieces": move.pieces,
        "direction": [Exact(part) for part in move.direction],
        "distance": round(move.distance, DIGITS),
    }


def _step_words(step: AssemblyStep) -> str:
    if not step.moves:
        return step_words(step)
    far = max(move.distance for move in step.moves)
    return f"{step_words(step)}, {format_measure(far, 1)}"
