"""The set-up that ./run and ./test share: its shell functions, with stand-ins for the system's
commands; and the check of an environment."""

import os
import shlex
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
QUOTED = shlex.quote(str(ROOT))
NEEDED = "python3 python3-venv one|one-new two"


@pytest.fixture
def shell(tmp_path):
    """Run bash code after the set-up functions; `commands` stand in for the system's."""

    def run(code, **commands):
        folder = tmp_path / "bin"
        folder.mkdir(exist_ok=True)
        for name, body in commands.items():
            command = folder / name.replace("_", "-")
            command.write_text(f"#!/bin/bash\n{body}\n")
            command.chmod(0o755)
        begin = f'set -euo pipefail; HERE={QUOTED}; . "$HERE/packaging/setup.sh"'
        script = f"{begin}\n{code}"
        return subprocess.run(
            ["bash", "-c", script], capture_output=True, text=True, cwd=tmp_path,
            env={"PATH": f"{folder}:{os.environ['PATH']}", "HOME": str(tmp_path)},
        )  # fmt: skip

    return run


QUERY = """
case "${@: -1}" in one-new|python3|python3-venv) echo installed ;; half) echo half-installed ;;
*) exit 1 ;; esac
"""


def test_a_renamed_package_counts_and_a_half_removed_one_does_not(shell):
    code = f"SYSTEM_PACKAGES='{NEEDED} half'; missing_packages"
    assert shell(code, dpkg_query=QUERY).stdout.split() == ["two", "half"]


def test_an_ordinary_user_is_told_one_line_that_works_on_empty_lists(shell):
    code = f"SYSTEM_PACKAGES='{NEEDED}'; install_packages"
    done = shell(code, dpkg_query=QUERY, id="echo 1000", sudo="exit 1")
    assert done.returncode == 1
    assert "type this once" in done.stderr
    last = done.stderr.splitlines()[-1]
    wanted = "apt-get update && apt-get install -y --no-install-recommends two"
    assert last == f"sudo sh -c '{wanted}'"


def test_root_updates_lists_only_where_something_is_missing(shell):
    log = 'echo apt-get "$@" >>$HOME/log'
    whole = "SYSTEM_PACKAGES='python3 one|one-new'; install_packages; cat $HOME/log || true"
    assert "apt-get" not in shell(whole, dpkg_query=QUERY, id="echo 0", apt_get=log).stdout
    lacking = f"SYSTEM_PACKAGES='{NEEDED}'; install_packages; cat $HOME/log"
    lines = shell(lacking, dpkg_query=QUERY, id="echo 0", apt_get=log).stdout.splitlines()
    assert [line.split()[1] for line in lines] == ["update", "install"]


@pytest.mark.parametrize(
    ("code", "commands"),
    [
        ("SYSTEM_PACKAGES=two; install_packages",
         {"apt_get": "echo 'E: Unable to fetch: Could not resolve host'; exit 100"}),
        ("mkdir -p .venv/bin; HERE=$PWD; cp $(command -v fake) .venv/bin/python; load_packages x",
         {"fake": "echo 'NewConnectionError: name resolution' >&2; exit 1"}),
    ],
    ids=["system", "python"],
)  # fmt: skip
def test_without_a_network_one_plain_sentence_is_said(shell, code, commands):
    done = shell(code, dpkg_query=QUERY, id="echo 0", **commands)
    assert done.returncode == 1
    assert done.stderr.splitlines()[-1].endswith("please connect to the network and start again.")


def test_what_the_environment_was_made_from_knows_folder_and_python(shell, tmp_path):
    here = shell("made_from").stdout
    assert str(ROOT) in here
    moved = shell(
        f"cp -r {QUOTED}/{{pyproject.toml,requirements.lock}} . ; HERE=$PWD; made_from"
    ).stdout
    newer = shell("made_from", python3="echo 3.99").stdout
    assert len({here, moved, newer}) == 3


def check(*arguments, root=ROOT):
    """Whether the check of an environment is content."""
    script = root / "packaging" / "check_environment.py"
    return subprocess.run([sys.executable, str(script), *arguments]).returncode == 0


def test_an_environment_is_checked_by_what_is_in_it(tmp_path):
    assert check("requirements.lock")
    (tmp_path / "packaging").mkdir()
    copy = tmp_path / "packaging" / "check_environment.py"
    copy.write_text((ROOT / "packaging" / "check_environment.py").read_text())
    (tmp_path / "lock").write_text("click==8.5.1\n")
    assert not check("lock", root=tmp_path), "it holds another folder's application"
    for lock in ("no-such-package==1\n", "click==0.0.1\n"):
        (tmp_path / "lock").write_text(lock)
        assert not check("../" * 20 + str(tmp_path / "lock"))


def test_commands_work_from_anywhere_and_need_no_checkout(tmp_path):
    """The caller's folder counts for files; the share of tests is counted without git."""
    for name in ("run", "test"):
        text = (ROOT / name).read_text()
        assert 'HERE=$(dirname "$(readlink -f "$0")")' in text
    counted = subprocess.run(
        [sys.executable, str(ROOT / "packaging" / "share_of_tests.py")], cwd=tmp_path,
        env={"PATH": "/nowhere"}, capture_output=True, text=True,
    )  # fmt: skip
    assert counted.stdout.startswith("Tests are ")
    assert counted.returncode == 0


def test_what_only_tests_need_is_not_installed_to_run():
    def names(lock):
        lines = (ROOT / lock).read_text().splitlines()
        return {line.partition("==")[0].lower() for line in lines if "==" in line}

    run, test = names("requirements.lock"), names("requirements-test.lock")
    assert not run & test
    assert {"pymeshfix", "pytest", "ruff", "mypy", "hypothesis"} <= test
