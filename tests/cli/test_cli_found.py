"""Projects of found drawings on the command line."""

from tests.common import HINGE

from anzel.app.edits import drawing_edits
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import empty_table
from anzel.storage import project_file
from anzel.structure.line_work import LineOperation

NAME = next(
    group.label for group in drawing_edits.line_groups_of(
        drawing_edits.drawing_view(
            drawing_edits.import_file(empty_table(), "hinge.svg", HINGE.encode()), "hinge.svg"
        )
    ) if group.wish is None
)  # fmt: skip


def test_a_project_of_found_drawings_is_made_on_the_command_line(run, tmp_path):
    (tmp_path / "hinge.svg").write_text(HINGE)
    out = tmp_path / "hinge.anzel"
    status, told, _ = run("found", tmp_path / "hinge.svg", "-o", out)
    assert status == 0
    assert "2 lines" in told
    assert "left out until you say" in told
    status, told, _ = run(
        "found", tmp_path / "hinge.svg", "-o", out, "--lines", f"{NAME}=engrave"
    )  # fmt: skip
    assert status == 0
    assert "until you say" not in told
    assert run("found", tmp_path / "hinge.svg", "-o", out, "--lines", "red=burn")[0] == 2
    (piece,) = solved_structure_of(project_file.load(out)).pieces
    operations = [line.operation for line in piece.lines]
    assert operations.count(LineOperation.CUT) == 20
    assert operations.count(LineOperation.ENGRAVE) >= 3
    assert run("check", out)[0] in (0, 1)
