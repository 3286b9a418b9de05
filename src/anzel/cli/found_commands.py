"""The command that makes a project of found drawings, as the window does."""

from pathlib import Path

import click

from anzel.app.edits import drawing_edits, drawn_hinge_edits
from anzel.cli.common import PATH, save_project, say
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.drawings.model import label_in_words, label_named
from anzel.project.model import Project
from anzel.project.new_project import empty_table
from anzel.storage.atomic_file import FileError, read_whole
from anzel.structure.line_work import LineWish

_LARGEST = 64 * 1024 * 1024


@click.command()
@click.argument("drawings", type=PATH, nargs=-1, required=True)
@click.option("-o", "--output", type=PATH, required=True, metavar="FILE.anzel")
@click.option(
    "--lines",
    "wishes",
    multiple=True,
    metavar="LABEL=WISH",
    help="What becomes of lines that outline nothing: cut, score, engrave or leave out.",
)
@click.option("--bend", metavar="DEGREES", help="How far living hinges are bent, if not 90.")
def found(
    drawings: tuple[Path, ...], output: Path, wishes: tuple[str, ...], bend: str | None
) -> None:
    """Make a project of somebody's SVG or DXF drawings, and tell of lines that outline nothing."""
    first = drawings[0].name
    project = empty_table().with_changes(name=first.rpartition(".")[0][:80] or first[:80])
    for path in drawings:
        too_large = FileError(f"{path.name} is far too large for a drawing.")
        content = read_whole(path, _LARGEST, too_large)
        project = drawing_edits.import_file(project, path.name, content)
    for text in wishes:
        project = _decided(project, text)
    for drawing in drawing_edits.drawing_views(project) if bend is not None else ():
        for hinge in drawn_hinge_edits.hinges_of(project, drawing.name):
            project = drawn_hinge_edits.bend_hinge(project, drawing.name, hinge.id, bend or "")
    save_project(project, output)
    for each in drawing_edits.drawing_views(project):
        for group in drawing_edits.line_groups_of(each):
            wish = group.wish.value if group.wish is not None else "left out until you say"
            many = f"{group.count} line{'s' * (group.count != 1)}"
            length = plain_measure(group.length, 0)
            say(f"{each.name}: {many} “{label_in_words(group.label)}”, {length}: {wish}")
        for hinge in drawn_hinge_edits.hinges_of(project, each.name):
            say(f"{each.name}: hinge {hinge.id} of {hinge.piece}, bent by {hinge.angle:g}°")


def _decided(project: Project, text: str) -> Project:
    """Return the project with LABEL=WISH for every drawing that has such lines."""
    label, equals, wish = text.rpartition("=")
    if not equals or wish not in list(LineWish):
        known = ", ".join(LineWish)
        raise ParameterError(f"“{text}” is not LABEL=WISH.", hint=f"Wishes are: {known}.")
    changed = project
    for each in drawing_edits.drawing_views(project):
        labels = (group.label for group in drawing_edits.line_groups_of(each))
        if label_named(labels, label) is not None:
            changed = drawing_edits.decide_lines(changed, each.name, label, LineWish(wish))
    if changed is project:
        first = drawing_edits.drawing_views(project)[0]
        return drawing_edits.decide_lines(project, first.name, label, LineWish(wish))
    return changed


COMMANDS = (found,)
