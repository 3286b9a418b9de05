"""Slices of a body that are not built: each is told, with its place."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from anzel.core.findings import Finding, Severity
from anzel.core.number_format import plain_measure
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Region
from anzel.structure.forms.analytic_sections import Section
from anzel.structure.model import LEFT_OUT


@dataclass(frozen=True)
class SliceCut:
    """One cut through the body: its name, where it is in words, what is in it, and its place."""

    name: str
    where: str
    sections: Section
    at: Placement

    def parts_of(self, smallest: float) -> list[Region]:
        """Return the parts that are long enough, and not too narrow for it."""
        return [
            region for region in self.sections
            if max(region.size) >= smallest and min(region.size) >= smallest / 3
        ]  # fmt: skip


def left_out(
    cuts: Sequence[SliceCut], built: Mapping[str, int], smallest: float
) -> tuple[Finding, ...]:
    """Return findings on slices of which not every part is built.

    `built` counts the parts that are, by the slice's name.
    """
    findings = []
    for cut in cuts:
        large = len(cut.parts_of(smallest))
        small, unheld = len(cut.sections) - large, large - built.get(cut.name, 0)
        whole = not built.get(cut.name)
        why = []
        if unheld > 0:
            crossing = "too little of another slice crosses"
            why.append(f"{crossing} it" if whole else f"{crossing} {_parts(unheld)}")
        if small:
            why.append(f"{_parts(small)} would be smaller than {plain_measure(smallest)}")
        if whole and not why:
            why.append("nothing of the body is there")
        if why:
            findings.append(Finding(
                LEFT_OUT, Severity.WARNING if whole else Severity.NOTE, cut.name,
                f"{'is not built' if whole else 'is not whole'}, {cut.where}: {'; '.join(why)}.",
                "Change the number of slices or `smallest`, or leave it so.",
            ))  # fmt: skip
    return tuple(findings)


def _parts(count: int) -> str:
    return "a part of it" if count == 1 else f"{count} parts of it"
