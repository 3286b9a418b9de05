"""The layouts of the present project, worked out aside: stock by stock."""

from collections.abc import Callable

from anzel.app.background import Background, Newest, Task
from anzel.app.listeners import Changed, Tell
from anzel.app.status import Status
from anzel.core.findings import MakerError
from anzel.layout.layout import Layout
from anzel.nesting.solving import solving_aside
from anzel.project.alike_counts import piece_lines
from anzel.project.derive import layout_of
from anzel.project.model import Project

Layouts = tuple[Layout, ...]


class Layouting:
    """Has the present project laid out; `Changed.LAYOUT` is told once the layouts are there."""

    def __init__(self, project: Callable[[], Project], tell: Tell, status: Status) -> None:
        self._project, self._tell, self._status = project, tell, status
        self._work: Newest | None = None
        self.prepare: Callable[[Layouts], None] = _nothing_more
        """Called on another thread with layouts that are about to arrive."""
        self._laid: tuple[Project, Layouts] | None = None

    def work_in(self, layouts: Background) -> None:
        """Lay out in the background, instead of making everybody wait."""
        self._work = Newest(layouts)

    @property
    def present(self) -> Layouts | None:
        """The layouts of the present project; None while they are computed."""
        if self._work is None:
            return _layouts(self._project())
        is_present = self._laid is not None and self._laid[0] is self._project()
        return self._laid[1] if self._laid is not None and is_present else None

    def start(self) -> bool:
        """Start to compute the layouts. Return whether they are there at once."""
        if self._work is None or self.present is not None:
            return True
        project = self._project()

        def arrived(layouts: Layouts) -> None:
            self._laid = (project, layouts)
            self._tell(Changed.LAYOUT)

        task: Task[Layouts] = self._work.start(
            lambda task: self._aside(project, task), done=arrived, failed=self._status.warn
        )
        try:
            self._laid = (project, task.take_if_there())
        except TimeoutError:
            return False
        except MakerError as error:
            self._status.warn(error)
            return False
        return True

    def _aside(self, project: Project, task: Task[Layouts]) -> Layouts:
        """Lay out by the helper, as long as the layouts are wanted.

        What the views of layouts ask for next is worked out and kept, too.
        """
        with solving_aside(lambda: task.is_cancelled):
            layouts = _layouts(project)
        for layout in layouts:
            task.report(f"Counting the sheets of {layout.stock_id} …")
            layout.bound  # noqa: B018  (a cached property)
        piece_lines(project)
        self.prepare(layouts)
        return layouts


def _layouts(project: Project) -> Layouts:
    return tuple(layout_of(project, stock.id) for stock in project.stocks_in_use)


def _nothing_more(layouts: Layouts) -> None:
    """Nobody prepares anything."""
