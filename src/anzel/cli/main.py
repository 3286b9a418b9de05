"""The command line: the same work as in the window, for scripts.

Errors: one line, exit 2.
"""

import gc
import json
import os
import sys
from pathlib import Path
from typing import Any

import click

from anzel import __version__
from anzel.app.crash_reports import keep_report
from anzel.app.log_setup import quiet_libraries
from anzel.app.navigation import Step
from anzel.cli import (
    form_commands,
    layout_commands,
    output_commands,
    refit_commands,
    simulation_commands,
    stock_commands,
    test_piece_commands,
)
from anzel.cli.common import DIGITS, PATH, load_project, overridable
from anzel.core.error_boundary import set_report_keeper, to_maker_error
from anzel.core.findings import MakerError, ParameterError, UnsureError
from anzel.project.demos import DEMOS
from anzel.project.derive import pieces_of
from anzel.storage import project_file
from anzel.structure.model import Feature, Piece

COLLECT_AFTER = (50_000, 20, 50)
"""Thresholds of the garbage collector. A solved structure is hundreds of thousands of objects that
stay and have no cycles; looking through them at the usual thresholds takes a third of the time."""
UNSURE = 3
"""Exit code where the maker has to say something first."""


def main(arguments: list[str] | None = None) -> None:
    """Run the command line and exit: 0 done, 2 with one line on stderr otherwise."""
    gc.set_threshold(*COLLECT_AFTER)
    set_report_keeper(keep_report)
    quiet_libraries()
    try:
        commands.main(args=arguments, prog_name="anzel", standalone_mode=False)
    except UnsureError as error:
        _fail(str(error), UNSURE)
    except MakerError as error:
        _fail(str(error))
    except click.exceptions.Exit as wanted:
        sys.exit(wanted.exit_code)
    except click.ClickException as error:
        _fail(error.format_message())
    except (click.Abort, KeyboardInterrupt):
        _fail("stopped")
    except BrokenPipeError:  # whoever read along has heard enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(0)
    except Exception as error:
        _fail(str(to_maker_error(error, "it ran this command")))


def _fail(message: str, code: int = 2) -> None:
    click.echo("anzel: " + " ".join(message.split()), err=True)
    sys.exit(code)


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="anzel")
def commands() -> None:
    """Slot-together structures from flat sheet, sized to what you measured."""


@commands.command()
@click.argument("name", required=False)
@click.option("-o", "--output", type=PATH, help="Where to write the project.")
def demo(name: str | None, output: Path | None) -> None:
    """List the demo projects, or write one."""
    if name is None:
        for each in DEMOS:
            click.echo(f"{each.name:16}{each.about}")
        return
    found = next((each for each in DEMOS if each.name == name), None)
    if found is None:
        known = ", ".join(each.name for each in DEMOS)
        raise ParameterError(f"There is no demo “{name}”.", hint=f"There are: {known}.")
    if output is None:
        raise ParameterError("Say where to write it.", hint=f"anzel demo {name} -o FILE.anzel")
    project_file.save(found.make(), output)


@commands.command("open")
@click.argument("file", type=PATH, required=False)
@click.option("--picture", type=PATH, help="Save a picture of the window and leave.")
@click.option("--step", metavar="NAME", help="Open at this step, e.g. stock, test, build.")
def open_window(file: Path | None, picture: Path | None, step: str | None) -> None:
    """Open the window, with a project or with the demo."""
    from anzel.cli.window import run_window

    if step is not None and step not in list(Step):
        known = ", ".join(Step)
        raise ParameterError(f"There is no step “{step}”.", hint=f"There are: {known}.")
    sys.exit(run_window(file, picture, Step(step) if step else Step.BUILD))


@commands.command()
@click.argument("file", type=PATH)
@click.option("--json", "as_json", is_flag=True, help="For scripts.")
@overridable
def pieces(file: Path, as_json: bool, **overrides: Any) -> None:  # noqa: ANN401
    """List the pieces with every slot, mortise and tab, in mm."""
    found = pieces_of(load_project(file, overrides))
    if as_json:
        click.echo(json.dumps({"pieces": [_piece_record(piece) for piece in found]}, indent=1))
        return
    for piece in found:
        width, height = piece.region.size
        click.echo(f"{piece.count} × {piece.name} ({piece.stock_id}) {width:.2f} × {height:.2f}")
        for f in piece.features:
            sizes = f"{f.width.drawn:.3f} × {f.depth.drawn:.3f}"
            click.echo(f"    {f.kind.value:8}{sizes:20}{f.joint} with {f.mate}")


for _group in (
    stock_commands,
    test_piece_commands,
    form_commands,
    simulation_commands,
    refit_commands,
    layout_commands,
    output_commands,
):
    for _command in _group.COMMANDS:
        commands.add_command(_command)


def _piece_record(piece: Piece) -> dict[str, Any]:
    width, height = piece.region.size
    return {
        "name": piece.name,
        "stock": piece.stock_id,
        "count": piece.count,
        "width": round(width, DIGITS),
        "height": round(height, DIGITS),
        "area": round(piece.region.area, DIGITS),
        "features": [_feature_record(feature) for feature in piece.features],
    }


def _feature_record(feature: Feature) -> dict[str, Any]:
    return {
        "kind": feature.kind.value,
        "width": round(feature.width.drawn, DIGITS),
        "depth": round(feature.depth.drawn, DIGITS),
        "mate": feature.mate,
        "joint": feature.joint,
    }
