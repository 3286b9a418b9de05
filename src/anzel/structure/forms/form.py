"""The base of all forms: parameters with ranges, plates with joints, and dimension lines.

A form holds the maker's decisions about one structure, so it is an immutable record; everything
else follows from those and the sheets. A form never computes a slot.
"""

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any, ClassVar, Self, cast

from pydantic import Field

from anzel.core.arithmetic import Amount
from anzel.core.asset import Asset
from anzel.core.findings import Finding, ParameterError
from anzel.core.immutable import Immutable
from anzel.core.number_format import least_length, plain_length
from anzel.geometry.placement import Vector
from anzel.materials.fits import FitName
from anzel.structure.artwork.inlays import Inlays, inlays_on
from anzel.structure.artwork.lines import with_artwork
from anzel.structure.artwork.records import MOST_ITEMS, AnyOnPlate
from anzel.structure.dimension import Dimension
from anzel.structure.forms.field_ranges import Range
from anzel.structure.formulas import MOST as MOST_FORMULAS
from anzel.structure.formulas import (
    Formula,
    NamedNumber,
    Quantities,
    WorkedOut,
    scaled_formulas,
    sheet_amounts,
    work_out,
)
from anzel.structure.joints.facet_lap import FacetLap
from anzel.structure.joints.joint_change import JointChange, changed_joints
from anzel.structure.model import NO_SHEETS, Feature, FitContext, JointSpec, Plate, SolvedStructure
from anzel.structure.openings.edge_frame import Edges
from anzel.structure.openings.opening_dimensions import opening_dimensions
from anzel.structure.openings.plate_opening import MOST_OPENINGS, PlateCorner, PlateOpening
from anzel.structure.plate_picture import MOST_PICTURES, PlatePicture

_OWN = frozenset(
    {
        "form",
        "own_fits",
        "own_joints",
        "own_openings",
        "own_corners",
        "own_pictures",
        "own_artwork",
        "own_numbers",
        "own_formulas",
    }
)
"""Fields that every form has."""


class Form(Immutable):
    """Base of all forms.

    Numbers are lengths in mm, but for whole numbers and those named as `shares` or `angles`
    (degrees). `held` lengths fit hardware and stay when the whole is scaled.
    """

    form: str
    own_fits: tuple[tuple[str, FitName], ...] = ()
    """Joints with a fit class of their own, by id; all others have the project's."""
    own_joints: tuple[JointChange, ...] = Field(default=(), max_length=MOST_OPENINGS)
    """What the maker has changed by hand on single joints of a form."""
    own_openings: tuple[PlateOpening, ...] = Field(default=(), max_length=MOST_OPENINGS)
    """Openings that the maker has added to plates."""
    own_corners: tuple[PlateCorner, ...] = Field(default=(), max_length=MOST_OPENINGS)
    """What the maker wishes for the free corners of plates that the form makes."""
    own_pictures: tuple[PlatePicture, ...] = Field(default=(), max_length=MOST_PICTURES)
    """Pictures that lie behind plates."""
    own_artwork: tuple[AnyOnPlate, ...] = Field(default=(), max_length=MOST_ITEMS)
    """Lettering and artwork that lie on plates."""
    own_numbers: tuple[NamedNumber, ...] = Field(default=(), max_length=MOST_FORMULAS)
    """Numbers that the maker has given a name."""
    own_formulas: tuple[Formula, ...] = Field(default=(), max_length=MOST_FORMULAS)
    """Fields that hold a sum instead of a figure."""
    drawn: ClassVar[frozenset[str]] = frozenset()
    """Fields that are drawn or brought in, not typed."""
    places: ClassVar[frozenset[str]] = frozenset()
    """Fields that are a list of lengths."""
    moves_joints: ClassVar[bool] = False
    """Whether single joints can be moved along by hand."""
    has_free_plates: ClassVar[bool] = False
    """Whether the maker places and joins its plates by hand."""
    has_drawings: ClassVar[bool] = False
    """Whether it is made of imported drawings, which do not say what stands where."""
    has_profile_curves: ClassVar[bool] = False
    """Whether the maker draws its profile as curves."""
    has_sliced_body: ClassVar[bool] = False
    """Whether it slices a body, which may be a mesh."""
    collects_errors: ClassVar[bool] = False
    """Whether a joint that cannot be is a finding, not an error."""
    shares: ClassVar[frozenset[str]] = frozenset()
    angles: ClassVar[frozenset[str]] = frozenset()
    held: ClassVar[frozenset[str]] = frozenset()

    @classmethod
    def numbers(cls) -> tuple[str, ...]:
        """Return the names of all numeric parameters, in order."""
        kinds = (int, float)
        return tuple(n for n, field in cls.model_fields.items() if field.annotation in kinds)

    @classmethod
    def typed(cls) -> tuple[str, ...]:
        """Return the names of all parameters that are typed or chosen."""
        return tuple(n for n in cls.model_fields if n not in cls.drawn | _OWN)

    @classmethod
    def lengths(cls) -> tuple[str, ...]:
        """Return the names of those parameters that are lengths."""
        lengths = cls.length_fields()
        return tuple(name for name in cls.numbers() if name in lengths)

    @classmethod
    def length_fields(cls) -> tuple[str, ...]:
        """Return the names of the fields that are lengths."""
        others = cls.shares | cls.angles
        return tuple(name for name in super().length_fields() if name not in others)

    @classmethod
    def is_whole(cls, field: str) -> bool:
        """Whether a field is a whole number."""
        return cls.model_fields[field].annotation is int

    @classmethod
    def unit(cls, field: str) -> str:
        """Return the unit that a parameter is shown in: mm, ° or nothing."""
        if field in cls.lengths():
            return "mm"
        return "°" if field in cls.angles else ""

    def scaled(self, factor: float) -> Self:
        """Return the form and what was added to its plates, larger or smaller.

        Raises
        ------
        ParameterError
            Past a limit.
        """
        openings = tuple(opening.scaled(factor) for opening in self.own_openings)
        pictures = tuple(
            picture.with_changes(
                x=picture.x * factor, y=picture.y * factor, width=picture.width * factor
            )
            for picture in self.own_pictures
        )
        made = self.with_scaled_lengths(factor)
        artwork = tuple(each.scaled(factor) for each in self.own_artwork)
        numbers, formulas = scaled_formulas(
            self.own_numbers, self.own_formulas, self.quantities(NO_SHEETS), factor
        )
        joints = tuple(each.with_changes(moved=each.moved * factor) for each in self.own_joints)
        return made.with_changes(
            own_openings=openings, own_pictures=pictures, own_artwork=artwork,
            own_numbers=numbers, own_formulas=formulas, own_joints=joints,
        )  # fmt: skip

    def with_scaled_lengths(self, factor: float) -> Self:
        """Return the form with all lengths times a factor, except those held.

        Raises
        ------
        ParameterError
            Past a limit.
        """
        moved = {n: getattr(self, n) * factor for n in self.lengths() if n not in self.held}
        return self.with_changes(**moved)

    def stock_roles(self) -> dict[str, str]:
        """Return the fields that name a stock, with the stock of each."""
        raise NotImplementedError

    def with_stocks(self, roles: dict[str, str]) -> Self:
        """Return the form with other stocks for some of the roles.

        Raises
        ------
        ParameterError
        """
        return self.with_changes(**roles)

    def ranges(self, fit_context: FitContext) -> dict[str, Range]:
        """Return for each numeric field the least and greatest value that the others allow."""
        raise NotImplementedError

    def assets(self) -> tuple[Asset, ...]:
        """Return the assets of the form, the pictures behind its plates too."""
        own = (value for value in self.__dict__.values() if isinstance(value, Asset))
        pictures = (picture.file for picture in self.own_pictures)
        return (*own, *pictures, *(file for item in self.own_artwork for file in item.files))

    def unused(self) -> frozenset[str]:
        """Return the fields that have no effect with the present values of the others."""
        return frozenset()

    def quantities(self, fit_context: FitContext) -> Quantities:
        """Return what formulas may refer to."""
        lengths = self.length_fields()
        amounts = {
            name.replace("_", " "): Amount(getattr(self, name), int(name in lengths))
            for name in self.numbers()
        }
        fields = {name.replace("_", " "): name for name in self.numbers()}
        return Quantities({**sheet_amounts(fit_context), **amounts}, fields)

    def sheet_of(self, path: str, fit_context: FitContext) -> float | None:
        """Return the thickness that a formula's `sheet` means, mm; None if it could be several."""
        stocks = set(self.stock_roles().values())
        return fit_context.of(stocks.pop()).measured_thickness if len(stocks) == 1 else None

    def with_number(self, path: str, value: float) -> Self:
        """Return the form with another value of a number that a formula gives.

        Raises
        ------
        ParameterError
            For a value out of range, or a number that is not there.
        """
        if path not in self.numbers():
            raise ParameterError(f"There is no “{path}” here.", hint="Take the formula away.")
        return self.with_changes(**{path: round(value) if self.is_whole(path) else value})

    def worked_out(self, fit_context: FitContext) -> WorkedOut:
        """Return what its named numbers and formulas come to."""
        return work_out(
            self.own_numbers, self.own_formulas, self.quantities(fit_context),
            lambda path: self.sheet_of(path, fit_context),
        )  # fmt: skip

    def settled(self, fit_context: FitContext) -> tuple[Self, dict[str, str]]:
        """Return the form with what its formulas come to, and what is wrong by field or name."""
        if not self.own_formulas and not self.own_numbers:
            return self, {}
        made, troubles = _settled(self, fit_context)
        return cast(Self, made), dict(troubles)

    def place(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return the plates in their places, and the joints between them."""
        raise NotImplementedError

    def fitted(self, fit_context: FitContext) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
        """Return plates and joints, with the fits that joints have of their own."""
        plates, declared, _ = self.laid(fit_context)
        return plates, declared

    def laid(
        self, fit_context: FitContext
    ) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...], Inlays]:
        """Return plates and joints as fitted, and the inlays whose inserts are among the plates."""
        plates, declared = self.place(fit_context)
        inlays = inlays_on(plates, self.own_artwork, self.edges_of, fit_context)
        if self.own_artwork:
            plates = with_artwork(plates, self.own_artwork, self.edges_of, fit_context)
            plates = (*plates, *inlays.inserts)
        fits = dict(self.own_fits)
        own = tuple(with_fit(each, fits) for each in declared) if fits else declared
        changes = {change.joint: change for change in self.own_joints}
        own = changed_joints(own, changes) if changes else own
        return plates, own, inlays

    def with_joint_fit(self, joint_id: str, fit: FitName | None) -> Self:
        """Return the form with a fit of its own for one joint, or with the project's again."""
        if any(each.id == joint_id.partition(" ")[0] for each in self.own_openings):
            return self.with_opening(joint_id.partition(" ")[0], fit=fit)
        others = tuple(each for each in self.own_fits if each[0] != joint_id)
        own = ((joint_id, fit),) if fit is not None else ()
        return self.with_changes(own_fits=(*others, *own))

    def with_opening(self, opening_id: str, **changes: Any) -> Self:  # noqa: ANN401
        """Return the form with some numbers of an added opening changed.

        Raises
        ------
        ParameterError
            Naming the field at fault.
        """
        openings = tuple(
            each.with_changes(**changes) if each.id == opening_id else each
            for each in self.own_openings
        )
        return self.with_changes(own_openings=openings)

    def edges_of(self, plate: str) -> Edges:
        """Return the edges of a plate that have names of their own."""
        return {}

    def declared(self) -> dict[str, tuple[str, ...]]:
        """Return the plates of the maker's own joints by id.

        The joints of a form are not the maker's own.
        """
        return {}

    def joint_fields(self, joint_id: str) -> tuple[str, ...]:
        """Return the fields that shape one joint; all other numbers shape the form."""
        raise NotImplementedError

    def dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Return the sizes to show on the flat pieces."""
        raise NotImplementedError

    def all_dimensions(self, fit_context: FitContext) -> tuple[Dimension, ...]:
        """Return its sizes, and those of the openings added to its plates."""
        found = list(self.dimensions(fit_context))
        plates = self.fitted(fit_context)[0] if self.own_openings else ()
        for plate in plates:
            openings = [each for each in self.own_openings if each.plate == plate.name]
            if openings:
                found += opening_dimensions(plate, openings, self.edges_of(plate.name))
        return tuple(found)

    def drawn_features(self, fit_context: FitContext) -> dict[str, tuple[Feature, ...]]:
        """Return features by piece that a drawing has, not a joint."""
        return {}

    def bulb(self, fit_context: FitContext) -> Vector | None:
        """Return the position of a lamp's bulb; None for a structure without one."""
        return None

    def noticed(self, solved: SolvedStructure, fit_context: FitContext) -> tuple[Finding, ...]:
        """Return findings about the structure as a whole."""
        return ()


def with_fit(joint_spec: JointSpec, fits: Mapping[str, FitName]) -> JointSpec:
    """Return a joint with its own fit, if it is among those that have one."""
    if isinstance(joint_spec, FacetLap):
        return replace(joint_spec, lap=with_fit(joint_spec.lap, fits))
    fit = fits.get(joint_spec.id)
    return joint_spec if fit is None else replace(joint_spec, fit=fit)  # type: ignore[type-var]


def need_pitch(pitch: float, least: float) -> None:
    """Raise ParameterError for a pitch that would put plates into one another; 0 is even."""
    if 0 < pitch < least:
        raise ParameterError(
            f"Pitch {plain_length(pitch)} is less than two sheets need.",
            hint=f"Use {least_length(least)} or more, or 0 to spread them evenly.",
            field="pitch",
        )


@lru_cache(maxsize=16)  # the present form and the last few of undo; every field asks for it
def _settled(form: Form, fit_context: FitContext) -> tuple[Form, Mapping[str, str]]:
    """Return a form with what its formulas come to, and what is wrong by field or name."""
    found, made = form.worked_out(fit_context), form
    troubles = dict(found.troubles)
    for path, value in found.values.items():
        try:
            made = made.with_number(path, value)
        except ParameterError as error:
            troubles[path] = str(error)
    return made, troubles
