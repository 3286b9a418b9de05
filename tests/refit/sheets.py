"""Random sheets: one or two designs, extras, twins at any angle, everything set apart."""

from dataclasses import dataclass
from random import Random

from tests.refit.parts import (
    Loops,
    Part,
    dome,
    finger_walls,
    hinged,
    neighbours,
    plain,
    slotted,
    tabbed_and_base,
)

from anzel.geometry.rigid_transform import RigidTransform


@dataclass(frozen=True)
class Sheet:
    """What one maker has drawn: parts for a sheet `drawn` thick, their openings `opening` wide."""

    parts: tuple[Part, ...]
    places: tuple[RigidTransform, ...]
    drawn: float
    opening: float
    words: str
    is_loose: bool = False
    """Whether each edge is drawn by itself, and once where two parts share it."""

    def loops(self, t: float, w: float) -> list[Loops]:
        """The loops of each part, for tabs and openings of these sizes, where they lie."""
        return [
            [[edge.moved(place) for edge in loop] for loop in part(t, w)]
            for part, place in zip(self.parts, self.places, strict=True)
        ]


def random_sheet(seed: int) -> Sheet:
    """The sheet of a seed: one or two designs, extras, twins at any angle, everything set apart."""
    rng = Random(seed)
    drawn = round(
        rng.choice([1.5, 2.0, 2.7, 3.0, 3.0, 3.2, 4.0, 5.0, 6.0]) + rng.uniform(-0.1, 0.2), 2
    )
    off = rng.choice([0.0, 0.0, rng.uniform(-0.2, 0.1)])
    opening = drawn + off * min(1.0, drawn / 3)
    parts: list[Part] = []
    words = []
    for design in rng.sample(["slots", "tabs", "fingers"], rng.choice([1, 1, 2])):
        words.append(design)
        if design == "slots":
            depth = rng.uniform(4 * drawn, 30)
            parts += [slotted(rng, depth, drawn) for _ in range(rng.randint(2, 5))]
            if rng.random() < 0.4:
                parts += [dome(rng, min(depth, 20.0)) for _ in range(2)]
                words.append("dome")
        elif design == "tabs":
            parts += tabbed_and_base(rng, drawn)
        else:
            parts += finger_walls(rng)
    if rng.random() < 0.3:
        parts.append(hinged(rng))
        words.append("hinge")
    if rng.random() < 0.4:
        parts.append(plain(rng))
    if rng.random() < 0.5:
        parts += [parts[rng.randrange(len(parts))] for _ in range(rng.randint(1, 3))]
        words.append("twins")
    is_loose = rng.random() < 0.25
    if is_loose:
        parts.append(neighbours(rng, rng.uniform(4 * drawn, 30)))
        words.append("loose")
    is_turned = rng.random() < 0.6
    places, left = [], 0.0
    for part in parts:
        loops = part(drawn, opening)
        place = RigidTransform.rotation(
            rng.uniform(0, 360) if is_turned else 0.0, over=is_turned and rng.random() < 0.4
        )
        around = [e.moved(place).point_at(k / 4) for loop in loops for e in loop for k in range(5)]
        xs, ys = zip(*around, strict=True)
        places.append(place.translated(left - min(xs) + 8, -min(ys) + 8))
        left += max(xs) - min(xs) + 12
    return Sheet(tuple(parts), tuple(places), drawn, opening, " ".join(words), is_loose)
