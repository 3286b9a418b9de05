"""What Anzel noticed, and what it cannot do: both worded for the maker.

A *finding* is data: something a solver, a layout or a proof noticed while it went on working.
A *maker error* is raised when the work cannot go on with what was given. Both say where it is,
what is wrong and how to mend it.
"""

from dataclasses import dataclass
from enum import StrEnum


class Severity(StrEnum):
    """How much a finding matters before cutting."""

    NOTE = "note"
    WARNING = "warning"
    PROBLEM = "problem"


@dataclass(frozen=True)
class Finding:
    """One thing noticed. `code` is stable for tests and scripts; `where` names the thing."""

    code: str
    severity: Severity
    where: str
    message: str
    hint: str = ""

    def __str__(self) -> str:
        return " ".join(part for part in (f"{self.where}: {self.message}", self.hint) if part)


class MakerError(Exception):
    """The work cannot go on with this input.

    `field` is the name of the parameter at fault (for the interface to point at), e.g.
    "foot_span", "readings" or "" when no single field is to blame.
    """

    def __init__(self, message: str, *, hint: str = "", field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.hint = hint
        self.field = field

    def __str__(self) -> str:
        return f"{self.message} {self.hint}".strip()


class UnsureError(MakerError):
    """What was given can be read in several ways; the maker has to say which."""


class GeometryError(MakerError):
    """An outline that cannot be what was asked: open, self-crossing or empty."""


class ParameterError(MakerError):
    """A value that a stock, form, joint or test piece cannot be made with."""


class QuantityError(MakerError):
    """Typed text that is not a length."""
