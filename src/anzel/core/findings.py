"""Findings and errors, both worded for the maker.

A *finding* is data: something that a solver, a layout or a check noticed while it went on working.
A *maker error* is raised when the work cannot continue with its input. Both say where it is, what
is wrong, and what to do.
"""

import re
from dataclasses import dataclass
from enum import StrEnum


class Severity(StrEnum):
    """How much a finding matters before cutting."""

    NOTE = "note"
    WARNING = "warning"
    PROBLEM = "problem"


@dataclass(frozen=True)
class Finding:
    """One thing noticed.

    `code` is stable for tests and scripts; `where` names the object; `hint` says what to do.
    `pieces` and `joint` name what a view should point at, where it is not `where` itself.
    """

    code: str
    severity: Severity
    where: str
    message: str
    hint: str = ""
    pieces: tuple[str, ...] = ()
    joint: str = ""

    def __str__(self) -> str:
        return f"{self.where}: {self.words}" if self.where else self.words

    @property
    def words(self) -> str:
        """The message and the hint."""
        return f"{self.message} {self.hint}".strip()


_LONG_QUOTE = re.compile("(“[^”]{120})[^”]+")


class MakerError(Exception):
    """The work cannot continue with this input.

    `field` names the parameter at fault, so that the interface can point at it, e.g. "foot_span" or
    "readings". It is "" when no single field is at fault. What is quoted in the message is cut
    short: a damaged file may hold any name.
    """

    def __init__(self, message: str, *, hint: str = "", field: str = "") -> None:
        super().__init__(message)
        self.message = _LONG_QUOTE.sub(r"\1…", message)
        self.hint = hint
        self.field = field

    def __str__(self) -> str:
        return f"{self.message} {self.hint}".strip()


class UnsureError(MakerError):
    """The input can be read in several ways; the maker has to decide."""


class GeometryError(MakerError):
    """An outline that is open, crosses itself or is empty."""


class ParameterError(MakerError):
    """A value that a stock, form, joint or test piece cannot be made with."""


class QuantityError(MakerError):
    """Typed text that is not a length."""
