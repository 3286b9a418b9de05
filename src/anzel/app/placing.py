"""Placing by picking: a side of one plate is picked, then the side where it shall go."""

from dataclasses import dataclass

from anzel.app.edits import relation_edits
from anzel.app.listeners import Changed, Tell
from anzel.geometry.placement import Vector
from anzel.project.model import Project
from anzel.structure.relations.outlines import side_at, side_lines
from anzel.structure.relations.records import TABLE, Side


@dataclass
class Placing:
    """Whether sides are being picked, and the one that was picked first."""

    tell: Tell
    is_on: bool = False
    first: Side | None = None

    def start(self) -> None:
        """Begin to pick sides."""
        self.is_on, self.first = True, None
        self.tell(Changed.SELECTION)

    def stop(self) -> None:
        """End it."""
        if self.is_on:
            self.is_on, self.first = False, None
            self.tell(Changed.SELECTION)

    def take(self, side: Side) -> Side | None:
        """Take a picked side; return the first one when this is the second, to place it by."""
        if self.first is None:
            if side.plate != TABLE:
                self.first = side
                self.tell(Changed.SELECTION)
            return None
        first, self.first = self.first, None
        return first

    @property
    def words(self) -> str:
        """What to do now."""
        if self.first is None:
            return "Pick a face or an edge of the plate to place. Esc ends."
        return f"{self.first.words} goes … pick a face, an edge or the table. Esc ends."


def side_under(project: Project, plate: str, at: Vector) -> Side:
    """Return the side of a plate at a point of space on it."""
    body, placement = relation_edits.body_at(project, plate)
    return Side(plate=plate, side=side_at(body, placement, at))


def outline_of(project: Project, side: Side) -> tuple[Vector, ...]:
    """Return the corners of a side, so that it can be shown; none of the table."""
    if side.plate == TABLE:
        return ()
    body, placement = relation_edits.body_at(project, side.plate)
    return side_lines(body, placement, side.side)


def place(project: Project, first: Side, second: Side) -> Project:
    """Return the project with the first side's plate placed by the second.

    Raises ParameterError where that cannot be.
    """
    return relation_edits.relate(project, relation_edits.against(project, first, second))
