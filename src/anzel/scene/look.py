"""What a picture of the structure shall show, and in which colours."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from anzel.scene.camera import Camera
from anzel.structure.plates import Build, Sheets

Rgb = tuple[float, float, float]


@dataclass(frozen=True)
class Look:
    """Colours, each channel 0 to 1: the ground, the shadow, edges, and each piece's tint; which
    pieces are picked, and which are left out."""

    ground: Rgb
    shadow: Rgb
    edge: Rgb
    accent: Rgb
    tints: Mapping[str, Rgb]
    picked: frozenset[str] = field(default_factory=frozenset)
    hidden: frozenset[str] = field(default_factory=frozenset)


@dataclass(frozen=True)
class Wanted:
    """A picture to make; equal ones need no new picture.

    `apart` runs from 0 (together) to 1. With `fit` the camera keeps its direction but moves so
    that everything is in view. `size` is (width, height) in pixels. `cut_open` is the share of
    the whole that is left away towards the eye, 0 to 1.
    """

    build: Build
    sheets: Sheets
    apart: float
    camera: Camera
    fit: bool
    look: Look
    size: tuple[int, int]
    cut_open: float = 0.0
