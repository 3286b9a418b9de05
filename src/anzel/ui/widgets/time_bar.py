"""The bar under a structure that is being built: play, step, and drag through time."""

from PySide6.QtCore import QElapsedTimer, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QWidget

from anzel.ui.widgets.common_widgets import button
from anzel.ui.widgets.wheel_safe import Slider

_FRAME_MS = 33
_STEP_SECONDS = 1.1
_FINE = 100
"""Places of the slider for each step."""


class TimeBar(QWidget):
    """Runs from 0 to the number of steps; says so at every moment."""

    moved = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self._steps = 0
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setInterval(_FRAME_MS)
        self._timer.timeout.connect(self._tick)
        self._play = button("▶  Play")
        self._play.setMinimumWidth(92)
        self._play.clicked.connect(self.toggle)
        self._back, self._on = button("◂", "Flat"), button("▸", "Flat")
        self._back.setAccessibleName("One step back")
        self._on.setAccessibleName("One step on")
        self._back.clicked.connect(lambda: self.step(-1))
        self._on.clicked.connect(lambda: self.step(1))
        self.slider = Slider()
        self.slider.setAccessibleName("Moment of building")
        self.slider.valueChanged.connect(lambda value: self.moved.emit(value / _FINE))
        self.slider.sliderPressed.connect(self.stop)
        self._says = QLabel()
        self._says.setMinimumWidth(80)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 5, 12, 7)
        row.setSpacing(6)
        for widget in (self._play, self._back, self._on):
            row.addWidget(widget)
        row.addWidget(self.slider, 1)
        row.addWidget(self._says)
        self.moved.connect(lambda time: self._say())

    @property
    def time(self) -> float:
        """The moment: n means that n steps are done."""
        return self.slider.value() / _FINE

    @property
    def is_playing(self) -> bool:
        """Whether time runs."""
        return self._timer.isActive()

    def set_steps(self, count: int) -> None:
        """Run over so many steps; the moment stays where it can."""
        if count != self._steps:
            at_end = self.slider.value() >= self.slider.maximum()
            self._steps = count
            self.slider.setRange(0, count * _FINE)
            self.slider.setSingleStep(_FINE // 10)
            self.slider.setPageStep(_FINE)
            if at_end:
                self.slider.setValue(count * _FINE)
        self.setEnabled(count > 1)
        self._say()

    def go_to(self, time: float) -> None:
        """Show another moment."""
        self.slider.setValue(round(time * _FINE))

    def step(self, by: int) -> None:
        """Go to the next whole step, or back to the one before."""
        self.stop()
        whole = int(self.time + (1e-6 if by > 0 else 1 - 1e-6))
        self.go_to(whole + by)

    def toggle(self) -> None:
        """Play from here, from the start once all is done, or stop."""
        if self.is_playing:
            self.stop()
            return
        if self.slider.value() >= self.slider.maximum():
            self.go_to(0)
        self._clock.start()
        self._timer.start()
        self._play.setText("❚❚  Pause")

    def stop(self) -> None:
        """Let time stand still."""
        self._timer.stop()
        self._play.setText("▶  Play")

    def _tick(self) -> None:
        passed = self._clock.restart() / 1000.0
        self.slider.setValue(self.slider.value() + max(round(passed / _STEP_SECONDS * _FINE), 1))
        if self.slider.value() >= self.slider.maximum():
            self.stop()

    def _say(self) -> None:
        done = min(int(self.time) + 1, self._steps)
        self._says.setText(f"{done} of {self._steps}" if self._steps else "")
