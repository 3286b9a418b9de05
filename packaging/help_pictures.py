"""Draws the pictures of the help that show a structure as it grows, from the structures themselves.

Run it after one of them has changed: `packaging/help_pictures.py`.
"""

from collections.abc import Callable, Sequence
from math import cos, radians, sin
from pathlib import Path

from anzel.app.edits import (
    free_structure_edits,
    joint_edits,
    many_edits,
    relation_edits,
    repeat_edits,
)
from anzel.app.placing import place
from anzel.geometry.placement import Vector, dot
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import empty_table
from anzel.structure.model import Piece
from anzel.structure.relations.records import RepeatWay, Side

FOLDER = Path(__file__).parents[1] / "src" / "anzel" / "ui" / "resources" / "help"
_WIDE, _TALL, _SCALE = 165.0, 150.0, 0.72
_TURN, _RISE = radians(-35.0), radians(28.0)
_RIGHT: Vector = (cos(_TURN), sin(_TURN), 0.0)
_UP: Vector = (-sin(_TURN) * sin(_RISE), cos(_TURN) * sin(_RISE), cos(_RISE))
_EYE: Vector = (sin(_TURN) * cos(_RISE), -cos(_TURN) * cos(_RISE), sin(_RISE))
Step = Callable[[Project], Project]


def box_steps() -> list[Project]:
    """Return a box of six equal sides as it grows."""
    steps: Sequence[Sequence[Step]] = (
        (
            lambda p: free_structure_edits.type_plate(p, "Plate", "width", "100"),
            lambda p: free_structure_edits.type_plate(p, "Plate", "height", "100"),
            lambda p: place(p, Side(plate="Plate", side="back"), Side()),
        ),
        (
            lambda p: many_edits.duplicate(p, ["Plate"])[0],
            lambda p: place(
                p, Side(plate="Plate 2", side="front"), Side(plate="Plate", side="right")
            ),
            lambda p: place(p, Side(plate="Plate 2", side="bottom"), Side()),
            lambda p: relation_edits.centred_on(p, "Plate 2", "Plate"),
        ),
        (
            lambda p: repeat_edits.repeat_plate(
                p, "Plate 2", RepeatWay.RING, count=4, about="Plate"
            ),
        ),
        (
            lambda p: many_edits.duplicate(p, ["Plate"])[0],
            lambda p: place(
                p, Side(plate="Plate 3", side="front"), Side(plate="Plate 2", side="top")
            ),
            lambda p: relation_edits.centred_on(p, "Plate 3", "Plate"),
            joint_edits.join_all,
            _alike,
        ),
    )
    return _grown(steps)


def ring_steps() -> list[Project]:
    """Return a ring of 32 plates as it grows."""
    steps: Sequence[Sequence[Step]] = (
        (
            lambda p: free_structure_edits.add_shape(p, "circle", "ply-3")[0],
            lambda p: free_structure_edits.type_plate(p, "Circle", "diameter", "160"),
            lambda p: free_structure_edits.type_plate(p, "Plate", "width", "30"),
            lambda p: free_structure_edits.type_plate(p, "Plate", "x", "110"),
        ),
        (
            lambda p: place(
                p, Side(plate="Plate", side="bottom"), Side(plate="Circle", side="front")
            ),
            lambda p: free_structure_edits.type_plate(p, "Plate", "x", "55"),
        ),
        (
            lambda p: repeat_edits.repeat_plate(
                p, "Plate", RepeatWay.RING, count=32, about="Circle"
            ),
        ),
    )
    return _grown(steps)


def _alike(project: Project) -> Project:
    for joint in project.structure.declared():
        if " " not in joint:
            project = joint_edits.turn_into_corner(project, joint, "fingers, edges alike")
    return project


def _grown(steps: Sequence[Sequence[Step]]) -> list[Project]:
    project, made = empty_table(), []
    for step in steps:
        for edit in step:
            project = edit(project)
        made.append(project)
    return made


def _picture(projects: Sequence[Project]) -> str:
    """Return all steps side by side as SVG, in the colours that the help fills in."""
    wide = _WIDE * len(projects)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}" height="{_TALL:g}" '
        f'viewBox="0 0 {wide:g} {_TALL:g}">'
    ]
    for number, project in enumerate(projects):
        pieces = sorted(solved_structure_of(project).pieces, key=_nearness)
        points = [at for piece in pieces for at in _seen(piece)]
        middle = [(min(c) + max(c)) / 2 for c in zip(*points, strict=True)]
        shift = (number + 0.5) * _WIDE - middle[0], _TALL / 2 + 6 - middle[1]
        parts += [_path(piece, shift) for piece in pieces]
        parts.append(
            f'<text x="{number * _WIDE + 6:g}" y="14" font-family="Hanken Grotesk" '
            f'font-size="13" fill="@ink">{number + 1}</text>'
        )
    return "".join((*parts, "</svg>\n"))


def _nearness(piece: Piece) -> float:
    left, low, right, high = piece.region.bounds
    at = piece.placement.to_world(((left + right) / 2, (low + high) / 2))
    return dot(at, _EYE)


def _seen(piece: Piece) -> list[tuple[float, float]]:
    corners = map(piece.placement.to_world, piece.region.outer.corners)
    return [(_SCALE * dot(at, _RIGHT), -_SCALE * dot(at, _UP)) for at in corners]


def _path(piece: Piece, shift: tuple[float, float]) -> str:
    points = " ".join(f"{x + shift[0]:.1f},{y + shift[1]:.1f}" for x, y in _seen(piece))
    shade = "@well" if abs(piece.placement.normal[2]) > 0.5 else "@accent_soft"
    return (
        f'<polygon points="{points}" fill="{shade}" stroke="@ink" stroke-width="1.1" '
        'stroke-linejoin="round"/>'
    )


def main() -> None:
    """Write both pictures."""
    for name, steps in (("box-of-six.svg", box_steps()), ("ring-of-32.svg", ring_steps())):
        (FOLDER / name).write_text(_picture(steps), encoding="utf-8")


if __name__ == "__main__":
    main()
