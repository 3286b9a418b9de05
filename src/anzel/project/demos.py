"""Demo projects of the Mossgate Workshop, who make things for a botanic garden's shop."""

from collections.abc import Callable
from dataclasses import dataclass

from anzel.materials.cutter import Cutter, Kerf, KerfSource
from anzel.materials.fits import FitName, Fits, KerfAt
from anzel.materials.material import Grain, Material, PressBehaviour
from anzel.materials.stock import SheetSize, Stock
from anzel.project.model import Project
from anzel.structure.forms import new_form
from anzel.test_pieces.trial import Feel, Trial


@dataclass(frozen=True)
class Demo:
    """A demo project under the name that commands know it by.

    `title` and `form` are its project's, told without making it, because some take a second.
    """

    name: str
    title: str
    form: str
    about: str
    make: Callable[[], Project]


def herb_stand() -> Project:
    """Return a herb-pot stand: uprights of 3 mm birch, a round top of 6 mm."""
    thin = Stock(
        id="birch-3", name="Birch ply 3", material=Material.PLY, nominal_thickness=3.0,
        readings=(2.93, 2.95, 2.94), tint="#ecd9b4", grain=Grain.ALONG_WIDTH,
        sheets=(SheetSize(width=400, height=300, count=4),),
    )  # fmt: skip
    thick = Stock(
        id="birch-6", name="Birch ply 6", material=Material.PLY, nominal_thickness=6.0,
        readings=(5.84, 5.88, 5.86, 5.86), tint="#dcbf8e",
        sheets=(SheetSize(width=300, height=300, count=2),),
    )  # fmt: skip
    cutter = _potting_shed_laser(
        Kerf(stock_id=thin.id, kerf=0.16, uncertainty=0.012, learnt=KerfSource.DISC,
             date="2026-09-14"),
        Kerf(stock_id=thick.id, kerf=0.20),
    )  # fmt: skip
    stand = new_form("crossed-stand", upright_stock=thin.id, top_stock=thick.id)
    return Project(
        name="Herb-pot stand", stocks=(thin, thick), structure=stand, cutters=(cutter,),
        cutter_in_use=cutter.id, trials=(_first_comb(thin, cutter),),
    )  # fmt: skip


def seedling_riser() -> Project:
    """Return a low riser for a seed tray, all of one clear sheet, four tabs to an upright."""
    clear = Stock(
        id="acrylic-4", name="Clear acrylic 4", material=Material.ACRYLIC,
        press_behaviour=PressBehaviour.BRITTLE,
        nominal_thickness=4.0, readings=(3.83, 3.79, 3.81), tint="#cfe3e2",
        sheets=(SheetSize(width=500, height=400),),
    )  # fmt: skip
    riser = new_form(
        "crossed-stand", upright_stock=clear.id, top_stock=clear.id, height=70, foot_span=210,
        top_diameter=190, arch=22, tab_width=12, tab_count=4,
    )  # fmt: skip
    cutter = _potting_shed_laser(
        Kerf(stock_id=clear.id, kerf=0.22, uncertainty=0.004, learnt=KerfSource.STRIPS,
             date="2026-10-02"),
    )  # fmt: skip
    return Project(
        name="Seedling riser", stocks=(clear,), structure=riser, cutters=(cutter,),
        cutter_in_use=cutter.id, fits=Fits(in_use=FitName.SLIDE),
    )  # fmt: skip


def fern_lantern() -> Project:
    """Return a six-sided lantern for the fern house, opal acrylic behind birch walls."""
    walls, opal = _birch_3(), _opal_3()
    cutter = _potting_shed_laser(_thin_kerf(walls), Kerf(stock_id=opal.id, kerf=0.21))
    lantern = new_form("lantern", wall_stock=walls.id, plate_stock=walls.id, diffuser_stock=opal.id)
    return Project(
        name="Fern-house lantern", stocks=(walls, opal), structure=lantern, cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def seedpod_lamp() -> Project:
    """Return a lamp of ribs, like a poppy's seed pod."""
    ribs = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(ribs))
    lamp = new_form("rib-lamp", rib_stock=ribs.id, ring_stock=ribs.id)
    return Project(
        name="Seed-pod lamp", stocks=(ribs,), structure=lamp, cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def acorn() -> Project:
    """Return an acorn made of slices, for the shop window."""
    slices = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(slices))
    form = new_form("sliceform", slice_stock=slices.id, width=120, height=150)
    return Project(
        name="Acorn in slices", stocks=(slices,), structure=form, cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def garden_wren() -> Project:
    """Return a wren made of slices, cut from a mesh."""
    from anzel.project.demo_mesh import wren  # not while the window starts

    slices = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(slices))
    form = new_form(
        "sliceform", slice_stock=slices.id, body="mesh", mesh=wren(), height=150, first=10,
        second=7, direction=0, marks=True,
        own_joints=[{"joint": f"A7×{mate}", "swapped": True} for mate in ("B2.1", "B6.1")],
    )  # fmt: skip
    return Project(
        name="Garden wren in slices", stocks=(slices,), structure=form, cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def phone_stand() -> Project:
    """Return a stand for the phone at the till, of drawn plates."""
    from anzel.project.demo_stand import stand  # not while the window starts

    birch = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(birch))
    return Project(
        name="Phone stand", stocks=(birch,), structure=stand(birch.id), cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def garden_robin() -> Project:
    """Return a robin traced from the workshop's sketch, standing on a base."""
    from anzel.project.demo_robin import robin  # not while the window starts

    birch = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(birch))
    return Project(
        name="Garden robin", stocks=(birch,), structure=robin(birch.id), cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def _birch_3() -> Stock:
    """Return the workshop's thin birch."""
    return Stock(
        id="birch-3", name="Birch ply 3", material=Material.PLY, nominal_thickness=3.0,
        readings=(2.93, 2.95, 2.94), tint="#ecd9b4", grain=Grain.ALONG_WIDTH,
        sheets=(SheetSize(width=400, height=300),),
    )  # fmt: skip


def seed_caddy() -> Project:
    """Return a caddy for seed packets, from a drawing made for another sheet."""
    birch = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(birch))
    return Project(
        name="Seed caddy", stocks=(birch,), structure=new_form("found", stock=birch.id),
        cutters=(cutter,), cutter_in_use=cutter.id,
    )  # fmt: skip


def _opal_3() -> Stock:
    """Return the workshop's opal acrylic."""
    return Stock(
        id="opal-3", name="Opal acrylic 3", material=Material.ACRYLIC,
        press_behaviour=PressBehaviour.BRITTLE,
        nominal_thickness=3.0, readings=(2.84, 2.87, 2.85), tint="#e9efee",
        sheets=(SheetSize(width=400, height=300),),
    )  # fmt: skip


def _thin_kerf(stock: Stock) -> Kerf:
    return Kerf(
        stock_id=stock.id, kerf=0.16, uncertainty=0.012, learnt=KerfSource.DISC, date="2026-09-14"
    )


def _potting_shed_laser(*kerfs: Kerf) -> Cutter:
    """Return the workshop's cutter."""
    return Cutter(
        id="potting-shed", name="Potting-shed laser", bed_width=600, bed_height=400,
        cut_speed=14, score_speed=80, engrave_speed=220, lens="50 mm lens, cleaned each Monday",
        kerfs=kerfs,
    )  # fmt: skip


def _first_comb(stock: Stock, cutter: Cutter) -> Trial:
    """Return a comb tried in autumn: 2.83 felt snug, which is the width in the stand."""
    kerf = cutter.kerf_in(stock.id)
    feels = (Feel.WONT, Feel.PRESS, Feel.PRESS, Feel.SNUG, Feel.SNUG, Feel.SLIDES, Feel.LOOSE)
    widths = (2.65, 2.71, 2.75, 2.80, 2.86, 2.92, 3.02)
    return Trial(
        date="2026-09-15", stock_id=stock.id, cutter=cutter.name,
        felt=tuple(zip(widths, feels, strict=True)), fit=FitName.SNUG,
        base=kerf.kerf - stock.measured_thickness, measured_thickness=stock.measured_thickness,
        thickness_uncertainty=0.006, kerf=kerf.kerf, kerf_uncertainty=kerf.uncertainty,
        kerf_at=KerfAt.DRAWING,
    )  # fmt: skip


def leaf_lantern() -> Project:
    """Return the fern-house lantern with leaves cut round its walls and names engraved."""
    from anzel.project.demo_lines import border_and_names  # not while the window starts

    plain = fern_lantern()
    structure = plain.structure.with_changes(own_artwork=border_and_names())
    return plain.with_changes(name="Leaf lantern", structure=structure)


def hinged_arch() -> Project:
    """Return an arch that somebody drew flat, bent by its living hinges, on a foot."""
    from anzel.project.demo_lines import arch  # not while the window starts

    birch = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(birch))
    return Project(
        name="Hinged arch", stocks=(birch,), structure=arch(birch.id), cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def sunflower_coaster() -> Project:
    """Return a birch coaster with a flower of amber and brown acrylic let in."""
    from anzel.project.demo_lines import coaster  # not while the window starts

    birch = _birch_3()
    amber, brown = (
        _opal_3().with_changes(id=f"{word.lower()}-3", name=f"{word} acrylic 3", tint=tint)
        for word, tint in (("Amber", "#e3b04b"), ("Brown", "#c29a74"))
    )
    cutter = _potting_shed_laser(
        _thin_kerf(birch), Kerf(stock_id=amber.id, kerf=0.21), Kerf(stock_id=brown.id, kerf=0.21)
    )
    return Project(
        name="Sunflower coaster", stocks=(birch, amber, brown),
        structure=coaster(birch.id, amber.id, brown.id), cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


def potting_cube() -> Project:
    """Return the cube of six equal sides, 100 mm outside whatever the sheet measures."""
    from anzel.project.demo_cube import cube  # not while the window starts

    birch = _birch_3()
    cutter = _potting_shed_laser(_thin_kerf(birch))
    return Project(
        name="Potting cube", stocks=(birch,), structure=cube(birch.id), cutters=(cutter,),
        cutter_in_use=cutter.id,
    )  # fmt: skip


DEMOS = (
    Demo("herb-stand", "Herb-pot stand", "crossed-stand",
         "herb-pot stand, birch ply 3 mm under a 6 mm top", herb_stand),
    Demo("seedling-riser", "Seedling riser", "crossed-stand",
         "low riser for a seed tray, one sheet of clear acrylic", seedling_riser),
    Demo("fern-lantern", "Fern-house lantern", "lantern",
         "six-sided lantern, opal acrylic behind birch walls", fern_lantern),
    Demo("seedpod-lamp", "Seed-pod lamp", "rib-lamp",
         "lamp of eighteen ribs round two rings", seedpod_lamp),
    Demo("acorn", "Acorn in slices", "sliceform", "an acorn told by two families of slices", acorn),
    Demo("seed-caddy", "Seed caddy", "found",
         "somebody's caddy drawn for 3.2 mm, made to fit birch ply 3 mm", seed_caddy),
    Demo("garden-wren", "Garden wren in slices", "sliceform",
         "a wren sliced from a mesh, its slices numbered", garden_wren),
    Demo("phone-stand", "Phone stand", "free",
         "a stand for the till's phone, its sides drawn and dimensioned", phone_stand),
    Demo("garden-robin", "Garden robin", "free",
         "a robin traced from a scanned sketch, on a base", garden_robin),
    Demo("leaf-lantern", "Leaf lantern", "lantern",
         "the lantern with leaves cut round its walls and names", leaf_lantern),
    Demo("hinged-arch", "Hinged arch", "free",
         "somebody's flat drawing, bent by its living hinges", hinged_arch),
    Demo("sunflower-coaster", "Sunflower coaster", "free",
         "a flower of two acrylics let into birch", sunflower_coaster),
    Demo("potting-cube", "Potting cube", "free",
         "a box of one side six times, 100 mm whatever the sheet", potting_cube),
)  # fmt: skip
