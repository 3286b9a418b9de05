"""Mutated inputs over every reader: each ends in success or in one clear line.

    python tests/hostile/mutations.py COUNT [SEED]

Mutations know the structure of what they change: values and members of JSON, attributes and
elements of SVG, group codes of DXF, tables of fonts, chunks of pictures; and plain bytes of all.
What ends otherwise, or takes 10 s of computing or 1 GiB, is told and kept in tests/data/found,
where the suite reads it from then on.
"""

import hashlib
import io
import json
import logging
import os
import random
import re
import resource
import signal
import struct
import sys
import tempfile
import time
import traceback
import zipfile
import zlib
from collections import Counter
from functools import cache
from multiprocessing import get_context
from pathlib import Path

import ezdxf
import trimesh
from PIL import Image

from anzel.app.edits import sketch_edits
from anzel.core.asset import Asset
from anzel.core.findings import MakerError
from anzel.core.typeface import lettering_font
from anzel.drawings.reader import read_drawing
from anzel.geometry.letter_outlines import letter_outlines
from anzel.materials.fits import FitRule, KerfAt
from anzel.output.cut_file_reader import parse_cut_file, read_lines
from anzel.output.nesting_json import read_problem
from anzel.project.demos import herb_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.refit.analysis import analyse
from anzel.refit.refit import RefitOptions, refit_drawing
from anzel.storage import project_file, stock_library
from anzel.storage.mesh_reader import read_mesh
from anzel.tracing.picture import grey_of_picture

FOUND = Path(__file__).parents[1] / "data" / "found"
SECONDS, MEBIBYTES = 10, 1024
WORKERS = 2
STRANGE = (
    0, -1, 1, 0.5, -0.0, 1e-320, 1e-9, 1e9, 1e40, 1e308, -1e308, 2**31, 2**63, 10**400, True, None,
    "", "x", "nan", "inf", "½", "\x00", "a" * 5000, [], {}, [[]], [0] * 300,
)  # fmt: skip
WORDS = (
    b"0",
    b"-1",
    b"nan",
    b"inf",
    b"1e308",
    b"1e-320",
    b"9" * 400,
    b"",
    b"x",
    b"%",
    b"#a",
    b"\xff",
)


class TooLongError(Exception):
    """An input took more than its seconds."""


# --- sound inputs, small so that many can be tried -----------------------------------------------

SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="90mm" viewBox="0 0 120 90">
<defs><g id="a"><path d="M2 2H12V8H2Z"/></g><linearGradient id="b"/></defs>
<style>.cut{stroke:#f00;fill:none}</style>
<path class="cut" d="M0 0H50V3H47V10H50V30H20V25H17V30H0Z M10 10A4 4 0 1 1 10 18A4 4 0 1 1 10 10Z"/>
<g transform="translate(60 5) rotate(15)"><rect width="30" height="20" rx="2"/>
<circle cx="9" cy="9" r="3"/><ellipse cx="20" cy="9" rx="3" ry="2"/></g>
<polyline points="5,60 25,60 25,70"/><polygon points="40,60 60,60 50,75"/>
<line x1="70" y1="60" x2="90" y2="60"/><use href="#a" x="5" y="70"/>
<path d="M70 65C75 60 80 60 85 65Q88 70 80 75T70 65z"/><text x="5" y="85">Mossgate</text></svg>"""


def _dxf() -> bytes:
    made = ezdxf.new("R2000")
    made.units = 4
    space = made.modelspace()
    box = [(0, 0), (50, 0), (50, 30), (20, 30), (20, 25), (17, 25), (17, 30), (0, 30)]
    space.add_lwpolyline(box, close=True)
    space.add_circle((10, 10), 3)
    space.add_arc((70, 20), 8, 0, 180)
    space.add_line((62, 20), (78, 20))
    space.add_ellipse((100, 20), (8, 0), 0.5)
    space.add_spline([(60, 40), (70, 50), (80, 40), (60, 40)])
    block = made.blocks.new("B")
    block.add_lwpolyline([(0, 0), (9, 0), (9, 5)], close=True)
    space.add_blockref("B", (20, 60), dxfattribs={"rotation": 30, "xscale": 2})
    space.add_text("Mossgate", dxfattribs={"height": 4})
    text = io.StringIO()
    made.write(text)
    return text.getvalue().encode()


def _png() -> bytes:
    picture, stream = Image.new("L", (60, 40), 255), io.BytesIO()
    picture.paste(0, (10, 8, 45, 30))
    picture.save(stream, format="PNG", dpi=(96, 96))
    return stream.getvalue()


def _jpeg() -> bytes:
    stream = io.BytesIO()
    Image.open(io.BytesIO(_png())).save(stream, format="JPEG")
    return stream.getvalue()


def _stocks() -> bytes:
    records = [stock.model_dump(mode="json") for stock in herb_stand().stocks]
    return json.dumps({"anzel-stocks": 1, "stocks": records, "cutters": []}).encode()


def _puzzle() -> bytes:
    piece = {"name": "a", "outline": [[0, 0], [9, 0], [9, 7], [0, 7]], "count": 3}
    return json.dumps({"sheets": [{"width": 40, "height": 30}], "pieces": [piece]}).encode()


def _plate() -> bytes:
    return (Path(__file__).parents[2] / "docs" / "examples" / "panel.json").read_bytes()


def _mesh(ending: str) -> bytes:
    made = trimesh.creation.box((20, 30, 40)).export(file_type=ending)
    return made if isinstance(made, bytes) else made.encode()


@cache
def sound(kind: str) -> bytes:
    """Sound content of a kind."""
    makers = {
        "project": lambda: project_file.to_bytes(herb_stand()),
        "free project": lambda: project_file.to_bytes(project_of("free")),
        "svg": lambda: SVG, "dxf": _dxf, "png": _png, "jpeg": _jpeg, "stocks": _stocks,
        "puzzle": _puzzle, "plate": _plate, "font": lettering_font,
        **{ending: lambda ending=ending: _mesh(ending) for ending in ("stl", "obj", "ply", "3mf")},
    }  # fmt: skip
    return makers[kind]()


# --- readers ------------------------------------------------------------------------------------


def _file(read, ending):
    def run(content: bytes) -> object:
        with tempfile.NamedTemporaryFile(suffix=ending, dir=_memory()) as file:
            file.write(content)
            file.flush()
            return read(Path(file.name))

    return run


def _memory() -> str | None:
    return "/dev/shm" if os.access("/dev/shm", os.W_OK) else None


def _refit(ending):
    def run(content: bytes) -> None:
        wish = RefitOptions(2.94, FitRule(0.05, 0.16, KerfAt.DRAWING))
        refit_drawing(analyse(read_drawing(content, f"d{ending}")), wish).written()

    return run


def _picture(content: bytes) -> None:
    grey_of_picture(Asset.of("picture", content))


def _take_plate(content: bytes) -> None:
    try:
        record = json.loads(content)
    except (ValueError, RecursionError):
        return  # what is no JSON is refused before the plate is looked at
    if isinstance(record, dict):
        solved_structure_of(sketch_edits.add_plate_record(project_of("free"), record)[0])


READERS = {
    "project": ("project", project_file.from_bytes),
    "free project": ("free project", project_file.from_bytes),
    "plate": ("plate", _take_plate),
    "svg": ("svg", lambda content: read_drawing(content, "d.svg")),
    "dxf": ("dxf", lambda content: read_drawing(content, "d.dxf")),
    "svg refit": ("svg", _refit(".svg")), "dxf refit": ("dxf", _refit(".dxf")),
    "svg cut": ("svg", lambda content: parse_cut_file(content, ".svg")),
    "dxf cut": ("dxf", lambda content: parse_cut_file(content, ".dxf")),
    "svg lines": ("svg", lambda content: read_lines(content, ".svg")),
    "dxf lines": ("dxf", lambda content: read_lines(content, ".dxf")),
    "font": ("font", lambda content: letter_outlines("Moß 3", 9.0, content)),
    "png": ("png", _picture),
    "jpeg": ("jpeg", _picture),
    "stocks": ("stocks", _file(stock_library.load_rack, ".json")),
    "puzzle": ("puzzle", read_problem),
    **{kind: (kind, _file(read_mesh, f".{kind}")) for kind in ("stl", "obj", "ply", "3mf")},
}  # fmt: skip


# --- mutations ----------------------------------------------------------------------------------


def _in_json(record, pick):
    """Change a value somewhere, take one out, put one twice, or move one elsewhere."""
    places = []

    def walk(node):
        for key in node if isinstance(node, dict) else range(len(node)):
            places.append((node, key))
            if isinstance(node[key], dict | list):
                walk(node[key])

    walk(record)
    for _ in range(pick.choice((1, 1, 2, 4))):
        node, key = pick.choice(places)
        other, there = pick.choice(places)
        kind = pick.randrange(5)
        try:
            if kind == 0:
                node[key] = pick.choice(STRANGE)
            elif kind == 1 and isinstance(node[key], int | float):
                node[key] = node[key] * pick.choice((-1, 0, 1e-6, 1e6, 1.0000001))
            elif kind == 2:
                del node[key]
            elif kind == 3 and isinstance(node, list):
                node.extend([node[key]] * pick.choice((1, 2, 50)))
            else:
                node[key] = json.loads(json.dumps(other[there]))
        except (KeyError, IndexError, TypeError, OverflowError):
            continue  # an earlier change has taken the place away
    return record


def _json(content, pick):
    return json.dumps(_in_json(json.loads(content), pick)).encode()


def _project(content, pick):
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        record = _in_json(json.loads(archive.read("project.json")), pick)
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        archive.writestr("project.json", json.dumps(record))
    return stream.getvalue()


def _svg(content, pick):
    for _ in range(pick.choice((1, 1, 2, 4))):
        kind = pick.randrange(4)
        pattern = (rb"-?\d+\.?\d*", rb'"[^"]*"', rb"<[^>]*>", rb"[A-Za-z]+")[kind]
        found = list(re.finditer(pattern, content))
        if not found:
            continue
        one, other = pick.choice(found), pick.choice(found)
        new = other.group() * pick.choice((0, 1, 1, 2)) if pick.random() < 0.5 else b""
        if kind < 2 and pick.random() < 0.6:
            new = pick.choice(WORDS)
            new = b'"' + new + b'"' if kind else new
        content = content[: one.start()] + new + content[one.end() :]
    return content


def _codes(content, pick):
    lines = content.split(b"\n")
    start = next((n for n, line in enumerate(lines) if line.strip() == b"ENTITIES"), 0)
    for _ in range(pick.choice((1, 1, 2, 4))):
        at = min(
            start + 1 + 2 * pick.randrange(max((len(lines) - start) // 2 - 1, 1)), len(lines) - 3
        )
        if pick.random() < 0.2:
            at = 2 * pick.randrange(max(len(lines) // 2 - 2, 1))
        kind = pick.randrange(4)
        if kind == 0:
            lines[at + 1] = pick.choice(WORDS)
        elif kind == 1:
            lines[at] = str(pick.choice((0, 5, 8, 10, 20, 42, 70, 90, 1071, -5))).encode()
        elif kind == 2:
            del lines[at : at + 2 * pick.choice((1, 1, 3, 9))]
        else:
            lines[at:at] = lines[at : at + 2 * pick.choice((1, 3, 9, 30))]
    return b"\n".join(lines)


def _tables(content, pick):
    made = bytearray(content)
    count = struct.unpack(">H", made[4:6])[0]
    entry = 12 + 16 * pick.randrange(count)
    offset, length = struct.unpack(">II", made[entry + 8 : entry + 16])
    for _ in range(pick.choice((1, 2, 8))):
        if pick.random() < 0.2:
            field = entry + pick.choice((0, 8, 12))
            made[field : field + 4] = struct.pack(
                ">I", pick.choice((0, 1, 2**31, 2**32 - 1, offset))
            )
        else:
            at = min(offset + pick.randrange(max(min(length, 400), 1)), len(made) - 1)
            made[at] = pick.choice((0, 1, 127, 128, 255, made[at] ^ (1 << pick.randrange(8))))
    return bytes(made)


def _chunks(content, pick):
    chunks, at = [], 8
    while at + 8 <= len(content):
        length = struct.unpack(">I", content[at : at + 4])[0]
        chunks.append((content[at + 4 : at + 8], bytearray(content[at + 8 : at + 8 + length])))
        at += 12 + length
    for _ in range(pick.choice((1, 1, 2))):
        kind, body = pick.choice(chunks)
        if body and pick.random() < 0.7:
            body[pick.randrange(len(body))] = pick.choice((0, 1, 3, 16, 127, 255))
        elif pick.random() < 0.5:
            chunks.append((kind, body))
        else:
            del body[pick.randrange(len(body) + 1) :]
    return content[:8] + b"".join(
        struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
        for kind, body in chunks
    )


def _bytes(content, pick):
    made = bytearray(content)
    for _ in range(pick.choice((1, 2, 5, 20))):
        at, span = pick.randrange(len(made) + 1), pick.choice((0, 1, 1, 4, 40))
        made[at : at + span] = pick.choice((b"", bytes([pick.randrange(256)]), *WORDS, made[:40]))
    return bytes(made)


BY_KIND = {
    "project": _project, "free project": _project, "plate": _json, "stocks": _json, "puzzle": _json,
    "svg": _svg, "dxf": _codes, "font": _tables, "png": _chunks,
}  # fmt: skip


def mutated(reader: str, seed: int, plain: float = 0.15) -> bytes:
    """The input of a number for a reader, always the same one; `plain` of them change bytes."""
    kind, pick = READERS[reader][0], random.Random(f"{reader} {seed}")
    change = BY_KIND.get(kind, _bytes)
    return (_bytes if pick.random() < plain else change)(sound(kind), pick)


# --- running ------------------------------------------------------------------------------------


def _too_long(number, frame):
    raise TooLongError


def outcome(reader: str, content: bytes) -> str:
    """How an input ends: "read", "refused", or what is wrong."""
    held, begun = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.perf_counter()
    signal.signal(signal.SIGPROF, _too_long)
    signal.setitimer(signal.ITIMER_PROF, SECONDS)
    try:
        READERS[reader][1](content)
        ended = "read"
    except MakerError as error:
        ended = "refused" if "\n" not in str(error) and len(str(error)) < 400 else f"! {error}"
    except TooLongError:
        ended = f"! more than {SECONDS} s"
    except BaseException:
        ended = "! " + traceback.format_exc()
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
    more = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - held) / 1024
    if more > MEBIBYTES:
        ended = f"! {more:.0f} MiB in {time.perf_counter() - begun:.1f} s"
    return ended


def run(job: tuple[int, int, int]) -> tuple[Counter, list[tuple[str, int, str]]]:
    """Try a share of the inputs. Returns how many ended how, and the wrong ones."""
    first, last, step = job
    resource.setrlimit(resource.RLIMIT_AS, (12 << 30, 12 << 30))
    logging.disable()  # ezdxf and fontTools tell of each oddity
    told, wrong, readers = Counter(), [], list(READERS)
    for number in range(first, last, step):
        reader = readers[number % len(readers)]
        content = mutated(reader, number)
        ended = outcome(reader, content)
        told[f"{reader} {ended.split()[0]}"] += 1
        if ended.startswith("!"):
            wrong.append((reader, number, ended))
            FOUND.mkdir(exist_ok=True)
            name = f"{hashlib.sha1(content).hexdigest()[:10]}.{reader.replace(' ', '-')}"
            (FOUND / name).write_bytes(content)
    return told, wrong


def main(count: int, seed: int) -> int:
    """Try so many inputs, and tell."""
    begun, told, wrong, piece = time.perf_counter(), Counter(), [], 2000
    jobs = [(seed + n, min(seed + n + piece, seed + count), 1) for n in range(0, count, piece)]
    with get_context("spawn").Pool(WORKERS, maxtasksperchild=20) as pool:
        for some, bad in pool.imap_unordered(run, jobs):
            told += some
            wrong += bad
            for reader, number, ended in bad:
                print(f"{reader} {number}: {ended}", flush=True)
            print(f"{told.total()} in {time.perf_counter() - begun:.0f} s", flush=True)
    for key in sorted(told):
        print(f"{key:24}{told[key]:9}")
    print(f"{told.total()} inputs, {len(wrong)} wrong")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0))
