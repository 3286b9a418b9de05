"""Demos of what lies on plates: a lantern's border and names, a hinged arch, a flower inlaid."""

from importlib.resources import files
from math import pi

from anzel.core.asset import Asset
from anzel.geometry.rigid_transform import RigidTransform
from anzel.refit.load import load_drawing
from anzel.refit.refitted_regions import drawn_regions
from anzel.structure.artwork.drawn import artwork_file
from anzel.structure.artwork.lines_as_file import lines_as_artwork
from anzel.structure.artwork.motifs import motif_file
from anzel.structure.artwork.records import (
    AnyOnPlate,
    LetterStyle,
    PlateArtwork,
    PlateInlay,
    PlateLettering,
    Repeated,
)  # fmt: skip
from anzel.structure.forms.drawn_lines import drawn_on
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.free.outline_shapes import Circle, ImportedOutline, Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.line_work import LineWish

_DEVELOPED, _MIDDLE, _LEG = 32.0, 70.0, 51.0
"""Of the arch as it is drawn: what bends at either end, what stays level between, its legs, mm."""


def border_and_names() -> tuple[AnyOnPlate, ...]:
    """Return leaves cut round every wall of a lantern, and names engraved on its top and base."""
    leaf = motif_file("leaf")
    leaves = PlateArtwork(
        id="L1", plate="Wall 1", alike=True, file=leaf, width=4.0, repeated=Repeated.BORDER,
        pitch=9.5, inset=7.4, keep_off=2.2,
        wishes=tuple((label, LineWish.CUT) for label in artwork_file(leaf).labels),
    )  # fmt: skip
    name = PlateLettering(
        id="L2", plate="Top", text="Mossgate", height=7.0, y=32.0, bend=32.0,
        style=LetterStyle.OUTLINES, operation=LineWish.AREA, spacing=0.4,
    )  # fmt: skip
    house = PlateLettering(id="L3", plate="Base", text="Fern house", height=7.0, y=-36.0)
    return (leaves, name, house)


def arch(stock: str) -> FreeStructure:
    """Return somebody's drawing of a hinged strip, standing bent on a foot, all of one sheet."""
    analysis = load_drawing(files(__package__).joinpath("arch.svg").read_bytes(), "arch.svg")
    (region,) = drawn_regions(analysis)
    (lines,), _ = drawn_on(analysis, {}, (0.0, 0.0), [region])
    left, low, right, top = region.bounds
    centred = RigidTransform().translated(-(left + right) / 2, -(low + top) / 2)
    high = _DEVELOPED / (pi / 2) + _LEG + 1.5
    plates = (
        FreePlate(
            name="Foot", stock=stock, outline=Rectangle(width=150, height=84, rounding=14)
        ),
        FreePlate(
            name="Arch", stock=stock, outline=ImportedOutline(outline=region.moved(centred)),
            z=high, tilt=180, bends=(90.0, 90.0),
        ),
    )  # fmt: skip
    tabs = ((-14.0, 12.0), (14.0, 12.0))
    joints = tuple(TabMortise(f"J{number}", "Arch", "Foot", tabs) for number in (1, 2))
    drawn = lines_as_artwork("L1", "Arch", region, lines)
    return FreeStructure(plates=plates, joints=joints, own_artwork=(drawn,))


def coaster(stock: str, petals: str, heart: str) -> FreeStructure:
    """Return a round plate with a flower of two other sheets let in."""
    content = files(__package__).joinpath("sunflower.svg").read_bytes()
    file = Asset.of("sunflower.svg", content)
    kinds = {"petals": petals, "heart": heart}
    inlay = PlateInlay(
        id="L1", plate="Coaster", file=file, width=72.0,
        stocks=tuple((label, kinds[label.strip("/")]) for label in artwork_file(file).labels),
    )  # fmt: skip
    name = PlateLettering(
        id="L2", plate="Coaster", text="Mossgate", height=4.0, y=-44.5, bend=-44.5
    )
    plates = (FreePlate(name="Coaster", stock=stock, outline=Circle(diameter=104.0)),)
    return FreeStructure(plates=plates, joints=(), own_artwork=(inlay, name))
