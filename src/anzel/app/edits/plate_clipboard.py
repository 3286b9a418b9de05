"""Plates of a free structure as text for a clipboard, and back into a project."""

from collections.abc import Collection
from functools import cache

from pydantic import TypeAdapter, ValidationError

from anzel.app.edits import free_structure_edits
from anzel.core.findings import ParameterError
from anzel.project.model import Project
from anzel.structure.free.plate import FreePlate

MIME_TYPE = "application/x-anzel-plates+json"
_ASIDE = 20.0
"""A pasted plate lies so far beside the one it was copied from, mm."""


@cache
def _adapter() -> TypeAdapter[tuple[FreePlate, ...]]:
    return TypeAdapter(tuple[FreePlate, ...])  # made when first needed: that takes a while


def plates_as_text(project: Project, names: Collection[str]) -> str:
    """Return plates as JSON: their outlines, sheets and places, without their joints."""
    plates = free_structure_edits.free_of(project).plates
    return _adapter().dump_json(tuple(plate for plate in plates if plate.name in names)).decode()


def paste_plates(project: Project, text: str, stock_id: str) -> tuple[Project, tuple[str, ...]]:
    """Return the project with the plates of a clipboard beside their places, and their new names.

    A plate of a sheet that this project does not have is cut from `stock_id`. Raises ParameterError
    for a text that holds no plates.
    """
    try:
        plates = _adapter().validate_json(text)
    except ValidationError as error:
        raise ParameterError("The clipboard holds no plates that can be read.") from error
    stocks = {stock.id for stock in project.stocks}
    names = []
    for plate in plates:
        stock = plate.stock if plate.stock in stocks else stock_id
        moved = plate.with_changes(x=plate.x + _ASIDE, y=plate.y + _ASIDE, stock=stock)
        project, name = free_structure_edits.add_plate(project, moved)
        names.append(name)
    return project, tuple(names)
