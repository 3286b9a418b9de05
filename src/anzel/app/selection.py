"""Selection: the joint, the plate and the stock that are picked in every view."""

from collections.abc import Callable

from anzel.app.listeners import Changed, Tell
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.model import Joint


class Selection:
    """What is picked in the present project."""

    def __init__(self, project: Callable[[], Project], tell: Tell) -> None:
        self._project, self._tell = project, tell
        self.stock_id = self.joint_id = self.plate_name = self._awaited_plate = ""
        self.restart()

    def restart(self) -> None:
        """Pick the first stock and the first joint of another project."""
        self.stock_id = self._project().stocks_in_use[0].id
        joints = solved_structure_of(self._project()).joints
        self.joint_id = joints[0].id if joints else ""
        self.plate_name = self._awaited_plate = ""

    @property
    def joint(self) -> Joint | None:
        """The picked joint."""
        joints = solved_structure_of(self._project()).joints
        return next((joint for joint in joints if joint.id == self.joint_id), None)

    def pick_joint(self, joint_id: str) -> None:
        """Pick a joint everywhere."""
        if joint_id != self.joint_id or self.plate_name:
            self.joint_id, self.plate_name = joint_id, ""
            self._tell(Changed.SELECTION)

    def pick_next_joint(self, step: int = 1) -> None:
        """Pick the next joint, or the previous with step -1, in a circle."""
        ids = [joint.id for joint in solved_structure_of(self._project()).joints]
        if ids:
            at = ids.index(self.joint_id) + step if self.joint_id in ids else 0
            self.pick_joint(ids[at % len(ids)])

    def pick_plate(self, name: str, *, is_pending: bool = False) -> None:
        """Pick a plate of a free structure everywhere.

        While a change is pending, a plate that only the change makes is picked when that arrives.
        """
        self._awaited_plate = ""
        if is_pending and name and not self._has_plate(name):
            self._awaited_plate = name
        elif name != self.plate_name:
            self.plate_name = name
            self._tell(Changed.SELECTION)

    def pick_stock(self, stock_id: str) -> None:
        """Pick the stock that the stock, test and sheet steps show."""
        if stock_id != self.stock_id:
            self.stock_id = stock_id
            self._tell(Changed.SELECTION)

    def await_nothing(self) -> None:
        """Forget a plate of a pending change."""
        self._awaited_plate = ""

    def take_awaited(self) -> None:
        """Pick the plate of the pending change, which has arrived."""
        if self._awaited_plate:
            self.plate_name, self._awaited_plate = self._awaited_plate, ""

    def keep_valid(self) -> None:
        """Keep the picks valid in a new present project."""
        project = self._project()
        if self.stock_id not in [stock.id for stock in project.stocks]:
            self.stock_id = project.stocks_in_use[0].id
        if not self._has_plate(self.plate_name):
            self.plate_name = ""
        ids = [joint.id for joint in solved_structure_of(project).joints]
        if self.joint_id not in {*ids, *project.structure.declared()}:
            self.joint_id = ids[0] if ids else ""

    def _has_plate(self, name: str) -> bool:
        return any(piece.name == name for piece in solved_structure_of(self._project()).pieces)
