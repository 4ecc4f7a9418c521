"""The worked weeks' files, for tests that load them."""

from __future__ import annotations

from pathlib import Path

import yardstick.demo

DEMO = Path(yardstick.demo.__file__).parent
FOLDER = DEMO / "worked_week"


def week_files(folder: Path = FOLDER) -> list[tuple[str, bytes]]:
    """(name, content) of every file of the worked week."""
    return [(p.name, p.read_bytes()) for p in sorted(folder.iterdir())]


def week_two_files() -> list[tuple[str, bytes]]:
    """The second week as it stood at its end, on top of the first: its deal is open, nothing is paid back."""
    return week_files(DEMO / "worked_week_two")


def later_files() -> list[tuple[str, bytes]]:
    """What came after the second week: the deal is signed, a part of an order is paid back."""
    return week_files(DEMO / "worked_week_two_later")
