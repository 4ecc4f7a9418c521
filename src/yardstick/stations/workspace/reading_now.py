"""Files that are being read for a rehearsal: how far each set is, and a word to stop it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass


class ReadingStopped(Exception):
    """Reading was stopped by whoever began it; nothing of it is left."""


@dataclass
class ReadingNow:
    """How far a set of files is.

    Attributes
    ----------
    file : the one that is being read; empty before the first
    rows : of it, so far
    done, size : bytes of it, so far and in all
    """

    file: str = ""
    rows: int = 0
    done: int = 0
    size: int = 0
    stopped: bool = False


class ReadingsNow:
    """What is being read in a workspace, by the names that those who asked gave it."""

    def __init__(self) -> None:
        self._now: dict[str, ReadingNow] = {}

    @contextmanager
    def reading(self, name: str) -> Iterator[None]:
        """While files are read for somebody; without a name nobody can ask."""
        now = ReadingNow()
        if name:
            self._now[name] = now
        before = _reading.set(now)
        try:
            yield
        finally:
            _reading.reset(before)
            self._now.pop(name, None)

    def at(self, name: str) -> ReadingNow:
        """How far somebody's files are; nothing yet where none of them has come."""
        return self._now.get(name, ReadingNow())

    def stop(self, name: str) -> None:
        """Have somebody's reading end."""
        if name in self._now:
            self._now[name].stopped = True


_reading: ContextVar[ReadingNow | None] = ContextVar("reading_now", default=None)


def followed(name: str, size: int, look: Callable[[int, int], None]) -> Callable[[int, int], None]:
    """A progress (rows, bytes) that also says how far a file is to whoever asks, and ends where somebody says so."""
    now = _reading.get()
    if now is None:
        return look
    now.file, now.rows, now.done, now.size = name, 0, 0, size

    def and_say(rows: int, done: int) -> None:
        look(rows, done)
        now.rows, now.done = rows, done
        if now.stopped:
            raise ReadingStopped(f"{name}: reading it was stopped after {rows:,} rows")

    return and_say
