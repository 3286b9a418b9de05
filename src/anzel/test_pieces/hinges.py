"""Hinge strips: strips with living hinges, to be bent round smaller and smaller radii.

Every strip has the narrowest links that cut well, so its radius alone says how far they twist. The
narrowest radius that bends without a crack tells the strain that the sheet bears.
"""

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.materials.fits import Size, Term
from anzel.structure.artwork.hinge import HingePlan, finest, planned, slits_of
from anzel.structure.artwork.records import PlateHinge
from anzel.structure.line_work import LineOperation, PlateLine, lines_within
from anzel.structure.model import Piece
from anzel.test_pieces.model import (
    TestPiece,
    TestPieceKind,
    TestPieceRequest,
    TestPieceStep,
    engrave,
    flat_piece,
    need_positive,
)

_WIDTH, _END, _STEP, _COUNT = 32.0, 22.0, 2.0, 5
_MOST_LINKS = 1500
"""More would take long to draw, and hours to cut."""
_HINGE = PlateHinge(id="L1", plate="Strip", slit_length=14.0, bridge=2.0)


def hinges(request: TestPieceRequest) -> TestPiece:
    """Return a strip for each radius, the radius and the strain at 90° engraved on it."""
    sheet = request.sheet_spec
    today = planned(_HINGE, sheet.measured_thickness, sheet.kerf).narrowest_radius
    radii = request.numbers(today, step=_STEP, count=_COUNT, positive=True)
    need_positive(radii, "radius")
    bent = [_HINGE.with_changes(inner_radius=radius) for radius in radii]
    plans = [finest(hinge, sheet.measured_thickness, sheet.kerf) for hinge in bent]
    if (links := sum(plan.links for plan in plans)) > _MOST_LINKS:
        raise ParameterError(
            f"These strips would have {links} links together, more than {_MOST_LINKS}.",
            hint="Try fewer strips, or smaller radii.", field="count",
        )  # fmt: skip
    pieces, steps = [], []
    for number, (radius, hinge, plan) in enumerate(zip(radii, bent, plans, strict=True), start=1):
        text = request.label(radius)
        pieces.append(_strip(request, f"Strip {number}", hinge, plan, text))
        inside = Size((Term("inner radius", radius),), radius, radius)
        link = Size((Term("link", plan.link_width),), plan.link_width, plan.link_width)
        steps.append(TestPieceStep(f"S{number}", radius, text, inside, link))
    return TestPiece(TestPieceKind.HINGES, tuple(pieces), tuple(steps), today, None)


def _strip(
    request: TestPieceRequest, name: str, hinge: PlateHinge, plan: HingePlan, text: str
) -> Piece:  # fmt: skip
    long = plan.developed + 2 * _END
    outline = Contour.polygon([(0.0, 0.0), (long, 0.0), (long, _WIDTH), (0.0, _WIDTH)])
    middle = RigidTransform().translated(long / 2, 0.0)
    slits = [
        PlateLine(slit.moved(middle), LineOperation.CUT)
        for slit in slits_of(plan, hinge, 0.0, _WIDTH)
    ]
    marks = [
        *engrave(f"R {text}", (_END / 2, _WIDTH / 2 + 3), _END - 4),
        *engrave(f"{100 * plan.strain:.2f}%", (_END / 2, _WIDTH / 2 - 4), _END - 4),
    ]
    region = Region.of(outline)
    within = lines_within(slits, region)
    return flat_piece(name, request.sheet_spec, region, (), marks, within)
