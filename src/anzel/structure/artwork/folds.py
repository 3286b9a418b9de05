"""Folds of a plate."""

from dataclasses import dataclass

from anzel.geometry.rigid_transform import Point


@dataclass(frozen=True)
class Fold:
    """A straight fold through a point; what lies `towards` its far side turns up by an angle."""

    at: Point
    towards: Point
    angle: float
