"""Runs all hostile files of one reader, in a process of its own; tells each outcome as it ends.

A line of JSON for every file: its name, seconds, MiB above what the process had before, and how it
ended: "" for success, else the words a maker reads; "!" and a traceback for anything else.
"""

import faulthandler
import json
import resource
import sys
import tempfile
import time
import traceback
from pathlib import Path

from cases import CASES

from anzel.app.edits import free_structure_edits, picture_edits, profile_curve_edits
from anzel.core.findings import MakerError
from anzel.materials.fits import FitRule, KerfAt
from anzel.nesting.quick_solver import solve_quickly
from anzel.output.cut_file_reader import parse_cut_file
from anzel.output.nesting_json import read_problem, solution_bytes
from anzel.project.demos import herb_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.refit.load import load_drawing
from anzel.refit.refit import RefitOptions, refit_drawing
from anzel.refit.report import report_record
from anzel.simulation.cut_playback import play_back
from anzel.simulation.opening_measurement import produced_openings
from anzel.simulation.simulated_cutter import SimulatedCutter, cut
from anzel.simulation.simulated_sheet import SimulatedSheet
from anzel.storage import project_file, stock_library
from anzel.storage.mesh_reader import read_mesh
from anzel.tracing.tracing import TraceSettings

LONGEST = 60


def drawing(ending):
    """A found drawing is read, refitted and written back."""

    def run(content, name):
        done = refit_drawing(
            load_drawing(content, f"d{ending}"),
            RefitOptions(2.94, FitRule(0.05, 0.16, KerfAt.DRAWING)),
        )
        report_record(done)
        done.written()

    return run


def cut_file(ending):
    """A cut file is played, cut and taken as plates; each may fail by itself, in words."""

    def run(content, name):
        project, failed = herb_stand(), None
        cutter = SimulatedCutter(kerf=0.16, wobble=0.02)
        read = parse_cut_file(content, ending)

        def produced():
            for piece in cut(read, cutter, SimulatedSheet(true_thickness=3)):
                produced_openings(piece)

        def plates():
            with tempfile.NamedTemporaryFile(suffix=ending) as file:
                file.write(content)
                file.flush()
                free = free_structure_edits.make_free(project)
                made, _ = free_structure_edits.add_drawing(
                    free, Path(file.name), project.stocks[0].id
                )
                solved_structure_of(made)
                project_file.save(made, Path(file.name).with_suffix(".anzel"))

        for each in (lambda: play_back(content, project.cutter, ending), produced, plates):
            try:
                each()
            except MakerError as error:
                failed = error
        if failed is not None:
            raise failed

    return run


def file_of(read):
    """A reader of paths."""

    def run(content, name):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / name.replace(" ", "-")
            file.write_bytes(content)
            read(file)

    return run


def trace(path):
    """A picture is put behind a plate, traced, and what is found becomes its outline."""
    plate = "Left end"
    project = picture_edits.place_picture(project_of("free"), plate, path)
    picture = picture_edits.picture_of(project, plate)
    for region in picture_edits.proposed_regions(picture, TraceSettings())[:1]:
        solved_structure_of(picture_edits.take_outline(project, plate, region))


def lay(content, name):
    """A layout puzzle is read and solved."""
    puzzle = read_problem(content)
    solution_bytes(puzzle, solve_quickly(puzzle))


READERS = {
    "svg drawing": drawing(".svg"), "dxf drawing": drawing(".dxf"),
    "svg cut file": cut_file(".svg"), "dxf cut file": cut_file(".dxf"),
    "project": lambda content, name: project_file.from_bytes(content),
    "mesh": file_of(read_mesh), "stocks": file_of(stock_library.load_rack), "puzzle": lay,
    "picture": file_of(lambda path: profile_curve_edits.add_traced_picture(project_of("rib-lamp"),
    path)),
    "picture to trace": file_of(lambda path: trace(path)),
}  # fmt: skip


def main():
    """Run a reader's files; those named after it, or all."""
    reader, *names = sys.argv[1:]
    resource.setrlimit(resource.RLIMIT_AS, (12 << 30, 12 << 30))
    for name, content in CASES[reader]().items():
        if names and name not in names:
            continue
        faulthandler.dump_traceback_later(LONGEST, exit=True)
        before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        start, ended = time.process_time(), ""
        try:
            READERS[reader](content, name)
        except MakerError as error:
            ended = str(error)
        except Exception:
            ended = "!" + traceback.format_exc()
        seconds = time.process_time() - start
        more = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
        faulthandler.cancel_dump_traceback_later()
        print(json.dumps([name, seconds, more, ended]), flush=True)


if __name__ == "__main__":
    main()
