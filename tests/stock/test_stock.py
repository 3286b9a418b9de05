"""A stock and what is wrong with one."""

import pytest

from anzel.findings import ParameterError
from anzel.stock.stock import Stock


def ply(**changes):
    """A sheet sold as 3 mm."""
    return Stock(id="ply", name="Ply", nominal_thickness=3.0).with_changes(**changes)


def test_the_label_counts_only_until_something_is_measured():
    assert ply().measured_thickness == 3.0
    assert not ply().is_measured
    measured = ply(readings=(2.93, 2.95, 2.94))
    assert measured.measured_thickness == pytest.approx(2.94)
    assert measured.off_nominal == pytest.approx(-0.06)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"readings": (2.9, 0.0)}, "A thickness reading must be more than 0"),
        ({"readings": (-1.0,)}, "A thickness reading must be more than 0"),
        ({"readings": (float("nan"),)}, "A thickness reading must be"),
        ({"nominal_thickness": 0}, "Nominal thickness must be more than 0"),
        ({"fit_shift": 9}, "Fit shift must be at most 2"),
        ({"sheets": ()}, "Sheets"),
        ({"name": ""}, "Name must not be empty"),
        ({"colour": "red"}, "Colour is not known here"),
    ],
)
def test_what_cannot_be_is_refused_with_the_fields_name(change, words):
    with pytest.raises(ParameterError) as caught:
        ply(**change)
    assert caught.value.message.startswith(words)
    assert caught.value.field == next(iter(change))


def test_a_stock_cannot_be_changed_in_place():
    with pytest.raises(Exception, match="frozen"):
        ply().tint = "#000000"
