"""Operations of the cutter along a line, and the maker's mapping of them to pens."""

from enum import StrEnum

from pydantic import Field, field_validator

from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable

Colour = str
_HEX = r"^#[0-9a-f]{6}$"
_NO_LAYER = frozenset('<>/\\":;?*|=`,')
"""Characters that no DXF layer name may have (DXF reference, symbol names)."""
HAIRLINE = 0.01
"""Width of a line that is to be as thin as a program can show, mm. Common practice, no source."""


class Operation(StrEnum):
    """The operations in a cut file, in cutting order."""

    ENGRAVE = "engrave"
    SCORE = "score"
    INNER = "inner cut"
    OUTER = "outer cut"

    @property
    def cuts(self) -> bool:
        """Whether the operation goes through the sheet."""
        return self in (Operation.INNER, Operation.OUTER)

    @property
    def field(self) -> str:
        """The name of the operation's field in `Pens`."""
        return self.name.lower()


class Pen(Immutable):
    """How an operation looks in files: a colour, a line width in mm, and a layer name.

    An empty name means the operation's own.
    """

    colour: Colour = Field(default="#1f4a3a", pattern=_HEX)
    width: float = Field(default=0.1, ge=0.001, le=5)
    layer: str = Field(default="", max_length=60)

    @field_validator("layer")
    @classmethod
    def _can_be_written(cls, layer: str) -> str:
        if not (layer.isprintable() and _NO_LAYER.isdisjoint(layer)):
            raise ValueError("holds a character that no layer's name may")
        return layer


class DxfRelease(StrEnum):
    """The release of DXF to write, and how it holds free curves.

    The oldest, which every program reads, has chords; R2010 has splines, or arcs, so that every
    outline is one closed line.
    """

    R12 = "R12"
    R2010 = "R2010"
    ARCS = "arcs"

    @property
    def version(self) -> str:
        """The release as the format names it."""
        return "R12" if self is DxfRelease.R12 else "R2010"


class Pens(Immutable):
    """One mapping of operations to pens, and the wanted release of DXF.

    A cutter tells operations apart by colour or, with `by_layer`, by layer.

    The defaults go from light to dark as the beam goes deeper; every cutter wants its own.
    """

    name: str = Field(default="Ours", min_length=1, max_length=40)
    engrave: Pen = Pen(colour="#c98a2b")
    score: Pen = Pen(colour="#23786f")
    inner: Pen = Pen(colour="#8a3b7d")
    outer: Pen = Pen(colour="#1f4a3a")
    by_layer: bool = False
    dxf: DxfRelease = DxfRelease.R2010

    def pen(self, operation: Operation) -> Pen:
        """Return the pen of one operation."""
        pen: Pen = getattr(self, operation.field)
        return pen

    def colour(self, operation: Operation) -> Colour:
        """Return the colour of one operation."""
        return self.pen(operation).colour

    def layer(self, operation: Operation) -> str:
        """Return the layer of one operation."""
        return self.pen(operation).layer or operation.value

    def checked(self) -> "Pens":
        """Return the pens, if a cutter can tell their operations apart.

        Inner and outer cuts may look alike: their order in the file is enough.

        Raises
        ------
        ParameterError
            For operations that look alike.
        """
        look, what = (self.layer, "layer") if self.by_layer else (self.colour, "colour")
        engrave, score = look(Operation.ENGRAVE), look(Operation.SCORE)
        cuts = {look(Operation.INNER), look(Operation.OUTER)}
        if engrave == score or cuts & {engrave, score}:
            raise ParameterError(
                f"Two operations would have the same {what}.",
                hint="A cutter could not tell them apart; choose another.", field=what,
            )  # fmt: skip
        return self


PRESETS = (
    Pens(),
    Pens(
        name="By layer", by_layer=True, engrave=Pen(), score=Pen(), inner=Pen(), outer=Pen(),
    ),
    Pens(
        name="Hairlines",
        engrave=Pen(colour="#c98a2b", width=HAIRLINE), score=Pen(colour="#23786f", width=HAIRLINE),
        inner=Pen(colour="#8a3b7d", width=HAIRLINE), outer=Pen(colour="#1f4a3a", width=HAIRLINE),
    ),
)  # fmt: skip
"""Mappings to start from; the maker keeps others beside them."""
