"""What the maker decides about the cut itself, beside the kerf."""

from enum import StrEnum

from pydantic import Field

from anzel.core.immutable import Immutable


class LabelStyle(StrEnum):
    """How names and joint numbers are put on pieces."""

    OFF = "off"
    ENGRAVE = "engraved"
    SCORE = "scored"


class JobSettings(Immutable):
    """Labels on the side that will be hidden, as tall as `label_height` mm at most; `bridges` that
    hold each piece in its sheet, `bridge_width` mm wide as they come out."""

    labels: LabelStyle = LabelStyle.OFF
    label_height: float = Field(default=5.0, ge=1.5, le=50)
    bridges: int = Field(default=0, ge=0, le=12)
    bridge_width: float = Field(default=0.5, ge=0.1, le=10)
