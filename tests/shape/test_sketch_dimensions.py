"""Every size stands on the plate, as long as it is."""

from math import dist

import pytest

from anzel.project.demo_stand import side
from anzel.shape.sketch import HeldSize, SizeKind
from anzel.shape.sketch_changes import rectangle_sketch, with_disc, with_round_ended
from anzel.shape.sketch_solver import with_size
from anzel.structure.free.sketch_dimensions import sketch_dimensions


def test_every_size_has_a_line_as_long_as_it_and_angles_stand_across_their_corner():
    sketch, _ = with_round_ended(rectangle_sketch(200, 120), (-40, 20), 40, 10)
    sketch, disc = with_disc(sketch, (30, 10), 5)
    off = HeldSize(name="off", kind=SizeKind.TO_LEG, of=(disc, "outline leg 1"), value=80.0)
    sketch = with_size(sketch, off)
    for drawn in (sketch, side()):
        plain = sketch_dimensions("P", drawn)
        lengths = {each.field: dist(each.start, each.end) for each in plain}
        assert lengths == pytest.approx(
            {f"P/{s.name}": s.value for s in drawn.sizes if s.kind is not SizeKind.ANGLE}
        )
        angles = set(sketch_dimensions("P", drawn, with_angles=True)) - set(plain)
        assert len(angles) == sum(size.kind is SizeKind.ANGLE for size in drawn.sizes)
