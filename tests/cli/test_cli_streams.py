"""Streams as command-line programs use them: pipes that end, full disks, lists of readings."""

import subprocess
import sys
from pathlib import Path

import pytest

from anzel.app.edits import cutter_edits, project_edits
from anzel.cli.desktop_commands import _argument
from anzel.core.findings import ParameterError
from anzel.project.demos import herb_stand
from anzel.storage import project_file

ANZEL = [sys.executable, "-P", "-m", "anzel"]


@pytest.fixture
def stand(tmp_path):
    project_file.save(herb_stand(), tmp_path / "stand.anzel")
    return tmp_path / "stand.anzel"


def test_a_pipe_that_ends_early_is_no_error(stand):
    command = " ".join(f"'{word}'" for word in (*ANZEL, "pieces", str(stand)))
    run = subprocess.run(
        ["bash", "-c", f"{command} | head -n 1; exit ${{PIPESTATUS[0]}}"],
        capture_output=True, text=True,
    )  # fmt: skip
    assert (run.returncode, run.stderr) == (0, "")


def test_a_full_disk_at_the_output_is_told_in_one_line(stand):
    with open("/dev/full", "w") as full:
        run = subprocess.run(
            [*ANZEL, "pieces", str(stand)], stdout=full, stderr=subprocess.PIPE, text=True
        )
    assert run.returncode == 2
    assert run.stderr == "anzel: The output could not be written: No space left on device.\n"


def test_a_sheet_larger_than_the_bed_is_told(run, tmp_path):
    project = herb_stand()
    small = cutter_edits.change_cutter(project, bed_width=300.0, bed_height=200.0)
    project_file.save(small, tmp_path / "small.anzel")
    code, _, told = run("export", tmp_path / "small.anzel", "-o", tmp_path / "small.svg")
    assert code == 0
    assert "the bed of Potting-shed laser holds 300 × 200 mm" in told


@pytest.mark.parametrize(
    ("closing", "words", "status", "told"),
    [
        ("<&-", "pieces {stand}", 0, ""),
        ("<&-", "pieces -", 2, "What came in"),
        ("<&-", "export {stand} --pens nobody -o {stand}.svg", 2, "no pens"),
        (">&-", "pieces {stand}", 2, "The output could not be written: Bad file descriptor."),
        ("2>&-", "pieces {stand}", 0, ""),
        ("<&- >&- 2>&-", "pieces nothing.anzel", 2, ""),
    ],
)
def test_streams_that_are_closed_are_no_fault(stand, closing, words, status, told):
    command = " ".join(f"'{word}'" for word in (*ANZEL, *words.format(stand=stand).split()))
    run = subprocess.run(["bash", "-c", f"{command} {closing}"], capture_output=True, text=True)
    assert run.returncode == status
    assert told in run.stderr
    assert run.stderr.count("\n") == (1 if told else 0)


@pytest.mark.parametrize(
    ("words", "begins"),
    [
        ("export {stand} -o -", b"<?xml"), ("export {stand} -o - --format dxf", b"  0\nSECTION"),
        ("export {stand} -o - --format pdf", b"%PDF"), ("paper {stand} -o -", b"%PDF"),
        ("cutlist {stand} -o -", b"\xef\xbb\xbfpiece"),
        ("cutlist {stand} -o - --format pdf", b"%PDF"),
        ("solids {stand} -o -", b"PK"), ("solids {stand} -o - --format glb", b"glTF"),
        ("test-piece {stand} --stock birch-3 -o -", b"<?xml"), ("assembly {stand} -o -", b"%PDF"),
        ("picture {stand} -o -", b"\x89PNG"), ("rescale {stand} --factor 0.9 -o -", b"PK"),
    ],
)  # fmt: skip
def test_every_output_goes_to_standard_output(stand, words, begins):
    run = subprocess.run([*ANZEL, *words.format(stand=stand).split()], capture_output=True)
    assert run.stdout.startswith(begins), run.stderr


def test_what_cannot_go_to_standard_output_is_said(run, stand):
    for words, told in (
        (("--json",), "Both the record and the file"), (("--each",), "needs a name to begin with"),
    ):  # fmt: skip
        assert told in run("export", stand, "-o", "-", *words)[2]
    told = run("export", stand, "-o", stand.with_suffix(".svg"), "--format", "dxf")[2]
    assert "must end in .dxf" in told


def test_a_trial_takes_decimal_commas(run, stand):
    points, commas = (
        run("trial", stand, "--stock", "birch-3", "--result", result, "--json")
        for result in ("2.80=press,2.85=snug,2.90=slides", "2,80=press, 2.85=snug,2,90=slides")
    )
    assert points == commas
    assert points[0] == 0


@pytest.mark.parametrize("text", [";", "\n\t", "( ) in"])
def test_separators_alone_are_refused_like_any_text(text):
    with pytest.raises(ParameterError):
        project_edits.typed_lengths(text, "readings")


@pytest.mark.parametrize(
    ("text", "readings"),
    [
        ("2.94\n2.95\r\n2.96\n", [2.94, 2.95, 2.96]), ("2,94; 2,95", [2.94, 2.95]),
        ("2.94 mm 2.95mm 0.117 in", [2.94, 2.95, 2.9718]), ("2.94\t2.95", [2.94, 2.95]),
        ("1 1/8 in", [28.575]), ("(0.117\n0.116) in", [2.9718, 2.9464]), ("29,7mm", [29.7]),
    ],
)  # fmt: skip
def test_a_column_of_readings_is_taken_whole(text, readings):
    assert project_edits.typed_lengths(text, "readings") == pytest.approx(readings)
    with pytest.raises(ParameterError):
        project_edits.typed_lengths(f"{text} x", "readings")


def test_the_menu_entry_starts_a_program_of_any_name():
    """Desktop Entry Specification: quoting in Exec, then the escapes of a string value."""
    assert _argument(Path('/o/a"b`c$d%e\\f')) == '"/o/a\\\\"b\\\\`c\\\\$d%%e\\\\\\\\f"'
