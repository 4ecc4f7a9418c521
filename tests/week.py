"""The worked week's files, for tests that load them."""

from __future__ import annotations

from pathlib import Path

import yardstick.demo

FOLDER = Path(yardstick.demo.__file__).parent / "worked_week"


def week_files() -> list[tuple[str, bytes]]:
    """(name, content) of every file of the worked week."""
    return [(p.name, p.read_bytes()) for p in sorted(FOLDER.iterdir())]
