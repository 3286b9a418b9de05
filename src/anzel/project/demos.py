"""Demo projects of the Mossgate Workshop, who make things for a botanic garden's shop."""

from collections.abc import Callable
from dataclasses import dataclass

from anzel.project.model import Project
from anzel.stock.fits import FitName, Fits
from anzel.stock.stock import Stock
from anzel.structure.forms import CrossedStand


@dataclass(frozen=True)
class Demo:
    """A demo project under the name that commands know it by."""

    name: str
    about: str
    make: Callable[[], Project]


def herb_stand() -> Project:
    """A herb-pot stand: uprights of 3 mm birch, a round top of 6 mm."""
    thin = Stock(
        id="birch-3", name="Birch ply 3", nominal_thickness=3.0, readings=(2.93, 2.95, 2.94),
        kerf=0.16, sheet_width=400, sheet_height=300, tint="#ecd9b4",
    )  # fmt: skip
    thick = Stock(
        id="birch-6", name="Birch ply 6", nominal_thickness=6.0, readings=(5.84, 5.88, 5.86, 5.86),
        kerf=0.20, sheet_width=300, sheet_height=300, tint="#dcbf8e",
    )  # fmt: skip
    stand = CrossedStand(upright_stock=thin.id, top_stock=thick.id)
    return Project(name="Herb-pot stand", stocks=(thin, thick), structure=stand)


def seedling_riser() -> Project:
    """A low riser for a seed tray, all of one clear sheet, four tabs to an upright."""
    clear = Stock(
        id="acrylic-4", name="Clear acrylic 4", nominal_thickness=4.0,
        readings=(3.83, 3.79, 3.81), kerf=0.22, sheet_width=500, sheet_height=400, tint="#cfe3e2",
    )  # fmt: skip
    riser = CrossedStand(
        upright_stock=clear.id, top_stock=clear.id, height=70, foot_span=210, top_diameter=190,
        arch=22, tab_width=12, tab_count=4,
    )  # fmt: skip
    return Project(
        name="Seedling riser", stocks=(clear,), structure=riser, fits=Fits(in_use=FitName.SLIDE)
    )


DEMOS = (
    Demo("herb-stand", "herb-pot stand, birch ply 3 mm under a 6 mm top", herb_stand),
    Demo("seedling-riser", "low riser for a seed tray, one sheet of clear acrylic", seedling_riser),
)
