"""What a maker changes by hand on one joint of a form: its slots wider, deeper, or elsewhere.

It stays whatever the form's own numbers become, and waits while that joint is not there.
"""

from collections.abc import Mapping
from dataclasses import replace

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.facet_lap import FacetLap
from anzel.structure.joints.stack_lap import StackLap
from anzel.structure.model import JointSpec


class JointChange(Immutable):
    """The change of one joint, by its id, mm.

    Its slots are `wider` (negative: narrower), and `deeper` beyond the split point; where the form
    moves joints it is `moved` along.
    """

    joint: str = Field(min_length=1, max_length=140)
    wider: float = Field(default=0.0, ge=-2, le=5)
    deeper: float = Field(default=0.0, ge=0, le=50)
    moved: float = Field(default=0.0, ge=-500, le=500)

    @property
    def is_nothing(self) -> bool:
        """Whether nothing is changed."""
        return self.wider == self.deeper == self.moved == 0


def changed_joint(spec: JointSpec, changes: Mapping[str, JointChange]) -> JointSpec:
    """Return a joint as changed by hand; one that has no slots of its own stays."""
    if isinstance(spec, FacetLap):
        return replace(spec, lap=changed_joint(spec.lap, changes))
    change = changes.get(spec.id)
    if change is None or not isinstance(spec, CrossLap | StackLap):
        return spec
    return replace(spec, slack=spec.slack + change.wider, relief=spec.relief + change.deeper)
