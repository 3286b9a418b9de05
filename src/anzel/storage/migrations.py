"""Migrations of older project files to the present format; each takes the record of one version."""

from collections.abc import Callable
from typing import Any

Record = dict[str, Any]

USUAL_CUTTER = "cutter-1"


def from_1(project: Record) -> Record:
    """Return the project with kerfs at a cutter, counted sheets, and the comb among test pieces.

    What was typed as a kerf stays the kerf; trials keep what was felt.
    """
    stocks = [dict(stock) for stock in project["stocks"]]
    kerfs = []
    for stock in stocks:
        kerfs.append({"stock_id": stock["id"], "kerf": stock.pop("kerf", 0.0)})
        width, height = stock.pop("sheet_width", 600.0), stock.pop("sheet_height", 300.0)
        stock["sheets"] = [{"width": width, "height": height}]
    rest = dict(project)
    comb = {"kind": "comb", **rest.pop("comb", {})}
    hand = rest.pop("trial_in_hand", None)
    return {
        **rest,
        "stocks": stocks,
        "cutters": [{"id": USUAL_CUTTER, "name": "Cutter", "kerfs": kerfs}],
        "cutter_in_use": USUAL_CUTTER,
        "gauges": {"kinds": [comb]},
        "trials": [_trial_from_1(trial) for trial in rest.get("trials", [])],
        "in_hand": [_trial_from_1(hand)] if hand else [],
    }


def _trial_from_1(trial: Record) -> Record:
    drawn_kerf = trial["kerf"] if trial["kerf_at"] == "drawing" else 0.0
    return {**trial, "base": drawn_kerf - trial["measured_thickness"]}


def from_2(project: Record) -> Record:
    """Return the project with each point of a rib's profile smooth or a corner.

    Assets came beside the project.
    """
    takes = [{**t, "structure": _profile_from_2(t["structure"])} for t in project.get("takes", [])]
    return {**project, "structure": _profile_from_2(project["structure"]), "takes": takes}


def _profile_from_2(structure: Record) -> Record:
    if structure.get("form") != "rib-lamp":
        return structure
    rest = dict(structure)
    smooth = rest.pop("smooth", True)
    if "profile" in rest:
        rest["profile"] = [[*point, smooth] for point in rest["profile"]]
    return rest


def from_3(project: Record) -> Record:
    """Return the project with pens of their own for inner and outer cuts.

    Scraps, faces, kept layouts and the job came with this version; all of them have their default
    values.
    """
    pens = project.get("pens")
    if not pens:
        return project
    colours = {"engrave": "engrave", "score": "score", "inner": "cut", "outer": "cut"}
    now = {new: {"colour": pens[old]} for new, old in colours.items() if old in pens}
    return {**project, "pens": now}


def from_4(project: Record) -> Record:
    """Return the project with the words of today for test pieces, pressing and placements."""
    sheets = _renamed(project.get("sheets", {}), amounts="copy_counts", kept="kept_placements")
    if "kept_placements" in sheets:
        placements = sheets["kept_placements"]
        sheets["kept_placements"] = [_renamed(each, room="container") for each in placements]
    stocks = [stock_from_4(stock) for stock in project["stocks"]]
    now = {**_renamed(project, gauges="test_pieces"), "stocks": stocks, "sheets": sheets}
    plans = now.get("test_pieces", {})
    if plans.get("inches") is False:  # it was said by nobody then
        now["test_pieces"] = {name: value for name, value in plans.items() if name != "inches"}
    return now


def stock_from_4(stock: Record) -> Record:
    """Return the record of a stock with today's word for how it takes to being pressed."""
    return _renamed(stock, nature="press_behaviour")


def _renamed(record: Record, **names: str) -> Record:
    return {names.get(key, key): value for key, value in record.items()}


MIGRATIONS: dict[int, Callable[[Record], Record]] = {1: from_1, 2: from_2, 3: from_3, 4: from_4}
"""For each older version, the step that turns its project into the next version's."""
