"""A stock: sheet material as bought, with what was measured of it."""

from typing import Annotated

from pydantic import Field

from anzel.frozen import Frozen
from anzel.stock.readings import ReadingStatistics, statistics_of

Millimetres = Annotated[float, Field(gt=0, le=10_000)]
Reading = Annotated[float, Field(gt=0, le=200)]


class Stock(Frozen):
    """One material. Lengths in mm; `kerf` is the full width one pass of the cutter removes."""

    id: str = Field(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=40)
    name: str = Field(min_length=1, max_length=60)
    nominal_thickness: Reading
    readings: tuple[Reading, ...] = ()
    kerf: float = Field(default=0.0, ge=0, le=5)
    sheet_width: Millimetres = 600.0
    sheet_height: Millimetres = 300.0
    tint: str = Field(default="#e8d3ad", pattern=r"^#[0-9a-f]{6}$")

    @property
    def statistics(self) -> ReadingStatistics | None:
        """What the readings say, or None without readings."""
        return statistics_of(self.readings)

    @property
    def measured_thickness(self) -> float:
        """The mean reading; the nominal thickness only while nothing has been measured."""
        said = self.statistics
        return said.mean if said else self.nominal_thickness

    @property
    def is_measured(self) -> bool:
        """Whether the thickness in use comes from the calipers."""
        return bool(self.readings)

    @property
    def off_nominal(self) -> float:
        """Measured minus nominal thickness."""
        return self.measured_thickness - self.nominal_thickness
