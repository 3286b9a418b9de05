"""A preview of the job as it will be cut.

The file's own lines in order, played by the simulated cutter.
"""

from dataclasses import dataclass
from pathlib import Path

from anzel.cutjob.operations import Operation
from anzel.output.export import render, structure_pages
from anzel.output.pages import Page
from anzel.output.svg_writer import PAGE_GAP
from anzel.project.model import Project
from anzel.simulation.cut_playback import Playback, play_back


@dataclass(frozen=True)
class CutFileChoice:
    """What a cut file holds and where it is written.

    The sheets of all stocks or of one, one sheet of them, `loose` pieces side by side, or each
    piece `apart` in a file of its own.
    """

    path: Path
    stock_id: str | None = None
    sheet: int | None = None
    loose: bool = False
    apart: bool = False

    def pages(self, project: Project) -> tuple[Page, ...]:
        """Return the file's pages for a project.

        Raises ParameterError for impossible pages.
        """
        return structure_pages(
            project, stock_id=self.stock_id, sheet=self.sheet, loose=self.loose, apart=self.apart
        )


@dataclass(frozen=True)
class OperationTotal:
    """The lines of one operation in a file, and their length in mm."""

    operation: Operation
    lines: int
    length: float


@dataclass(frozen=True)
class CutPreview:
    """A file being cut: its playback, its pages as (name, left, width, height), and its totals."""

    playback: Playback
    pages: tuple[tuple[str, float, float, float], ...]
    totals: tuple[OperationTotal, ...]


def preview_of(project: Project, choice: CutFileChoice, ending: str) -> CutPreview:
    """Return what a file of these choices holds, read back from the file itself.

    A PDF is read from an SVG with the same lines. Raises ParameterError where it cannot be written.
    """
    pages = choice.pages(project)
    if not pages:
        return CutPreview(Playback(()), (), ())
    kind = ending if ending == ".dxf" else ".svg"
    played = play_back(render(pages, project.pens, kind), project.cutter, kind)
    left, placed = 0.0, []
    for page in pages:
        placed.append((page.name, left, page.width, page.height))
        left += page.width + PAGE_GAP
    tallies = []
    for operation in Operation:
        own = [move for move in played.moves if move.operation is operation]
        if own:
            tallies.append(OperationTotal(operation, len(own), sum(move.steps[-1] for move in own)))
    return CutPreview(played, tuple(placed), tuple(tallies))
