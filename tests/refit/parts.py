"""Random parts as makers of many habits draw them, each made for any thickness from its sizes.

Nothing here knows what a refit looks for. A part is drawn along its edges: each edge carries
features at places along it, at heights over it. What follows the sheet takes `t`, the height of
tabs and fingers, and `w`, the width of openings; all else has its own numbers.
"""

from collections.abc import Callable
from math import atan2, cos, degrees, hypot, radians, sin, sqrt, tan
from random import Random

from tests.refit.made import chamfer, fillet, relief

from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Arc, Line, Segment

Loop = list[Segment]
Loops = list[Loop]
Part = Callable[[float, float], Loops]
"""A part's loops for tabs `t` high and openings `w` wide, its outline first, about the origin."""
Run = list[Point | Arc]
"""Points and arcs in order: the edges between them are straight."""


def closed(run: Run) -> Loop:
    """The loop through points and arcs."""
    made: Loop = []
    ends = [(p.start, p.end) if isinstance(p, Arc) else (p, p) for p in run]
    for here, (_, end), (start, _) in zip(run, ends, [*ends[1:], ends[0]], strict=True):
        if isinstance(here, Arc):
            made.append(here)
        if hypot(start[0] - end[0], start[1] - end[1]) > 1e-9:
            made.append(Line(end, start))
    return made


def along(start: Point, end: Point, features: list[Run]) -> Run:
    """An edge from a corner to the next with features on it, given as (along, into the part)."""
    angle = degrees(atan2(end[1] - start[1], end[0] - start[0]))
    place = RigidTransform.rotation(angle).translated(*start)
    run: Run = [start]
    for feature in features:
        run += [p.moved(place) if isinstance(p, Arc) else place(p) for p in feature]
    return run


def treated(run: list[Point], at: set[int], treat) -> Run:
    """Points with the corners of some numbers treated."""
    made: Run = []
    for number, corner in enumerate(run):
        if number in at and treat is not None:
            made += [
                e if isinstance(e, Arc) else p
                for e in treat(run[number - 1], corner, run[(number + 1) % len(run)])
                for p in ([e] if isinstance(e, Arc) else [e.start, e.end])
            ]
        else:
            made.append(corner)
    return made


def slot(s: float, w: float, depth: float, slant: float = 0.0, treat=None) -> Run:
    """A slot about a place of its edge, `slant` degrees off square, its floor square to it."""
    a = radians(slant)
    ux, uy, nx, ny = sin(a), cos(a), cos(a), -sin(a)
    mouth = w / 2 / cos(a)
    floor = [
        (s + ux * depth + side * nx * w / 2, uy * depth + side * ny * w / 2) for side in (-1, 1)
    ]
    return treated([(s - mouth, 0.0), *floor, (s + mouth, 0.0)], {1, 2}, treat)


def tab(s: float, long: float, t: float, foot: str, size: float) -> Run:
    """A tab with what its maker does at its feet and tips."""
    a, b = s - long / 2, s + long / 2
    if foot == "notches":
        deep = 1.2 * size
        return [
            (a - size, 0.0), (a - size, deep), (a, deep), (a, -t),
            (b, -t), (b, deep), (b + size, deep), (b + size, 0.0),
        ]  # fmt: skip
    run = [(a - 2 * size, 0.0), (a, 0.0), (a, -t), (b, -t), (b, 0.0), (b + 2 * size, 0.0)]
    if foot == "lead":
        return treated(run, {2, 3}, chamfer(0.3))[1:-1]
    treat = {"round": relief(size / 2), "fillet": fillet(0.3)}.get(foot)
    return treated(run, {1, 4}, treat)[1:-1]


def bolt_slot(s: float, size: float) -> Run:
    """A slot for a bolt with a pocket for its nut, its own numbers all."""
    half, nut, thick, ahead, rest = size / 2, 0.92 * size, 0.8 * size, 2.2 * size, 1.5 * size
    way = [(half, 0), (half, ahead), (nut, ahead), (nut, ahead + thick), (half, ahead + thick),
           (half, ahead + thick + rest)]  # fmt: skip
    return [*((s - x, y) for x, y in way), *((s + x, y) for x, y in reversed(way))]


def fingers(long: float, count: int, t: float, starts_out: bool) -> Run:
    """Even fingers and gaps on a whole edge: the outer level is the edge, the inner one below."""
    pitch = long / count
    run: Run = []
    for i in range(count):
        level = 0.0 if (i % 2 == 0) == starts_out else t
        run += [(i * pitch, level), ((i + 1) * pitch, level)]
    return run


def mortise(x: float, y: float, long: float, w: float, style: str, size: float) -> Loop:
    """A mortise; with round ends, `long` is its straight part."""
    a, b = long / 2, w / 2
    corners: list[Point] = [(x - a, y - b), (x - a, y + b), (x + a, y + b), (x + a, y - b)]
    if style == "round":
        right = Arc((x + a, y + b), (x + a, y - b), (x + a, y), clockwise=True)
        left = Arc((x - a, y - b), (x - a, y + b), (x - a, y), clockwise=True)
        return closed([right, left])
    treat = {"relief": relief(size / 2), "fillet": fillet(0.35)}.get(style)
    return closed(treated(corners, {0, 1, 2, 3}, treat))


def disc(x: float, y: float, r: float) -> Loop:
    """A round hole."""
    return closed(
        [Arc((x + r, y), (x - r, y), (x, y), True), Arc((x - r, y), (x + r, y), (x, y), True)]
    )


def plate(width: float, height: float, edges: list[list[Run]]) -> Loop:
    """A plate with features on its lower, right, upper and left edge."""
    corners: list[Point] = [(0, 0), (width, 0), (width, height), (0, height)]
    run: Run = []
    for number, features in enumerate(edges):
        run += along(corners[number], corners[(number + 1) % 4], features)
    return closed(run)


def slotted(rng: Random, depth: float, drawn: float) -> Part:
    """A plate with slots in a straight or sloping edge, all of one depth, upright."""
    count = rng.randint(1, 6)
    pitch = rng.uniform(14, 30)
    width, height = pitch * (count + 1), depth * rng.uniform(1.6, 2.6) + 10
    slope = rng.choice([0.0, 0.0, 0.0, rng.uniform(5, 60)])
    rise = min(width * tan(radians(slope)), 60.0)
    angle = degrees(atan2(rise, width))
    treat = rng.choice([None, None, fillet(0.15 * drawn), relief(0.15 * drawn)])
    hole = rng.random() < 0.4
    lean = rng.choice([0.0, 0.0, rng.uniform(-35, 35)]) if slope == 0 else 0.0
    scallops = rng.random() < 0.2

    def draw(t: float, w: float) -> Loops:
        slots = [
            slot(pitch * (i + 1) / cos(radians(angle)), w, depth, lean - angle, treat)
            for i in range(count)
        ]
        lower = [_scallop(pitch * (i + 1), 0.3 * pitch) for i in range(count) if scallops]
        run: Run = along((0.0, 0.0), (width, 0.0), lower)
        run.append((width, 0.0))
        run += along((width, height), (0.0, height + rise), slots)
        run.append((0.0, height + rise))
        rest = [disc(width / 2, height - depth - 6, 2.5)] if hole and height > depth + 12 else []
        return [closed(run), *rest]

    return draw


def _scallop(s: float, r: float) -> Run:
    """A hollow for fingers: a flat arc cut into an edge."""
    return [Arc((s - r, 0.0), (s + r, 0.0), (s, -0.6 * r), clockwise=True)] if r else []


def neighbours(rng: Random, depth: float) -> Part:
    """Two slotted plates side by side; the side between them is a side of both."""
    height = 2 * depth + 10
    widths = [rng.uniform(40, 70), rng.uniform(40, 70)]

    def draw(t: float, w: float) -> Loops:
        made: Loops = []
        left = 0.0
        for width in widths:
            right = left + width
            run: Run = [(left, 0.0), (right, 0.0)]
            run += along((right, height), (left, height), [slot(width / 2, w, depth)])
            run.append((left, height))
            made.append(closed(run))
            left = right
        return made

    return draw


def dome(rng: Random, depth: float) -> Part:
    """A half disc with upright slots through its rim, up to 60° off square to it."""
    count = rng.randint(2, 4)
    radius = max(depth * 2.2, 40.0) + rng.uniform(0, 40)
    xs = [radius * 0.86 * (2 * (i + 0.5) / count - 1) for i in range(count)]

    def draw(t: float, w: float) -> Loops:
        run: Run = [(-radius, 0.0), (radius, 0.0)]
        before = (radius, 0.0)
        for x in reversed(xs):
            right, left = ((e, sqrt(radius**2 - e**2)) for e in (x + w / 2, x - w / 2))
            floor = max(sqrt(radius**2 - x**2) - depth, 4.0)
            run.append(Arc(before, right, (0.0, 0.0)))
            run += [(right[0], floor), (left[0], floor)]
            before = left
        run.append(Arc(before, (-radius, 0.0), (0.0, 0.0)))
        return [closed(run[2:])]

    return draw


def tabbed_and_base(rng: Random, drawn: float) -> list[Part]:
    """Plates with tabs, and the base they go into: mortises as long as the tabs, and as many."""
    walls = rng.randint(1, 4)
    foot = rng.choice(["plain", "plain", "notches", "round", "fillet", "lead"])
    style = rng.choice(["sharp", "sharp", "relief", "fillet", "round"])
    size = min(rng.choice([0.6, 1.0, 1.0, 1.5]), 0.6 * drawn)
    bolts = rng.random() < 0.25
    bolt = rng.choice([3.0, 4.0])
    longs = [rng.uniform(8, 24) for _ in range(rng.randint(1, 3))]
    if style == "round":
        longs = [max(each, 12) for each in longs]
    gap = max(longs) + rng.uniform(18, 40)
    width = gap * (len(longs) + 1)
    heights = [rng.uniform(25, 70) for _ in range(walls)]
    slack = rng.choice([0.0, 0.0, 0.1, -0.1])
    extras = _vents(rng) if rng.random() < 0.35 else None
    strip = rng.choice([0.0, 0.0, 0.0, 1.0])
    holes = rng.random() < 0.4

    def wall(height: float) -> Part:
        def draw(t: float, w: float) -> Loops:
            lower = [tab(gap * (i + 1), long, t, foot, size) for i, long in enumerate(longs)]
            if bolts:
                lower.insert(1, bolt_slot(gap * 1.5, bolt))
            inner = [disc(width / 2, height * 0.6, 3.0)] if holes else []
            if strip:  # the wall's ends stand back by a sheet, as long as a sheet is thick
                lower.insert(0, [(0.0, drawn), (drawn, drawn), (drawn, 0.0)])
                lower.append([(width - drawn, 0.0), (width - drawn, drawn), (width, drawn)])
                return [
                    closed([*along((0, 0), (width, 0), lower)[1:], (width, height), (0, height)]),
                    *inner,
                ]
            return [plate(width, height, [lower, [], [], []]), *inner]

        return draw

    def base(t: float, w: float) -> Loops:
        pitch = 26.0
        rows = [
            mortise(gap * (i + 1), 14 + pitch * k, long + slack, w, style, size)
            for k in range(walls) for i, long in enumerate(longs)
        ]  # fmt: skip
        deep = pitch * walls + 10
        more: Loops = []
        if bolts:
            more += [disc(gap * 1.5, 14 + pitch * k, bolt / 2 + 0.1) for k in range(walls)]
        if extras is not None:
            own, tall = extras
            moved = RigidTransform().translated(10.0, deep + 4)
            more += [[e.moved(moved) for e in loop] for loop in own]
            deep += tall + 12
        wide = max(width, 130.0)
        return [plate(wide, deep, [[], [], [], []]), *rows, *more]

    return [*(wall(height) for height in heights), base]


def finger_walls(rng: Random) -> list[Part]:
    """Two pairs of walls of an open box: fingers at both ends, one pair starting outside."""
    count = rng.choice([3, 5, 7, 9])
    height = count * rng.uniform(7, 16)
    wide, deep = rng.uniform(60, 160), rng.uniform(50, 120)
    treat = rng.random() < 0.3

    def wall(width: float, starts_out: bool) -> Part:
        def draw(t: float, w: float) -> Loops:
            right = fingers(height, count, t, starts_out)
            left = fingers(height, count, t, starts_out)
            run: Run = [*along((width, 0.0), (width, height), [right])[1:],
                        *along((0.0, height), (0.0, 0.0), [left])[1:]]  # fmt: skip
            points = [p for i, p in enumerate(run) if not i or p != run[i - 1]]
            return [closed(_rounded(points) if treat else points)]

        return draw

    return [wall(wide, True), wall(wide, True), wall(deep, False), wall(deep, False)]


def _rounded(points: list[Point]) -> Run:
    """Points with small fillets at their concave corners."""
    points = [
        p
        for i, p in enumerate(points)
        if hypot(p[0] - points[i - 1][0], p[1] - points[i - 1][1]) > 1e-9
    ]
    concave = set()
    for i, corner in enumerate(points):
        a, b = points[i - 1], points[(i + 1) % len(points)]
        cross = (corner[0] - a[0]) * (b[1] - corner[1]) - (corner[1] - a[1]) * (b[0] - corner[0])
        if cross < -1e-9:
            concave.add(i)
    return treated(points, concave, fillet(0.4))


def _vents(rng: Random) -> tuple[Loops, float]:
    """A row of slots for air, their own size all."""
    count, long, wide = rng.randint(3, 8), rng.uniform(15, 30), rng.uniform(1.5, 6.0)
    round_ended = rng.random() < 0.5
    pitch = wide + rng.uniform(4, 8)
    made: Loops = []
    for i in range(count):
        x = pitch * (i + 0.5)
        upright = mortise(0, 0, long, wide, "round" if round_ended else "sharp", 0)
        place = RigidTransform.rotation(90).translated(x, long / 2 + wide)
        made.append([e.moved(place) for e in upright])
    return made, long + 2 * wide


def hinged(rng: Random) -> Part:
    """A plate with a living hinge: staggered slits, straight or wavy, some open at the edge."""
    wide = rng.choice([0.2, 0.4, 0.8, 1.0, 2.0, 3.0])
    web = rng.choice([0.8, 1.5, 2.5, 4.0]) + (wide if rng.random() < 0.3 else 0)
    long, bridge = rng.uniform(18, 30), rng.uniform(2.5, 5)
    rows, columns = rng.randint(6, 14), 3
    wavy = rng.random() < 0.3
    open_ended = rng.random() < 0.5
    height = columns * (long + bridge) - bridge + 2 * bridge
    width = rows * (wide + web) + 60

    def draw(t: float, w: float) -> Loops:
        holes: Loops = []
        lower: list[Run] = []
        upper: list[Run] = []
        for r in range(rows):
            x = 30 + r * (wide + web)
            if r % 2 == 0:
                ends = [
                    (bridge + k * (long + bridge), bridge + k * (long + bridge) + long)
                    for k in range(columns)
                ]
            else:
                half = (long + bridge) / 2
                ends = [
                    (
                        half + bridge + k * (long + bridge),
                        half + bridge + k * (long + bridge) + long,
                    )
                    for k in range(columns - 1)
                ]
                if open_ended:
                    lower.append(slot(x, wide, half - bridge / 2))
                    upper.insert(0, slot(width - x, wide, half - bridge / 2))
            holes += [_slit(x, low, high, wide, wavy) for low, high in ends]
        return [plate(width, height, [lower, [], upper, []]), *holes]

    return draw


def _slit(x: float, low: float, high: float, wide: float, wavy: bool) -> Loop:
    if not wavy:
        return closed(
            [(x - wide / 2, low), (x - wide / 2, high), (x + wide / 2, high), (x + wide / 2, low)]
        )
    bow = 0.3 * wide
    points = [(bow * (-1) ** i, low + (high - low) * i / 4) for i in range(5)]
    left = [(x - wide / 2 + dx, y) for dx, y in points]
    right = [(x + wide / 2 + dx, y) for dx, y in points]
    return closed([*left, *reversed(right)])


def plain(rng: Random) -> Part:
    """A cover with holes for screws, a window and rounded corners."""
    wide, high, r = rng.uniform(40, 120), rng.uniform(30, 90), rng.uniform(2, 6)

    def draw(t: float, w: float) -> Loops:
        run = treated([(0, 0), (wide, 0), (wide, high), (0, high)], {0, 1, 2, 3}, fillet(r))
        holes = [disc(x, y, 1.6) for x in (8, wide - 8) for y in (8, high - 8)]
        window = mortise(wide / 2, high / 2, wide * 0.4, high * 0.3, "sharp", 0)
        return [closed(run), *holes, window]

    return draw
