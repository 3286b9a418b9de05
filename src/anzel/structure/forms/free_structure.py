"""Free structure: plates of any outline where the maker put them, and the joints accepted there.

Any form becomes a free structure when its maker wants to continue by hand. A joint that cannot be
made, because a plate has been moved away, is a finding and does not stop the others.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from types import MappingProxyType
from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from anzel.core.findings import Finding, GeometryError, ParameterError, Severity
from anzel.geometry.offset import offset
from anzel.geometry.placement import Vector
from anzel.geometry.regions import Region
from anzel.materials.fits import FitName
from anzel.shape.outline_building import straight_legs
from anzel.structure.artwork.bending import hinged_plates
from anzel.structure.artwork.lines_as_file import lines_as_artwork
from anzel.structure.artwork.records import AnyOnPlate, OnPlate, new_id
from anzel.structure.dimension import Dimension
from anzel.structure.forms.field_ranges import Range
from anzel.structure.forms.form import Form
from anzel.structure.formulas import Quantities
from anzel.structure.free import numbers
from anzel.structure.free.edge_adjustment import brought_to
from anzel.structure.free.expansion import expanded, joint_places
from anzel.structure.free.outline_shapes import ImportedOutline, Rectangle, SketchedOutline
from anzel.structure.free.plate import FreePlate
from anzel.structure.free.sketch_dimensions import sketch_dimensions
from anzel.structure.joints.corner_lap import CornerLap
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.registry import AnyJoint, joint_with_changes, plates_of, scaled_joint
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.line_work import LineWish
from anzel.structure.model import FitContext, JointSpec, Plate, SolvedStructure
from anzel.structure.openings.edge_frame import Edges
from anzel.structure.relations.records import PlateRepeat, Relation
from anzel.structure.relations.repeats import members_of
from anzel.structure.solver import need_simple

MOST_PLATES = 400


def _pot_shelf() -> tuple[FreePlate, ...]:
    """Return a shelf between two ends with a rail across, to begin with."""
    end = Rectangle(width=110, height=140, rounding=14)
    return (
        FreePlate(name="Left end", stock="ply-3", outline=end, x=-100, z=70, turn=90, tilt=90),
        FreePlate(name="Right end", stock="ply-3", outline=end, x=100, z=70, turn=90, tilt=90),
        FreePlate(
            name="Shelf", stock="ply-3", outline=Rectangle(width=197, height=104), z=62
        ),
        FreePlate(
            name="Rail", stock="ply-3", outline=Rectangle(width=170, height=44), y=30, z=70,
            tilt=90,
        ),
    )  # fmt: skip


def _pot_shelf_joints() -> tuple[AnyJoint, ...]:
    tabs = ((-30.0, 22.0), (30.0, 22.0))
    return (
        TabMortise("J1", "Shelf", "Left end", tabs),
        TabMortise("J2", "Shelf", "Right end", tabs),
        CrossLap("J3", "Shelf", "Rail", up=(0.0, 0.0, 1.0)),
    )


class FreeStructure(Form):
    """Plates and the joints declared between them.

    Relations place plates by others and repeats set them several times; what is free of a plate
    stands at its numbers. `lamp` is where a bulb is, mm.
    """

    form: Literal["free"] = "free"
    drawn: ClassVar[frozenset[str]] = frozenset(
        {"plates", "joints", "relations", "repeats", "lamp"}
    )
    has_free_plates: ClassVar[bool] = True
    collects_errors: ClassVar[bool] = True
    plates: tuple[FreePlate, ...] = Field(
        default_factory=_pot_shelf, min_length=1, max_length=MOST_PLATES
    )
    joints: tuple[AnyJoint, ...] = Field(
        default_factory=_pot_shelf_joints, max_length=50 * MOST_PLATES
    )
    relations: tuple[Relation, ...] = Field(default=(), max_length=6 * MOST_PLATES)
    repeats: tuple[PlateRepeat, ...] = Field(default=(), max_length=MOST_PLATES)
    lamp: Vector | None = None

    @model_validator(mode="after")
    def _names_agree(self) -> Self:
        names = [plate.name for plate in self.plates]
        if len(set(names)) < len(names):
            raise ValueError("two plates have the same name")
        members = members_of(self.repeats)
        records = (self.joints, self.relations, self.repeats)
        for what, items in zip(("joints", "relations", "repeats"), records, strict=True):
            ids = [item.id for item in items if item.id]
            if len(set(ids)) < len(ids):
                raise ValueError(f"two {what} have the same id")
        for joint in self.joints:
            for name in plates_of(joint):
                if name not in names and not _may_be_member(name, self.repeats):
                    raise ValueError(f"a joint names the plate “{name}”, which is not there")
        for repeat in self.repeats:
            for name in repeat.members:
                if name not in names or members[name].number > 1:
                    raise ValueError(f"{repeat.id} repeats “{name}”, which cannot be repeated")
        for relation in self.relations:
            if relation.side.plate not in names:
                raise ValueError(
                    f"{relation.id} places “{relation.side.plate}”, which is not there"
                )
        return self

    def stock_roles(self) -> dict[str, str]:
        """Return each plate's stock, by the plate's name."""
        return {plate.name: plate.stock for plate in self.plates}

    def with_stocks(self, roles: dict[str, str]) -> Self:
        """Return the structure with some plates cut from other stocks."""
        plates = [p.with_changes(stock=roles.get(p.name, p.stock)) for p in self.plates]
        return self.with_changes(plates=tuple(plates))

    def declared(self) -> dict[str, tuple[str, ...]]:
        """Return the plates of every joint, whether it can be made or not."""
        return {
            joint_id: plates
            for _, joint_id, plates in joint_places(self, members_of(self.repeats)) if joint_id
        }  # fmt: skip

    def with_joint(self, joint_id: str, **changes: Any) -> Self:  # noqa: ANN401
        """Return the structure with one joint's own numbers changed.

        Raises
        ------
        ParameterError
            For one out of reason.
        """
        try:
            joints = [
                joint_with_changes(j, **changes) if j.id == joint_id else j for j in self.joints
            ]
        except ValueError as error:
            raise ParameterError(str(error), field=next(iter(changes), "")) from error
        return self.with_changes(joints=tuple(joints))

    def with_joint_fit(self, joint_id: str, fit: FitName | None) -> Self:
        """Return the structure with a joint's own fit, or the project's again."""
        return self.with_joint(joint_id, fit=fit)

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Return no ranges, because no field depends on another."""
        return {}

    def quantities(self, fit_context: FitContext) -> Quantities:
        """Return what formulas may refer to: the plates' sizes and the sheets' thicknesses."""
        return numbers.quantities_of(self, fit_context)

    def sheet_of(self, path: str, fit_context: FitContext) -> float | None:
        """Return the thickness of the sheet of the plate that a number belongs to, mm."""
        return numbers.sheet_at(self, path, fit_context)

    def with_number(self, path: str, value: float) -> Self:
        """Return the structure with another value of a number that a formula gives.

        Raises
        ------
        ParameterError
            For a value out of range, or a number that is not there.
        """
        return numbers.with_number(self, path, value)

    def with_scaled_lengths(self, factor: float) -> Self:
        """Return the structure larger or smaller; round holes for hardware are held."""
        return self.with_changes(
            plates=tuple(plate.scaled(factor) for plate in self.plates),
            joints=tuple(scaled_joint(joint, factor) for joint in self.joints),
            relations=tuple(each.scaled(factor) for each in self.relations),
            repeats=tuple(each.scaled(factor) for each in self.repeats),
            lamp=None if self.lamp is None else tuple(each * factor for each in self.lamp),
        )

    def edges_of(self, plate: str) -> Edges:
        """Return the legs of a drawn plate."""
        outlines = (each.outline for each in self.plates if each.name == plate)
        return {
            name: ends for outline in outlines if isinstance(outline, SketchedOutline)
            for name, ends in straight_legs(outline.sketch).items()
        }  # fmt: skip

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return the plates, their edges brought to where joints want them, and the joints."""
        whole = expanded(self, fit_context)
        placed = placed_plates(
            whole.plates, whole.joints, fit_context, self.own_artwork, whole.likes
        )
        return tuple(placed.values()), whole.joints

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Return the sizes of drawn plates."""
        return tuple(
            dimension for plate in self.plates if isinstance(plate.outline, SketchedOutline)
            for dimension in sketch_dimensions(plate.name, plate.outline.sketch)
        )  # fmt: skip

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return no fields: a joint's numbers are its own, not the form's."""
        return ()

    def bulb(self, fit_context: FitContext) -> Vector | None:
        """Return the bulb of the form that it came from."""
        return self.lamp

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return findings on plates that nothing holds."""
        whole = expanded(self, fit_context)
        held = {name for joint in whole.joints for name in plates_of(joint)}
        several = len(whole.plates) > 1  # a single plate is a piece of its own
        loose = [plate.name for plate in whole.plates if several and plate.name not in held]
        return whole.findings() + tuple(
            Finding(
                "loose-plate", Severity.NOTE, name, "joined to nothing.",
                "Move it to where it meets another plate, and join them.",
            )
            for name in loose
        )  # fmt: skip


def placed_plates(
    plates: Sequence[FreePlate], joints: Sequence[AnyJoint], fit_context: FitContext,
    artwork: Sequence[OnPlate] = (), likes: Mapping[str, str] = MappingProxyType({}),
) -> dict[str, Plate]:  # fmt: skip
    """Return the plates by name as the solver needs them.

    Their edges are where tabs and fingers need them, but for those at plates with hinges among
    their `artwork`, which do not stand flat. Members of repeats are `likes` of others, by name.

    Raises
    ------
    ParameterError
        For an invalid outline.
    """
    made = {
        plate.name: Plate(
            plate.name, plate.stock, plate.outline.region(), plate.placement, plate.mark,
            plate.may_part, bends=plate.bends, like=likes.get(plate.name, ""),
        )
        for plate in plates
    }  # fmt: skip
    hinged = hinged_plates(tuple(made.values()), artwork)
    for joint in joints:
        if not hinged.isdisjoint(plates_of(joint)):
            continue
        if isinstance(joint, TabMortise):
            _bring(made, joint.tabbed, joint.mortised, -1.0, fit_context)
            if joint.beyond is not None:
                _bring(made, joint.mortised, joint.tabbed, 1.0, fit_context, joint.beyond)
        elif isinstance(joint, CornerLap):
            for own, mate in (
                (joint.from_above, joint.from_below), (joint.from_below, joint.from_above),
            ):  # fmt: skip
                _bring(made, own, mate, 1.0, fit_context, joint.beyond)
        elif isinstance(joint, FingerCorner):
            _bring(made, joint.first, joint.second, 1.0, fit_context)
            _bring(made, joint.second, joint.first, 1.0, fit_context)
    for plate in plates:
        if plate.true_size:
            made[plate.name] = in_true_size(made[plate.name], fit_context)
    return made


def in_true_size(plate: Plate, fit_context: FitContext) -> Plate:
    """Return a plate drawn larger, so that its outline is as it should when it is cut.

    Raises
    ------
    ParameterError
        For an outline that has no exact parallel.
    """
    outset = fit_context.rule(plate.stock_id).drawn_kerf / 2
    if outset == 0:
        return plate
    try:
        outer = offset(plate.region.outer, outset)
    except GeometryError as error:
        raise ParameterError(
            f"The outline of {plate.name} cannot be made larger by the kerf exactly.",
            hint="Let it come out as drawn.", field="true_size",
        ) from error  # fmt: skip
    return replace(plate, region=Region.of(outer, plate.region.holes), outset=outset)


def _may_be_member(name: str, repeats: Sequence[PlateRepeat]) -> bool:
    """Return whether a name is that of a member of a repeat, be its count now too small for it."""
    base, _, number = name.rpartition(" ")
    return number.isdigit() and any(base in repeat.members for repeat in repeats)


def _bring(
    made: dict[str, Plate], name: str, mate_name: str, side: float, fit_context: FitContext,
    beyond: float = 0.0,
) -> None:  # fmt: skip
    """Move one plate's edge to the near (-1) or the far (1) face of its mate, or beyond it."""
    plate, mate = made.get(name), made.get(mate_name)
    if plate is not None and mate is not None:
        made[name] = replace(plate, region=brought_to(plate, mate, side, fit_context, beyond))


def to_free_structure(form: Form, fit_context: FitContext) -> FreeStructure:
    """Return any form as a free structure: the same plates in the same places with the same joints.

    Raises
    ------
    ParameterError
        For a form with a bent strip, which no placing by hand could hold, and for one whose plates
        cross themselves.
    """
    form, _ = form.settled(fit_context)
    plates, declared = form.place(fit_context)[0], form.fitted(fit_context)[1]
    need_simple(plates)
    bent = next((plate.name for plate in plates if plate.bent), None)
    if bent is not None:
        raise ParameterError(
            f"{bent} hangs bent and cannot be placed by hand.", hint="Hang rings instead."
        )
    return FreeStructure(
        plates=tuple(
            FreePlate(
                name=plate.name, stock=plate.stock_id,
                outline=ImportedOutline(outline=plate.region),
                mark=plate.mark, may_part=plate.may_part, bends=plate.bends,
            ).placed(plate.placement)
            for plate in plates
        ),
        joints=tuple(declared),
        own_openings=form.own_openings, own_corners=form.own_corners,
        own_pictures=form.own_pictures, own_artwork=_with_drawn(plates, form),
        lamp=form.bulb(fit_context),
    )  # fmt: skip


def _with_drawn(plates: Sequence[Plate], form: Form) -> tuple[AnyOnPlate, ...]:
    """Return what lies on plates, with the lines that those of a drawing carry as artwork."""
    items = form.own_artwork
    for plate in plates:
        if plate.lines:
            lines = [
                (line.operation.value, line.path, LineWish(line.operation.value))
                for line in plate.lines
            ]
            items = (*items, lines_as_artwork(new_id(items), plate.name, plate.region, lines))
    return items
