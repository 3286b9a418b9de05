"""Import of stocks and cutters into a project."""

from anzel.app.edits import stock_edits
from anzel.project.model import Project
from anzel.storage.stock_library import Rack


def import_rack(project: Project, found: Rack) -> Project:
    """Return the project with the stocks of a rack, and what their cutters know of them.

    A cutter that the project already has learns the kerfs it did not know of these stocks; other
    cutters are added. What the project knows itself stays.
    """
    for stock in found.stocks:
        project = stock_edits.import_stock(project, stock)
    ids = {stock.id for stock in found.stocks}
    cutters = list(project.cutters)
    for cutter in found.cutters:
        at = next((i for i, own in enumerate(cutters) if own.id == cutter.id), None)
        if at is None:
            cutters.append(cutter)
            continue
        known = {kerf.stock_id for kerf in cutters[at].kerfs}
        new = tuple(k for k in cutter.kerfs if k.stock_id in ids and k.stock_id not in known)
        cutters[at] = cutters[at].with_changes(kerfs=(*cutters[at].kerfs, *new))
    return project.with_changes(cutters=tuple(cutters))
