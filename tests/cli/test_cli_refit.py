"""Refitting a drawing from the command line: what is written, what is reported, what is refused."""

import io
import json

import ezdxf
import pytest
import svgelements

from anzel.structure.forms.imported_drawing import ImportedDrawings

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="90mm" viewBox="0 0 200 90">'
PLATE = (
    '<path id="a" d="M10 10H60V30H63V10H110V60H10Z"/>'
    '<path d="M30 40h20v3h-20z M70 40h20v3h-20z"/><circle cx="25" cy="25" r="4"/>'
    '<path d="M120 20h20v-3h20v3h20v40h-20v3h-20v-3h-20z"/><text x="2" y="9">Lid</text></svg>'
)
SLOT_ALONE = '<path d="M10 10H60V30H63V10H110V60H10Z"/></svg>'


@pytest.fixture
def refit(run, tmp_path):
    """Refit a drawing: (exit code, what was written, the report, stderr)."""

    def call(content, *options, ending="svg", thickness="4mm"):
        came, out, report = (tmp_path / n for n in (f"in.{ending}", f"out.{ending}", "r.json"))
        came.write_bytes(content if isinstance(content, bytes) else content.encode())
        code, _, err = run(
            "refit", came, "-o", out, "--thickness", thickness, "--kerf", "0.2",
            "--report", report, *options,
        )  # fmt: skip
        written = out.read_bytes() if out.exists() else None
        return code, written, json.loads(report.read_text()) if report.exists() else None, err

    return call


def test_a_drawing_is_refitted_and_reported(refit):
    code, written, report, _ = refit(HEAD + PLATE, "--clearance", "0.1")
    assert code == 0
    assert report["drawn_thickness"] == [
        {"value": 3.0, "evidence": {"count": 5, "slots": 1, "mortises": 2, "tabs": 2, "fingers": 0}}
    ]
    assert report["pieces"] == 2
    sizes = {f["id"]: (f["kind"], f["drawn"], f["new"], f["moved"]) for f in report["features"]}
    assert sizes == {
        "slot-1": ("slot", 3, 3.9, True), "mortise-1": ("mortise", 3, 3.9, True),
        "mortise-2": ("mortise", 3, 3.9, True), "tab-1": ("tab", 3, 4, True),
        "tab-2": ("tab", 3, 4, True),
    }  # fmt: skip
    assert report["features"][0]["at"] == [61.5, 20]
    boxes = [
        shape.bbox()
        for shape in svgelements.SVG.parse(io.BytesIO(written), ppi=25.4).elements()
        if isinstance(shape, svgelements.Path)
    ]
    assert boxes[1] == pytest.approx((30, 39.55, 90, 43.45))
    assert boxes[2] == pytest.approx((120, 16, 180, 64))
    assert any("text" in warning for warning in report["warnings"])


def test_holds_kinds_fits_and_who_minds_the_kerf(refit):
    _, _, report, _ = refit(
        HEAD + PLATE, "--fit", "loose", "--kerf-at", "cutter", "--only", "slot,tab",
        "--hold", "tab-2",
    )  # fmt: skip
    done = {f["id"]: (round(f["new"], 6), f["moved"]) for f in report["features"]}
    assert done["slot-1"] == (4.3, True)
    assert done["tab-1"] == (4, True)
    assert done["tab-2"] == (3, False)
    assert done["mortise-1"] == (3, False)


def test_a_larger_copy_keeps_thickness_and_held_hardware(refit):
    _, written, report, _ = refit(
        HEAD + PLATE, "--clearance", "0", "--scale", "1.5", "--hold", "hole-1"
    )
    assert b'width="300mm" height="135mm"' in written
    (hole,) = (
        s for s in svgelements.SVG.parse(io.BytesIO(written), ppi=25.4).elements()
        if isinstance(s, svgelements.Circle)
    )  # fmt: skip
    assert float(hole.rx) == pytest.approx(4.0)
    assert report["drawn_thickness"][0]["value"] == 3
    assert {f["new"] for f in report["features"]} == {3.8, 4}


def test_the_same_sheet_gives_the_same_file(refit):
    _, written, report, _ = refit(
        HEAD + PLATE, "--clearance", "0", "--kerf-at", "cutter", thickness="3"
    )
    assert written == (HEAD + PLATE).encode()
    assert not any(f["moved"] for f in report["features"])


def test_fingers_carry_their_row_and_keep_the_size_that_is_chosen(refit):
    content = ImportedDrawings().drawings[0].file.content
    for keep, width in (("outside", 180.0), ("inside", 181.6)):
        _, written, report, _ = refit(content, "--clearance", "0", "--keep", keep)
        fingers = [f for f in report["features"] if f["kind"] == "finger"]
        assert len(fingers) == 12
        assert len({f["row"] for f in fingers}) == 8
        shapes = svgelements.SVG.parse(io.BytesIO(written), ppi=25.4).elements()
        left, _, right, _ = next(s for s in shapes if isinstance(s, svgelements.Path)).bbox()
        assert right - left == pytest.approx(width)


def test_a_dxf_in_inches_stays_one(refit):
    document = ezdxf.new("R2000", units=1)
    points = [(0, 0), (2, 0), (2, 1), (2.118, 1), (2.118, 0), (4, 0), (4, 2), (0, 2)]
    for x in (0, 5):
        document.modelspace().add_lwpolyline([(a + x, b) for a, b in points], close=True)
    stream = io.StringIO()
    document.write(stream)
    code, written, report, _ = refit(
        stream.getvalue(), "--clearance", "0.2", ending="dxf", thickness="0.2in"
    )
    assert code == 0
    assert report["drawn_thickness"][0]["value"] == pytest.approx(2.9972)
    line = ezdxf.read(io.StringIO(written.decode())).modelspace()[0]
    xs = sorted({round(x, 6) for x, *_ in line.get_points("xy")})
    assert xs == pytest.approx([0, 2.059 - 0.1, 2.059 + 0.1, 4], abs=1e-6)


def test_what_cannot_be_told_is_asked_and_nothing_is_written(refit):
    code, written, report, err = refit(HEAD + SLOT_ALONE, "--clearance", "0")
    assert (code, written, report) == (3, None, None)
    assert "--drawn" in err
    assert refit(HEAD + SLOT_ALONE, "--clearance", "0", "--drawn", "3")[0] == 0


@pytest.mark.parametrize(
    ("content", "options", "words"),
    [
        ("", ("--clearance", "0"), "well-formed"),
        (HEAD + "</svg>", ("--clearance", "0"), "empty"),
        (HEAD + PLATE, (), "--fit"),
        (HEAD + PLATE, ("--fit", "tight"), "no fit"),
        (HEAD + PLATE, ("--clearance", "0", "--hold", "slot-9"), "slot-9"),
        (HEAD + PLATE, ("--clearance", "0", "--only", "dovetail"), "dovetail"),
        (HEAD + PLATE, ("--clearance", "-5"), "no width"),
        (HEAD + PLATE, ("--clearance", "0", "--scale", "0"), "scale"),
        (HEAD + PLATE, ("--clearance", "0", "--drawn", "-1"), "drawn"),
    ],
)
def test_bad_input_is_one_line_and_writes_nothing(refit, content, options, words):
    code, written, report, err = refit(content, *options)
    assert (code, written, report) == (2, None, None)
    assert words in err
    assert err.count("\n") == 1


def test_another_format_is_refused(run, tmp_path):
    came = tmp_path / "in.svg"
    came.write_text(HEAD + PLATE)
    code, _, err = run(
        "refit", came, "-o", tmp_path / "out.dxf", "--thickness", "4", "--kerf", "0",
        "--clearance", "0", "--report", tmp_path / "r.json",
    )  # fmt: skip
    assert code == 2
    assert "SVG for an SVG" in err
