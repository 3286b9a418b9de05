"""How much engraved strokes slow a structure down, as a ratio in one run.

Run it with `.venv/bin/python benchmarks/strokes.py`.

2,000 engraved strokes on 40 pieces, 50 on each: *solving*, with the shapes that every view wants of
the pieces, and *laying*, with them over the same without. Every reading changes a thickness, so
that nothing is known before. The median of many ratios, each of two runs one after the other.
"""

import time
from collections.abc import Callable
from itertools import count
from statistics import median

from anzel.app.edits import stock_edits
from anzel.core.asset import Asset
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import project_of
from anzel.structure.artwork.drawn import drawn_by
from anzel.structure.artwork.records import PlateArtwork
from anzel.structure.forms.sliceform import Sliceform
from asked_help import tell_help

PIECES, STROKES, REPEATS = 40, 50, 9
_readings = count()


def bare() -> Project:
    """Return a slice form of so many pieces."""
    project = project_of("sliceform")
    form = project.structure
    assert isinstance(form, Sliceform)
    changed = form.with_changes(
        first=PIECES // 2, second=PIECES // 2, width=240, depth=240, height=160
    )
    return project.with_changes(structure=changed)


def engraved(project: Project) -> Project:
    """Return the project with strokes engraved on every piece."""
    lines = "".join(f'<path d="M{at} 0V8"/>' for at in range(STROKES))
    text = f'<svg xmlns="http://www.w3.org/2000/svg" width="{STROKES}mm" height="8mm" '
    text += f'viewBox="0 0 {STROKES} 8">{lines}</svg>'
    file = Asset.of("strokes.svg", text.encode())
    names = [piece.name for piece in solved_structure_of(project).pieces]
    items = tuple(
        PlateArtwork(id=f"L{number}", plate=name, file=file, width=24.0)
        for number, name in enumerate(names, start=1)
    )
    drawn_by(items[0])
    structure = project.structure.with_changes(own_artwork=items)
    return project.with_changes(structure=structure)


def measured(project: Project) -> Project:
    """Return the project with another reading: everything has to be derived anew."""
    stock = project.stocks_in_use[0]
    value = stock.nominal_thickness - 0.1 + 0.0007 * next(_readings)
    return stock_edits.add_readings(project, stock.id, [value])


def seconds(project: Project, work: Callable[[Project], object]) -> float:
    """Return how long a piece of work takes after another reading."""
    changed = measured(project)
    begun = time.perf_counter()
    work(changed)
    return time.perf_counter() - begun


def pieces(project: Project) -> None:
    """Derive all pieces and their shapes."""
    for piece in solved_structure_of(project).pieces:
        assert not piece.region.shape.is_empty


def main() -> None:
    """Print the ratios."""
    plain = bare()
    drawn = engraved(plain)
    solved = solved_structure_of(drawn)
    lines = sum(len(piece.lines) for piece in solved.pieces)
    print(f"{len(solved.pieces)} pieces, {lines} strokes")
    for word, work in (
        ("solving", pieces),
        ("laying", lambda p: layout_of(p, p.stocks_in_use[0].id)),
    ):
        pairs = [(seconds(plain, work), seconds(drawn, work)) for _ in range(REPEATS)]
        before, after = (median(times) for times in zip(*pairs, strict=True))
        ratio = median(with_lines / without for without, with_lines in pairs)
        print(f"{word}: {1e3 * after:.0f} ms over {1e3 * before:.0f} ms, {ratio:.2f} times")


if __name__ == "__main__":
    tell_help(__doc__)
    main()
