"""A robin for the shop's window: traced from a sketch of the workshop, standing on a base."""

from importlib.resources import files

from anzel.core.asset import Asset
from anzel.shape.outline_building import straight_legs
from anzel.shape.sketch import Relation, RelationKind, Sketch
from anzel.shape.sketch_changes import sketch_of_region
from anzel.shape.sketch_solver import with_relation
from anzel.structure.artwork.records import PlateLettering
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.free.outline_shapes import Rectangle, SketchedOutline
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.plate_picture import PlatePicture
from anzel.tracing.picture import grey_of_picture
from anzel.tracing.tracing import TraceSettings, traced_regions

_WIDTH = 130.0
_TURN = -1.4
"""So much the sketch lay askew when it was scanned, degrees."""


def sketch_behind(plate: str) -> PlatePicture:
    """Return the workshop's sketch behind a plate, levelled."""
    content = files(__package__).joinpath("robin.jpg").read_bytes()
    file = Asset.of("robin.jpg", content)
    return PlatePicture(plate=plate, file=file, width=_WIDTH, turn=_TURN, fade=0.4, locked=True)


def outline(picture: PlatePicture) -> Sketch:
    """Return the figure's outline with its openings; its foot is level."""
    grey = grey_of_picture(picture.file)
    region = traced_regions(grey, picture.placement, TraceSettings(within=0.2))[0]
    sketch = sketch_of_region(region)
    return with_relation(sketch, Relation(kind=RelationKind.LEVEL, of=(_foot(sketch)[0],)))


def _foot(sketch: Sketch) -> tuple[str, float, float]:
    """Return the leg that the figure stands on: its id, its middle along x, and its height."""
    legs = straight_legs(sketch)
    lowest = min(legs, key=lambda leg: legs[leg][0][1] + legs[leg][1][1])
    (ax, ay), (bx, by) = legs[lowest]
    return lowest, (ax + bx) / 2, (ay + by) / 2


def robin(stock: str) -> FreeStructure:
    """Return the figure on its base, all of one sheet."""
    picture = sketch_behind("Robin")
    drawn = SketchedOutline(sketch=outline(picture))
    _, foot, low = _foot(drawn.sketch)
    plates = (
        FreePlate(name="Robin", stock=stock, outline=drawn, z=-low + 1.5, tilt=90),
        FreePlate(
            name="Base", stock=stock, outline=Rectangle(width=110, height=48, rounding=16), x=foot
        ),
    )
    tabs = ((foot - 18.0, 14.0), (foot + 18.0, 14.0))
    joints = (TabMortise("J1", "Robin", "Base", tabs),)
    name = PlateLettering(id="L1", plate="Base", text="Mossgate Garden", height=5.0, y=-15.0)
    return FreeStructure(
        plates=plates, joints=joints, own_pictures=(picture,), own_artwork=(name,)
    )  # fmt: skip
