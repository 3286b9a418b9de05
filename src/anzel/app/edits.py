"""Every edit a maker can make, as a function from one Project to the next.

Window and command line share these, so both check alike. Each raises ParameterError naming the
field at fault and leaves its argument as it was.
"""

from collections.abc import Sequence
from datetime import date
from typing import Any

from anzel.findings import ParameterError, QuantityError
from anzel.frozen import title
from anzel.geometry.units import parse_length
from anzel.project.derive import build_of, comb_widths_of
from anzel.project.model import Project
from anzel.stock.fits import FitName, FitRule, KerfAt
from anzel.stock.stock import Stock
from anzel.stock.trial import Feel, Felt, Lesson, Trial, learn

NUMBER_FIELDS = {"tab_count", "split", "count"}
"""Fields that are plain numbers; all other numeric fields are lengths."""


def checked(project: Project) -> Project:
    """The project, if its structure and combs can be made. Raises ParameterError if not."""
    build_of(project)
    for stock in project.stocks:
        comb_widths_of(project, stock.id)
    return project


def change_stock(project: Project, stock_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Some fields of one stock changed."""
    stock = project.stock(stock_id)
    return _with_stock(project, stock_id, stock.with_changes(**changes))


def add_readings(project: Project, stock_id: str, readings: Sequence[float]) -> Project:
    """More thickness readings, mm."""
    stock = project.stock(stock_id)
    return change_stock(project, stock_id, readings=(*stock.readings, *readings))


def change_reading(project: Project, stock_id: str, index: int, value: float) -> Project:
    """One reading corrected."""
    readings = list(project.stock(stock_id).readings)
    readings[index] = value
    return change_stock(project, stock_id, readings=tuple(readings))


def remove_reading(project: Project, stock_id: str, index: int) -> Project:
    """One reading taken out."""
    readings = list(project.stock(stock_id).readings)
    del readings[index]
    return change_stock(project, stock_id, readings=tuple(readings))


def add_stock(project: Project, like: Stock) -> Project:
    """Another stock, starting as a copy of one but for its readings."""
    taken = {stock.id for stock in project.stocks}
    number = next(n for n in range(1, len(taken) + 2) if f"stock-{n}" not in taken)
    fresh = like.with_changes(id=f"stock-{number}", name=f"New sheet {number}", readings=())
    return project.with_changes(stocks=(*project.stocks, fresh))


def remove_stock(project: Project, stock_id: str) -> Project:
    """A stock taken off the rack. Raises ParameterError while the structure needs it."""
    stock = project.stock(stock_id)
    if stock in project.stocks_in_use:
        raise ParameterError(
            f"{stock.name} is in use.", mend="Give the structure another sheet first."
        )
    return project.with_changes(stocks=tuple(s for s in project.stocks if s.id != stock_id))


def change_structure(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Some parameters of the structure changed."""
    return project.with_changes(structure=project.structure.with_changes(**changes))


def change_comb(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Some settings of the comb changed."""
    return project.with_changes(comb=project.comb.with_changes(**changes))


def change_sheets(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Spacing or margin changed."""
    return project.with_changes(sheets=project.sheets.with_changes(**changes))


def change_pens(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """The colour of an operation changed. Raises ParameterError if two would be alike."""
    pens = project.pens.with_changes(**changes)
    if len({pens.cut, pens.score, pens.engrave}) < 3:
        field = next(iter(changes))
        raise ParameterError(
            "Two operations would have the same colour.",
            mend="A cutter could not tell them apart; choose another.",
            field=field,
        )
    return project.with_changes(pens=pens)


def choose_fit(project: Project, name: str) -> Project:
    """Another fit class in use. Raises ParameterError listing the classes."""
    if name not in list(FitName):
        known = ", ".join(FitName)
        raise ParameterError(f"There is no fit “{name}”.", mend=f"Use {known}.", field="fit")
    return project.with_changes(fits=project.fits.with_changes(in_use=FitName(name)))


def change_clearance(project: Project, clearance: float, name: FitName | None = None) -> Project:
    """The clearance of a fit class (the one in use) changed, mm."""
    chosen = name or project.fits.in_use
    return project.with_changes(fits=project.fits.with_changes(**{chosen.value: clearance}))


def trial_of(project: Project, stock_id: str, felt: Sequence[Felt], fit: str | None) -> Trial:
    """A trial made today with a stock as it is now, for a fit class (the one in use)."""
    name = choose_fit(project, fit).fits.in_use if fit is not None else project.fits.in_use
    stock = project.stock(stock_id)
    return Trial(
        date=date.today().isoformat(), stock_id=stock.id, felt=tuple(felt), fit=name,
        measured_thickness=stock.measured_thickness, kerf=stock.kerf, kerf_at=project.kerf_at,
    )  # fmt: skip


def feel_slot(project: Project, stock_id: str, width: float, feel: Feel) -> Project:
    """What one slot of the comb in hand felt like; a comb of another stock starts anew."""
    hand = trial_in_hand(project, stock_id)
    before = hand.felt if hand is not None else ()
    felt = sorted([(w, f) for w, f in before if w != width] + [(width, feel)])
    return project.with_changes(trial_in_hand=trial_of(project, stock_id, felt, None))


def trial_in_hand(project: Project, stock_id: str) -> Trial | None:
    """The comb being tried for a stock, asked about the fit class in use now."""
    hand = project.trial_in_hand
    if hand is None or hand.stock_id != stock_id:
        return None
    return hand.with_changes(fit=project.fits.in_use)


def lesson_of(trial: Trial) -> Lesson:
    """What a trial taught. Raises ParameterError for one that contradicts itself."""
    rule = FitRule(0.0, trial.kerf, trial.kerf_at)
    return learn(trial.felt, trial.fit, trial.measured_thickness, rule)


def take_trial(project: Project, trial: Trial) -> Project:
    """The trial kept, and the clearance it taught taken for its fit class."""
    kept = project.with_changes(trials=(*project.trials, trial), trial_in_hand=None)
    return change_clearance(kept, round(lesson_of(trial).clearance, 4), trial.fit)


def take_kerf_at(project: Project, place: KerfAt) -> Project:
    """Kerf taken care of in the drawing or at the cutter."""
    return project.with_changes(kerf_at=place)


def set_from_text(project: Project, field: str, text: str) -> Project:
    """A structure parameter from typed text. Raises ParameterError for one that is not there."""
    fields = type(project.structure).model_fields
    if field not in fields or field == "form":
        known = ", ".join(name for name in fields if name != "form")
        raise ParameterError(f"There is no parameter “{field}”.", mend=f"There are: {known}.")
    return change_structure(project, **{field: typed_value(project.structure, field, text)})


def typed_value(record: Any, field: str, text: str) -> Any:  # noqa: ANN401
    """Typed text as the value of a record's field: a length in mm, a number, or the text."""
    if isinstance(getattr(record, field), str):
        return text.strip()
    if field in NUMBER_FIELDS:
        try:
            return float(text.strip().replace(",", "."))
        except ValueError as error:
            message = f"{title(field)}: “{text.strip()}” is not a number."
            raise ParameterError(message, mend="Type digits.", field=field) from error
    return typed_length(text, field)


def typed_length(text: str, field: str) -> float:
    """Typed text as a length for a field, in mm. Raises ParameterError naming the field."""
    try:
        return parse_length(text)
    except QuantityError as error:
        message = f"{title(field)}: {error.message}"
        raise ParameterError(message, mend=error.mend, field=field) from error


def _with_stock(project: Project, stock_id: str, changed: Stock) -> Project:
    stocks = tuple(changed if stock.id == stock_id else stock for stock in project.stocks)
    return project.with_changes(stocks=stocks)
