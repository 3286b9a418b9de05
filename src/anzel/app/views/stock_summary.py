"""What the readings of a stock say, in words."""

from anzel.core.number_format import format_length
from anzel.materials.stock import Stock


def stock_summary(stock: Stock) -> str:
    """Return what the readings say, and what looks wrong among them."""
    said = stock.statistics
    if said is None:
        return "Measure in several places, far apart. Double click corrects, Delete takes out."
    words = f"mean {format_length(said.mean, 3)}"
    if said.sample_deviation is not None and said.standard_uncertainty is not None:
        words += f" · spread s {format_length(said.sample_deviation, 3)}"
        words += f" · mean known to ± {format_length(said.standard_uncertainty, 3)}"
        words += f", within {format_length(said.confidence_half_width or 0, 3)} for 95 %"
    words += f" · {format_length(said.least)} to {format_length(said.greatest)}"
    for each in stock.suspect_readings:
        words += f"\n▲ {format_length(stock.readings[each.index], 3)} {each.why}"
    return words
