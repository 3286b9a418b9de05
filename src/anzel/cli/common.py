"""What several commands share: paths, loading with overrides, and asking before a contradiction."""

import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import project_edits
from anzel.app.edits.overrides import Overrides
from anzel.app.number_display import show_numbers, shown
from anzel.core.findings import ParameterError
from anzel.core.number_format import MILLIMETRES, NumberFormat, Unit
from anzel.project.inspection import left_out_of
from anzel.project.model import Project
from anzel.storage import project_file
from anzel.storage.atomic_file import FileError, write_atomically

PATH = click.Path(path_type=Path)
_UNITS = {"mm": Unit.MILLIMETRES, "in": Unit.INCHES, "in/64": Unit.FRACTIONS}
CUT_FORMATS = ("svg", "dxf", "pdf")
STREAM = "-"
"""Instead of a file: standard input or output."""
DIGITS = 6
"""Decimals of a millimetre in records for scripts: enough for any check, without float dust."""


SET_HELP = "A parameter of the form, such as height=140; `anzel forms` lists them."


as_json_option = click.option("--json", "as_json", is_flag=True, help="For scripts.")


def overridable(command: Callable[..., None]) -> Callable[..., None]:
    """Give a command the options that change a project for this one run."""
    options = (
        click.option("--thickness", multiple=True, metavar="[ID=]LENGTH", help="As measured."),
        click.option("--kerf", multiple=True, metavar="[ID=]LENGTH", help="What the cutter takes."),
        click.option("--fit", metavar="NAME", help="press, snug, slide or loose."),
        click.option("--clearance", metavar="LENGTH", help="Clearance of the fit in use."),
        click.option("--set", "parameters", multiple=True, metavar="PARAM=VALUE", help=SET_HELP),
    )
    for option in options:
        command = option(command)
    return command


def load_project(file: Path, overrides: dict[str, Any]) -> Project:
    """Return a project from a file, changed for one run.

    Raises MakerError.
    """
    return project_edits.checked(Overrides(**overrides).apply(read_project(file)))


def read_project(file: Path) -> Project:
    """Return a project from a file, or from standard input for `-`.

    Raises FileError.
    """
    if str(file) == STREAM:
        try:
            content = sys.stdin.buffer.read(project_file.LARGEST + 1)
        except OSError as error:
            raise FileError(f"Standard input cannot be read: {error.strerror}.") from error
        return project_file.from_bytes(content[: project_file.LARGEST], "What came in")
    return project_file.load(file)


def save_project(project: Project, output: Path) -> None:
    """Save a project to a file, or to standard output for `-`.

    Raises MakerError if it cannot be made or written.
    """
    project = project_edits.checked(project)
    if str(output) == STREAM:
        write_output(output, project_file.to_bytes(project))
        return
    need_ending(output, ".anzel")
    project_file.save(project, output)


def write_output(output: Path, content: bytes) -> None:
    """Write a file atomically, or to standard output for `-`.

    Raises FileError.
    """
    if str(output) == STREAM:
        sys.stdout.buffer.write(content)
        sys.stdout.flush()
        return
    write_atomically(output, content)


def need_ending(output: Path, *endings: str) -> None:
    """Raise ParameterError for a file whose ending promises something else than will be in it."""
    if str(output) != STREAM and output.suffix.lower() not in endings:
        names = " or ".join(endings)
        raise ParameterError(f"{output.name} must end in {names}.", field="output")


def format_option(*formats: str) -> Callable[[Callable[..., None]], Callable[..., None]]:
    """Return the option that tells the format of what goes to standard output."""
    words = f"For an OUTPUT of -, which has no ending; else {formats[0]}."
    return click.option("--format", "form", type=click.Choice(formats), help=words)


def ending_of(output: Path, form: str | None, *formats: str) -> str:
    """Return the ending that tells how an output is written, with its dot.

    For standard output it is that of `form`, or of the first of the formats. Raises ParameterError
    for a file whose ending is none of them, or another than `form`.
    """
    if str(output) == STREAM:
        return f".{form or formats[0]}"
    need_ending(output, *(f".{each}" for each in ([form] if form else formats)))
    return output.suffix.lower()


def need_one_output(output: Path, as_json: bool) -> None:
    """Raise ParameterError where a record for scripts would be mixed with what is written."""
    if as_json and str(output) == STREAM:
        raise ParameterError(
            "Both the record and the file would go to standard output.",
            hint="Write one of them to a file.",
        )


KERF_MEND = "Switch the cutter's compensation or who minds the kerf, or say --anyway."


def need_agreement(contradiction: str, anyway: bool, mend: str = KERF_MEND) -> None:
    """Ask before something is written that does not suit; refuse where nobody can answer."""
    if not contradiction or anyway:
        return
    if sys.stdin.isatty() and click.confirm(f"{contradiction} Write it anyway?", err=True):
        return
    raise ParameterError(contradiction, hint=mend)


def tell_left_out(project: Project) -> None:
    """Say what a drawing holds that the file written does not."""
    for finding in left_out_of(project):
        say(f"anzel: {finding}", err=True)


def say(text: str, *, err: bool = False, nl: bool = True) -> None:
    """Print a text with its numbers in the units asked for."""
    click.echo(shown(text), err=err, nl=nl)


def say_record(record: Any) -> None:  # noqa: ANN401
    """Print a record for scripts: as JSON, in mm."""
    click.echo(json.dumps(rounded(record), indent=1))


def with_units(command: click.Command) -> None:
    """Give a command the option that says in which units it tells lengths."""
    command.params.append(
        click.Option(
            ["--units"], type=click.Choice(_UNITS), default="mm", expose_value=False,
            callback=_use_units, help="Of lengths told and printed; drawings and JSON are in mm.",
        )
    )  # fmt: skip


def _use_units(context: click.Context, parameter: click.Parameter, units: str) -> None:
    if not context.resilient_parsing:
        show_numbers(NumberFormat(_UNITS[units]))


class Exact(float):
    """A number that records hold as it is, such as a part of a direction."""


def rounded(record: Any) -> Any:  # noqa: ANN401
    """Return a record for scripts with its numbers rounded, and those in its texts in mm."""
    if isinstance(record, str):
        return MILLIMETRES.write(record)
    if isinstance(record, dict):
        return {key: rounded(value) for key, value in record.items()}
    if isinstance(record, list | tuple):
        return [rounded(value) for value in record]
    if isinstance(record, float) and not isinstance(record, Exact):
        return round(record, DIGITS)
    return record
