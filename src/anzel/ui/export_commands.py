"""Commands that write what is cut or printed: cut files, test pieces, templates, lists."""

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QCheckBox, QInputDialog, QWidget

from anzel.app.background import Background, Newest, Task
from anzel.app.listeners import Changed
from anzel.app.number_display import as_shown, number_format, shown
from anzel.app.session import Session
from anzel.app.views.cut_preview import CutFileChoice
from anzel.core.findings import MakerError, ParameterError
from anzel.output import export
from anzel.output.pages import Page
from anzel.project.assembly import assembly_of
from anzel.project.inspection import left_out_of
from anzel.project.model import Project
from anzel.storage.atomic_file import is_read_only, write_atomically
from anzel.test_pieces.model import TestPieceKind
from anzel.ui.confirm import may_write, may_write_read_only
from anzel.ui.file_choice import choose_target

if TYPE_CHECKING:
    from anzel.ui.widgets.file_settings import FileSettings

_PAPERS = ("A4", "A3", "A5", "A2", "Letter", "Legal", "Tabloid")
Tell = Callable[[str, MakerError], None]
Make = Callable[[Project], bytes]
PagesOf = Callable[[Project], tuple[Page, ...]]
MakeFiles = Callable[[Project, Path, Task], Iterable[tuple[Path, bytes]]]
_BOOKLET_PAGES = ("A4", "Letter", "A5")


class ExportCommands:
    """Asks where to write, writes in the background, and writes again at every save if wanted.

    A followed file belongs to the project that it was first written from. It ends when another
    project is opened, or when the maker unticks it.
    """

    def __init__(self, window: QWidget, session: Session, jobs: Background, tell: Tell) -> None:
        self._window, self._session, self._jobs, self._tell = window, session, jobs, tell
        self._getting = Newest(jobs)
        self._followed: CutFileChoice | None = None
        self._box: QCheckBox | None = None
        self._written: Project | None = None
        self._agreed_to: frozenset[str] = frozenset()
        session.subscribe(self._changed)

    def write(self, chosen: "FileSettings") -> None:
        """Write the cut file chosen in the sheets step."""
        if not self._agreed(*self._questions()):
            return
        self._with_pages(chosen.cut_file(Path()).pages, partial(self._write, chosen))

    def _write(self, chosen: "FileSettings", project: Project, pages: tuple[Page, ...]) -> None:
        path = self._ask(f"{project.name}{chosen.ending}", chosen.ending)
        if path is None:
            return
        file = chosen.cut_file(path)
        self._put(project, pages, path, each=file.apart)
        self._written = project
        self._followed = file if chosen.follow.isChecked() else None
        if self._box is not chosen.follow:
            self._box = chosen.follow
            self._box.toggled.connect(self._unfollow)

    def write_test_piece(self, kind: TestPieceKind) -> None:
        """Write a test piece for the picked stock."""
        stock_id = self._session.selection.stock_id
        if not self._agreed(export.contradiction(as_shown(self._session.project), kind)):
            return

        def write(project: Project, pages: tuple[Page, ...]) -> None:
            path = self._ask(f"{kind.value} {stock_id}.svg", ".svg")
            if path is not None:
                self._put(project, pages, path)

        self._with_pages(
            lambda project: export.pages_of_test_piece(as_shown(project), stock_id, kind), write
        )

    def print(self, what: str, chosen: "FileSettings") -> None:
        """Write templates, the job sheet or the cut list."""
        name = self._session.project.name
        if what == "list":
            self._print(f"{name}, cut list.csv", "Tables (*.csv)", _cut_list)
        elif what == "sheet":
            self._print(f"{name}, job sheet.pdf", "PDF (*.pdf)", _job_sheet)
        else:
            paper, agreed = QInputDialog.getItem(
                self._window, "Templates at 1:1", "Paper (or WIDTHxHEIGHT)", _PAPERS
            )
            if agreed:
                pages_of = chosen.cut_file(Path()).pages
                self._print(f"{name}, templates.pdf", "PDF (*.pdf)", _templates(pages_of, paper))

    def write_assembly(self, what: str) -> None:
        """Write the booklet, the pictures of the steps, or the standing solids."""
        name = self._session.project.name
        if what == "booklet":
            page, agreed = QInputDialog.getItem(
                self._window, "Booklet without words", "Page", _BOOKLET_PAGES, 0, False
            )
            if agreed:
                self._aside(f"{name}, booklet.pdf", "PDF (*.pdf)", _booklet(page))
        elif what == "pictures":
            self._aside(f"{name}, step.svg", "SVG (*.svg);;PNG (*.png)", _step_pictures)
        else:
            kinds = "3MF (*.3mf);;STL (*.stl);;OBJ (*.obj);;GLB (*.glb)"
            self._aside(f"{name}.3mf", kinds, _solids)

    def _aside(self, name: str, kinds: str, make: MakeFiles) -> None:
        """Ask where to write, and make and write the files in the background."""
        path = choose_target(self._window, "Write", name, kinds)
        if path is None:
            return
        project = self._session.project
        target = path if path.suffix else path.with_suffix(Path(name).suffix)

        def work(progress: Task) -> str:
            progress.report(f"Writing {target.name} …")
            written = 0
            for file, content in make(project, target, progress):
                write_atomically(file, content)
                written += 1
            return str(target) if written == 1 else f"{written} files beside {target}"

        self._start(work)

    def _with_pages(
        self, pages_of: PagesOf, then: Callable[[Project, tuple[Page, ...]], None]
    ) -> None:
        """Work pages out in the background and go on with them, or tell why there are none."""
        project = self._session.project

        def work(progress: Task) -> tuple[Page, ...]:
            progress.report("Getting the pages ready …")
            return pages_of(project)

        def arrived(pages: tuple[Page, ...]) -> None:
            self._session.status.show("")
            then(project, pages)

        self._getting.start(
            work,
            done=arrived,
            failed=partial(self._failed, "There is nothing to write"),
            said=self._session.status.show,
        )

    def _print(self, name: str, kind: str, make: Make) -> None:
        self._aside(name, kind, lambda project, target, _: [(target, make(project))])

    def _put(
        self, project: Project, pages: Sequence[Page], path: Path, *, each: bool = False
    ) -> None:
        """Write pages of a project in the background, and say when it is done.

        Ask before a read-only file is written over.
        """
        lost = export.cannot_hold(pages, path.suffix)
        if not self._agreed("", "", lost, shown(export.over_bed(project, pages))):
            return
        targets = export.files_of(pages, path) if each else [path]
        pens, even_read_only = project.pens, any(is_read_only(target) for target in targets)
        if even_read_only and not may_write_read_only(self._window, path):
            return

        def work(progress: Task) -> str:
            progress.report(f"Writing {path.name} …")
            if each:
                written = export.write_each(pages, pens, path, even_read_only=even_read_only)
                earlier = [each.name for each in export.earlier_files(written, path)]
                left = f" (from an earlier job: {', '.join(earlier)})" if earlier else ""
                return f"{len(written)} files beside {path}{left}"
            content = export.render(pages, pens, path.suffix)
            progress.report(f"Saving {path.name} …")
            write_atomically(path, content, even_read_only=even_read_only)
            return str(path)

        self._start(work)

    def _start(self, work: Callable[[Task], str]) -> None:
        self._jobs.start(
            work,
            done=lambda written: self._session.status.show(f"Written: {written}"),
            failed=partial(self._failed, "The file was not written"),
            said=self._session.status.show,
        )

    def _failed(self, title: str, error: MakerError) -> None:
        """Say why there is no file, and that nothing is being written any more."""
        self._session.status.show(f"▲ {title}.")
        self._tell(title, error)

    def _changed(self, changed: Changed) -> None:
        """Write a followed file again after a save of its project."""
        if changed is Changed.OPENED:
            self._getting.cancel()
            self._followed = None
            self._agreed_to = frozenset()
        elif changed is Changed.SAVED and self._session.project is not self._written:
            self._write_again()

    def _unfollow(self, ticked: bool) -> None:
        if not ticked:
            self._followed = None

    def _write_again(self) -> None:
        file = self._followed
        if file is None or not self._agreed(*self._questions()):
            return
        self._written = self._session.project
        self._with_pages(
            file.pages,
            lambda project, pages: self._put(project, pages, file.path, each=file.apart),
        )

    def _ask(self, name: str, ending: str) -> Path | None:
        """Return where to write; None where the maker cancels."""
        kinds = ";;".join(f"{known[1:].upper()} (*{known})" for known in export.FORMATS)
        chosen = f"{ending[1:].upper()} (*{ending})"
        path = choose_target(self._window, "Write a cut file", name, kinds, chosen)
        return path if path is None or path.suffix else path.with_suffix(ending)

    def _questions(self) -> tuple[str, str]:
        """Return what to ask before a cut file is written; "" where there is nothing to ask."""
        project = self._session.project
        return export.contradiction(project), shown("\n".join(map(str, left_out_of(project))))

    def _agreed(
        self, contradiction: str, left_out: str = "", lost: str = "", larger: str = ""
    ) -> bool:  # fmt: skip
        """Return whether to write although the cutter disagrees or lines are left out.

        What was agreed to is not asked again.
        """
        questions = (
            ("Kerf, exactly once?", contradiction,
             "Switch the cutter's own compensation (step Cutter) or who minds the kerf (top "
             "right), or write the file as it is."),
            ("Without these lines?", left_out, "Write the file without them?"),
            ("Without the pictures?", lost, "Write the file without them?"),
            ("Larger than the bed?", larger, "Write the file all the same?"),
        )  # fmt: skip
        for title, question, choice in questions:
            if not question or question in self._agreed_to:
                continue
            if not may_write(self._window, title, f"{question}\n\n{choice}"):
                return False
            self._agreed_to |= {question}
        return True


def _cut_list(project: Project) -> bytes:
    from anzel.output.cut_list import cut_list_bytes

    return cut_list_bytes(project, number_format())


def _job_sheet(project: Project) -> bytes:
    from anzel.output.job_sheet import job_sheet_bytes

    return job_sheet_bytes(project, numbers=number_format())


def _templates(pages_of: PagesOf, paper: str) -> Make:
    from anzel.output.for_knife import for_knife
    from anzel.output.tiled_pdf import paper_bytes, paper_size

    size, metric = paper_size(paper), number_format().is_metric
    return lambda project: paper_bytes(
        pages_of(for_knife(project)), project.pens, size, metric=metric
    )


def _booklet(page: str) -> MakeFiles:
    from anzel.output.booklet import booklet_bytes, page_named

    def make(project: Project, path: Path, progress: Task) -> Iterable[tuple[Path, bytes]]:
        proof = assembly_of(project, progress.report).proof
        said = _drawing(path, progress)
        yield path, booklet_bytes(project, proof, page_named(page), said)

    return make


def _step_pictures(
    project: Project, path: Path, progress: Task
) -> Iterable[tuple[Path, bytes]]:  # fmt: skip
    from anzel.output.booklet import booklet_pictures

    proof = assembly_of(project, progress.report).proof
    return booklet_pictures(project, proof, path, _drawing(path, progress))


def _solids(project: Project, path: Path, progress: Task) -> Iterable[tuple[Path, bytes]]:
    from anzel.output.solid_files import ENDINGS, solids_bytes

    if path.suffix.lower() not in ENDINGS:
        raise ParameterError(f"{path.name} must end in {' or '.join(ENDINGS)}.")
    yield path, solids_bytes(project, path.suffix.lower())


def _drawing(path: Path, progress: Task) -> Callable[[], None]:
    return lambda: progress.report(f"Drawing {path.name} …")
