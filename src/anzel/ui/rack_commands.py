"""Commands of the rack as a whole: keep a sheet, import sheets, export them."""

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from PySide6.QtWidgets import QInputDialog, QWidget

from anzel.app.background import Background
from anzel.app.edits.stock_import import import_rack
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.storage import stock_library
from anzel.storage.stock_library import Rack
from anzel.ui.file_choice import STOCKS, choose_file, choose_target

Result = TypeVar("Result")


class RackCommands:
    """Runs them on the session; `tell` shows what went wrong."""

    def __init__(
        self, window: QWidget, session: Session, jobs: Background,
        tell: Callable[[str, MakerError], None],
    ) -> None:  # fmt: skip
        self._window, self._session, self._jobs, self._tell = window, session, jobs, tell

    def keep(self) -> None:
        """Keep the picked stock, and the cutter with its kerf, for other projects."""
        project = self._session.project
        stock = project.stock(self._session.selection.stock_id)
        rack = Rack((stock,), (project.cutter,))
        self._write(
            lambda: stock_library.add_to_library(rack), "The sheet was not kept",
            f"Kept for other projects: {stock.name} and {project.cutter.name}",
        )  # fmt: skip

    def choose(self) -> None:
        """Choose from the kept stocks."""
        self._aside(stock_library.load_library, self._offer, "The kept sheets cannot be read")

    def _offer(self, kept: Rack) -> None:
        if not kept.stocks:
            self._session.status.show("Nothing kept yet: Rack, Keep this sheet for other projects.")
            return
        names = [f"{stock.name} ({stock.id})" for stock in kept.stocks]
        name, chosen = QInputDialog.getItem(
            self._window, "Bring in a kept sheet", "Which sheet?", names, 0, False
        )
        if chosen:
            stock = kept.stocks[names.index(name)]
            self._bring(Rack((stock,), kept.cutters), f"Brought in {stock.name}")

    def import_file(self) -> None:
        """Bring in all stocks of a file."""
        path = choose_file(self._window, "Bring in sheets", STOCKS)
        if path is not None:
            self.bring_file(path)

    def bring_file(self, path: Path) -> None:
        """Bring in all stocks of a file."""
        self._aside(
            lambda: stock_library.load_rack(path),
            lambda found: self._bring(found, f"Brought in {len(found.stocks)} sheets"),
            "The sheets were not brought in",
        )

    def export_file(self) -> None:
        """Hand the rack and the cutters on as a file."""
        path = choose_target(self._window, "Hand the rack on", "sheets.json", STOCKS)
        if path is None:
            return
        rack = Rack(self._session.project.stocks, self._session.project.cutters)
        target = path if path.suffix else path.with_suffix(".json")
        self._write(
            lambda: stock_library.save_rack(rack, target), "The rack was not written",
            f"Written: {target}",
        )  # fmt: skip

    def _write(self, work: Callable[[], None], wrong: str, said: str) -> None:
        """Write, then say so."""
        self._aside(work, lambda _: self._session.status.show(said), wrong)

    def _aside(
        self, work: Callable[[], Result], done: Callable[[Result], None], wrong: str
    ) -> None:  # fmt: skip
        """Read or write in the background, because the disk is waited for."""
        self._jobs.start(lambda _: work(), done=done, failed=lambda error: self._tell(wrong, error))

    def _bring(self, found: Rack, label: str) -> None:
        self._session.attempt(label, lambda project: import_rack(project, found))
