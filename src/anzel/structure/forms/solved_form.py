"""A form solved: its plates placed, bent and cut, with the findings of everything on them."""

from collections.abc import Sequence
from dataclasses import replace

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.structure.artwork.bending import tight_hinges, with_bends
from anzel.structure.artwork.bent_joints import at_panels
from anzel.structure.artwork.cut_outs import cut_outs_on, lost_in_cut_outs
from anzel.structure.artwork.lines import waiting_artwork
from anzel.structure.forms.field_ranges import within_ranges
from anzel.structure.forms.form import Form
from anzel.structure.formulas import formula_findings
from anzel.structure.model import FitContext, JointSpec, Plate, SolvedStructure
from anzel.structure.openings.alike import openings_on
from anzel.structure.openings.free_corners import with_free_corners
from anzel.structure.solver import solve


def solve_form(form: Form, fit_context: FitContext) -> SolvedStructure:
    """Return the solved structure of a form.

    Raises
    ------
    ParameterError
        Naming the field at fault.
    """
    form, troubles = form.settled(fit_context)
    form, gave_way = within_ranges(form, fit_context)
    plates, declared, inlays = form.laid(fit_context)
    openings = (
        *inlays.pockets,
        *openings_on(plates, form.own_openings, form.edges_of),
        *cut_outs_on(plates, form.own_artwork, form.edges_of),
    )
    made, shown_flat = _solved(form, plates, declared, openings, fit_context)
    if form.own_corners:
        pieces = with_free_corners(made.pieces, plates, form.own_corners)
        made = replace(made, pieces=pieces)
    if found := form.drawn_features(fit_context):
        marked = (replace(p, features=(*p.features, *found.get(p.name, ()))) for p in made.pieces)
        made = replace(made, pieces=tuple(marked))
    noticed = (
        *formula_findings(troubles), *gave_way, *shown_flat,
        *tight_hinges(plates, form.own_artwork, fit_context),
        *waiting_artwork(plates, form.own_artwork, form.edges_of),
        *lost_in_cut_outs(form.own_artwork), *inlays.findings, *form.noticed(made, fit_context),
    )  # fmt: skip
    return replace(made, findings=(*made.findings, *noticed)) if noticed else made


def _solved(
    form: Form, plates: Sequence[Plate], declared: Sequence[JointSpec],
    openings: Sequence[JointSpec], fit_context: FitContext,
) -> tuple[SolvedStructure, tuple[Finding, ...]]:  # fmt: skip
    """Return the structure with its plates bent, and findings on those that have to stand flat.

    A form whose joints hold its plates flat leaves them so.
    """
    collects = form.collects_errors
    bent = with_bends(plates, form.own_artwork, fit_context)
    standing, joints = at_panels(bent, declared, fit_context)
    try:
        made = solve(standing, joints, fit_context, openings=openings, collect_errors=collects)
    except ParameterError:
        hinged = [plate.name for plate in bent if plate.panels]
        if not hinged:
            raise
        made = solve(plates, declared, fit_context, openings=openings, collect_errors=collects)
        return made, tuple(
            Finding(
                "hinge-shown-flat", Severity.NOTE, name,
                "its joints hold it flat, so it stands flat here.",
            )
            for name in hinged
        )  # fmt: skip
    return made, ()
