"""Finding a piece, a joint, a parameter, a sheet or a command by a part of its name."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from anzel.app.actions import ACTIONS
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.project.derive import solved_structure_of


class Kind(StrEnum):
    """What can be found, as it is called in the list."""

    JOINT = "joint"
    PIECE = "piece"
    PARAMETER = "size"
    STOCK = "sheet"
    ACTION = "command"


@dataclass(frozen=True)
class Match:
    """Something found: what it is, its id, and its words."""

    kind: Kind
    id: str
    words: str


def search(session: Session, text: str) -> list[Match]:
    """Return all whose words hold every word of the text; whole and leading matches come first."""
    wanted = text.casefold().split()
    found = [
        each for each in _everything(session)
        if all(word in each.words.casefold() for word in wanted)
    ]  # fmt: skip
    lead = text.casefold().strip()
    return sorted(found, key=lambda each: not each.words.casefold().startswith(lead))


def _everything(session: Session) -> Iterator[Match]:
    project = session.project
    solved = solved_structure_of(project)
    for joint in solved.joints:
        yield Match(Kind.JOINT, joint.id, f"{joint.id} {joint.title}")
    for piece in solved.pieces:
        yield Match(Kind.PIECE, piece.name, piece.name)
    for name in project.structure.numbers():
        yield Match(Kind.PARAMETER, name, field_title(name))
    for stock in project.stocks:
        yield Match(Kind.STOCK, stock.id, stock.name)
    for action in ACTIONS:
        if action.enabled(session):
            yield Match(Kind.ACTION, action.id, action.words)
