"""What several commands share: paths, loading with overrides, and asking before a contradiction."""

import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import project_edits
from anzel.app.edits.overrides import Overrides
from anzel.core.findings import ParameterError
from anzel.project.inspection import left_out_of
from anzel.project.model import Project
from anzel.storage import project_file

PATH = click.Path(path_type=Path)
DIGITS = 6
"""Decimals of a millimetre in records for scripts: enough for any check, without float dust."""


def overridable(command: Callable[..., None]) -> Callable[..., None]:
    """Give a command the options that change a project for this one run."""
    options = (
        click.option("--thickness", multiple=True, metavar="ID=MM", help="Measured thickness."),
        click.option("--kerf", multiple=True, metavar="ID=MM", help="Kerf."),
        click.option("--fit", metavar="NAME", help="press, snug, slide or loose."),
        click.option("--clearance", metavar="MM", help="Clearance of the fit in use."),
        click.option("--set", "parameters", multiple=True, metavar="PARAM=VALUE"),
    )
    for option in options:
        command = option(command)
    return command


def load_project(file: Path, overrides: dict[str, Any]) -> Project:
    """Return a project from a file, changed for one run.

    Raises MakerError.
    """
    return project_edits.checked(Overrides(**overrides).apply(project_file.load(file)))


def need_agreement(contradiction: str, anyway: bool) -> None:
    """Ask before the kerf is taken care of twice or never; refuse where nobody can answer."""
    if not contradiction or anyway:
        return
    if sys.stdin.isatty() and click.confirm(f"{contradiction} Write it anyway?", err=True):
        return
    mend = "Switch the cutter's compensation or who minds the kerf, or say --anyway."
    raise ParameterError(contradiction, hint=mend)


def tell_left_out(project: Project) -> None:
    """Say what a drawing holds that the file written does not."""
    for finding in left_out_of(project):
        click.echo(f"anzel: {finding}", err=True)


def rounded(record: Any) -> Any:  # noqa: ANN401
    """Return a record for scripts with its numbers rounded."""
    if isinstance(record, dict):
        return {key: rounded(value) for key, value in record.items()}
    if isinstance(record, list | tuple):
        return [rounded(value) for value in record]
    return round(record, DIGITS) if isinstance(record, float) else record
