"""Builds a wheel that runs by itself, with the built front end inside: `python scripts/build_wheel.py FOLDER`."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def build(out: Path) -> Path:
    """Build the wheel into a folder; returns its path. The front end has to be built already."""
    with tempfile.TemporaryDirectory(prefix="yardstick-wheel-") as folder:
        copy = Path(folder) / "sources"
        leave = shutil.ignore_patterns("__pycache__", "front_end")
        shutil.copytree(ROOT / "src", copy / "src", ignore=leave)
        for name in ("pyproject.toml", "README.md"):
            shutil.copy(ROOT / name, copy / name)
        shutil.copytree(ROOT / "frontend" / "dist", copy / "src" / "yardstick" / "web" / "front_end")
        command = [sys.executable, "-m", "uv", "build", "-q", "--wheel", "--no-build-isolation", "--offline"]
        subprocess.run([*command, "-o", str(out.resolve()), str(copy)], check=True)
    (made,) = out.glob("*.whl")
    return made


if __name__ == "__main__":
    print(build(Path(sys.argv[1])))
