"""Takes the pictures in docs/screenshots anew, from the demo data: run after a view has changed.

Without arguments all of them, else those named: `packaging/screenshots.py sheets cut`.
"""

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QApplication, QWidget

from anzel.app import background, practice_loop
from anzel.app.edits import layout_edits, project_edits
from anzel.app.navigation import Step
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.app.settings import Look, Settings
from anzel.cutjob.job_settings import LabelStyle
from anzel.output.booklet import booklet_pages, page_named
from anzel.output.picture_writers import picture_as_png
from anzel.project.assembly import assembly_of
from anzel.project.demos import DEMOS
from anzel.project.derive import layout_of
from anzel.project.model import Project
from anzel.ui import theme
from anzel.ui.dialogs import StartChooser, form_starts
from anzel.ui.main_window import MainWindow

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
_LONGEST = 90.0


def demo(name: str) -> Project:
    """A demo project."""
    return next(each for each in DEMOS if each.name == name).make()


class Studio:
    """A window on a project, and its pictures."""

    def __init__(self, project: Project, step: Step, look: Look = Look.LIGHT) -> None:
        self.session = Session(project)
        settings = Settings(Path(tempfile.mkdtemp()))
        settings.prefer(look=look)
        self.window = MainWindow(self.session, settings)
        self.window.commands.may_leave = lambda: True
        self.window.resize(1280, 800)
        self.window.show()
        self.session.navigation.go_to(step)
        self.settle()

    def settle(self, least: float = 0.5) -> None:
        """Let everything arrive."""
        begun = time.monotonic()
        while time.monotonic() < begun + least or not self.window.is_settled:
            QApplication.processEvents()
            time.sleep(0.01)
            if time.monotonic() > begun + _LONGEST:
                raise TimeoutError("the window does not settle")

    def save(self, name: str, widget: QWidget | None = None) -> None:
        """Take the picture."""
        self.settle()
        QApplication.processEvents()  # what has just arrived is laid out
        (widget or self.window).grab().save(str(FOLDER / f"{name}.png"))
        if widget is not None:
            widget.close()
        self.window.close()


def stock() -> None:
    Studio(demo("herb-stand"), Step.STOCK).save("stock")


def cutter() -> None:
    Studio(demo("herb-stand"), Step.CUTTER).save("cutter")


def test() -> None:
    studio = Studio(demo("herb-stand"), Step.TEST)
    studio.window.test._pick_slot("S4")
    studio.save("test")


def build() -> None:
    studio = Studio(demo("herb-stand"), Step.BUILD)
    studio.session.selection.pick_joint("J1")
    studio.save("build")


def lamp() -> None:
    studio = Studio(demo("seedpod-lamp"), Step.BUILD)
    studio.window.build.lamp.click()
    studio.session.selection.pick(Thing(ThingKind.CURVE, "profile"))
    studio.save("lamp")


def placing() -> None:
    studio = Studio(demo("potting-cube"), Step.BUILD)
    studio.session.pick_plate("Side")
    studio.save("placing")


def draw() -> None:
    studio = Studio(demo("phone-stand"), Step.BUILD)
    studio.session.navigation.draw("Left side")
    corners = ("outline 5", "outline 4")
    studio.session.selection.pick(*(Thing(ThingKind.POINT, each, "Left side") for each in corners))
    studio.save("draw")


def trace() -> None:
    studio = Studio(demo("garden-robin"), Step.BUILD)
    studio.session.pick_plate("Robin")
    studio.session.navigation.draw("Robin")
    studio.settle()
    studio.window.build.panel.plate.picture.head.setChecked(True)
    studio.window.build.panel.plate.picture.wanted.emit("trace")
    studio.settle(3.0)
    studio.save("trace")


def found() -> None:
    Studio(demo("seed-caddy"), Step.BUILD).save("found")


def forecast() -> None:
    Studio(demo("herb-stand"), Step.FORECAST).save("forecast")


def sheets() -> None:
    lamp = demo("seedpod-lamp")
    some = layout_edits.only_pieces(lamp, ["Ring 1", "Ring 2", "Rib 1"])
    rest = layout_edits.remnants_of(lamp, layout_of(some, "birch-3").plans[0])[0]
    studio = Studio(layout_edits.add_scrap(lamp, "birch-3", rest, "rest of a stand"), Step.SHEETS)
    step = studio.window.sheets
    where = step._table.find("Ring 1", 1, "birch-3")
    step._pick(where, False)
    step.put(step._table.drag_preview(where, 0.0, 0.0).place)
    studio.save("sheets")


def cut() -> None:
    marked = project_edits.change_job(demo("fern-lantern"), labels=LabelStyle.ENGRAVE, bridges=2)
    studio = Studio(marked, Step.SHEETS)
    studio.window.sheets.show_view(1)
    studio.settle()
    studio.window.sheets.cut._jump(380)
    studio.save("cut")


def file() -> None:
    studio = Studio(demo("fern-lantern"), Step.SHEETS)
    studio.window.sheets.show_view(2)
    studio.save("file")


def practice() -> None:
    copy = practice_loop.practice_copy(demo("herb-stand"), 12)
    studio = Studio(copy, Step.PRACTICE)
    studio.window.practice.run("loop")
    studio.window.practice._hidden.setChecked(True)
    studio.save("practice")


def assemble() -> None:
    studio = Studio(demo("seedpod-lamp"), Step.ASSEMBLE)
    studio.window.assemble.time.go_to(15.25)
    studio.save("assemble")


def booklet() -> None:
    project = demo("fern-lantern")
    pages = booklet_pages(project, assembly_of(project).proof, page_named("A4"))
    (FOLDER / "booklet.png").write_bytes(picture_as_png(pages[1], pixels_per_mm=4.0))


def forms() -> None:
    studio = Studio(demo("herb-stand"), Step.BUILD)
    about = "On sheets yet to be measured; every size can be changed."
    dialog = StartChooser(studio.window, "Which form?", about, form_starts())
    dialog.show()
    studio.save("forms", dialog)


PICTURES: tuple[Callable[[], None], ...] = (
    stock, cutter, test, build, lamp, placing, draw, trace, found, forecast, assemble, booklet,
    sheets, cut, file, practice, forms,
)  # fmt: skip


def main() -> None:
    """Take those named, or all."""
    background.PATIENCE = 60.0
    application = QApplication(["anzel", "-style", "Fusion"])
    theme.apply(application)
    wanted = sys.argv[1:]
    for picture in PICTURES:
        if not wanted or picture.__name__ in wanted:
            picture()
            print(picture.__name__)


if __name__ == "__main__":
    main()
