"""What a sheet is made of, and what follows from that before anything is measured.

- *brittle*: acrylic and the like crack when a joint is pressed together;
- *compressible*: card gives way, so a slot narrower than the sheet (negative clearance) holds it.

The nature of each material is common practice, no source.
"""

from enum import StrEnum

from anzel.materials.fits import Limits


class Material(StrEnum):
    """Kinds of sheet."""

    PLY = "ply"
    MDF = "mdf"
    ACRYLIC = "acrylic"
    CARD = "card"
    CORRUGATED = "corrugated card"
    METAL = "sheet metal"
    VENEER = "veneer"
    OTHER = "other"


LETS_LIGHT_THROUGH = frozenset({Material.ACRYLIC, Material.VENEER})
"""Materials that glow with a lamp behind them; common practice, no source."""


class PressBehaviour(StrEnum):
    """How a sheet takes to being pressed into a slot."""

    FIRM = "firm"
    BRITTLE = "brittle"
    COMPRESSIBLE = "compressible"


class Grain(StrEnum):
    """Which way the grain runs on the sheet as it lies."""

    NONE = "none"
    ALONG_WIDTH = "along the width"
    ALONG_HEIGHT = "along the height"


class Faces(StrEnum):
    """What the two faces of a sheet are like."""

    ALIKE = "alike"
    ONE_GOOD = "one good face"


_NATURES = {
    Material.ACRYLIC: PressBehaviour.BRITTLE,
    Material.VENEER: PressBehaviour.BRITTLE,
    Material.CARD: PressBehaviour.COMPRESSIBLE,
    Material.CORRUGATED: PressBehaviour.COMPRESSIBLE,
}


def usual_press_behaviour(material: Material) -> PressBehaviour:
    """The nature a material has unless the maker knows better."""
    return _NATURES.get(material, PressBehaviour.FIRM)


_EN_315_LEAST, _EN_315_GREATEST = 3.0, 12.0


def tolerance_band(material: Material, nominal_thickness: float) -> Limits | None:
    """What the label allows, mm; None where no standard is known to say.

    Sanded plywood of nominal t from 3 to 12 mm: t - (0.4 + 0.03 t) to t + (0.2 + 0.03 t)
    (EN 315, quoted from memory).
    """
    inside = _EN_315_LEAST <= nominal_thickness <= _EN_315_GREATEST
    if material is not Material.PLY or not inside:
        return None
    share = 0.03 * nominal_thickness
    return (nominal_thickness - 0.4 - share, nominal_thickness + 0.2 + share)
