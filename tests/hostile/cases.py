"""Hostile files, made here: for each reader a table of name → content."""

import io
import json
import struct
import zipfile
import zlib

import ezdxf
import numpy as np
from PIL import Image

from anzel.project.demos import herb_stand
from anzel.storage import project_file

SQUARE = "M0 0H40V30H0Z"
NUMBERS = ("nan", "inf", "-inf", "1e308", "-1e308", "1e40", "1e9", "1e-320")


def svg(body, head='width="100mm" height="100mm" viewBox="0 0 100 100"', before=""):
    """An SVG file round a body."""
    return f'{before}<svg xmlns="http://www.w3.org/2000/svg" {head}>{body}</svg>'.encode()


def path(data, more=""):
    """An SVG file with one path beside a good square."""
    return svg(f'<path d="{SQUARE}"/><path d="{data}" {more}/>')


def svg_cases():
    """Drawings and cut files."""
    long_style, long_transform = "a" * 400_000, "translate(" + "1" * 400_000
    nested = "".join('<g transform="scale(1000)">' for _ in range(120))
    use = '<g id="g0"><path d="M0 0H1V1Z"/></g>' + "".join(
        f'<g id="g{n + 1}">' + f'<use href="#g{n}"/>' * 10 + "</g>" for n in range(12)
    )
    entity = '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]>'
    w3c = (
        '<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" '
        '"http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">'
    )
    whole = svg(f'<path d="{SQUARE}"/>').decode()
    return {
        "empty": b"", "no svg": b"<html/>", "half": svg("")[:-3], "zeros": bytes(5000),
        "entities": svg(f'<path d="{SQUARE}"/>', before=entity),
        "standard doctype": svg(f'<path d="{SQUARE}"/>', before=w3c),
        "utf-7": b'<?xml version="1.0" encoding="utf-7"?>' + svg(f'<path d="{SQUARE}"/>'),
        "rot13": b'<?xml version="1.0" encoding="rot13"?>' + svg(f'<path d="{SQUARE}"/>'),
        "base64": b'<?xml version="1.0" encoding="base64"?>' + svg(f'<path d="{SQUARE}"/>'),
        "idna": b'<?xml version="1.0" encoding="idna"?>' + svg(f'<path d="{SQUARE}"/>'),
        "utf-16": whole.encode("utf-16"), "utf-32": whole.encode("utf-32"),
        "long style": path("M0 0H9", f'style="{long_style}"'),
        "many colons": path("M0 0H9", 'style="' + "display:" * 60_000 + '"'),
        "spaces in style": path("M0 0H9", 'style="display' + " " * 300_000 + 'x"'),
        "style sheet": svg(f'<style>{"a" * 300_000}</style><path d="{SQUARE}"/>'),
        "open rules": svg(f'<style>{"a{" * 60_000}</style><path d="{SQUARE}"/>'),
        "long transform": path("M0 0H9", f'transform="{long_transform}"'),
        "commas in transform": path("M0 0H9", 'transform="' + " , " * 200_000 + '"'),
        "names in transform": path("M0 0H9", 'transform="' + "a" * 300_000 + '"'),
        "long length": svg('<rect width="' + "1" * 400_000 + '" height="9"/>'),
        "long exponent": svg('<rect width="1e' + "9" * 200_000 + '" height="9"/>'),
        "long number": path("M0 0H" + "1" * 300_000), "long dots": path("M0 0H" + ".1" * 100_000),
        "long view box": svg(f'<path d="{SQUARE}"/>', head='viewBox="' + "1" * 300_000 + '"'),
        "signs": path("M0 0L" + "-" * 200_000), "letters": path("M" * 200_000),
        "deep": svg("<g>" * 5000 + "</g>" * 5000), "growing": svg(nested + path("M0 0H1").decode()),
        "growing flat": svg(nested + f'<path d="{SQUARE}"/>' + "</g>" * 120),
        "uses of uses": svg(use + '<use href="#g12"/>'),
        "use of itself": svg('<g id="a"><use href="#a"/></g><use href="#a"/>'),
        "far control": path("M0 0C1e9 1e9 -1e9 1e9 5 5Z"),
        "very far control": path("M0 0C1e300 0 0 1e300 5 5Z"),
        "far controls, many": path("M0 0" + "C9e8 9e8 -9e8 9e8 5 5" * 2000 + "Z"),
        "tiny arcs": path("M0 0" + "a1e-9 1e-9 0 0 1 1e-9 1e-9" * 500),
        "huge arc": path("M0 0A1e9 1e9 0 0 1 10 10Z"), "arc in place": path("M5 5A3 3 0 1 1 5 5Z"),
        "thin arc": path("M0 0A1e-300 1e300 0 0 1 10 10Z"),
        "endless turn": path("M0 0A5 5 1e308 0 1 10 10Z"),
        "turned round": path(SQUARE, 'transform="rotate(1e308)"'),
        "flat": path(SQUARE, 'transform="scale(0)"'),
        "skewed flat": path(SQUARE, 'transform="skewX(90)"'),
        "bow tie": svg('<path d="M0 0L40 30V0L0 30Z"/>'),
        "sliver": svg('<path d="M0 0H90V1e-7H0Z"/>'),
        "thin": svg('<path d="M0 0H90V.05H0Z"/>'),
        "spike": svg('<path d="M0 0H40V30H20V90V30H0Z"/>'),
        "doubled points": svg(f'<path d="M0 0H0{"H40H40" * 50}V30H0Z"/>'),
        "there and back": path("M5 5H50Z"), "one point": path("M5 5Z"),
        "overlapping": svg('<path d="M0 0H90V90H0Z M50 50H99V99H50Z M60 60H80V80H60Z"/>'),
        "arc of nothing": path("M0 0A1e-200 1e-200 0 0 1 1e-210 0Z"),
        "long turn": path(SQUARE, f'transform="rotate({"9" * 400})"'),
        "only moves": path("M1 1M2 2M3 3"),
        "negative rectangle": svg('<rect width="-5" height="9"/><rect width="9" height="5"/>'),
        "circle of nothing": svg('<circle r="0"/><circle r="-3"/><rect width="9" height="5"/>'),
        "points": svg('<polygon points="0,0 40"/><polygon points="x"/>'),
        "many points": svg('<polyline points="' + "0 0 " * 200_000 + '"/>'),
        "no size": svg(f'<path d="{SQUARE}"/>', head='width="0" height="0" viewBox="0 0 0 0"'),
        "page of nan": svg(f'<path d="{SQUARE}"/>', head='width="nanmm" viewBox="0 0 nan 1"'),
        "huge page": svg(f'<path d="{SQUARE}"/>', head='width="1e300mm" viewBox="0 0 1e-300 1"'),
        "odd piece": svg(f'<path class="outer cut" data-piece="{"x" * 9000}" d="{SQUARE}"/>'),
        "island in a hole": svg('<path d="M0 0H90V90H0Z M10 10H80V80H10Z M35 35H55V55H35Z"/>'),
        "far off": svg('<path d="M9000 9000h40v30h-40z"/>'),
        **{f"at {n}": path(f"M{n} 0H40V30Z") for n in NUMBERS},
        **{f"circle {n}": svg(f'<circle cx="{n}" cy="5" r="{n}"/>') for n in NUMBERS},
        **{f"matrix {n}": path(SQUARE, f'transform="matrix({n} 0 0 {n} 0 0)"') for n in NUMBERS},
    }  # fmt: skip


def dxf(entities, header="9\n$INSUNITS\n70\n4\n"):
    """A DXF file from the text of its entities."""
    head = f"0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n{header}0\nENDSEC\n"
    return f"{head}0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n".encode()


def polyline(points, closed=1):
    """The text of a polyline through (x, y, bulge)."""
    rows = "".join(f"10\n{x}\n20\n{y}\n42\n{bulge}\n" for x, y, bulge in points)
    head = "0\nLWPOLYLINE\n8\n0\n100\nAcDbEntity\n100\nAcDbPolyline\n"
    return f"{head}90\n{len(points)}\n70\n{closed}\n{rows}"


BOX = [(0, 0, 0), (40, 0, 0), (40, 30, 0), (0, 30, 0)]


def _with_insert(columns, rows, nested=0):
    """A document with an array of inserts, or blocks within blocks."""
    document = ezdxf.new("R2000")
    document.units = 4
    block = document.blocks.new("b0")
    block.add_lwpolyline([(0, 0), (9, 0), (9, 5)], close=True)
    for number in range(nested):
        outer = document.blocks.new(f"b{number + 1}")
        for _ in range(10):
            outer.add_blockref(f"b{number}", (0, 0))
    insert = document.modelspace().add_blockref(f"b{nested}", (0, 0))
    insert.dxf.column_count, insert.dxf.row_count = columns, rows
    insert.dxf.column_spacing = insert.dxf.row_spacing = 0.001
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


def dxf_cases():
    """Drawings and cut files."""
    insert = "0\nINSERT\n8\n0\n2\nb\n10\n0\n20\n0\n70\n32767\n71\n32767\n44\n1\n45\n1\n"
    spline = (
        "0\nSPLINE\n8\n0\n100\nAcDbEntity\n100\nAcDbSpline\n70\n8\n71\n3\n72\n8\n73\n4\n"
        + "".join(f"40\n{k}\n" for k in (0, 0, 0, 0, 1, 1, 1, 1))
        + "".join(
            f"10\n{x}\n20\n{y}\n30\n0\n" for x, y in ((0, 0), (1e12, 9e12), (-9e11, 5), (1, 1))
        )
    )
    ansi = (
        dxf(polyline(BOX).replace("8\n0\n", "8\nÄrmel\n", 1), "9\n$DWGCODEPAGE\n3\nANSI_1252\n")
        .decode()
        .encode("cp1252")
    )
    return {
        "empty": b"", "text": b"hello", "half": dxf(polyline(BOX))[:200], "zeros": bytes(4000),
        "array of nothing": dxf(insert), "array": _with_insert(32767, 32767),
        "negative array": _with_insert(-5, 3), "blocks of blocks": _with_insert(1, 1, nested=12),
        "insert of itself": dxf("0\nINSERT\n8\n0\n2\n*Model_Space\n10\n0\n20\n0\n"),
        "far spline": dxf(polyline(BOX) + spline),
        "no points": dxf(polyline([])), "one point": dxf(polyline([(1, 1, 0)])),
        "bow tie": dxf(polyline([(0, 0, 0), (40, 30, 0), (40, 0, 0), (0, 30, 0)])),
        "sliver": dxf(polyline([(0, 0, 0), (90, 0, 0), (90, 1e-8, 0)])),
        "thin": dxf(polyline([(0, 0, 0), (90, 0, 0), (90, 0.05, 0), (0, 0.05, 0)])),
        "tiny bulges": dxf(polyline([(x, y, 1e-14) for x, y, _ in BOX])),
        "huge bulges": dxf(polyline([(x, y, 1e12) for x, y, _ in BOX])),
        "circle of nothing": dxf("0\nCIRCLE\n8\n0\n10\n0\n20\n0\n40\n0\n"),
        "huge circle": dxf("0\nCIRCLE\n8\n0\n10\n0\n20\n0\n40\n1e300\n"),
        "turned inside out": dxf("0\nCIRCLE\n8\n0\n10\n0\n20\n0\n40\n-9\n"),
        "odd units": dxf(polyline(BOX), "9\n$INSUNITS\n70\n999\n"),
        "far off": dxf(polyline([(x + 9000, y + 9000, b) for x, y, b in BOX])),
        "garbled number": dxf(polyline([("1.5x2", 0, 0), *BOX[1:]])),
        "codes that are none": dxf("0\nLINE\nabc\n0\n10\n\n"),
        "ansi": ansi,
        **{f"at {n}": dxf(polyline([(n, 0, 0), *BOX[1:]])) for n in NUMBERS},
        **{f"bulge {n}": dxf(polyline([(0, 0, n), *BOX[1:]])) for n in NUMBERS},
        **{f"circle {n}": dxf(f"0\nCIRCLE\n8\n0\n10\n{n}\n20\n0\n40\n{n}\n") for n in NUMBERS},
        **{
            f"arc {n}": dxf(f"0\nARC\n8\n0\n10\n0\n20\n0\n40\n9\n50\n{n}\n51\n90\n")
            for n in NUMBERS
        },
        **{f"line {n}": dxf(f"0\nLINE\n8\n0\n10\n0\n20\n0\n11\n{n}\n21\n9\n") for n in NUMBERS},
    }  # fmt: skip


def zipped(members, **zip_info):
    """A zip of name → content; `zip_info` sets attributes of every member."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in members.items():
            archive.writestr(name, content)
    content = bytearray(buffer.getvalue())
    central, local = b"PK\x01\x02", b"PK\x03\x04"
    for at, mark, field in (
        (10, central, "codec"), (8, local, "codec"), (6, central, "version"), (4, local, "version"),
    ):  # fmt: skip
        if field in zip_info:
            start = content.find(mark)
            while start >= 0:
                content[start + at : start + at + 2] = struct.pack("<H", zip_info[field])
                start = content.find(mark, start + 1)
    return bytes(content)


def understated(content):
    """A zip whose members claim to be small."""
    made = bytearray(content)
    for mark, at in ((b"PK\x01\x02", 24), (b"PK\x03\x04", 22)):
        start = made.find(mark)
        while start >= 0:
            made[start + at : start + at + 4] = struct.pack("<I", 10)
            start = made.find(mark, start + 1)
    return bytes(made)


def project_cases():
    """Project files."""
    sound = json.loads(
        zipfile.ZipFile(io.BytesIO(project_file.to_bytes(herb_stand()))).read("project.json")
    )

    def project(**changes):
        record = {"anzel": sound["anzel"], "project": {**sound["project"], **changes}}
        return zipped({"project.json": json.dumps(record)})

    ring = [[0, 0], *([x % 7, x % 5] for x in range(400_000)), [0, 0]]
    plate = {
        "name": "P",
        "stock": "birch-3",
        "outline": {"shape": "drawn", "outline": {"outer": ring, "holes": []}},
    }
    huge = "1" + "0" * 400
    return {
        "empty": b"", "no zip": b"PK\x03\x04 no", "no member": zipped({"a": b"b"}),
        "entries": zipped({"project.json": "[" + ",".join(["0"] * 20_000_000) + "]"}),
        "entries in a project": zipped(
            {"project.json": '{"anzel":4,"project":{"takes":[' + "{}," * 5_000_000 + "0]}}"}
        ),
        "nested lists": zipped({"project.json": "[" * 100_000}),
        "many members": zipped({f"assets/{n}": b"" for n in range(30_000)}),
        "bomb": zipped({"project.json": bytes(200_000_000)}),
        "understated bomb": understated(zipped({"project.json": bytes(100_000_000)})),
        "huge number": zipped({"project.json": f'{{"anzel": {huge}, "project": {{}}}}'}),
        "huge size": project(sheets={"spacing": 10**400}),
        "infinite": zipped({"project.json": '{"anzel":4,"project":{"sheets":{"spacing":1e999}}}'}),
        "codec 99": zipped({"project.json": "{}"}, codec=99),
        "codec 14": zipped({"project.json": "{}"}, codec=14),
        "version 9999": zipped({"project.json": "{}"}, version=9999),
        "long outline": project(structure={"form": "free", "plates": [plate], "joints": []}),
        "lone surrogate": zipped({"project.json": b'{"anzel":4,"project":{"name":"\\ud800"}}'}),
        "utf-16": zipped({"project.json": '{"anzel":4}'.encode("utf-16")}),
        "true version": zipped({"project.json": '{"anzel":true}'}),
        "strange stocks": project(stocks=[]), "stocks are none": project(stocks=None),
        "strange form": project(structure={"form": []}),
        "no form": project(structure=[]),
    }  # fmt: skip


def _stl(count, corners):
    return bytes(80) + struct.pack("<I", count) + np.asarray(corners, "<f4").tobytes()


def _3mf(model, **zip_info):
    types = '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>'
    return zipped({"[Content_Types].xml": types, "3D/3dmodel.model": model}, **zip_info)


def _model(vertices, triangles):
    space = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
    return (
        f'<model unit="millimeter" xmlns="{space}"><resources><object id="1" type="model"><mesh>'
        f"<vertices>{vertices}</vertices><triangles>{triangles}</triangles></mesh></object>"
        '</resources><build><item objectid="1"/></build></model>'
    )


def mesh_cases():
    """Meshes, by their ending."""
    corners = '<vertex x="0" y="0" z="0"/><vertex x="9" y="0" z="0"/><vertex x="0" y="9" z="0"/>'
    one = '<triangle v1="0" v2="1" v3="2"/>'
    ply = (
        "ply\nformat ascii 1.0\nelement vertex {}\nproperty float x\nproperty float y\n"
        "property float z\nelement face {}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    return {
        "empty.stl": b"", "claims.stl": _stl(2**32 - 1, []), "nan.stl": _stl(1, [np.nan] * 12),
        "flat.stl": _stl(1, [0, 0, 1, 0, 0, 0, 9, 0, 0, 0, 9, 0]), "text.stl": b"solid\n" * 9000,
        "huge.obj": b"v 0 0 0\nv 1e200 0 0\nv 0 1e200 0\nv 0 0 1e200\nf 1 2 3\nf 1 2 4\n",
        "empty.obj": b"", "index.obj": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 99999999\n",
        "negative.obj": b"v 0 0 0\nf -9 -8 -7\n", "nan.obj": b"v nan nan nan\nf 1 1 1\n",
        "words.obj": b"v a b c\nf x y z\n",
        "far.obj": b"v 1e300 0 0\nv 0 1e300 0\nv 0 0 1e300\nf 1 2 3\n",
        "empty.ply": b"", "claims.ply": ply.format(10**9, 10**9).encode(),
        "index.ply": (ply.format(3, 1) + "0 0 0\n1 0 0\n0 1 0\n3 0 1 77\n").encode(),
        "minus.ply": ply.format(-3, -1).encode(),
        "empty.3mf": b"", "no model.3mf": zipped({"a": b""}),
        "flat.3mf": _3mf(_model(corners, one)),
        "index.3mf": _3mf(_model(corners, '<triangle v1="0" v2="1" v3="999999999"/>')),
        "minus.3mf": _3mf(_model(corners, '<triangle v1="-5" v2="1" v3="2"/>')),
        "words.3mf": _3mf(_model(corners, '<triangle v1="a" v2="b" v3="c"/>')),
        "nan.3mf": _3mf(_model('<vertex x="nan" y="inf" z="1e999"/>' * 3, one)),
        "many corners.3mf": _3mf(_model(corners * 3_000_000, one)),
        "bomb.3mf": _3mf(_model(" " * 400_000_000, one)),
        "understated.3mf": understated(_3mf(_model(" " * 200_000_000, one))),
        "codec.3mf": _3mf(_model(corners, one), codec=99),
        "version.3mf": _3mf(_model(corners, one), version=9999),
        "entities.3mf": _3mf('<!DOCTYPE m [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><m>&b;</m>'),
    }  # fmt: skip


def _chunk(kind, content):
    return (
        struct.pack(">I", len(content))
        + kind
        + content
        + struct.pack(">I", zlib.crc32(kind + content))
    )


def _png(width, height, *chunks):
    head = _chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + b"".join(chunks) + _chunk(b"IEND", b"")


def picture_cases():
    """Pictures to draw over."""
    text = zlib.compress(bytes(80_000_000))
    return {
        "empty.png": b"", "none.png": b"\x89PNG\r\n\x1a\n",
        "text.jpg": b"\xff\xd8\xff" + bytes(400),
        "huge.png": _png(2**31 - 1, 2**31 - 1), "large.png": _png(60_000, 60_000),
        "no size.png": _png(0, 0), "texts.png": _png(9, 9, _chunk(b"zTXt", b"a\0\0" + text)),
        "long text.png": _png(9, 9, *[_chunk(b"tEXt", b"a\0" + bytes(900_000))] * 40),
        "gif.png": b"GIF89a" + bytes(60), "no data.png": _png(9, 9, _chunk(b"IDAT", b"xx")),
        "colour.png": _png(9, 9, _chunk(b"iCCP", b"a\0\0" + text)),
    }  # fmt: skip


def traced_cases():
    """Pictures to take an outline from; drawings among them."""
    noise = np.random.default_rng(5).integers(0, 256, (350, 450), dtype=np.uint8)
    stripes = np.tile(np.repeat([0, 255], 2), (400, 250)).astype(np.uint8)
    pictures = {
        "noise.png": noise, "stripes.png": stripes, "dark.png": np.zeros((40, 60), np.uint8),
        "one pixel.png": np.zeros((1, 1), np.uint8),
    }  # fmt: skip
    some = list(svg_cases().items())[::4]  # they are read as found drawings are
    drawings = {f"{name}.svg": content for name, content in some}
    return picture_cases() | drawings | {name: _picture(grey) for name, grey in pictures.items()}


def _picture(grey):
    stream = io.BytesIO()
    Image.fromarray(grey).save(stream, format="PNG")
    return stream.getvalue()


def json_cases(kind):
    """Stock lists and layout puzzles."""
    huge = "1" + "0" * 400
    square = "[[0,0],[9,0],[9,7],[0,7]]"
    piece = '{{"sheets":[{{"width":40,"height":30}}],"pieces":[{{"name":"a","outline":{}}}]}}'
    own = {
        "puzzle": {
            "far": piece.format("[[1e9,0],[1000000009,0],[1e9,7]]"),
            "very far": piece.format("[[0,0],[1e300,0],[0,1e300]]"),
            "huge": piece.format(f"[[0,0],[{huge},0],[0,9]]"),
            "tiny": piece.format("[[0,0],[1e-300,0],[0,1e-300]]"),
            "sliver": piece.format("[[0,0],[39,0],[39,1e-6],[0,1e-6]]"),
            "bow tie": piece.format("[[0,0],[9,9],[9,0],[0,9]]"),
            "far sheet": '{"sheets":[{"outline":[[1e12,0],[1000000000040,0],[1e12,30]]}],'
                         f'"pieces":[{{"name":"a","outline":{square}}}]}}',
            "many": '{"sheets":[{"width":400,"height":300}],"pieces":'
                    f'[{{"name":"a","outline":{square},"count":200}}]}}',
            "sheet of a kilometre": '{"sheets":[{"width":100000,"height":100000}],'
                                    f'"pieces":[{{"name":"a","outline":{square}}}]}}',
        },
        "stocks": {
            "huge": f'{{"anzel-stocks":1,"stocks":[{{"id":"a","nominal_thickness":{huge}}}]}}',
            "list": '{"anzel-stocks":1,"stocks":3,"cutters":{}}',
            "version": f'{{"anzel-stocks":{huge}}}',
            "entries": '{"anzel-stocks":1,"stocks":[' + ",".join(["{}"] * 3_000_000) + "]}",
        },
    }[kind]  # fmt: skip
    shared = {"empty": "", "deep": "[" * 200_000, "nan": "NaN", "null": "null", "text": '"a"'}
    return {name: text.encode() for name, text in (shared | own).items()}


CASES = {
    "svg drawing": svg_cases, "svg cut file": svg_cases, "dxf drawing": dxf_cases,
    "dxf cut file": dxf_cases, "project": project_cases, "mesh": mesh_cases,
    "picture": picture_cases, "picture to trace": traced_cases,
    "puzzle": lambda: json_cases("puzzle"), "stocks": lambda: json_cases("stocks"),
}  # fmt: skip
"""Reader → a table of its hostile files."""
