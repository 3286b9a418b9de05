"""What a picture of the structure shows, and in which colours."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from anzel.assembly.partings import Parting
from anzel.geometry.placement import Vector
from anzel.scene.camera import Camera
from anzel.structure.model import FitContext, SolvedStructure

Rgb = tuple[float, float, float]


@dataclass(frozen=True)
class RenderStyle:
    """Colours, each channel 0 to 1: the ground, the shadow, edges, and each piece's tint.

    Which pieces are picked, which are hidden, and which are new and stand out; the position of a
    lit lamp, and the stocks that its light passes.
    """

    ground: Rgb
    shadow: Rgb
    edge: Rgb
    accent: Rgb
    tints: Mapping[str, Rgb]
    picked: frozenset[str] = field(default_factory=frozenset)
    hidden: frozenset[str] = field(default_factory=frozenset)
    new: frozenset[str] = field(default_factory=frozenset)
    lit_through: frozenset[str] = field(default_factory=frozenset)
    lamp: Vector | None = None

    def same_pieces(self, other: "RenderStyle") -> bool:
        """Return whether the pieces look alike in both, whatever is round them."""
        return replace(self, lamp=other.lamp) == other


@dataclass(frozen=True)
class RenderRequest:
    """A request for a picture; equal requests need no new picture.

    `apart` runs from 0 (together) to 1. With `fit` the camera keeps its direction but moves so that
    everything is in view. `size` is (width, height) in pixels. `cut_open` is the share of the whole
    that is cut away towards the eye, 0 to 1. A `plain` picture is quicker and coarser, for while
    things move. A piece may be `dragged` away from its place, mm. Pieces part on ways that are
    `proven`, where those are known. Pieces that are `placed` stand off their places, mm, and the
    camera keeps room for that.
    """

    solved: SolvedStructure
    fit_context: FitContext
    apart: float
    camera: Camera
    fit: bool
    style: RenderStyle
    size: tuple[int, int]
    cut_open: float = 0.0
    plain: bool = False
    dragged: tuple[str, Vector] | None = None
    proven: tuple[Parting, ...] = ()
    placed: tuple[tuple[str, Vector], ...] | None = None
