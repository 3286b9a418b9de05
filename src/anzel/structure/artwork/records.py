"""The records of what lies on a plate: lettering, artwork, inlays and living hinges.

All are placed by the middle of the plate's outline and turned there; each is on one plate or on
all plates that are alike.
"""

from collections.abc import Iterable
from enum import StrEnum
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from anzel.core.asset import Asset
from anzel.core.immutable import Immutable
from anzel.materials.fits import FitName
from anzel.structure.line_work import SPACING, LineWish

Coordinate = Annotated[float, Field(ge=-5000, le=5000)]
MOST_ITEMS, MOST_REPEATED = 200, 1000
LEAST_PITCH = 0.5
"""Round a border items stand no nearer than this, mm."""
Gap = Annotated[float, Field(ge=-2, le=20)]


class Repeated(StrEnum):
    """How an item is repeated on its plate."""

    ONCE = "once"
    ROW = "in a row"
    GRID = "in a grid"
    RING = "in a ring"
    EDGE = "along an edge"
    BORDER = "round the border"


_REPEAT_NUMBERS = {
    Repeated.ONCE: (), Repeated.ROW: ("count", "pitch"),
    Repeated.GRID: ("count", "rows", "pitch", "row_pitch"), Repeated.RING: ("count",),
    Repeated.EDGE: ("count", "pitch", "inset"), Repeated.BORDER: ("pitch", "inset"),
}  # fmt: skip
_AT_EDGE = (Repeated.EDGE, Repeated.BORDER)


class Face(StrEnum):
    """The face of its plate that something lies on."""

    FRONT = "front"
    BACK = "back"


class OnPlate(Immutable):
    """What all that lies on a plate has in common; (x, y) is from the outline's middle, mm.

    A row or grid lies evenly about (x, y), along the item's own direction; a ring turns the item
    about the outline's middle. Along an edge or round the border it stands `inset` mm inwards, its
    foot to the edge, and the pitch gives way so that a whole number fits between corners. Where it
    `keeps off` joints it ends, or is not cut, so near to them, mm. On the back face all that is as
    seen from there.
    """

    other_numbers: ClassVar[frozenset[str]] = frozenset({"turn", "bend_angle", "allowed_strain"})
    own_numbers: ClassVar[tuple[str, ...]] = ()
    scaled_numbers: ClassVar[tuple[str, ...]] = ()
    """Its own lengths that grow with the plate."""
    id: str = Field(pattern=r"^L[1-9][0-9]{0,5}$")
    plate: str = Field(min_length=1, max_length=60)
    alike: bool = False
    face: Face = Face.FRONT
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    turn: float = Field(default=0.0, ge=-360, le=360)
    repeated: Repeated = Repeated.ONCE
    count: int = Field(default=3, ge=1, le=200)
    rows: int = Field(default=2, ge=1, le=200)
    pitch: float = Field(default=20.0, ge=-5000, le=5000)
    row_pitch: float = Field(default=20.0, ge=-5000, le=5000)
    edge: str = Field(default="bottom", min_length=1, max_length=40)
    inset: float = Field(default=8.0, ge=-5000, le=5000)
    keep_off: float = Field(default=0.0, ge=0, le=1000)

    @property
    def numbers(self) -> tuple[str, ...]:
        """The names of the numbers that shape, place and repeat it."""
        own = self.own_numbers
        if self.repeated in _AT_EDGE:
            own = tuple(name for name in own if name not in ("x", "y"))
        return (*own, *self._more_numbers, *_REPEAT_NUMBERS[self.repeated], "keep_off")

    @property
    def files(self) -> tuple[Asset, ...]:
        """The files that it is drawn from."""
        names = ("file", "font")
        return tuple(file for name in names if (file := getattr(self, name, None)) is not None)

    @property
    def sheets(self) -> tuple[str, ...]:
        """The stocks of its inserts."""
        return ()

    @property
    def _more_numbers(self) -> tuple[str, ...]:
        """The names of numbers that depend on what becomes of its lines."""
        return ()

    def scaled(self, factor: float) -> Self:
        """Return it on a plate that is larger or smaller."""
        names = ("x", "y", "pitch", "row_pitch", "inset", *self.scaled_numbers)
        return self.with_changes(**{name: getattr(self, name) * factor for name in names})

    @model_validator(mode="after")
    def _is_bearable(self) -> Self:
        if self.repeated is Repeated.GRID and self.count * self.rows > MOST_REPEATED:
            raise ValueError(f"{self.id} is repeated more than {MOST_REPEATED} times")
        if self.repeated is Repeated.BORDER and self.pitch < LEAST_PITCH:
            raise ValueError(f"round a border the pitch is at least {LEAST_PITCH:g} mm")
        return self


class LetterStyle(StrEnum):
    """How letters are drawn."""

    STROKES = "single strokes"
    OUTLINES = "outlines"


class PlateLettering(OnPlate):
    """Letters of a height; along an arc where `bend` is its radius.

    A bend of more than 0 runs over its centre, of less than 0 under it. Outlines are those of the
    typeface that ships with Anzel, or of a `font` file. Where outlines are cut, `bridge` mm wide
    bridges hold what would fall out of letters.
    """

    own_numbers: ClassVar[tuple[str, ...]] = ("height", "x", "y", "turn", "bend")
    scaled_numbers: ClassVar[tuple[str, ...]] = ("height", "bend")
    kind: Literal["lettering"] = "lettering"
    text: str = Field(default="Mossgate", min_length=1, max_length=200)
    height: float = Field(default=8.0, ge=0.5, le=1000)
    bend: float = Field(default=0.0, ge=-5000, le=5000)
    operation: LineWish = LineWish.ENGRAVE
    style: LetterStyle = LetterStyle.STROKES
    font: Asset | None = None
    bridge: float = Field(default=1.5, ge=0.2, le=100)
    spacing: float = Field(default=SPACING, ge=0.02, le=10)

    @property
    def _more_numbers(self) -> tuple[str, ...]:
        if self.style is LetterStyle.STROKES:
            return ()
        return {LineWish.CUT: ("bridge",), LineWish.AREA: ("spacing",)}.get(self.operation, ())


class PlateArtwork(OnPlate):
    """The lines of an SVG or DXF file, `width` mm wide; `wishes` say what becomes of each label.

    A label without a wish is what it names, or engraved. Closed lines that are cut are openings.
    """

    own_numbers: ClassVar[tuple[str, ...]] = ("width", "x", "y", "turn")
    scaled_numbers: ClassVar[tuple[str, ...]] = ("width",)
    kind: Literal["artwork"] = "artwork"
    file: Asset
    width: float = Field(default=40.0, gt=0, le=5000)
    mirrored: bool = False
    wishes: tuple[tuple[str, LineWish], ...] = Field(default=(), max_length=1000)
    spacing: float = Field(default=SPACING, ge=0.02, le=10)

    @property
    def _more_numbers(self) -> tuple[str, ...]:
        return ("spacing",) if LineWish.AREA in dict(self.wishes).values() else ()


class PlateImage(OnPlate):
    """A PNG or JPEG picture that is engraved, `width` mm wide, its rows `spacing` mm apart."""

    own_numbers: ClassVar[tuple[str, ...]] = ("width", "x", "y", "turn", "spacing")
    scaled_numbers: ClassVar[tuple[str, ...]] = ("width",)
    kind: Literal["picture"] = "picture"
    file: Asset
    width: float = Field(default=40.0, gt=0, le=5000)
    spacing: float = Field(default=SPACING, ge=0.02, le=10)


class PlateInlay(OnPlate):
    """The closed lines of a file as inserts in pockets; each label is of one of the `stocks`.

    `gap` is left on every side; None leaves that of the fit class. The kerf is made up for on the
    insert, or `shared` by insert and pocket.
    """

    own_numbers: ClassVar[tuple[str, ...]] = ("width", "x", "y", "turn")
    scaled_numbers: ClassVar[tuple[str, ...]] = ("width",)
    kind: Literal["inlay"] = "inlay"
    file: Asset
    width: float = Field(default=40.0, gt=0, le=5000)
    mirrored: bool = False
    stocks: tuple[tuple[str, str], ...] = Field(default=(), max_length=1000)
    gap: Gap | None = None
    fit: FitName | None = None
    shared: bool = False

    @property
    def _more_numbers(self) -> tuple[str, ...]:
        return ("gap",) if self.gap is not None else ()

    @property
    def sheets(self) -> tuple[str, ...]:
        """The stocks of its inserts."""
        return tuple(stock for _, stock in self.stocks)


class PlateHinge(OnPlate):
    """Slits across a plate, along the item's y, that let it bend about its x.

    `slit_length` is about what slits have, so that a whole number fits; `bridge` parts two slits of
    a row. `allowed_strain` is the shear strain that links bear, %: what is right for a sheet is
    common practice at best (1.5 % of plywood, no source), and a test strip tells.
    """

    own_numbers: ClassVar[tuple[str, ...]] = (
        "bend_angle", "inner_radius", "x", "y", "turn", "slit_length", "bridge", "allowed_strain",
    )  # fmt: skip
    scaled_numbers: ClassVar[tuple[str, ...]] = ("inner_radius",)
    kind: Literal["hinge"] = "hinge"
    bend_angle: float = Field(default=90.0, ge=1, le=360)
    inner_radius: float = Field(default=20.0, ge=0, le=5000)
    slit_length: float = Field(default=25.0, ge=2, le=1000)
    bridge: float = Field(default=3.0, ge=0.2, le=300)
    allowed_strain: float = Field(default=1.5, ge=0.05, le=20)

    @property
    def link_length(self) -> float:
        """Return how far a link twists along, from bridge to bridge of the next row, mm."""
        return (self.slit_length - self.bridge) / 2

    @model_validator(mode="after")
    def _has_links(self) -> Self:
        if self.slit_length < 2 * self.bridge:
            raise ValueError("the slits of a hinge must be at least twice as long as its bridges")
        return self


def new_id(items: Iterable[OnPlate]) -> str:
    """Return an id that no item has."""
    return f"L{1 + max((int(item.id[1:]) for item in items), default=0)}"


AnyOnPlate = Annotated[
    PlateLettering | PlateArtwork | PlateImage | PlateInlay | PlateHinge,
    Field(discriminator="kind"),
]
