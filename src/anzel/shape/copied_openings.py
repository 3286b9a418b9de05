"""Openings taken from one drawn plate and put on another, with what holds them by themselves."""

from collections.abc import Collection
from typing import Self, TypeVar

from pydantic import Field, ValidationError, model_validator

from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable
from anzel.shape.sketch import ClosedPath, Disc, HeldSize, Leg, Relation, Repeat, Sketch
from anzel.shape.sketch_changes import new_name

Held = TypeVar("Held", HeldSize, Relation)
_LONGEST = 36
_ASIDE = 10.0
"""A copy lies so far beside an opening that is in the same place, mm."""


class CopiedOpenings(Immutable):
    """Openings with the sizes and relations that name nothing else."""

    paths: tuple[ClosedPath, ...] = Field(default=(), max_length=200)
    discs: tuple[Disc, ...] = Field(default=(), max_length=400)
    sizes: tuple[HeldSize, ...] = Field(default=(), max_length=1000)
    relations: tuple[Relation, ...] = Field(default=(), max_length=2000)
    repeats: tuple[Repeat, ...] = Field(default=(), max_length=200)

    @model_validator(mode="after")
    def _is_something(self) -> Self:
        if not self.paths and not self.discs:
            raise ValueError("There is no opening")
        return self

    def openings(self) -> tuple[str, ...]:
        """Return the openings' own ids."""
        return (*(path.id for path in self.paths), *(disc.id for disc in self.discs))

    def ids(self) -> list[str]:
        """Return all ids, the openings' own first."""
        return [*self.openings(), *(name for path in self.paths for name in path.ids())]


def copied_openings(sketch: Sketch, names: Collection[str]) -> CopiedOpenings | None:
    """Return openings by their ids; None if there is none of them.

    What holds them to other things stays behind.
    """
    paths = tuple(path for path in sketch.paths[1:] if path.id in names)
    discs = tuple(disc for disc in sketch.discs if disc.id in names)
    if not paths and not discs:
        return None
    alone = CopiedOpenings(paths=paths, discs=discs)
    mine = set(alone.ids())
    return alone.with_changes(
        sizes=tuple(size for size in sketch.sizes if mine.issuperset(size.of)),
        relations=tuple(each for each in sketch.relations if mine.issuperset(each.of)),
        repeats=tuple(repeat for repeat in sketch.repeats if repeat.of in mine),
    )


def openings_of_text(text: str) -> CopiedOpenings:
    """Return the openings of a clipboard's text.

    Raises ParameterError where it holds none.
    """
    try:
        return CopiedOpenings.model_validate_json(text)
    except ValidationError as error:
        raise ParameterError("The clipboard holds no openings that can be read.") from error


def with_openings(sketch: Sketch, copied: CopiedOpenings) -> tuple[Sketch, tuple[str, ...]]:
    """Return the sketch with copied openings under new ids, and the openings' ids.

    They lie where they lay, or a little aside where such a one is already.
    """
    taken = set(sketch.ids())
    renamed: dict[str, str] = {}
    for name in copied.ids():
        renamed[name] = new_name(taken, _like(name, renamed))
        taken.add(renamed[name])
    there = {(point.x, point.y) for path in sketch.paths[1:] for point in path.points}
    there |= {(disc.x, disc.y) for disc in sketch.discs}
    here = {(point.x, point.y) for path in copied.paths for point in path.points}
    here |= {(disc.x, disc.y) for disc in copied.discs}
    aside = 0.0
    while {(x + aside, y + aside) for x, y in here} & there:
        aside += _ASIDE
    sizes = {size.name for size in sketch.sizes}
    held = []
    for size in copied.sizes:
        held.append(
            _renamed(size, renamed).with_changes(name=new_name(sizes, _like(size.name, renamed)))
        )
        sizes.add(held[-1].name)
    made = sketch.with_changes(
        paths=(*sketch.paths, *(_moved_path(path, renamed, aside) for path in copied.paths)),
        discs=(*sketch.discs, *(
            disc.with_changes(id=renamed[disc.id], x=disc.x + aside, y=disc.y + aside)
            for disc in copied.discs
        )),
        sizes=(*sketch.sizes, *held),
        relations=(*sketch.relations, *(_renamed(each, renamed) for each in copied.relations)),
        repeats=(*sketch.repeats, *(
            each.with_changes(of=renamed[each.of]) for each in copied.repeats
        )),
    )  # fmt: skip
    return made, tuple(renamed[name] for name in copied.openings())


def _like(name: str, renamed: dict[str, str]) -> str:
    """Return the name as it is after its opening was renamed, of which it begins with the name."""
    longest = max((each for each in renamed if name.startswith(f"{each} ")), key=len, default="")
    return f"{renamed[longest]}{name.removeprefix(longest)}"[:_LONGEST] if longest else name


def _renamed(held: Held, renamed: dict[str, str]) -> Held:
    return held.with_changes(of=tuple(renamed[name] for name in held.of))


def _moved_path(path: ClosedPath, renamed: dict[str, str], aside: float) -> ClosedPath:
    points = tuple(
        point.with_changes(id=renamed[point.id], x=point.x + aside, y=point.y + aside)
        for point in path.points
    )
    legs = tuple(_moved_leg(leg, renamed[leg.id], aside) for leg in path.legs)
    return path.with_changes(id=renamed[path.id], points=points, legs=legs)


def _moved_leg(leg: Leg, name: str, aside: float) -> Leg:
    centre = leg.centre and (leg.centre[0] + aside, leg.centre[1] + aside)
    controls = leg.controls and tuple((x + aside, y + aside) for x, y in leg.controls)
    return leg.with_changes(id=name, centre=centre, controls=controls)
