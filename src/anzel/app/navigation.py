"""Navigation: the steps of the work, and the one that is shown."""

from enum import StrEnum

from anzel.app.listeners import Changed, Tell


class Step(StrEnum):
    """The steps in the order of work."""

    STOCK = "stock"
    CUTTER = "cutter"
    TEST = "test"
    BUILD = "build"
    FORECAST = "forecast"
    ASSEMBLE = "assemble"
    SHEETS = "sheets"
    PRACTICE = "practice"


class Navigation:
    """The step that is shown, and the plate that is drawn large in the build step, if any.

    `grid_step` is that of the grid that drawing goes by, mm.
    """

    def __init__(self, tell: Tell) -> None:
        self._tell = tell
        self.step, self.drawn_plate = Step.BUILD, ""
        self.grid_step = 1.0

    def go_to(self, step: Step) -> None:
        """Show another step."""
        if step != self.step:
            self.step = step
            self._tell(Changed.STEP)

    def restart(self) -> None:
        """Show the first step of another project; listeners are told with the rest of it."""
        self.step, self.drawn_plate = Step.BUILD, ""

    def draw(self, plate: str) -> None:
        """Show a plate large, to draw on it; "" goes back to all pieces."""
        if plate != self.drawn_plate:
            self.drawn_plate = plate
            self._tell(Changed.SELECTION)
