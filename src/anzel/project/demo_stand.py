"""A stand for the phone at the shop's till: two drawn sides, a rest and a shelf between them."""

from itertools import product

from anzel.geometry.rigid_transform import Point
from anzel.shape.path_drawing import DrawnLeg, with_drawn_path
from anzel.shape.sketch import (
    Corner,
    CornerKind,
    HeldSize,
    Relation,
    RelationKind,
    SizeKind,
    Sketch,
)
from anzel.shape.sketch_changes import rectangle_sketch
from anzel.shape.sketch_solver import with_relation, with_size
from anzel.shape.snapping import direction
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.free.outline_shapes import Rectangle, SketchedOutline
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.tab_mortise import TabMortise

LEAN = 70.0
_APART = 60.0
_CORNERS: tuple[Point, ...] = (
    (-44, 0), (40, 0), (24, 88), (12, 88), (-10, 26), (-34, 35), (-30.6, 44.4), (-38, 47)
)  # fmt: skip


def side() -> Sketch:
    """Return a side of the stand, its sizes held."""
    legs = [DrawnLeg(corner) for corner in _CORNERS[1:]]
    sketch, _ = with_drawn_path(rectangle_sketch(10, 10), _CORNERS[0], legs, is_outline=True)
    foot, top, rest, shelf, lip = (f"outline leg {at}" for at in (1, 3, 4, 5, 6))
    for relation in (
        Relation(kind=RelationKind.FIXED, of=("outline 1",)),
        Relation(kind=RelationKind.SQUARE, of=(rest, shelf)),
        Relation(kind=RelationKind.PARALLEL, of=(rest, lip)),
    ):
        sketch = with_relation(sketch, relation)
    for name, kind, of, value in (
        ("foot", SizeKind.LENGTH, (foot,), 84.0),
        ("height", SizeKind.ALONG_Y, ("outline 1", "outline 3"), 88.0),
        ("top", SizeKind.LENGTH, (top,), 12.0),
        ("lean", SizeKind.ANGLE, (foot, rest), 180.0 - LEAN),
        ("shelf", SizeKind.LENGTH, (shelf,), 26.0),
        ("lip", SizeKind.LENGTH, (lip,), 10.0),
        ("shelf up", SizeKind.ALONG_Y, ("outline 1", "outline 5"), 26.0),
    ):
        sketch = with_size(sketch, HeldSize(name=name, kind=kind, of=of, value=value))
    return sketch.with_changes(corner=Corner(kind=CornerKind.ROUND, size=2.0))


def stand(stock: str) -> FreeStructure:
    """Return the stand, all of one sheet."""
    drawn = SketchedOutline(sketch=side())
    up, out = direction(LEAN), direction(LEAN + 90.0)
    corner = drawn.sketch.places()["outline 5"]
    rest = (corner[0] + 34 * up[0] - 6 * out[0], corner[1] + 34 * up[1] - 6 * out[1])
    shelf = (corner[0] + 13 * out[0] - 7 * up[0], corner[1] + 13 * out[1] - 7 * up[1])
    plates = (
        *(FreePlate(name=f"{name} side", stock=stock, outline=drawn, x=x, turn=90, tilt=90)
          for name, x in (("Left", -_APART / 2), ("Right", _APART / 2))),
        _board("Rest", stock, 44, rest, LEAN),
        _board("Shelf", stock, 18, shelf, LEAN + 90.0),
    )  # fmt: skip
    tabs = {"Rest": ((-12.0, 10.0), (12.0, 10.0)), "Shelf": ((0.0, 9.0),)}
    joints = tuple(
        TabMortise(f"J{number}", board, f"{name} side", tabs[board])
        for number, (board, name) in enumerate(product(tabs, ("Left", "Right")), start=1)
    )
    return FreeStructure(plates=plates, joints=joints)


def _board(name: str, stock: str, height: float, middle: Point, tilt: float) -> FreePlate:
    outline = Rectangle(width=_APART - 3, height=height)
    return FreePlate(name=name, stock=stock, outline=outline, y=middle[0], z=middle[1], tilt=tilt)
