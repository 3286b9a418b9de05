"""The joint solver: placed plates and joint specifications in, pieces to cut out.

A form never computes a slot. It places plates and specifies joints; every width, depth and height
follows here from the mating sheet's measured thickness, the clearance and the kerf.
"""

from collections.abc import Sequence
from math import hypot
from operator import attrgetter

import numpy as np
import shapely

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.core.memo import memo
from anzel.core.number_format import plain_measure
from anzel.core.tolerances import SMALLEST
from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Segment
from anzel.geometry.short_edges import without_short_edges
from anzel.structure.disconnected_parts import assign_features, named_parts
from anzel.structure.engraved_picture import pictures_within
from anzel.structure.joints.cutting_shapes import feature_outline
from anzel.structure.line_work import lines_within, name_lines
from anzel.structure.model import (
    Feature,
    FitContext,
    Joint,
    JointSpec,
    OutlineChange,
    Piece,
    Plate,
    SolvedStructure,
)
from anzel.structure.name_engraving import engraved_name
from anzel.structure.openings.over_joints import clear_of_joints, openings_over_joints

_ADDED, _CUT = attrgetter("add"), attrgetter("cut")


def solve(
    plates: Sequence[Plate],
    declared: Sequence[JointSpec],
    fit_context: FitContext,
    *,
    openings: Sequence[JointSpec] = (),
    collect_errors: bool = False,
) -> SolvedStructure:
    """Return the structure with all joints solved and all plates cut.

    Raises
    ------
    ParameterError
        For an impossible joint, naming its plates and what to do; with `collect_errors` the joint
        is left out and the error becomes a finding. What is wrong with `openings` always does, so
        that they wait until they can be made.
    """
    need_simple(plates)
    forgiven: list[Finding] | None = [] if collect_errors else None
    joints, edits = outline_changes(plates, declared, fit_context, forgiven)
    waiting: list[Finding] = []
    added, more = outline_changes(plates, openings, fit_context, waiting, "opening")
    more = clear_of_joints(joints, more)
    parts = {}
    alike: dict[object, tuple[tuple[Region, ...], bool]] = {}
    for plate in plates:
        key = _cuts_of(plate, edits[plate.name], more[plate.name])
        if key not in alike:
            told = len(forgiven or ())
            cut, stays = _cut_with_openings(plate, edits[plate.name], more[plate.name], forgiven)
            if key is not None and len(forgiven or ()) == told:  # a fault is told of each plate
                alike[key] = cut, stays
        else:
            cut, stays = alike[key]
        parts[plate.name] = named_parts(plate.name, cut)
        if not stays:
            waiting.append(_parting(plate.name))
            added = [joint for joint in added if joint.pieces != (plate.name,)]
    waiting += openings_over_joints(joints, more)
    joints, parts, findings = assign_features([*joints, *added], parts)
    findings += [*(forgiven or []), *waiting]
    features: dict[str, list[Feature]] = {name: [] for each in parts.values() for name in each}
    for joint in joints:
        for feature in joint.features:
            features[feature.piece].append(feature)
    pieces = []
    for plate in plates:
        thickness = fit_context.of(plate.stock_id).measured_thickness
        for name, region in parts[plate.name].items():
            findings += _slivers(plate, name, region)
            mark = name_lines(engraved_name(region, name)) if plate.mark else ()
            kept = _shapes_of(features[name]) if any(x.keep_off for x in plate.lines) else ()
            pieces.append(
                Piece(name, plate.stock_id, thickness, region, plate.placement,
                      tuple(features[name]), (*mark, *lines_within(plate.lines, region, kept)),
                      bent=plate.bent, pictures=pictures_within(plate.pictures, region),
                      outset=plate.outset)
            )  # fmt: skip
    return SolvedStructure(tuple(pieces), tuple(joints), tuple(findings))


def _shapes_of(features: Sequence[Feature]) -> tuple[shapely.Polygon, ...]:
    return tuple(map(feature_outline, features))


def need_simple(plates: Sequence[Plate]) -> None:
    """Raise ParameterError for a plate whose outline crosses itself: nothing can be cut of it."""
    whole = shapely.is_valid([plate.region.shape for plate in plates])
    for plate, is_whole in zip(plates, whole, strict=True):
        if not is_whole:
            raise ParameterError(
                f"The outline of {plate.name} crosses itself with these sizes.",
                hint="Take the last change back, or change the sizes that shape it.",
            )


def outline_changes(
    plates: Sequence[Plate],
    declared: Sequence[JointSpec],
    fit_context: FitContext,
    forgiven: list[Finding] | None = None,
    code: str = "joint",
) -> tuple[list[Joint], dict[str, list[OutlineChange]]]:
    """Return the solved joints, and their changes to each plate's outline, by the plate's name.

    Raises
    ------
    ParameterError
        For an impossible joint, unless there is a list to add it to, as findings of that code.
    """
    by_name = {plate.name: plate for plate in plates}
    joints: list[Joint] = []
    edits: dict[str, list[OutlineChange]] = {plate.name: [] for plate in plates}
    for declaration in declared:
        try:
            joint, changes = declaration.solve(by_name, fit_context)
        except ParameterError as error:
            if forgiven is None:
                raise
            forgiven.append(_forgiven(declaration.id or "Joint", error, code))
            continue
        if joint is not None:
            joints.append(joint)
        for edit in changes:
            edits[edit.piece].append(edit)
    return joints, edits


def _forgiven(where: str, error: ParameterError, code: str = "joint") -> Finding:
    return Finding(code, Severity.PROBLEM, where, error.message, error.hint)


def _cuts_of(
    plate: Plate, edits: Sequence[OutlineChange], openings: Sequence[OutlineChange]
) -> object:
    """Return what tells a plate and its cuts from others; None where not all cuts are straight.

    Plates that are cut alike within a nanometre, as the members of repeats are, are cut once.
    """
    runs = [
        [tool for edit in each for tool in tools(edit)]
        for each in (edits, openings) for tools in (_ADDED, _CUT)
    ]  # fmt: skip
    whole = [tool for run in runs for tool in run]
    if not whole or not all(tool.has_straight_edges for tool in whole):
        return None
    corners = np.concatenate([tool.vertices for tool in whole]).round(9) + 0.0
    sizes = tuple(tuple(len(tool.vertices) for tool in run) for run in runs)
    return plate.region, plate.may_part, sizes, corners.tobytes()


def _cut_with_openings(
    plate: Plate, edits: Sequence[OutlineChange], openings: Sequence[OutlineChange],
    forgiven: list[Finding] | None,
) -> tuple[tuple[Region, ...], bool]:  # fmt: skip
    """Return what is left of a plate, and whether its openings are in it."""
    if openings:
        try:
            whole = _cut(plate, [*edits, *openings], None)
        except ParameterError:
            return _cut(plate, edits, forgiven), False
        return whole, True
    return _cut(plate, edits, forgiven), True


def _parting(plate: str) -> Finding:
    return Finding(
        "opening", Severity.PROBLEM, plate, "its openings would part it, and are left out.",
        "Make them smaller, or move them.",
    )  # fmt: skip


def _cut(
    plate: Plate, edits: Sequence[OutlineChange], forgiven: list[Finding] | None
) -> tuple[Region, ...]:
    """Return what is left of a plate: one region, or several of a plate that may part."""
    added = tuple(contour for edit in edits for contour in edit.add)
    cut = [contour for edit in edits for contour in edit.cut]
    parts = _with_added(plate.region, added)
    if len(parts) == 1:
        parts = combine(parts[0], cut=cut)
    if len(parts) != 1 and not (parts and plate.may_part):
        error = ParameterError(
            f"The joints leave {plate.name} in {len(parts)} parts.",
            hint="Move the slots apart or make the piece larger.",
        )
        if forgiven is None:
            raise error
        forgiven.append(_forgiven(plate.name, error))
        return (plate.region,)
    return tuple(map(without_short_edges, parts)) if plate.may_part else parts


_MOST_ADDED, _A_CORNER = 8_000_000, 500
"""Bytes of plates with their tabs that are kept, and of a corner of them: about 300 measured over
the demos, without what GEOS prepares."""


def _bytes_of(regions: tuple[Region, ...]) -> int:
    return sum(_A_CORNER * region.corner_count for region in regions)


@memo(_bytes_of, _MOST_ADDED)
def _with_added(region: Region, added: tuple[Contour, ...]) -> tuple[Region, ...]:
    """Return a plate with its tabs.

    They do not change when the plate's own sheet is measured again.
    """
    return combine(region, add=added)


def _chord(segment: Segment) -> float:
    """Return the length of the chord: no longer than the segment, and quicker to compute.

    Zero for a circle.
    """
    return hypot(segment.end[0] - segment.start[0], segment.end[1] - segment.start[1])


def _slivers(plate: Plate, name: str, region: Region) -> list[Finding]:
    """Return findings on edges too short to cut that the plate did not have before its joints."""
    short = [
        segment
        for contour in region.contours
        for segment in contour.segments
        if _chord(segment) < SMALLEST and segment.length < SMALLEST
    ]
    if not short:
        return []
    before = {segment for contour in plate.region.contours for segment in contour.segments}
    tiny = [segment for segment in short if segment not in before]
    if not tiny:
        return []
    return [
        Finding(
            "sliver",
            Severity.WARNING,
            name,
            f"{len(tiny)} edge(s) shorter than {plain_measure(SMALLEST)} beside a slot.",
            "Move the slot a little off the corner.",
        )
    ]
