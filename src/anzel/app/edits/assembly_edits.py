"""Edits of what the maker wishes of the order of assembly.

Each is a function from one Project to the next and raises ParameterError.
"""

from collections.abc import Sequence

from anzel.assembly.records import way_in_words
from anzel.assembly.wishes import AssemblyWishes
from anzel.core.findings import ParameterError
from anzel.geometry.placement import Vector
from anzel.project.model import Project


def goes_before(project: Project, first: str, then: str) -> Project:
    """Return the project with a wish that one piece goes in before another.

    Raises ParameterError for a piece before itself; the opposite wish gives way.
    """
    if first == then:
        raise ParameterError(f"{first} cannot go in before itself.")
    wishes = project.assembly
    kept = tuple(pair for pair in wishes.before if pair not in ((first, then), (then, first)))
    return _wishing(project, wishes.with_changes(before=(*kept, (first, then))))


def put_together_first(project: Project, names: Sequence[str]) -> Project:
    """Return the project with a wish that pieces are put together first and go in as one.

    Raises ParameterError for fewer than two.
    """
    group = tuple(dict.fromkeys(names))
    if len(group) < 2:
        raise ParameterError("A group has two pieces or more.", hint="Pick several in the list.")
    wishes = project.assembly
    kept = tuple(each for each in wishes.groups if set(each) != set(group))
    return _wishing(project, wishes.with_changes(groups=(*kept, group)))


def come_in(project: Project, piece: str, direction: Vector | None) -> Project:
    """Return the project with a direction in which a piece goes in; None leaves it to the proof.

    Raises ParameterError for a direction without a length.
    """
    wishes = project.assembly
    kept = tuple(each for each in wishes.directions if each.piece != piece)
    own = ({"piece": piece, "direction": direction},) if direction is not None else ()
    return _wishing(project, wishes.with_changes(directions=(*kept, *own)))


def wishes_in_words(wishes: AssemblyWishes) -> tuple[str, ...]:
    """Return every wish in words, in the order in which `take_back` counts them."""
    return (
        *(f"{first} before {then}" for first, then in wishes.before),
        *(f"first together: {', '.join(group)}" for group in wishes.groups),
        *(f"{each.piece} {way_in_words(each.direction)}" for each in wishes.directions),
    )


def take_back(project: Project, number: int) -> Project:
    """Return the project without one of its wishes."""
    wishes = project.assembly
    fields = {}
    for name in ("before", "groups", "directions"):
        own = getattr(wishes, name)
        if 0 <= number < len(own):
            fields[name] = (*own[:number], *own[number + 1 :])
        number -= len(own)
    return _wishing(project, wishes.with_changes(**fields))


def _wishing(project: Project, wishes: AssemblyWishes) -> Project:
    return project.with_changes(assembly=wishes)
