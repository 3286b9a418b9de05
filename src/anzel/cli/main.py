"""The command line: the same work as in the window, for scripts.

Errors: one line, exit 2.
"""

import errno
import gc
import os
import sys
from importlib import import_module
from pathlib import Path
from typing import Any

import click
from click.shell_completion import get_completion_class

from anzel import __version__
from anzel.app.crash_reports import keep_report
from anzel.app.log_setup import quiet_libraries
from anzel.app.navigation import Step
from anzel.app.number_display import shown
from anzel.cli.common import (
    DIGITS,
    PATH,
    as_json_option,
    load_project,
    overridable,
    save_project,
    say,
    say_record,
    with_units,
)
from anzel.core.collecting import COLLECT_AFTER
from anzel.core.error_boundary import set_report_keeper, to_maker_error
from anzel.core.findings import MakerError, ParameterError, UnsureError
from anzel.core.number_format import format_length
from anzel.project.demos import DEMOS
from anzel.project.derive import pieces_of
from anzel.storage.atomic_file import FileError
from anzel.structure.alike_pieces import AlikePieces, alike_pieces
from anzel.structure.model import Feature, Piece

_MODULES = {
    "artwork": ("artwork", "inlay"),
    "assembly": ("assembly", "solids"),
    "desktop": ("desktop",),
    "form": ("forms", "form", "check", "rescale", "picture"),
    "found": ("found",),
    "layout": ("sheets", "layout"),
    "output": ("export", "paper", "cutlist", "estimate"),
    "plate": ("plate",),
    "refit": ("refit",),
    "schema": ("schema",),
    "simulation": ("bench",),
    "stock": ("stock", "kerf"),
    "test_piece": ("test-piece", "trial", "forecast"),
}
"""The commands of each module `anzel.cli.…_commands`."""
_MODULE_OF = {name: module for module, names in _MODULES.items() for name in names}

_NO_MORE_OUTPUT = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.EIO, errno.EBADF)
"""How the system says that a file takes no more, or is closed (write(2))."""
UNSURE = 3
"""Exit code where the maker has to say something first."""


def main(arguments: list[str] | None = None) -> None:
    """Run the command line and exit: 0 done, 2 with one line on stderr otherwise."""
    _open_closed_streams()
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
    except _ReaderGoneError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(0)
    except Exception as error:
        _fail(str(to_maker_error(error, "it ran this command")))


def _open_closed_streams() -> None:
    """Put something in the place of standard streams that were closed by who started this.

    Otherwise the next file that is opened would be taken for one of them. What is read there ends
    at once; what is written there is refused, as writing to a closed file is.
    """
    if sys.stdin is None:
        sys.stdin = os.fdopen(_moved(os.open(os.devnull, os.O_RDONLY), 0))
    if sys.stdout is None:
        sys.stdout = os.fdopen(_moved(os.open(os.devnull, os.O_RDONLY), 1), "w", closefd=False)
    if sys.stderr is None:
        sys.stderr = os.fdopen(_moved(os.open(os.devnull, os.O_WRONLY), 2), "w", closefd=False)


def _moved(descriptor: int, to: int) -> int:
    """Return a descriptor moved to another number."""
    if descriptor != to:
        os.dup2(descriptor, to)
        os.close(descriptor)
    return to


class _ReaderGoneError(Exception):
    """Whoever reads the output has read enough."""


def _fail(message: str, code: int = 2) -> None:
    say("anzel: " + " ".join(message.split()), err=True)
    sys.exit(code)


class _Commands(click.Group):
    """Loads a module of commands when one of them is asked for: the window starts without them."""

    def invoke(self, ctx: click.Context) -> Any:  # noqa: ANN401
        """Run a command and write all of its output.

        Raises _ReaderGoneError where nobody reads it, because click would end with 1 then, and
        FileError where it cannot be written.
        """
        try:
            result = super().invoke(ctx)
            if sys.stdout is not None:
                sys.stdout.flush()
            return result
        except BrokenPipeError as error:
            raise _ReaderGoneError from error
        except OSError as error:
            if error.errno not in _NO_MORE_OUTPUT:
                raise
            os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
            raise FileError(f"The output could not be written: {error.strerror}.") from error

    def list_commands(self, ctx: click.Context) -> list[str]:
        return sorted({*self.commands, *_MODULE_OF})

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name in _MODULE_OF and cmd_name not in self.commands:
            for command in import_module(f"anzel.cli.{_MODULE_OF[cmd_name]}_commands").COMMANDS:
                if not any(option.name == "units" for option in command.params):
                    with_units(command)
                self.add_command(command)
        return super().get_command(ctx, cmd_name)


@click.group(
    cls=_Commands,
    context_settings={"help_option_names": ["-h", "--help"]},
    invoke_without_command=True,
)
@click.version_option(__version__, prog_name="anzel")
@click.pass_context
def commands(context: click.Context) -> None:
    """Slot-together structures from flat sheet, sized to what you measured.

    A project FILE of - is standard input, an OUTPUT of - standard output. Lengths
    are typed in mm, or with their unit, such as 1/8in.
    """
    if context.invoked_subcommand is None:
        click.echo(context.get_help())


@commands.command()
@click.argument("name", required=False)
@click.option("-o", "--output", type=PATH, help="FILE.anzel")
@as_json_option
def demo(name: str | None, output: Path | None, as_json: bool) -> None:
    """List the demo projects, or write one."""
    if name is None:
        if as_json:
            say_record({"demos": [{"name": each.name, "about": each.about} for each in DEMOS]})
            return
        for each in DEMOS:
            say(f"{each.name:20}{each.about}")
        return
    found = next((each for each in DEMOS if each.name == name), None)
    if found is None:
        known = ", ".join(each.name for each in DEMOS)
        raise ParameterError(f"There is no demo “{name}”.", hint=f"There are: {known}.")
    if output is None:
        raise ParameterError("Say where to write it.", hint=f"anzel demo {name} -o FILE.anzel")
    save_project(found.make(), output)


@commands.command("open")
@click.argument("file", type=PATH, required=False)
@click.option("--picture", type=PATH, help="Save a picture of the window and leave.")
@click.option("--step", metavar="NAME", help="Open at this step, e.g. stock, test, build.")
@click.option("--new-window", is_flag=True, help="Even if a window is open already.")
def open_window(
    file: Path | None, picture: Path | None, step: str | None, new_window: bool
) -> None:
    """Open the window: with a project, drawing or mesh, or with the project of the last time."""
    from anzel.cli.window import run_window

    if step is not None and step not in list(Step):
        known = ", ".join(Step)
        raise ParameterError(f"There is no step “{step}”.", hint=f"There are: {known}.")
    sys.exit(run_window(file, picture, Step(step) if step else None, new_window))


@commands.command()
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion(shell: str) -> None:
    """Print what makes a shell complete commands and options: eval "$(anzel completion bash)"."""
    made = get_completion_class(shell)
    assert made is not None
    click.echo(made(commands, {}, "anzel", "_ANZEL_COMPLETE").source())


@commands.command()
@click.argument("file", type=PATH)
@as_json_option
@overridable
def pieces(file: Path, as_json: bool, **overrides: Any) -> None:  # noqa: ANN401
    """List the pieces with every slot, mortise and tab; pieces that are alike are one line."""
    found = alike_pieces(pieces_of(load_project(file, overrides)))
    if as_json:
        say_record(
            {"pieces": [_piece_record(piece, each) for each in found for piece in each.members]}
        )
        return
    for each in found:
        piece = each.piece
        outside = " × ".join(format_length(side) for side in piece.region.size)
        likes = f": also {', '.join(each.names[1:])}" if len(each.names) > 1 else ""
        say(f"{each.count} × {piece.name} ({piece.stock_id}) {outside}{likes}")
        for f in piece.features:
            sizes = shown(f"{format_length(f.width.drawn, 3)} × {format_length(f.depth.drawn, 3)}")
            mate = f" with {f.goes_with}" if f.goes_with else ""
            say(f"    {f.kind.value:8}{sizes:20}{f.joint}{mate}")


with_units(pieces)


def _piece_record(piece: Piece, alike: AlikePieces) -> dict[str, Any]:
    width, height = piece.region.size
    return {
        "name": piece.name,
        "stock": piece.stock_id,
        "count": piece.count,
        "like": alike.piece.name,
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
        "mate": feature.goes_with,
        "joint": feature.joint,
    }
