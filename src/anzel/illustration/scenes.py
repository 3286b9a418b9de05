"""The scenes of a booklet: what each picture shows, and from where it is seen.

Steps in which like pieces go in after one another, or plates that stand parallel go the same way,
are one scene. The eye stays as long as it serves: it moves where pieces would come from behind, or
straight towards the eye. Where something goes in from below, the whole is turned over.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from anzel.assembly.bodies import RigidBody
from anzel.assembly.records import AssemblyProof, AssemblyStep, Move, level_of
from anzel.geometry.placement import cross, norm
from anzel.illustration.eye import USUAL_AZIMUTH, Eye

_MOST_TOGETHER = 8
"""No more pieces that differ are shown going in at once."""
_TURNS = (0.0, -60.0, 60.0, -120.0, 120.0, 180.0)
_FROM_BEHIND, _FORESHORTENED = -0.2, 0.3


@dataclass(frozen=True)
class BookletScene:
    """A picture's content: what is there, what comes in on which ways, and the eye.

    `number` counts the scenes from 1. One of a `group` shows that group alone.
    """

    number: int
    there: tuple[str, ...]
    moves: tuple[Move, ...]
    new: tuple[str, ...]
    eye: Eye
    group: str = ""
    turns_over: bool = False
    turns_about: bool = False


def scenes_of(proof: AssemblyProof, bodies: Mapping[str, RigidBody]) -> tuple[BookletScene, ...]:
    """Return the scenes of a proven order."""
    scenes: list[BookletScene] = []
    standing: dict[str, tuple[str, ...]] = {}
    eyes: dict[str, Eye] = {}
    first = 0
    for run in _runs(proof.steps, bodies):
        group = run[0].group
        there = standing.get(group, ())
        moves = tuple(move for step in run for move in step.moves)
        new = tuple(name for step in run for name in step.pieces)
        before = eyes.get(group, Eye())
        eye = _eye_for(moves, replace(before, turned_over=proof.lies_turned_over(first)))
        scenes.append(
            BookletScene(
                len(scenes) + 1, there, moves, new, eye, group,
                turns_over=proof.turns_over(first),
                turns_about=group in eyes and eye.azimuth != before.azimuth,
            )
        )  # fmt: skip
        standing[group] = (*there, *new)
        eyes[group] = eye
        first += len(run)
    return tuple(scenes)


def _runs(
    steps: Sequence[AssemblyStep], bodies: Mapping[str, RigidBody]
) -> list[list[AssemblyStep]]:  # fmt: skip
    """Return the steps in runs that one picture shows."""
    runs: list[list[AssemblyStep]] = []
    for step in steps:
        if runs and _goes_with(step, runs[-1], bodies):
            runs[-1].append(step)
        else:
            runs.append([step])
    return runs


def _goes_with(
    step: AssemblyStep, run: Sequence[AssemblyStep], bodies: Mapping[str, RigidBody]
) -> bool:
    last = run[-1]
    single = all(len(each.pieces) == 1 and len(each.moves) == 1 for each in (step, last))
    if not single or step.group != last.group:
        return False
    one, other = bodies[step.pieces[0]], bodies[last.pieces[0]]
    way, its = step.moves[0].direction, last.moves[0].direction
    if level_of(way) is not level_of(its):
        return False
    if one.like == other.like:
        return True
    normal, their = (each.flats[0].placement.normal for each in (one, other))
    parallel = norm(cross(normal, their)) < 1e-6 and np.allclose(way, its, atol=1e-6)
    return parallel and len(run) < _MOST_TOGETHER


def _eye_for(moves: Sequence[Move], eye: Eye) -> Eye:
    """Return the eye that serves: this one where it does, else one from another side."""
    if _serves(eye, moves):
        return eye
    tried = [replace(eye, azimuth=(eye.azimuth + turn) % 360.0) for turn in _TURNS]
    usual = replace(eye, azimuth=USUAL_AZIMUTH)
    return next((each for each in (usual, *tried) if _serves(each, moves)), eye)


def _serves(eye: Eye, moves: Sequence[Move]) -> bool:
    """Return whether what comes in stands before the rest, its way not towards the eye."""
    if not moves:
        return True
    out = -np.array([move.direction for move in moves]) @ eye.axes.T
    from_front = float(out[:, 2].mean()) > _FROM_BEHIND
    return from_front and float(np.hypot(*out[:, :2].T).max()) > _FORESHORTENED
