"""Edits of lettering, artwork, inlays and living hinges that lie on plates.

Each is a function from one Project to the next and raises MakerError naming what is at fault.
"""

from math import inf
from pathlib import Path
from typing import Any

from anzel.app.edits import opening_edits
from anzel.app.edits.record_numbers import typed_value
from anzel.core.asset import Asset
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure
from anzel.drawings.model import label_named
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.storage.atomic_file import FileError, read_whole
from anzel.structure.artwork.drawn import artwork_file, wish_for
from anzel.structure.artwork.hinge import HingePlan, planned
from anzel.structure.artwork.lines import fault_of
from anzel.structure.artwork.motifs import motif_file
from anzel.structure.artwork.records import (
    AnyOnPlate,
    LetterStyle,
    PlateArtwork,
    PlateHinge,
    PlateImage,
    PlateInlay,
    PlateLettering,
    Repeated,
    new_id,
)  # fmt: skip
from anzel.structure.line_work import LineWish
from anzel.tracing.picture import size_of_picture

_LARGEST = 64 * 1024 * 1024
_SHARE = 0.6
"""Artwork comes in this share of its plate's width."""


def items_on(project: Project, plate: str) -> tuple[AnyOnPlate, ...]:
    """Return what lies on a plate, what is for all alike plates too."""
    return tuple(
        item for item in project.structure.own_artwork if opening_edits.is_for(project, item, plate)
    )


def item_of(project: Project, item_id: str) -> AnyOnPlate:
    """Return the item of that id.

    Raises ParameterError listing the known ones.
    """
    for item in project.structure.own_artwork:
        if item.id == item_id:
            return item
    known = ", ".join(item.id for item in project.structure.own_artwork) or "none"
    raise ParameterError(f"Nothing is called “{item_id}”.", hint=f"There are: {known}.")


def add_lettering(project: Project, plate: str, text: str) -> tuple[Project, str]:
    """Return the project with lettering in the middle of a plate, and its id."""
    width = opening_edits.region_of_plate(project, plate).size[0]
    height = round(min(max(_SHARE * width / max(len(text), 1), 2.0), 12.0), 1)
    item = PlateLettering.validated(id=_new_id(project), plate=plate, text=text, height=height)
    return _with(project, item), item.id


def add_artwork(project: Project, plate: str, path: Path) -> tuple[Project, str]:
    """Return the project with the lines of a file in the middle of a plate, and their id.

    Raises FileError or DrawingError for a file that holds none. What becomes of each label is as it
    was decided before in this project.
    """
    file = _asset(path, "artwork")
    labels = artwork_file(file).labels
    wishes = tuple(pair for pair in _decided(project).items() if pair[0] in labels)
    item = PlateArtwork.validated(
        id=_new_id(project), plate=plate, file=file, width=_width(project, plate), wishes=wishes
    )
    return _with(project, item), item.id


def add_picture(project: Project, plate: str, path: Path) -> tuple[Project, str]:
    """Return the project with a PNG or JPEG picture engraved on a plate, and its id.

    Raises FileError, or PictureError for a file that holds no picture.
    """
    file = _read(path, "a picture")
    size_of_picture(file)
    item = PlateImage.validated(
        id=_new_id(project), plate=plate, file=file, width=_width(project, plate)
    )
    return _with(project, item), item.id


def add_motif(project: Project, plate: str, motif: str) -> tuple[Project, str]:
    """Return the project with one of our motifs along the border of a plate, cut out, and its id.

    Raises ParameterError listing the motifs.
    """
    file = motif_file(motif)
    drawn = artwork_file(file)
    size = max(min(opening_edits.region_of_plate(project, plate).size) / 12, 3.0)
    scale = size / max(drawn.width, drawn.height)
    item = PlateArtwork.validated(
        id=_new_id(project), plate=plate, file=file, width=round(drawn.width * scale, 1),
        repeated=Repeated.BORDER, pitch=round(1.5 * drawn.width * scale + 2, 1),
        inset=round(0.5 * drawn.height * scale + 4, 1), keep_off=round(size / 3, 1),
        wishes=tuple((label, LineWish.CUT) for label in drawn.labels),
    )  # fmt: skip
    return _with(project, item), item.id


def add_inlay(project: Project, plate: str, path: Path) -> tuple[Project, str]:
    """Return the project with the closed lines of a file inlaid in a plate, and the inlay's id.

    Each label is of another sheet than the plate's where there is one; the maker changes that.
    Raises FileError or DrawingError for a file that holds no line.
    """
    file = _asset(path, "an inlay")
    own = opening_edits.stock_of(project, plate)
    others = [stock.id for stock in project.stocks if stock.id != own] or [own]
    labels = artwork_file(file).labels
    stocks = tuple((label, others[at % len(others)]) for at, label in enumerate(labels))
    item = PlateInlay.validated(
        id=_new_id(project), plate=plate, file=file, width=_width(project, plate), stocks=stocks
    )
    return _with(project, item), item.id


def _asset(path: Path, use: str) -> Asset:
    """Return a file with lines for artwork or an inlay."""
    file = _read(path, use)
    artwork_file(file)
    return file


def _read(path: Path, use: str) -> Asset:
    too_large = FileError(f"{path.name} is far too large for {use}.")
    return Asset.of(path.name[-120:], read_whole(path, _LARGEST, too_large))


def _width(project: Project, plate: str) -> float:
    return round(_SHARE * opening_edits.region_of_plate(project, plate).size[0], 1)


def _decided(project: Project) -> dict[str, LineWish]:
    """Return what the maker has decided of labels of artwork, the last decision first."""
    return {
        label: wish for item in project.structure.own_artwork if isinstance(item, PlateArtwork)
        for label, wish in item.wishes
    }  # fmt: skip


def use_font(project: Project, item_id: str, path: Path | None) -> Project:
    """Return the project with lettering drawn by a font file; None is the typeface of Anzel.

    Raises FileError, or ParameterError for a file that is no font or has not all the letters.
    """
    font = None if path is None else _read(path, "a font")
    return change_item(project, item_id, font=font, style=LetterStyle.OUTLINES)


def choose_stock(project: Project, item_id: str, label: str, stock_id: str) -> Project:
    """Return the project with another sheet for one label of an inlay.

    Raises ParameterError for an unknown label or stock.
    """
    item = item_of(project, item_id)
    if not isinstance(item, PlateInlay):
        raise ParameterError(f"{item_id} is no inlay.", field="label")
    label = _label(item, label)
    project.stock(stock_id)
    others = tuple(pair for pair in item.stocks if pair[0] != label)
    return change_item(project, item_id, stocks=(*others, (label, stock_id)))


def _label(item: PlateArtwork | PlateInlay, named: str) -> str:
    """Return the label of an item's file that is named, in full or in words."""
    if (label := label_named(artwork_file(item.file).labels, named)) is not None:
        return label
    raise ParameterError(f"No line of {item.id} is “{named}”.", field="label")


def stocks_of(project: Project, item: PlateInlay) -> dict[str, str]:
    """Return the stock of each label of an inlay."""
    own = opening_edits.stock_of(project, item.plate)
    chosen = dict(item.stocks)
    return {label: chosen.get(label, own) for label in artwork_file(item.file).labels}


def add_hinge(project: Project, plate: str) -> tuple[Project, str]:
    """Return the project with a living hinge across the middle of a plate, and its id."""
    opening_edits.region_of_plate(project, plate)
    item = PlateHinge.validated(id=_new_id(project), plate=plate)
    return _with(project, item), item.id


def hinge_plan(project: Project, item: PlateHinge) -> HingePlan | None:
    """Return the hinge as it is for the sheet of its plate; None where that plate is no more."""
    for piece in solved_structure_of(project).pieces:
        if piece.name == item.plate:
            sheet = fit_context_of(project).of(piece.stock_id)
            return planned(item, sheet.measured_thickness, sheet.kerf)
    return None


def hinge_words(plan: HingePlan | None) -> str:
    """Return what a maker should know of a hinge."""
    if plan is None:
        return "Its plate is no more."
    radius = format_measure(plan.narrowest_radius, 1)
    narrowest = (
        f"The narrowest inner radius with these slits is {radius}."
        if plan.narrowest_radius < inf else "No radius is wide enough for these slits."
    )  # fmt: skip
    fault = "" if plan.holds else "Its links would twist too far: make the slits longer. "
    return (
        f"{plan.links + 1} rows of slits over {format_measure(plan.developed)}; links "
        f"{format_measure(plan.link_width)} wide, strained {100 * plan.strain:.2f} %. "
        f"{fault}{narrowest} "
        "Strains that a sheet bears are common practice only, so cut a strip first."
    )


def change_item(project: Project, item_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with an item changed.

    Raises ParameterError where it cannot lie on its plate so.
    """
    changed = item_of(project, item_id).with_changes(**changes)
    items = tuple(changed if item.id == item_id else item for item in project.structure.own_artwork)
    return _checked(project, items, item_id)


def type_item(project: Project, item_id: str, field: str, text: str) -> Project:
    """Return the project with one number of an item from typed text."""
    item = item_of(project, item_id)
    if field not in item.numbers:
        known = ", ".join(item.numbers)
        raise ParameterError(f"{item_id} has no “{field}”.", hint=f"It has: {known}.")
    return change_item(project, item_id, **{field: typed_value(text, field)})


def decide_label(project: Project, item_id: str, label: str, wish: LineWish) -> Project:
    """Return the project with what becomes of the lines of one label of artwork.

    Raises ParameterError for lettering, and for a label that no line has.
    """
    item = item_of(project, item_id)
    if not isinstance(item, PlateArtwork):
        raise ParameterError(f"No line of {item_id} is “{label}”.", field="label")
    label = _label(item, label)
    others = tuple(pair for pair in item.wishes if pair[0] != label)
    return change_item(project, item_id, wishes=(*others, (label, wish)))


def wishes_of(item: PlateArtwork) -> dict[str, LineWish]:
    """Return what becomes of each label of artwork."""
    return {label: wish_for(item, label) for label in artwork_file(item.file).labels}


def remove_item(project: Project, item_id: str) -> Project:
    """Return the project without an item."""
    gone = item_of(project, item_id)
    return _checked(project, tuple(i for i in project.structure.own_artwork if i is not gone))


def _new_id(project: Project) -> str:
    return new_id(project.structure.own_artwork)


def _with(project: Project, item: AnyOnPlate) -> Project:
    return _checked(project, (*project.structure.own_artwork, item), item.id)


def _checked(
    project: Project, items: tuple[AnyOnPlate, ...], changed: str | None = None
) -> Project:  # fmt: skip
    structure = project.structure.with_changes(own_artwork=items)
    made = project.with_changes(structure=structure)
    solved_structure_of(made)
    plates = {plate.name: plate for plate in opening_edits.fitted_plates(made)}
    for item in items:
        if item.id != changed or item.plate not in plates:
            continue
        fault = fault_of(item, plates[item.plate], made.structure.edges_of(item.plate))
        if fault is not None:
            raise fault
    return made
