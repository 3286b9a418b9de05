"""A stock: sheet material as bought, with what was measured of it."""

from typing import Annotated

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.materials.fits import Limits
from anzel.materials.material import Faces, Grain, Material, PressBehaviour, tolerance_band
from anzel.materials.readings import (
    ReadingStatistics,
    SuspectReading,
    statistics_of,
    suspect_readings,
)
from anzel.materials.scrap import Scrap

Millimetres = Annotated[float, Field(gt=0, le=10_000)]
Reading = Annotated[float, Field(gt=0, le=200)]
StockId = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=40)]


class StruckReading(Immutable):
    """A reading that no longer counts, and the maker's reason."""

    value: Reading
    reason: str = Field(min_length=1, max_length=120)


class SheetSize(Immutable):
    """Sheets of one size, mm; `count` None where they are not counted; the price of one."""

    width: Millimetres = 600.0
    height: Millimetres = 300.0
    count: int | None = Field(default=None, ge=0, le=9999)
    price: float = Field(default=0.0, ge=0, le=100_000)


class Stock(Immutable):
    """One sheet material.

    Lengths in mm; `fit_shift` is what trials in this sheet added to the clearance of every fit
    class.
    """

    id: StockId
    name: str = Field(min_length=1, max_length=60)
    material: Material = Material.OTHER
    press_behaviour: PressBehaviour = PressBehaviour.FIRM
    nominal_thickness: Reading
    readings: tuple[Reading, ...] = ()
    struck: tuple[StruckReading, ...] = ()
    sheets: tuple[SheetSize, ...] = Field(default=(SheetSize(),), min_length=1)
    scraps: tuple[Scrap, ...] = Field(default=(), max_length=200)
    grain: Grain = Grain.NONE
    faces: Faces = Faces.ALIKE
    fit_shift: float = Field(default=0.0, ge=-2, le=2)
    tint: str = Field(default="#e8d3ad", pattern=r"^#[0-9a-f]{6}$")

    @property
    def statistics(self) -> ReadingStatistics | None:
        """The statistics of the readings; None without readings."""
        return statistics_of(self.readings)

    @property
    def suspect_readings(self) -> tuple[SuspectReading, ...]:
        """Readings that look wrong.

        They count until the maker strikes them out.
        """
        return suspect_readings(self.readings, self.nominal_thickness)

    @property
    def tolerance_band(self) -> Limits | None:
        """The limits that the standard allows a sheet of this label.

        None where no standard is known.
        """
        return tolerance_band(self.material, self.nominal_thickness)

    @property
    def measured_thickness(self) -> float:
        """The mean reading, mm; the nominal thickness only while nothing has been measured."""
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
