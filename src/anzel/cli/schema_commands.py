"""The published schemas of what commands print with --json (JSON Schema, draft 2020-12)."""

from importlib.resources import files

import click

from anzel.cli.common import say
from anzel.core.findings import ParameterError

ENDING = ".schema.json"


def schema_names() -> list[str]:
    """Return the commands that have a schema; the parts of a name are joined by dashes."""
    shipped = files("anzel.cli.schemas").iterdir()
    return sorted(
        entry.name.removesuffix(ENDING) for entry in shipped if entry.name.endswith(ENDING)
    )


def schema_text(name: str) -> str:
    """Return a command's schema.

    Raises ParameterError for a name that has none.
    """
    if name not in schema_names():
        raise ParameterError(
            f"There is no schema “{name}”.", hint=f"There are: {', '.join(schema_names())}."
        )
    return files("anzel.cli.schemas").joinpath(name + ENDING).read_text(encoding="utf-8")


@click.command()
@click.argument("name", required=False)
def schema(name: str | None) -> None:
    """Write the JSON schema of a command's --json output, or list those there are."""
    if name is None:
        for each in schema_names():
            say(each)
        return
    say(schema_text(name).rstrip())


COMMANDS = (schema,)
