"""The forms that a maker can choose from, one module each, loaded on first use."""

from collections.abc import Iterator, Mapping
from importlib import import_module
from typing import Annotated, Any

from pydantic import BeforeValidator, SerializeAsAny, ValidationError, ValidationInfo

from anzel.core.findings import Finding, ParameterError
from anzel.core.immutable import to_parameter_error
from anzel.structure.forms.form import Form
from anzel.structure.forms.from_packages import PackagedForms, packaged_forms

_CLASSES = {
    "crossed-stand": ("crossed_stand", "CrossedStand"),
    "easel": ("easel", "Easel"),
    "grid-stand": ("grid_stand", "GridStand"),
    "box": ("box", "Box"),
    "lantern": ("lantern", "Lantern"),
    "rib-lamp": ("rib_lamp", "RibLamp"),
    "sliceform": ("sliceform", "Sliceform"),
    "spine-lamp": ("spine_lamp", "SpineLamp"),
    "free": ("free_structure", "FreeStructure"),
    "found": ("imported_drawing", "ImportedDrawings"),
}
"""Module and class of every form by the name it is stored under, in the order of the gallery."""

_ABOUT = {
    "crossed-stand": "Two or three uprights crossing under a round top",
    "easel": "Two cheeks and a ledge for a book, a plate or a tablet",
    "grid-stand": "A frame of boards in a grid under a top of another sheet",
    "box": "Four walls with fingers or overlaps, a lid, dividers",
    "lantern": "Three to eight walls with windows, diffusers behind them",
    "rib-lamp": "Ribs along a profile round rings",
    "sliceform": "A body told by two families of slices",
    "spine-lamp": "Rings hung on a curved spine",
    "free": "Plates of any outline, joined where they meet",
    "found": "Somebody's drawing, made to fit this sheet",
}
"""A line on each form."""


class _Forms(Mapping[str, type[Form]]):
    """The class of every form by name, Anzel's own first; modules are imported on first use."""

    def __getitem__(self, name: str) -> type[Form]:
        if name not in _CLASSES:
            return _others().by_name[name].kind
        module, kind = _CLASSES[name]
        found: type[Form] = getattr(import_module(f"{__name__}.{module}"), kind)
        return found

    def __iter__(self) -> Iterator[str]:
        return iter((*_CLASSES, *_others().by_name))

    def __len__(self) -> int:
        return len(_CLASSES) + len(_others().by_name)


def _others() -> PackagedForms:
    return packaged_forms(frozenset(_CLASSES))


def about_form(name: str) -> str:
    """Return a line on a form; one of another package says from which."""
    if name in _ABOUT:
        return _ABOUT[name]
    other = _others().by_name[name]
    return f"{other.about} (from {other.origin})"


def broken_forms() -> tuple[Finding, ...]:
    """Return a finding on each form of another package that cannot be used."""
    return _others().broken


FORMS = _Forms()


def form_of(record: Any, beside: Mapping[str, bytes] | None = None) -> Form:  # noqa: ANN401
    """Return a form from its record, with the content of its assets by digest.

    Raises
    ------
    ParameterError
        Naming what is wrong with it.
    """
    if isinstance(record, Form):
        return record
    name = record.get("form") if isinstance(record, dict) else None
    if name not in FORMS:
        raise ParameterError(f"There is no form “{name}”.", hint=f"There are: {', '.join(FORMS)}.")
    try:
        return FORMS[str(name)].model_validate(record, context=beside)
    except ValidationError as error:
        raise to_parameter_error(error) from error


def new_form(name: str, **changes: Any) -> Form:  # noqa: ANN401
    """Return a form with its defaults and some changed parameters.

    Raises
    ------
    ParameterError
    """
    return form_of({"form": name, **changes})


def _form_in(record: Any, info: ValidationInfo) -> Form:  # noqa: ANN401
    return form_of(record, info.context)


AnyForm = Annotated[SerializeAsAny[Form], BeforeValidator(_form_in)]
"""Any form's record, told apart by its `form` field."""
