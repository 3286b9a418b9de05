"""The report of a refit: what was found and done, in words and as a record for scripts."""

from collections.abc import Iterator
from typing import Any

from anzel.core.findings import Finding, Severity, UnsureError
from anzel.core.number_format import format_length, format_measure, plain_measure
from anzel.core.wording import counted
from anzel.drawings.loops import Repair
from anzel.drawings.model import UnitSource
from anzel.refit.analysis import DrawingAnalysis
from anzel.refit.refit import Decision, Outcome, Refit
from anzel.refit.thickness_estimation import ThicknessEvidence, candidates
from anzel.refit.unmatched_features import abandoned_features, unmatched_features

_MOST_PLACES, _MOST_TOLD, _MOST_NAMED = 200, 6, 4


def require_certainty(analysis: DrawingAnalysis, sheet: float) -> None:
    """Raise UnsureError where sizes indicate several thicknesses, or hardly any.

    The maker's `sheet`, mm, as large as the drawing is scaled, is evidence too.
    """
    if analysis.drawn_for(sheet) is not None or not analysis.evidence:
        return
    sizes = "; ".join(
        f"{plain_measure(each.value, 3)} ({each})"
        for each in candidates(analysis.evidence, sheet)[:4]
    )
    raise UnsureError(
        f"{analysis.drawing.name} could be drawn for several thicknesses: {sizes}.",
        hint="Say which with --drawn.",
        field="drawn",
    )


def require_consistency(refit: Refit) -> None:
    """Raise UnsureError where something cannot be changed although its mates are.

    What the maker holds is his decision and needs no question.
    """
    found = [each for each in refit_findings(refit) if each.severity is Severity.PROBLEM]
    if found:
        raise UnsureError(
            f"{refit.analysis.drawing.name} cannot be refitted as a whole. "
            + " ".join(map(str, found[:_MOST_TOLD])),
            hint="Leave features as they are with --hold, or give another --tolerance.",
        )


def refit_findings(refit: Refit) -> tuple[Finding, ...]:
    """Return what the maker should know before cutting; what is alike is told once."""
    groups: dict[tuple[str, Severity, str], list[str]] = {}
    for each in _findings(refit):
        groups.setdefault((each.code, each.severity, each.message), []).append(each.where)
    return tuple(
        Finding(code, severity, _together(places), message)
        for (code, severity, message), places in groups.items()
    )


def _together(places: list[str]) -> str:
    """Return the names of things in one, at most some of them."""
    if len(places) <= _MOST_NAMED:
        return ", ".join(places)
    named = ", ".join(places[: _MOST_NAMED - 1])
    return f"{named} and {len(places) - _MOST_NAMED + 1} more"


def report_record(refit: Refit) -> dict[str, Any]:
    """Return the report for scripts.

    Sizes and places are in mm of the original drawing.
    """
    scale = refit.options.scale
    chosen = refit.drawn_thicknesses.drawn
    return {
        "drawn_thickness": [
            {"value": value / scale, "evidence": _evidence_record(_nearest(refit.analysis, value))}
            for value in chosen
        ],
        "sizes": [
            {"value": e.value / scale, "evidence": _evidence_record(e)}
            for e in refit.analysis.evidence[:20]
        ],
        "kerf_in_drawing": None if refit.kerf_in_drawing is None else refit.kerf_in_drawing / scale,
        "edges": [
            {"id": each.id, "piece": f"piece-{piece + 1}", "taken_for": each.taken_for.value,
             "why": each.why}
            for each in refit.features.edges
            if (piece := refit.piece_of(each.edge.sides[0])) >= 0
        ],
        "features": [_feature_record(each, scale) for each in refit.decisions],
        "holes": [
            {"id": h.id, "piece": f"piece-{h.piece + 1}", "at": [v / scale for v in h.at],
             "size": [v / scale for v in h.size]}
            for h in refit.holes
        ],
        "repairs": [_mend_record(each, scale) for each in refit.analysis.assembled.repairs],
        "kept": [
            {"what": each.what, "count": each.count, "first": each.place}
            for each in refit.analysis.drawing.ignored
        ],
        "units": {
            "name": refit.analysis.drawing.units.name,
            "millimetres": refit.analysis.drawing.units.millimetres,
            "source": refit.analysis.drawing.units.source.value,
        },
        "size": list(refit.analysis.drawing.size),
        "warnings": [str(finding) for finding in refit_findings(refit)],
        "pieces": refit.analysis.nested.pieces,
    }  # fmt: skip


def _findings(refit: Refit) -> Iterator[Finding]:
    yield from _about_drawing(refit)
    for piece in refit.self_crossing:
        message = "its outline crosses itself or a hole with the new sizes."
        yield Finding("crossing", Severity.PROBLEM, f"piece-{piece + 1}", message)
    for each in refit.decisions:
        if each.outcome is Outcome.UNCERTAIN:
            message = f"not changed, {each.feature.uncertainty}."
            yield Finding("uncertain", Severity.WARNING, each.feature.id, message)
        elif each.outcome is Outcome.NO_ROOM:
            yield Finding("no-room", Severity.PROBLEM, each.feature.id, f"not changed, {each.why}.")
    for feature, why in abandoned_features(refit):
        yield Finding("mate-left", Severity.PROBLEM, feature.id, f"{why}.")
    if refit.analysis.hinge_slits:
        message = f"{counted(refit.analysis.hinge_slits, 'slit')} of living hinges: held."
        yield Finding("hinge", Severity.NOTE, "", message)
    if refit.analysis.bolt_slots:
        message = f"{counted(refit.analysis.bolt_slots, 'slot')} for bolts and nuts: held."
        yield Finding("bolt-slot", Severity.NOTE, "", message)
    for feature in unmatched_features(refit):
        message = "nothing in the drawing has the size to go with it."
        yield Finding("unmatched", Severity.WARNING, feature.id, message)
    for ignored in refit.analysis.drawing.ignored:
        where = f", first in {ignored.place}" if ignored.place else ""
        message = f"{ignored.count} × {ignored.what}{where}: kept as it is."
        yield Finding("ignored", Severity.NOTE, "", message)


def _about_drawing(refit: Refit) -> Iterator[Finding]:
    drawing = refit.analysis.drawing
    width, height = drawing.size
    if drawing.units.source is UnitSource.GUESS and drawing.paths:
        message = (
            f"One unit is taken for {plain_measure(drawing.units.millimetres, 6)}, "
            f"{drawing.units.source.value}; all is then "
            f"{format_length(width)} × {format_measure(height)}."
        )
        yield Finding("unit-guessed", Severity.WARNING, "", message)
    if refit.kerf_in_drawing is not None:
        message = (
            f"Openings are drawn {format_measure(refit.kerf_in_drawing, 2)} narrower than tabs are "
            "high: kerf is in the drawing already. What follows the sheet is sized anew; all else "
            "keeps it."
        )
        yield Finding("kerf-in-drawing", Severity.NOTE, "", message)
    if refit.analysis.nested.has_border:
        message = "The rectangle round everything is taken for the sheet, not for a piece."
        yield Finding("border", Severity.NOTE, "", message)
    if not refit.decisions:
        message = "No slot, mortise, tab or finger was found; nothing is changed."
        yield Finding("nothing-found", Severity.WARNING, "", message)


def _nearest(analysis: DrawingAnalysis, value: float) -> ThicknessEvidence:
    nothing = ThicknessEvidence(value, 0, 0, 0, 0)
    found = min(analysis.evidence, key=lambda e: abs(e.value - value), default=nothing)
    return found if abs(found.value - value) <= 0.3 else nothing


def _evidence_record(found: ThicknessEvidence) -> dict[str, int]:
    return {
        "count": found.count,
        "slots": found.slots,
        "mortises": found.mortises,
        "tabs": found.tabs,
        "fingers": found.steps,
    }


def _feature_record(decision: Decision, scale: float) -> dict[str, Any]:
    feature = decision.feature
    made = {
        "id": feature.id,
        "piece": f"piece-{feature.piece + 1}",
        "kind": feature.kind.value,
        "at": [value / scale for value in feature.at],
        "drawn": feature.drawn / scale,
        "new": decision.new,
        "moved": decision.moved,
        "why": decision.why,
    }
    if feature.row:
        made["row"] = feature.row
    if feature.edge:
        made["edge"] = feature.edge
    if feature.uncertainty:
        made["uncertain"] = feature.uncertainty
    return made


def _mend_record(repair: Repair, scale: float) -> dict[str, Any]:
    places = [[value / scale for value in at] for at in repair.places[:_MOST_PLACES]]
    return {
        "what": repair.what, "count": len(repair.places), "largest": repair.largest / scale,
        "at": places,
    }  # fmt: skip
