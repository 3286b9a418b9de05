"""Printing: what is asked first, and the way to the printer."""

from typing import TYPE_CHECKING

from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QInputDialog, QWidget

from anzel.app.background import Background, Task
from anzel.app.number_display import number_format
from anzel.app.session import Session
from anzel.output.for_knife import for_knife
from anzel.output.job_sheet import job_sheet_bytes
from anzel.output.tiled_pdf import paper_bytes
from anzel.ui.modal import run
from anzel.ui.printing import paper_of, print_pdf

if TYPE_CHECKING:
    from anzel.app.views.cut_preview import CutFileChoice
    from anzel.ui.export_commands import Tell

TEMPLATES, JOB_SHEET = "Templates at true size", "Job sheet"


class PrintCommands:
    """Asks what to print and on which printer; composes in the background."""

    def __init__(self, window: QWidget, session: Session, jobs: Background, tell: "Tell") -> None:
        self._window, self._session, self._jobs, self._tell = window, session, jobs, tell

    def ask(self, file: "CutFileChoice") -> None:
        """Print the templates or the job sheet on the printer that the maker chooses."""
        kinds = (TEMPLATES, JOB_SHEET)
        what, agreed = QInputDialog.getItem(
            self._window, "Print", "What shall be printed?", kinds, 0, False
        )
        if not agreed:
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setDocName(f"{self._session.project.name}, {what}")
        if run(QPrintDialog(printer, self._window)):
            self.send(printer, what, file)

    def send(self, printer: QPrinter, what: str, file: "CutFileChoice") -> None:
        """Compose for the printer's paper and print."""
        project, paper, numbers = self._session.project, paper_of(printer), number_format()

        def work(task: Task[int]) -> int:
            if what == JOB_SHEET:
                pdf = job_sheet_bytes(project, numbers=numbers)
            else:
                pages = file.pages(for_knife(project))
                pdf = paper_bytes(pages, project.pens, paper, metric=numbers.is_metric)
            return print_pdf(printer, pdf, task.report)

        self._session.status.show("Printing …")
        self._jobs.start(
            work,
            done=lambda count: self._session.status.show(
                f"Printed at 100 %: {count} page{'s' * (count != 1)}. Measure the ruler on it."
            ),
            failed=lambda error: self._tell("Nothing was printed", error),
        )
