"""Builds a wheel that runs by itself, front end inside: `.venv/bin/python scripts/build_wheel.py FOLDER`."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def build(out: Path) -> Path:
    """Build the wheel into a folder; returns its path. The front end has to be built already.

    Raises
    ------
    SystemExit
        If it is not.
    """
    if not (ROOT / "frontend" / "dist" / "index.html").is_file():
        raise SystemExit("The front end is not built: run `make setup` first.")
    with tempfile.TemporaryDirectory(prefix="yardstick-wheel-") as folder:
        copy = Path(folder) / "sources"
        leave = shutil.ignore_patterns("__pycache__", "front_end")
        shutil.copytree(ROOT / "src", copy / "src", ignore=leave)
        for name in ("pyproject.toml", "README.md"):
            shutil.copy(ROOT / name, copy / name)
        shutil.copytree(ROOT / "frontend" / "dist", copy / "src" / "yardstick" / "web" / "front_end")
        command = [sys.executable, "-m", "uv", "build", "-q", "--wheel", "--no-build-isolation", "--offline"]
        made = Path(folder) / "made"
        subprocess.run([*command, "-o", str(made), str(copy)], check=True)
        (wheel,) = made.glob("*.whl")
        out.mkdir(parents=True, exist_ok=True)
        return Path(shutil.move(wheel, out / wheel.name))


if __name__ == "__main__":
    if len(sys.argv) != 2:
        raise SystemExit("Say where the wheel is to go: .venv/bin/python scripts/build_wheel.py FOLDER")
    print(build(Path(sys.argv[1])))
