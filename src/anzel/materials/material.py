"""What a sheet is made of, and what follows from that before anything is measured.

- *brittle*: acrylic and similar sheet cracks when a joint is pressed together;
- *compressible*: card gives way, so a slot narrower than the sheet (negative clearance) holds it.

The press behaviour of each material is common practice, no source.
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
    """How a sheet behaves when it is pressed into a slot."""

    FIRM = "firm"
    BRITTLE = "brittle"
    COMPRESSIBLE = "compressible"


class Grain(StrEnum):
    """The direction of the grain on the sheet."""

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
    """Return the press behaviour of a material unless the maker knows better."""
    return _NATURES.get(material, PressBehaviour.FIRM)


_EN_315_LEAST, _EN_315_GREATEST = 3.0, 12.0


def tolerance_band(material: Material, nominal_thickness: float) -> Limits | None:
    """Return the limits that the label allows, mm; None where no standard is known.

    Sanded plywood of nominal t from 3 to 12 mm: t - (0.4 + 0.03 t) to t + (0.2 + 0.03 t) (EN 315,
    quoted from memory).

    Examples
    --------
    >>> low, high = tolerance_band(Material.PLY, 3.0)
    >>> round(low, 3), round(high, 3)
    (2.51, 3.29)
    """
    inside = _EN_315_LEAST <= nominal_thickness <= _EN_315_GREATEST
    if material is not Material.PLY or not inside:
        return None
    share = 0.03 * nominal_thickness
    return (nominal_thickness - 0.4 - share, nominal_thickness + 0.2 + share)
