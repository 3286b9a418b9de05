"""Lettering, artwork and hinges on plates: as lines that lie on them."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from typing import TypeVar

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.structure.artwork.drawn import drawn_by
from anzel.structure.artwork.hinge import planned, slits_of
from anzel.structure.artwork.places import middle_of, motions_of, to_back
from anzel.structure.artwork.records import (
    Face,
    OnPlate,
    PlateArtwork,
    PlateHinge,
    PlateImage,
    PlateInlay,
    PlateLettering,
)
from anzel.structure.engraved_picture import EngravedPicture
from anzel.structure.line_work import LineOperation, PlateLine
from anzel.structure.model import FitContext, Plate
from anzel.structure.openings.alike import plates_of
from anzel.structure.openings.edge_frame import Edges
from anzel.tracing.picture import size_of_picture

Lying = TypeVar("Lying", PlateLine, EngravedPicture)
_GONE = ParameterError(
    "its plate is no more.", hint="Take it off, or bring the plate back.", field="plate"
)


def with_artwork(
    plates: Sequence[Plate], items: Iterable[OnPlate], edges_of: Callable[[str], Edges],
    fit_context: FitContext,
) -> tuple[Plate, ...]:  # fmt: skip
    """Return the plates with the lines of what lies on them; what cannot lie there waits."""
    lines: dict[str, list[PlateLine]] = {plate.name: [] for plate in plates}
    pictures: dict[str, list[EngravedPicture]] = {plate.name: [] for plate in plates}
    by_name = {plate.name: plate for plate in plates}
    for item in items:
        for name in plates_of(plates, item):
            if name in by_name and fault_of(item, by_name[name], edges_of(name)) is None:
                own = _lines_of(item, by_name[name], edges_of(name), fit_context)
                lines[name] += on_face(own, item, by_name[name].region)
                drawn = _pictures_of(item, by_name[name], edges_of(name))
                pictures[name] += on_face(drawn, item, by_name[name].region)
    return tuple(
        replace(
            plate, lines=(*plate.lines, *lines[plate.name]),
            pictures=(*plate.pictures, *pictures[plate.name]),
        ) if lines[plate.name] or pictures[plate.name] else plate
        for plate in plates
    )  # fmt: skip


def on_face(drawn: Sequence[Lying], item: OnPlate, region: Region) -> list[Lying]:
    """Return what an item draws on its face; the back is placed as seen from there."""
    if item.face is Face.FRONT:
        return list(drawn)
    return [replace(each.moved(to_back(region)), is_back=True) for each in drawn]


def _pictures_of(item: OnPlate, plate: Plate, edges: Edges) -> list[EngravedPicture]:
    if not isinstance(item, PlateImage):
        return []
    size = size_of_picture(item.file)
    height = item.width * size.height / size.width
    return [
        EngravedPicture(item.file, item.width, height, motion, item.spacing)
        for motion in motions_of(item, plate.region, edges)
    ]


def waiting_artwork(
    plates: Sequence[Plate], items: Iterable[OnPlate], edges_of: Callable[[str], Edges]
) -> list[Finding]:
    """Return a finding for each item that cannot lie on one of its plates as they are now."""
    by_name = {plate.name: plate for plate in plates}
    faults = [
        (item, name, fault_of(item, by_name[name], edges_of(name)) if name in by_name else _GONE)
        for item in items for name in plates_of(plates, item)
    ]  # fmt: skip
    return [
        Finding(
            "artwork", Severity.PROBLEM, name, f"{item.id} is left out: {fault.message}", fault.hint
        )
        for item, name, fault in faults if fault is not None
    ]  # fmt: skip


def fault_of(item: OnPlate, plate: Plate, edges: Edges) -> ParameterError | None:
    """Return why an item cannot lie on a plate; None where it can."""
    try:
        if isinstance(item, PlateLettering | PlateArtwork):
            drawn_by(item)
        motions_of(item, plate.region, edges)
    except ParameterError as fault:
        return fault
    return None


def _lines_of(
    item: OnPlate, plate: Plate, edges: Edges, fit_context: FitContext
) -> list[PlateLine]:  # fmt: skip
    """Return the lines of one item on a plate, in the plate's coordinates."""
    if isinstance(item, PlateInlay | PlateImage):
        return []
    if isinstance(item, PlateHinge):
        lines = _slits(item, plate, middle_of(plate.region), fit_context)
    else:
        lines = drawn_by(item).lines
    if not lines:
        return []
    motions = motions_of(item, plate.region, edges)
    return [line.moved(motion) for motion in motions for line in lines]


def _slits(
    item: PlateHinge, plate: Plate, middle: Point, fit_context: FitContext
) -> tuple[PlateLine, ...]:
    sheet = fit_context.of(plate.stock_id)
    there = RigidTransform().translated(-middle[0] - item.x, -middle[1] - item.y)
    outer = plate.region.outer.moved(there).moved(RigidTransform.rotation(-item.turn))
    _, low, _, top = outer.bounds
    plan = planned(item, sheet.measured_thickness, sheet.kerf)
    return tuple(PlateLine(slit, LineOperation.CUT) for slit in slits_of(plan, item, low, top))
