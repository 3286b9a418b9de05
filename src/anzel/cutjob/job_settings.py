"""The maker's decisions about the cut itself, apart from the kerf."""

from enum import StrEnum

from pydantic import Field

from anzel.core.immutable import Immutable


class LabelStyle(StrEnum):
    """How names and joint numbers are put on pieces."""

    OFF = "off"
    ENGRAVE = "engraved"
    SCORE = "scored"


class JobSettings(Immutable):
    """Settings of labels and bridges.

    Labels stand on the hidden face and are at most `label_height` mm tall. `bridges` hold each
    piece in its sheet; each is `bridge_width` mm wide after cutting.
    """

    labels: LabelStyle = LabelStyle.OFF
    label_height: float = Field(default=5.0, ge=1.5, le=50)
    bridges: int = Field(default=0, ge=0, le=12)
    bridge_width: float = Field(default=0.5, ge=0.1, le=10)
