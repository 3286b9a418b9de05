"""Edits of the rack: stocks with their readings and sheets.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Sequence
from typing import Any

from anzel.core.findings import ParameterError
from anzel.materials.material import Material, usual_press_behaviour
from anzel.materials.stock import SheetSize, Stock, StruckReading
from anzel.project.model import Project


def change_stock(project: Project, stock_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with some fields of one stock changed."""
    changed = project.stock(stock_id).with_changes(**changes)
    stocks = tuple(changed if stock.id == stock_id else stock for stock in project.stocks)
    return project.with_changes(stocks=stocks)


def change_material(project: Project, stock_id: str, material: Material) -> Project:
    """Return the project with another material of a stock.

    Its usual press behaviour follows, unless the maker had chosen one.
    """
    stock = project.stock(stock_id)
    chosen = stock.press_behaviour is not usual_press_behaviour(stock.material)
    nature = stock.press_behaviour if chosen else usual_press_behaviour(material)
    return change_stock(project, stock_id, material=material, press_behaviour=nature)


def add_readings(project: Project, stock_id: str, readings: Sequence[float]) -> Project:
    """Return the project with more thickness readings, mm."""
    stock = project.stock(stock_id)
    return change_stock(project, stock_id, readings=(*stock.readings, *readings))


def change_reading(project: Project, stock_id: str, index: int, value: float) -> Project:
    """Return the project with one reading corrected."""
    readings = list(project.stock(stock_id).readings)
    _check_is_there(readings, index)
    readings[index] = value
    return change_stock(project, stock_id, readings=tuple(readings))


def remove_reading(project: Project, stock_id: str, index: int) -> Project:
    """Return the project without one reading."""
    readings = list(project.stock(stock_id).readings)
    _check_is_there(readings, index)
    del readings[index]
    return change_stock(project, stock_id, readings=tuple(readings))


def strike_reading(project: Project, stock_id: str, index: int, reason: str) -> Project:
    """Return the project with one reading struck out: kept, but no longer counted."""
    stock = project.stock(stock_id)
    _check_is_there(stock.readings, index)
    if not reason.strip():
        raise ParameterError(
            "A reading is struck out for a reason.", hint="Say what was wrong with it.",
            field="reason",
        )  # fmt: skip
    struck = StruckReading(value=stock.readings[index], reason=reason.strip()[:120])
    without = remove_reading(project, stock_id, index)
    return change_stock(without, stock_id, struck=(*stock.struck, struck))


def restore_reading(project: Project, stock_id: str, index: int) -> Project:
    """Return the project with a struck reading counted again."""
    struck = list(project.stock(stock_id).struck)
    _check_is_there(struck, index)
    reading = struck.pop(index)
    restored = change_stock(project, stock_id, struck=tuple(struck))
    return add_readings(restored, stock_id, [reading.value])


def _check_is_there(items: Sequence[object], index: int) -> None:
    if not 0 <= index < len(items):
        raise ParameterError("That one is not there any more.", hint="Pick it again.")


def add_sheet_size(project: Project, stock_id: str) -> Project:
    """Return the project with another sheet size, initially a copy of the last."""
    sheets = project.stock(stock_id).sheets
    return change_stock(project, stock_id, sheets=(*sheets, sheets[-1]))


def change_sheet_size(
    project: Project, stock_id: str, index: int, **changes: Any  # noqa: ANN401
) -> Project:  # fmt: skip
    """Return the project with another width, height or count of one sheet size."""
    sheets = list(project.stock(stock_id).sheets)
    _check_is_there(sheets, index)
    sheets[index] = sheets[index].with_changes(**changes)
    return change_stock(project, stock_id, sheets=tuple(sheets))


def remove_sheet_size(project: Project, stock_id: str, index: int) -> Project:
    """Return the project without one sheet size.

    Raises ParameterError for the last one.
    """
    sheets = list(project.stock(stock_id).sheets)
    _check_is_there(sheets, index)
    if len(sheets) == 1:
        raise ParameterError(
            "A stock needs one size of sheet.", hint="Change its width and height instead."
        )
    del sheets[index]
    return change_stock(project, stock_id, sheets=tuple(sheets))


def add_stock(project: Project, like: Stock) -> Project:
    """Return the project with another stock: a copy of one without what was learnt of it."""
    number = _free_number("stock", [stock.id for stock in project.stocks])
    fresh = like.with_changes(
        id=f"stock-{number}", name=f"New sheet {number}", readings=(), struck=(), fit_shift=0.0,
        sheets=(SheetSize(width=like.sheets[0].width, height=like.sheets[0].height),),
    )  # fmt: skip
    return project.with_changes(stocks=(*project.stocks, fresh))


def import_stock(project: Project, stock: Stock) -> Project:
    """Return the project with a stock from elsewhere.

    It replaces the stock of its id, or joins the others.
    """
    if any(known.id == stock.id for known in project.stocks):
        stocks = tuple(stock if known.id == stock.id else known for known in project.stocks)
    else:
        stocks = (*project.stocks, stock)
    return project.with_changes(stocks=stocks)


def remove_stock(project: Project, stock_id: str) -> Project:
    """Return the project without a stock.

    Raises ParameterError while the structure needs it.
    """
    stock = project.stock(stock_id)
    if stock in project.stocks_in_use:
        raise ParameterError(
            f"{stock.name} is in use.", hint="Give the structure another sheet first."
        )
    return project.with_changes(stocks=tuple(s for s in project.stocks if s.id != stock_id))


def _free_number(word: str, taken: Sequence[str]) -> int:
    return next(n for n in range(1, len(taken) + 2) if f"{word}-{n}" not in taken)
