"""Pieces that are alike as one line: how many of them are in this job."""

from dataclasses import dataclass

from anzel.core.memo import latest
from anzel.project.derive import pieces_of
from anzel.project.model import Project
from anzel.structure.alike_pieces import AlikePieces, alike_pieces
from anzel.structure.model import Piece


@dataclass(frozen=True)
class PieceLine:
    """Pieces alike to one another: all of them, and how many copies this job has."""

    alike: AlikePieces
    count: int

    @property
    def piece(self) -> Piece:
        """The first of them."""
        return self.alike.piece

    @property
    def names(self) -> tuple[str, ...]:
        """The names of all of them."""
        return self.alike.names

    @property
    def title(self) -> str:
        """The name of the first, with how many others it stands for."""
        others = len(self.names) - 1
        return f"{self.piece.name} and {others} alike" if others else self.piece.name


def piece_lines(project: Project, stock_id: str | None = None) -> tuple[PieceLine, ...]:
    """Return the pieces of one stock or of all, those that are alike in one line."""
    return tuple(
        PieceLine(
            alike, sum(project.sheets.count_of(p.name, p.count) for p in alike.members)
        )
        for alike in _alike(pieces_of(project))
        if stock_id is None or alike.members[0].stock_id == stock_id
    )  # fmt: skip


@latest
def _alike(pieces: tuple[Piece, ...]) -> tuple[AlikePieces, ...]:
    return alike_pieces(pieces)
