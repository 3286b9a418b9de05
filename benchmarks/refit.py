"""Refit of a found drawing, over what svgelements needs only to parse the same file.

- *time*: finding and moving on a sheet of 400 pieces with 9,600 slots, over the parse; reading and
  writing are told beside it.
- *memory*: the most that reading, finding and moving take, over the most of the parse; each in a
  process of its own, less what it had after the same on two pieces, which loads its code.
- *dxf*: reading 900 pieces of a DXF, drawn as loose lines, over a plain `ezdxf.readfile`.
- *growth*: the time a feature takes among 48,000, over the time it takes among 9,600.
"""

import gc
import io
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from tempfile import NamedTemporaryFile

import ezdxf
import svgelements

from anzel.core.collecting import COLLECT_AFTER
from anzel.drawings.reader import read_drawing
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.analysis import analyse
from anzel.refit.refit import Refit, RefitOptions, refit_drawing
from asked_help import tell_help

PIECES, SLOTS, REPEATS = 400, 24, 5
WISH = RefitOptions(4.0, FitRule(0.05, 0.16, KerfAt.DRAWING))
MEMORY = """
import io, sys
sys.path.insert(0, "benchmarks")
from refit import WISH, analyse, held, moved, read_drawing, refit_drawing, sheet, svgelements
content = sheet(2)
WORK
content = sheet(400)
open("/proc/self/clear_refs", "w").write("5")  # the most so far counts no more
before = held("VmRSS")
WORK
print(held("VmHWM") - before)
"""
PARSE = "kept = svgelements.SVG.parse(io.BytesIO(content))"
REFIT = 'kept = refit_drawing(analyse(read_drawing(content, "sheet.svg")), WISH); moved(kept)'


def held(what: str) -> int:
    """What this process holds (VmRSS) or held at most (VmHWM), kB (proc(5))."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith(what))


def sheet(pieces: int) -> bytes:
    """A page of plates, each with 24 slots in one edge."""
    plates = []
    for number in range(pieces):
        x, y = number % 20 * 260, number // 20 * 100
        mouths = "".join(
            f"L{x + s + 3} {y + 80}L{x + s + 3} {y + 50}L{x + s} {y + 50}L{x + s} {y + 80}"
            for s in range(10 * SLOTS, 0, -10)
        )
        plates.append(f'<path d="M{x} {y}H{x + 255}V{y + 80}{mouths}L{x} {y + 80}Z"/>')
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="5200mm" viewBox="0 0 5200 {pieces * 5}">'
    )
    return (head + "\n".join(plates) + "</svg>").encode()


def main() -> None:
    """Print the ratios; garbage is collected as seldom as the application does it, for both."""
    gc.set_threshold(*COLLECT_AFTER)
    content = sheet(PIECES)
    parse = timed(lambda: svgelements.SVG.parse(io.BytesIO(content)))
    read = timed(lambda: read_drawing(content, "sheet.svg"))
    drawing = read_drawing(content, "sheet.svg")
    work = timed(lambda: moved(refit_drawing(analyse(drawing), WISH)))
    done = refit_drawing(analyse(drawing), WISH)
    assert sum(each.moved for each in done.decisions) == PIECES * SLOTS
    write = timed(done.written)
    print(f"refit    {work / parse:.2f} × svgelements' parse ({work:.2f} s, parse {parse:.2f} s)")
    print(f"         reading {read / parse:.2f} ×, writing {write / parse:.2f} ×")
    print(f"memory   {memory(REFIT) / memory(PARSE):.2f} × svgelements' parse")
    print(f"dxf      {dxf_ratio():.2f} × a plain ezdxf.readfile")
    large = read_drawing(sheet(5 * PIECES), "sheet.svg")
    growth = timed(lambda: moved(refit_drawing(analyse(large), WISH))) / 5 / work
    print(f"growth   {growth:.2f} × the time a feature takes, among five times as many")


def dxf_ratio() -> float:
    """The time of reading a DXF of 900 slotted plates over that of ezdxf alone."""
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    for drawn in read_drawing(sheet(900), "sheet.svg").paths:
        for edge in drawn.segments:
            space.add_line(edge.start, edge.end)
    with NamedTemporaryFile(suffix=".dxf") as file:
        document.saveas(file.name)
        content = Path(file.name).read_bytes()
        return timed(lambda: read_drawing(content, "sheet.dxf")) / timed(
            lambda: ezdxf.readfile(file.name)
        )


def moved(done: Refit) -> None:
    """Move every edge, one path after the other, as it is written."""
    for _ in done.changed_paths():
        pass


def timed(work: Callable[[], object]) -> float:
    """The usual time of some work, s."""
    times = []
    for _ in range(REPEATS):
        gc.collect()
        start = time.perf_counter()
        kept = work()
        times.append(time.perf_counter() - start)
        del kept
    return median(times)


def memory(work: str) -> int:
    """The most memory that some work takes on top of its imports, kB."""
    code = MEMORY.replace("WORK", work)
    return int(subprocess.run([sys.executable, "-c", code], check=True, capture_output=True,
                              text=True).stdout)  # fmt: skip


if __name__ == "__main__":
    tell_help(__doc__)
    main()
