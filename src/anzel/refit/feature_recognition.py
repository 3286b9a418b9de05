"""Feature recognition.

Which of the local shapes follow the sheet's thickness, and which are uncertain.
"""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from anzel.core.tolerances import ROUNDING
from anzel.drawings.containment import Flags
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Floats
from anzel.refit.features import DrawnFeature, DrawnFeatureKind, DrawnFeatures, FingerRow
from anzel.refit.finger_rows import EdgeInterpretation, SteppedEdge, interpret_edges, stepped_edges
from anzel.refit.local_shapes import LocalShapes
from anzel.refit.mates import alike, has_mate, is_preferred, straight_lengths
from anzel.refit.thickness_estimation import tolerance_for

_ROW = 3
"""Alike holes in a piece that make a row of vents, where nothing goes into them."""
_LONGER = 1.25
"""A mortise is at least this many times as long as wide; otherwise its sides cannot be told
apart."""


@dataclass(frozen=True)
class DrawnThicknesses:
    """The thicknesses that a drawing was made for, and the tolerance of sizes, mm."""

    drawn: tuple[float, ...]
    tolerance: float | None = None

    def thickness_of(self, size: float) -> float | None:
        """Return the drawn thickness that a size stands for; None if for none."""
        found = float(self.thicknesses_of(np.array([size]))[0])
        return None if np.isnan(found) else found

    def thicknesses_of(self, sizes: Floats) -> Floats:
        """Return (n,) the drawn thickness that each size stands for, NaN if for none."""
        if not self.drawn:
            return np.full(len(sizes), np.nan)
        drawn = np.array(self.drawn)
        reach = np.array([tolerance_for(t) if self.tolerance is None else self.tolerance
                          for t in self.drawn])  # fmt: skip
        off = np.abs(sizes[:, None] - drawn[None, :])
        nearest = np.argmin(off, axis=1)
        near = off[np.arange(len(sizes)), nearest] <= reach[nearest] + ROUNDING
        return np.where(near, drawn[nearest], np.nan)


def recognise_features(
    shapes: LocalShapes,
    drawn_thicknesses: DrawnThicknesses,
    chosen: Mapping[str, EdgeInterpretation] | None = None,
) -> DrawnFeatures:
    """Return every feature made for one of the drawn thicknesses, in drawing order.

    The maker may have `chosen` what stepped edges are, by their ids.
    """
    edges = stepped_edges(shapes, drawn_thicknesses.thicknesses_of(shapes.steps.height))
    slots = list(_slots(shapes, drawn_thicknesses))
    others = len(slots) > 1 or any(len(edge.walls) > 2 for edge in edges)
    mortises = list(_mortises(shapes, drawn_thicknesses, others=others))
    readings = interpret_edges(edges, [m.length for m in mortises], chosen)
    rows: dict[str, FingerRow] = {}
    stepped: list[DrawnFeature] = []
    gaps: set[int] = set()
    floors = {each.middle for each in slots}
    for reading in readings:
        edge, is_unsure = reading.edge, reading.taken_for is EdgeInterpretation.UNSURE
        if is_unsure and floors & {edge.sides[i] for i in edge.gaps}:
            continue  # a notch as deep as wide is one doubtful thing, not two
        own = _of_edge(shapes, edge, reading.taken_for, rows, gaps)
        stepped += [each._replace(edge=reading.id) for each in own]
    slots = [slot for slot in slots if slot.middle not in gaps]
    rows = _with_corners(shapes, rows)
    ordered = sorted([*slots, *mortises, *stepped], key=lambda each: each.middle)
    return DrawnFeatures(tuple(_named(ordered)), rows, tuple(readings))


def _named(ordered: Sequence[DrawnFeature]) -> Iterator[DrawnFeature]:
    counts: Counter[DrawnFeatureKind] = Counter()
    for each in ordered:
        counts[each.kind] += 1
        yield DrawnFeature(f"{each.kind.value}-{counts[each.kind]}", *each[1:])


def _slots(shapes: LocalShapes, drawn_thicknesses: DrawnThicknesses) -> Iterator[DrawnFeature]:
    sides, found = shapes.sides, shapes.notches
    meant_for, deep_as = (
        drawn_thicknesses.thicknesses_of(found.wide),
        drawn_thicknesses.thicknesses_of(found.long),
    )
    before, after = sides.before[found.side], sides.after[found.side]
    at = (sides.start(found.side) + sides.end[found.side]) / 2
    at = at - sides.along[before] * found.long[:, None] / 2
    loops = sides.loop[found.side]
    for piece, loop, side, wide, deep, is_round, thickness, recess, x, wall, other in zip(
        sides.nested.piece_number[loops].tolist(), loops.tolist(),
        found.side.tolist(), found.wide.tolist(), found.long.tolist(), found.round.tolist(),
        meant_for.tolist(), (~np.isnan(deep_as)).tolist(), at.tolist(), before.tolist(),
        after.tolist(), strict=True,
    ):  # fmt: skip
        if thickness != thickness:
            continue
        doubt = ""
        if is_round:
            doubt = "its floor is round: it may be for a rod or a cord"
        elif deep < 0.8 * wide or recess:
            doubt = "it is hardly deeper than wide: it could be a recess"
        yield DrawnFeature(
            "", piece, loop, DrawnFeatureKind.SLOT, (x[0], x[1]), wide, deep, thickness, side,
            (wall, other), (), "", doubt,
        )  # fmt: skip


def _mortises(
    shapes: LocalShapes, drawn_thicknesses: DrawnThicknesses, *, others: bool
) -> Iterator[DrawnFeature]:
    """Yield the rectangular holes as wide as a sheet, with a doubt where no tab goes into one.

    Where the drawing shows how its pieces meet, by tabs in other holes or by the `others` among its
    features, rows of alike holes that nothing goes into are left out: they are decoration or let
    air through.
    """
    sides, found = shapes.sides, shapes.holes
    opposite = sides.after[sides.after[found.side]]
    corners = (sides.start(found.side), sides.end[found.side])
    at = (corners[0] + corners[1] + sides.start(opposite) + sides.end[opposite]) / 4
    mated = has_mate(shapes, found)
    preferred = is_preferred(shapes, found)
    shown = others or bool(mated.any())
    rows = zip(
        found.side.tolist(), found.wide.tolist(), straight_lengths(found).tolist(),
        found.round.tolist(), drawn_thicknesses.thicknesses_of(found.wide).tolist(), at.tolist(),
        opposite.tolist(), mated.tolist(), preferred.tolist(), _in_row(shapes).tolist(),
        strict=True,
    )  # fmt: skip
    for side, wide, long, is_round, thickness, x, other, is_mated, is_best, in_row in rows:
        if thickness != thickness or (shown and in_row and not is_mated):
            continue
        doubt = "" if is_mated else _doubt(wide, long, is_round=is_round, shown=shown)
        if is_mated and in_row and not is_best:
            doubt = "its tab goes better into another hole"
        yield DrawnFeature(
            "", *_owner(shapes, side), DrawnFeatureKind.MORTISE, (x[0], x[1]), wide, long,
            thickness, side,
            widening=(side, other), uncertainty=doubt,
        )  # fmt: skip


def _in_row(shapes: LocalShapes) -> Flags:
    """Return (n,) whether each hole is one of several alike in its piece."""
    rings = shapes.sides.nested
    found = shapes.holes
    piece = rings.piece_number[shapes.sides.loop[found.side]].astype(float)
    kind = alike(piece, found.wide, found.long)
    return np.asarray(np.bincount(kind, minlength=1)[kind] >= _ROW)


def _doubt(wide: float, long: float, *, is_round: bool, shown: bool) -> str:
    """Return why a hole that no tab of the drawing goes into may be no mortise."""
    if is_round:
        return "its ends are round: it may be for a screw"
    if long < _LONGER * wide:
        return "it is about as long as wide: which side takes the sheet cannot be told"
    return "nothing in the drawing goes into it" if shown else ""


def _of_edge(
    shapes: LocalShapes,
    edge: SteppedEdge,
    reading: EdgeInterpretation,
    rows: dict[str, FingerRow],
    gaps: set[int],
) -> Iterator[DrawnFeature]:
    """Yield the tabs or fingers of a stepped edge.

    Its row is added to the rows, its gaps to the gaps, which are no slots.
    """
    if reading is EdgeInterpretation.TABS:
        for number in edge.posts:
            yield _standing(shapes, edge, number, DrawnFeatureKind.TAB)
        return
    row, doubt = "", ""
    if reading is EdgeInterpretation.FINGERS:
        row = f"row-{len(rows) + 1}"
        outer = tuple(s for s, out in zip(edge.sides, edge.outer, strict=True) if out)
        inner = tuple(s for s, out in zip(edge.sides, edge.outer, strict=True) if not out)
        height = float(np.median(shapes.sides.length[list(edge.walls)]))
        rows[row] = FingerRow(row, edge.thickness, height, outer, inner)
        gaps.update(edge.sides[i] for i in edge.gaps)
    elif reading is EdgeInterpretation.NEITHER or len(edge.walls) == 1:
        return  # one step alone: any corner cut out of a piece looks like that
    else:
        doubt = "it steps by the sheet's thickness, unevenly: it could be a recess"
    for number, is_outer in enumerate(edge.outer):
        if is_outer:
            yield _standing(shapes, edge, number, DrawnFeatureKind.FINGER)._replace(
                row=row, uncertainty=doubt
            )


def _standing(
    shapes: LocalShapes, edge: SteppedEdge, number: int, kind: DrawnFeatureKind
) -> DrawnFeature:
    sides, side = shapes.sides, edge.sides[number]
    walls = [edge.walls[i] for i in (number - 1, number) if 0 <= i < len(edge.walls)]
    height = float(np.mean([sides.length[wall] for wall in walls]))
    middle = (sides.start(side) + sides.end[side]) / 2
    inwards = sides.along[side] @ np.array([[0.0, 1.0], [-1.0, 0.0]])  # material is on the left
    return DrawnFeature(
        "", *_owner(shapes, side), kind, _point(middle + inwards * height / 2), height,
        edge.lengths[number], edge.thickness, side, rising=(side,),
    )  # fmt: skip


def _with_corners(shapes: LocalShapes, rows: dict[str, FingerRow]) -> dict[str, FingerRow]:
    """Return the rows with the walls of neighbouring rows that stand at their inner level.

    Where a corner of the piece is one finger of both edges, its sides are a thickness long.
    """
    sides = shapes.sides
    row_at = {side: row for row in rows.values() for side in (*row.outer, *row.inner)}
    walls: dict[str, list[int]] = {}
    for row in rows.values():
        for side in row.outer:
            for corner, wall in (
                (int(sides.after[side]), int(sides.before[side])),
                (int(sides.before[side]), int(sides.after[side])),
            ):
                other = row_at.get(corner)
                if other is None or other is row or corner not in other.outer:
                    continue
                if abs(sides.length[side] - other.thickness) <= tolerance_for(other.thickness):
                    walls.setdefault(other.id, []).append(wall)
    return {
        name: replace(row, corner_walls=tuple(walls.get(name, ()))) for name, row in rows.items()
    }


def _owner(shapes: LocalShapes, side: int) -> tuple[int, int]:
    """Return the piece and the loop of a side."""
    ring = int(shapes.sides.loop[side])
    return int(shapes.sides.nested.piece_number[ring]), ring


def _point(at: np.ndarray) -> Point:
    return (float(at[0]), float(at[1]))
