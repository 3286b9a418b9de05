"""Forms that other packages bring, through the entry point `anzel.forms`.

A package names its forms in its metadata (entry points specification of the Python packaging
guide). Only installed packages are asked; what a project file holds never decides what is imported.
"""

from dataclasses import dataclass
from functools import cache
from importlib.metadata import EntryPoint, entry_points

from anzel.core.findings import Finding, Severity
from anzel.structure.forms.form import Form

GROUP = "anzel.forms"


@dataclass(frozen=True)
class PackagedForm:
    """A form of another package: its class, a line on it, and where it comes from."""

    kind: type[Form]
    about: str
    origin: str


@dataclass(frozen=True)
class PackagedForms:
    """The forms of other packages by name, and a finding on each that cannot be used."""

    by_name: dict[str, PackagedForm]
    broken: tuple[Finding, ...]


@cache  # one entry: packages are not installed while Anzel runs
def packaged_forms(own: frozenset[str]) -> PackagedForms:
    """Return the forms of all installed packages; `own` are the names that are taken."""
    found: dict[str, PackagedForm] = {}
    broken = []
    for entry in sorted(entry_points(group=GROUP), key=lambda each: each.name):
        origin = _origin(entry)
        try:
            kind = _loaded(entry, own | found.keys())
        except Exception as error:  # whatever a stranger's code may raise
            why = str(error) or type(error).__name__
            words = f"The form “{entry.name}” of {origin} is skipped: {why}"
            hint = "Update or remove that package."
            broken.append(Finding("packaged-form", Severity.WARNING, entry.name, words, hint))
        else:
            about = (kind.__doc__ or entry.name).strip().splitlines()[0].rstrip(".")
            found[entry.name] = PackagedForm(kind, about, origin)
    return PackagedForms(found, tuple(broken))


def _loaded(entry: EntryPoint, taken: frozenset[str]) -> type[Form]:
    """Return the class that an entry point names.

    Raises ValueError where it is no form, or whatever its module raises.
    """
    kind = entry.load()
    if not (isinstance(kind, type) and issubclass(kind, Form)):
        raise ValueError("it is no subclass of Form")
    if kind.model_fields["form"].default != entry.name:
        raise ValueError(f"its field `form` is not “{entry.name}”")
    if entry.name in taken:
        raise ValueError("that name is taken")
    kind.model_validate({})  # its defaults must be valid
    return kind


def _origin(entry: EntryPoint) -> str:
    return f"{entry.dist.name} {entry.dist.version}" if entry.dist is not None else "a package"
