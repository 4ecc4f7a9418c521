"""The wheel runs by itself: installed into an empty environment, from what set-up has fetched."""

from __future__ import annotations

import csv
import re
import subprocess
import sys
import tomllib
import zipfile
from pathlib import Path

import pytest

from build_wheel import build

ROOT = Path(__file__).parents[2]
WEEK = ROOT / "src" / "yardstick" / "demo" / "worked_week"


def run(*words, **more):
    return subprocess.run([str(w) for w in words], capture_output=True, text=True, timeout=300, check=False, **more)


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    return build(tmp_path_factory.mktemp("wheel"))


@pytest.fixture(scope="module")
def installed(wheel, tmp_path_factory):
    """An environment with nothing but the wheel and what it says it needs, in the versions that are pinned."""
    home = tmp_path_factory.mktemp("empty") / "venv"
    made = run(sys.executable, "-m", "venv", "--without-pip", home)
    assert made.returncode == 0, made.stderr
    pins = home.parent / "pins.txt"
    lock = (ROOT / "requirements.lock.txt").read_text()
    pins.write_text("\n".join(re.findall(r"^[a-z0-9]\S*==[^\\\n]+", lock, re.MULTILINE)))
    command = [sys.executable, "-m", "uv", "pip", "install", "-q", "--python", home / "bin" / "python", "-c", pins]
    done = run(*command, "--offline", wheel)
    if done.returncode and ("cache" in done.stderr or "network" in done.stderr.lower()):
        # What set-up fetched was swept away since: fetched again.
        done = run(*command, wheel)
    assert done.returncode == 0, done.stderr
    return home / "bin"


def test_it_weighs_the_worked_week(installed, tmp_path):
    done = run(
        installed / "yardstick", "credit", WEEK, "--out", tmp_path / "out", "--settings", WEEK / "settings.toml",
        "--certainty", cwd=tmp_path,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    with (tmp_path / "out" / "result.csv").open(newline="") as file:
        rows = {(r["yardstick"], r["campaign"]): r for r in csv.DictReader(file)}
    assert rows["linear", "Spring Whale Boats"]["value"] == "140.00"
    assert (tmp_path / "out" / "verdicts.csv").is_file()


def test_it_checks_itself_and_holds_the_front_end(installed, wheel):
    done = run(installed / "yardstick", "selfcheck", env={"COLUMNS": "200"})
    assert done.returncode == 0, done.stderr
    assert "NO" not in [line[:2] for line in done.stdout.splitlines()]
    held = run(
        installed / "python", "-c",
        "from yardstick.web.app import FRONT_END; print((FRONT_END / 'index.html').is_file(), 'site-packages' in str(FRONT_END))",
    )  # fmt: skip
    assert held.stdout.split() == ["True", "True"], held.stderr
    names = zipfile.ZipFile(wheel).namelist()
    assert any(name.endswith("web/front_end/index.html") for name in names)
    assert not [name for name in names if name.startswith(("tests/", "frontend/"))]


def test_what_it_needs_is_what_is_pinned():
    """The names in pyproject.toml are those of the first part of requirements.in, but for what only set-up needs."""
    first = (ROOT / "requirements.in").read_text().split("\n\n")[0].splitlines()[1:]
    declared = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    assert sorted(set(first) - {"uv", "hatchling", "editables"}) == sorted(declared)
