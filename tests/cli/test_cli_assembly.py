"""The commands of assembly, as scripts use them."""

import json

from anzel.project.demos import DEMOS
from anzel.storage import project_file


def test_a_proven_order_is_told_to_scripts(run, tmp_path):
    path = tmp_path / "l.anzel"
    run("demo", "herb-stand", "-o", path)
    code, out, _ = run("assembly", path, "--json")
    assert code == 0
    record = json.loads(out)
    assert record["ok"] is True
    assert record["locked"] == []
    assert record["steps"][0]["moves"] == []
    assert sorted(name for step in record["steps"] for name in step["pieces"]) == [
        "Top", "Upright A", "Upright B",
    ]  # fmt: skip
    last = record["steps"][-1]
    assert last["moves"][0]["direction"] == [0, 0, -1]
    assert last["group"] is None
    assert run("assembly", path, "-o", tmp_path / "b.pdf", "--page", "A5")[0] == 0
    assert (tmp_path / "b.pdf").read_bytes().startswith(b"%PDF")
    assert run("assembly", path, "-o", tmp_path / "b.txt")[0] == 2
    assert run("assembly", path, "-o", tmp_path / "b.pdf", "--page", "napkin")[0] == 2
    code, out, _ = run("assembly", path, "-o", tmp_path / "s.svg")
    assert [line.rsplit("/")[-1] for line in out.split()] == [f"s-0{n}.svg" for n in (1, 2, 3, 4)]


def test_locked_pieces_are_told_by_check_and_mended_by_what_is_offered(run, tmp_path):
    wren = next(demo for demo in DEMOS if demo.name == "garden-wren").make()
    path = tmp_path / "w.anzel"
    coarse = wren.structure.with_changes(own_joints=(), first=4, second=5)
    project_file.save(wren.with_changes(structure=coarse), path)
    _, out, _ = run("check", path, "--json")
    problems = json.loads(out)["problems"]
    assert [each["kind"] for each in problems] == ["locked"]
    assert set(problems[0]["pieces"]) == {"A3.2", "B3a"}
    _, out, _ = run("assembly", path, "--json")
    assert json.loads(out)["ok"] is False
    assert json.loads(out)["locked"][0]["why"].startswith("no straight way found")
    _, out, _ = run("assembly", path)
    offered = [line for line in out.splitlines() if line.startswith("it would go with ")]
    assert offered[0] == "it would go with A3.2×B3 slotted from the other side"
    swapped = [{"joint": "A3.2×B3", "swapped": True}]
    mended = wren.with_changes(structure=coarse.with_changes(own_joints=swapped))
    project_file.save(mended, path)
    assert json.loads(run("assembly", path, "--json")[1])["ok"] is True


def test_solids_of_a_step_are_written(run, tmp_path):
    path = tmp_path / "l.anzel"
    run("demo", "herb-stand", "-o", path)
    assert run("solids", path, "-o", tmp_path / "s.obj", "--step", "1")[0] == 0
    assert (tmp_path / "s.obj").read_text().count("\no ") == 1
    code, _, err = run("solids", path, "-o", tmp_path / "s.obj", "--step", "9")
    assert code == 2
    assert "There is no step 9" in err
