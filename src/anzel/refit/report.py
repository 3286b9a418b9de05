"""What was found and done, in words and as a record for scripts."""

from collections.abc import Iterator
from typing import Any

from anzel.core.findings import UnsureError
from anzel.core.units import format_length
from anzel.drawings.loops import Mend
from anzel.drawings.model import UnitSource
from anzel.refit.analysis import Survey
from anzel.refit.refit import Decision, Refit
from anzel.refit.thickness_estimation import Evidence
from anzel.refit.unmatched_features import without_mate

_MOST_PLACES = 200


def need_sure(survey: Survey) -> None:
    """Raise UnsureError where sizes speak for several thicknesses, or hardly for any."""
    if survey.is_sure or not survey.evidence:
        return
    sizes = "; ".join(f"{format_length(each.value, 3)} mm ({each})" for each in survey.evidence[:4])
    raise UnsureError(
        f"{survey.drawing.name} could be drawn for several thicknesses: {sizes}.",
        mend="Say which with --drawn.",
        field="drawn",
    )


def warnings_of(refit: Refit) -> list[str]:
    """What the maker should hear of before cutting."""
    return list(_warnings(refit))


def record_of(refit: Refit) -> dict[str, Any]:
    """The report for scripts. Sizes and places in mm of the drawing as it came in."""
    scale = refit.wish.scale
    chosen = refit.meant.drawn
    return {
        "drawn_thickness": [
            {"value": value / scale, "evidence": _evidence_record(_nearest(refit.survey, value))}
            for value in chosen
        ],
        "sizes": [
            {"value": e.value / scale, "evidence": _evidence_record(e)}
            for e in refit.survey.evidence[:20]
        ],
        "features": [_feature_record(each, scale) for each in refit.decisions],
        "holes": [
            {"id": h.id, "piece": f"piece-{h.piece + 1}", "at": [v / scale for v in h.at],
             "size": [v / scale for v in h.size]}
            for h in refit.holes
        ],
        "mends": [_mend_record(each, scale) for each in refit.survey.closed.mends],
        "kept": [{"what": a.what, "count": a.count} for a in refit.survey.drawing.asides],
        "units": {
            "name": refit.survey.drawing.units.name,
            "millimetres": refit.survey.drawing.units.millimetres,
            "source": refit.survey.drawing.units.source.value,
        },
        "size": list(refit.survey.drawing.size),
        "warnings": warnings_of(refit),
        "pieces": refit.survey.rings.pieces,
    }  # fmt: skip


def _warnings(refit: Refit) -> Iterator[str]:
    survey = refit.survey
    drawing = survey.drawing
    width, height = drawing.size
    if drawing.units.source is UnitSource.GUESS and drawing.traces:
        yield (
            f"One unit is taken for {drawing.units.millimetres:.6g} mm, "
            f"{drawing.units.source.value}; all is then "
            f"{format_length(width)} × {format_length(height)} mm."
        )
    if survey.rings.has_border:
        yield "The rectangle round everything is taken for the sheet, not for a piece."
    if not refit.decisions:
        yield "No slot, mortise, tab or finger was found; nothing is changed."
    for piece in refit.crossing:
        yield f"piece-{piece + 1}: its outline crosses itself or a hole with the new sizes."
    for each in refit.decisions:
        if each.feature.doubt and not each.moved and each.why.startswith("not sure"):
            yield f"{each.feature.id}: not changed, {each.feature.doubt}."
        elif "no room" in each.why:
            yield f"{each.feature.id}: not changed, {each.why}."
    if refit.found.hinge_slits:
        yield f"{refit.found.hinge_slits} slits of living hinges: held."
    for lonely in without_mate(refit):
        yield f"{lonely.id}: nothing in the drawing has the size to go with it."
    for aside in drawing.asides:
        yield f"{aside.count} × {aside.what}: kept as it is."


def _nearest(survey: Survey, value: float) -> Evidence:
    nothing = Evidence(value, 0, 0, 0, 0)
    found = min(survey.evidence, key=lambda e: abs(e.value - value), default=nothing)
    return found if abs(found.value - value) <= 0.3 else nothing


def _evidence_record(found: Evidence) -> dict[str, int]:
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
    if feature.doubt:
        made["uncertain"] = feature.doubt
    return made


def _mend_record(mend: Mend, scale: float) -> dict[str, Any]:
    places = [[value / scale for value in at] for at in mend.places[:_MOST_PLACES]]
    return {
        "what": mend.what, "count": len(mend.places), "largest": mend.largest / scale, "at": places,
    }  # fmt: skip
