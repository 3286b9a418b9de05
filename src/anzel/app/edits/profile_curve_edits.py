"""Edits of a rib lamp's profile curves as a maker draws them.

Points in mm, out from the axis and up.
"""

from pathlib import Path
from typing import Any

from anzel.app.edits.picture_edits import picture_in
from anzel.app.edits.project_edits import change_structure
from anzel.core.findings import ParameterError
from anzel.project.model import Project
from anzel.structure.forms.profile import Profile, TracedPicture
from anzel.structure.forms.rib_lamp import RibLamp
from anzel.tracing.picture import size_of_picture

Curve = tuple[tuple[float, float, bool], ...]
WHICH = {"profile": "outer edge", "inner": "inner edge", "second": "second rib"}
"""The curves there can be, and what they are called."""


def lamp_of(project: Project) -> RibLamp:
    """Return the project's rib lamp.

    Raises ParameterError for another form.
    """
    if not isinstance(project.structure, RibLamp):
        raise ParameterError("Only a rib lamp has profiles.", hint="Start a rib lamp.")
    return project.structure


def curve_of(lamp: RibLamp, which: str) -> Curve:
    """Return a curve in mm; a curve that is not drawn yet as it comes out now."""
    points: Profile = getattr(lamp, which) or lamp.profile
    inside = lamp.rib_depth if which == "inner" and not lamp.inner else 0.0
    return tuple(
        (r * lamp.radius - inside, z * lamp.height, smooth) for z, r, smooth in sorted(points)
    )


def change_curve(project: Project, which: str, points: Curve) -> Project:
    """Return the project with a curve through other points, mm.

    Raises ParameterError for an impossible curve.
    """
    lamp = lamp_of(project)
    shares = tuple(
        (min(max(y / lamp.height, 0.0), 1.0), min(max(x / lamp.radius, 0.0), 1.0), smooth)
        for x, y, smooth in points
    )
    return change_structure(project, **{which: tuple(sorted(shares))})


def remove_curve(project: Project, which: str) -> Project:
    """Return the project without an inner edge or a second rib of its own."""
    return change_structure(project, **{which: ()})


def add_traced_picture(project: Project, path: Path) -> Project:
    """Return the project with a picture under the drawing, as high as the lamp.

    Raises FileError or PictureError for an invalid picture.
    """
    lamp, picture = lamp_of(project), picture_in(path)
    traced = TracedPicture(
        picture=picture, y=lamp.height / 2,
        mm_per_pixel=lamp.height / size_of_picture(picture).height,
    )  # fmt: skip
    return change_structure(project, traced=traced)


def change_traced_picture(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another place, scale, turn or fading of the picture."""
    traced = lamp_of(project).traced
    if traced is None:
        raise ParameterError("There is no picture to trace.", hint="Choose one first.")
    return change_structure(project, traced=traced.with_changes(**changes))


def scale_traced_picture(
    project: Project, one: tuple[float, float], other: tuple[float, float], length: float
) -> Project:
    """Return the project with the picture scaled so that two places are `length` mm apart.

    The places are in mm of the drawing; the first stays where it is. Raises ParameterError for
    places too near to one another.
    """
    traced = lamp_of(project).traced
    apart = abs(complex(other[0] - one[0], other[1] - one[1]))
    if traced is None or apart < 1e-3 or length <= 0:
        raise ParameterError("Two places further apart are needed.", field="length")
    factor = length / apart
    return change_traced_picture(
        project, mm_per_pixel=traced.mm_per_pixel * factor,
        x=one[0] + (traced.x - one[0]) * factor, y=one[1] + (traced.y - one[1]) * factor,
    )  # fmt: skip


def remove_traced_picture(project: Project) -> Project:
    """Return the project without the picture."""
    return change_structure(project, traced=None)
