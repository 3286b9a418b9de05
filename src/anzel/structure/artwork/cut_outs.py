"""What lettering and artwork cut out of plates: openings like any other."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.structure.artwork.drawn import Drawn, drawn_by
from anzel.structure.artwork.places import motions_of, to_back
from anzel.structure.artwork.records import Face, OnPlate, PlateArtwork, PlateLettering
from anzel.structure.model import FitContext, JointSpec, OutlineChange, Plate, Solved
from anzel.structure.openings.alike import plates_of
from anzel.structure.openings.edge_frame import Edges


@dataclass(frozen=True)
class CutOut:
    """What an item cuts out of one plate; it makes no joint."""

    item: OnPlate
    plate: str
    edges: tuple[tuple[str, tuple[tuple[float, float], tuple[float, float]]], ...] = ()

    @property
    def id(self) -> str:
        """The item's id, for findings."""
        return self.item.id

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return what is cut, and no joint.

        Raises
        ------
        ParameterError
            Where its plate or its edge is gone.
        """
        plate = plates.get(self.plate)
        if plate is None:
            raise ParameterError(
                f"There is no plate “{self.plate}” any more.",
                hint="Take it off, or bring the plate back.", field="plate",
            )  # fmt: skip
        motions = motions_of(self.item, plate.region, dict(self.edges))
        cut = [
            outline.moved(motion) for motion in motions for outline in drawn_by(self.item).cut_outs
        ]
        if self.item.face is Face.BACK:
            cut = [outline.moved(to_back(plate.region)) for outline in cut]
        return None, (OutlineChange(plate.name, cut=tuple(cut), keep_off=self.item.keep_off),)


def cut_outs_on(
    plates: Sequence[Plate], items: Iterable[OnPlate], edges_of: Callable[[str], Edges]
) -> tuple[JointSpec, ...]:
    """Return what to solve for all that is cut out, one for each plate and item."""
    return tuple(
        CutOut(item, name, tuple(edges_of(name).items()))
        for item in items if _drawn(item).cut_outs for name in plates_of(plates, item)
    )  # fmt: skip


def _drawn(item: OnPlate) -> Drawn:
    """Return what lettering or artwork draws; nothing where it waits, and for other items."""
    try:
        return drawn_by(item) if isinstance(item, PlateLettering | PlateArtwork) else Drawn()
    except ParameterError:
        return Drawn()


def lost_in_cut_outs(items: Iterable[OnPlate]) -> list[Finding]:
    """Return a note for each item that has closed lines in what falls out of its plate."""
    return [
        Finding(
            "lines-fall-out", Severity.NOTE, item.plate,
            f"{lost} closed line{'s' * (lost != 1)} of {item.id} lie in what falls out, and are "
            "not cut.", "Have them engraved, or add bridges to the artwork to keep what is inside.",
        )
        for item in items if (lost := _drawn(item).lost)
    ]  # fmt: skip
