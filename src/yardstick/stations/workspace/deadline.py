"""A time by which work on foreign texts must be done: what is far slower than anything people have is given up."""

from __future__ import annotations

import time
from collections.abc import Callable

from yardstick.formats.files.raw import FileProblem

from .reading_now import followed

CHECK_UP_S, WEIGHING_S = 30.0, 600.0
READING_S, LEAST_RATE = 120.0, 256 * 1024
"""A file is given up when it is read slower than so many bytes a second after the first minutes."""


class TooLong(FileProblem):
    """Work was given up because it took too long; the text says what was done and what to do."""


class Deadline:
    """A time by which something must be done.

    Parameters
    ----------
    seconds : from now on
    clock : seconds that only go up
    """

    def __init__(self, seconds: float, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock, self._until = clock, clock() + seconds

    @property
    def passed(self) -> bool:
        """Whether it has passed."""
        return self._clock() > self._until


def in_time(name: str, size: int) -> Callable[[int, int], None]:
    """A progress that raises `TooLong` where a file of that size is read far too slowly."""
    deadline = Deadline(READING_S + size / LEAST_RATE)

    def look(rows: int, _: int) -> None:
        if deadline.passed:
            raise TooLong(f"{name}: reading it took too long and was given up after {rows:,} rows: split it")

    return followed(name, size, look)
