"""Keyed tabs: tabs of different widths, so that only the right piece fits.

Joints with two tabs or more get them wider on one side and narrower on the other, a step more from
joint to joint: of any two joints each has a tab that is too wide for the other's mortise. That is
checked, with the clearance, for every wrong pair and either way round.
"""

from collections.abc import Sequence
from dataclasses import replace
from itertools import permutations

from anzel.core.findings import ParameterError
from anzel.structure.joints.tab_mortise import TabMortise

Tabs = tuple[tuple[float, float], ...]


def keyed_joints(
    joints: Sequence[TabMortise], step: float, clearance: float
) -> tuple[TabMortise, ...]:
    """Return the joints with tabs that tell them apart, `step` mm from one to the next.

    Raises
    ------
    ParameterError
        Where that is impossible, or a wrong pair would still fit.
    """
    for joint in joints:
        if len(joint.tabs) < 2:
            raise ParameterError(
                f"{joint.tabbed} has one tab only, which cannot be keyed.",
                hint="Give it two tabs or more.",
            )
    made = tuple(
        replace(joint, tabs=_shifted(joint.tabs, step * (index + 1)))
        for index, joint in enumerate(joints)
    )
    for one, other in permutations(made, 2):
        if tabs_fit(one.tabs, other.tabs, clearance):
            raise ParameterError(
                f"{one.tabbed} would also fit where {other.tabbed} belongs.",
                hint="Use a larger key step.",
                field="key_step",
            )
    return made


def tabs_fit(tabs: Tabs, mortises: Tabs, clearance: float) -> bool:
    """Return whether tabs go into mortises made for others, as they are or turned end for end."""
    turned = tuple((-middle, width) for middle, width in reversed(tabs))
    return any(_go_in(way, mortises, clearance) for way in (tabs, turned))


def _go_in(tabs: Tabs, mortises: Tabs, clearance: float) -> bool:
    if len(tabs) != len(mortises):
        return False
    slack = [
        (hole_width + clearance - width) / 2 - abs((middle - tabs[0][0]) - (hole - mortises[0][0]))
        for (middle, width), (hole, hole_width) in zip(tabs, mortises, strict=True)
    ]
    return min(slack) >= 0


def _shifted(tabs: Tabs, by: float) -> Tabs:
    """Return the tabs with the first half wider and the second half narrower."""
    half = len(tabs) // 2
    widths = [by if index < half else -by for index in range(len(tabs))]
    changed = tuple((m, w + extra) for (m, w), extra in zip(tabs, widths, strict=True))
    if min(width for _, width in changed) <= 1:
        raise ParameterError("Keyed tabs would vanish.", hint="Use a smaller key step.",
                             field="key_step")  # fmt: skip
    return changed
