"""What a maker changes by hand on one joint of a form: its slots wider, deeper, or elsewhere.

It stays whatever the form's own numbers become, and waits while that joint is not there.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.structure.joints.corner_kinds import led_by_other
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.facet_lap import FacetLap
from anzel.structure.joints.registry import AnyKind
from anzel.structure.joints.stack_lap import StackLap
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.model import JointSpec


class JointChange(Immutable):
    """The change of one joint, by its id, mm.

    Its slots are `wider` (negative: narrower), and `deeper` beyond the split point; where the form
    moves joints it is `moved` along. Its plates have `swapped` their parts, its tabs are
    `recessed`, or it is `left_out`.
    """

    joint: str = Field(min_length=1, max_length=140)
    wider: float = Field(default=0.0, ge=-2, le=5)
    deeper: float = Field(default=0.0, ge=0, le=50)
    moved: float = Field(default=0.0, ge=-500, le=500)
    swapped: bool = False
    recessed: float = Field(default=0.0, ge=0, le=50)
    left_out: bool = False

    @property
    def is_nothing(self) -> bool:
        """Whether nothing is changed."""
        return self == JointChange(joint=self.joint)


def can_swap(spec: JointSpec) -> bool:
    """Return whether the plates of a joint can change their parts."""
    inner = spec.lap if isinstance(spec, FacetLap) else spec
    return isinstance(inner, AnyKind) and led_by_other(inner) is not inner


def changed_joints(
    specs: Sequence[JointSpec], changes: Mapping[str, JointChange]
) -> tuple[JointSpec, ...]:
    """Return joints as changed by hand, without those left out."""
    left_out = {change.joint for change in changes.values() if change.left_out}
    return tuple(changed_joint(each, changes) for each in specs if each.id not in left_out)


def changed_joint(spec: JointSpec, changes: Mapping[str, JointChange]) -> JointSpec:
    """Return a joint as changed by hand; what it has not stays."""
    if isinstance(spec, FacetLap):
        return replace(spec, lap=changed_joint(spec.lap, changes))
    change = changes.get(spec.id)
    if change is None:
        return spec
    if change.swapped and isinstance(spec, AnyKind):
        spec = led_by_other(spec)
    if isinstance(spec, TabMortise):
        return replace(spec, proud=spec.proud - change.recessed)
    if not isinstance(spec, CrossLap | StackLap):
        return spec
    return replace(spec, slack=spec.slack + change.wider, relief=spec.relief + change.deeper)
