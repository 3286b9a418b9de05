"""A stock and what is wrong with one."""

import pytest
from tests.told import in_mm

from anzel.core.findings import ParameterError
from anzel.materials.cutter import Cutter, Kerf, KerfSource, assumed_kerf
from anzel.materials.material import Material, tolerance_band
from anzel.materials.stock import Stock


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
    assert in_mm(caught.value.message).startswith(words)
    assert caught.value.field == next(iter(change))


def test_a_stock_cannot_be_changed_in_place():
    with pytest.raises(Exception, match="frozen"):
        ply().tint = "#000000"


@pytest.mark.parametrize(
    ("nominal", "band"), [(3, (2.51, 3.29)), (6, (5.42, 6.38)), (12, (11.24, 12.56))]
)
def test_en_315_band_of_sanded_plywood(nominal, band):
    """EN 315 (from memory): +(0.2 + 0.03 t) / -(0.4 + 0.03 t) for 3 to 12 mm."""
    assert tolerance_band(Material.PLY, nominal) == pytest.approx(band)


@pytest.mark.parametrize(("material", "nominal"), [(Material.MDF, 3), (Material.PLY, 18)])
def test_where_no_standard_is_known_there_is_no_band(material, nominal):
    assert tolerance_band(material, nominal) is None


def test_a_kerf_is_kept_per_stock_and_assumed_until_learnt():
    """Common practice, no source: 0.1 to 0.2 through about 3 mm; anywhere in it alike."""
    cutter = Cutter(id="c", name="C")
    assumed = cutter.kerf_in("ply")
    assert (assumed.kerf, assumed.learnt) == (0.15, KerfSource.ASSUMED)
    assert assumed.uncertainty == pytest.approx(0.05 / 3**0.5, abs=1e-4)
    wiser = cutter.with_kerf(Kerf(stock_id="ply", kerf=0.16)).with_kerf(
        Kerf(stock_id="ply", kerf=0.17)
    )
    assert [kerf.kerf for kerf in wiser.kerfs] == [0.17]
    assert wiser.kerf_in("card") == assumed_kerf("card")
