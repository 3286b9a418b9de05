"""What the cutter does along a line, and the maker's mapping of that to file colours."""

from enum import StrEnum

from pydantic import Field

from anzel.frozen import Frozen

Colour = str
_HEX = r"^#[0-9a-f]{6}$"


class Operation(StrEnum):
    """Kinds of line in a cut file, in the order they are run."""

    ENGRAVE = "engrave"
    SCORE = "score"
    CUT = "cut"


class Pens(Frozen):
    """The colour of each operation in SVG files; cutters tell operations apart by it.

    The defaults are neutral; every cutter wants its own.
    """

    cut: Colour = Field(default="#15201b", pattern=_HEX)
    score: Colour = Field(default="#2f7f73", pattern=_HEX)
    engrave: Colour = Field(default="#b4652a", pattern=_HEX)

    def colour(self, operation: Operation) -> Colour:
        """The colour of one operation."""
        return str(getattr(self, operation.value))
