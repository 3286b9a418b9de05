"""New projects from a form, with a starting rack of unmeasured sheets."""

from typing import Any

from anzel.materials.material import Grain, Material, PressBehaviour
from anzel.materials.stock import Stock
from anzel.project.model import Project
from anzel.structure.forms import new_form
from anzel.structure.forms.form import Form
from anzel.structure.free.outline_shapes import Rectangle
from anzel.structure.free.plate import FreePlate


def starting_rack() -> tuple[Stock, ...]:
    """Return two plies and an acrylic, as bought."""
    return (
        Stock(id="ply-3", name="Ply 3", material=Material.PLY, nominal_thickness=3.0,
              grain=Grain.ALONG_WIDTH, tint="#ecd9b4"),
        Stock(id="ply-6", name="Ply 6", material=Material.PLY, nominal_thickness=6.0,
              grain=Grain.ALONG_WIDTH, tint="#dcbf8e"),
        Stock(id="acrylic-3", name="Opal acrylic 3", material=Material.ACRYLIC,
              press_behaviour=PressBehaviour.BRITTLE, nominal_thickness=3.0, tint="#e9efee"),
    )  # fmt: skip


def project_of(name: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return a project of one form with some parameters changed.

    Raises
    ------
    ParameterError
        Naming the field at fault.
    """
    title = name.replace("-", " ").capitalize()
    return Project(name=title, stocks=starting_rack(), structure=new_form(name, **changes))


def empty_table() -> Project:
    """Return a project with nothing but one plain plate on the table, to go on from by hand."""
    plate = FreePlate(name="Plate", stock="ply-3", outline=Rectangle())
    structure = new_form("free", plates=(plate,), joints=())
    return Project(name="Empty table", stocks=starting_rack(), structure=structure)


def with_form(project: Project, form: Form) -> Project:
    """Return the project with another form.

    Where the form's sheets are not on the rack, the first sheets in use replace them.
    """
    there = [stock.id for stock in project.stocks]
    used = [stock.id for stock in project.stocks_in_use] or there
    roles = {
        role: wanted if wanted in there else used[min(index, len(used) - 1)]
        for index, (role, wanted) in enumerate(form.stock_roles().items())
    }
    return project.with_changes(structure=form.with_stocks(roles))
