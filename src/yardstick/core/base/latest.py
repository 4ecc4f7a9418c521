"""What was made for the last question, for the next one that needs the same."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np

from .columns import Ints

T = TypeVar("T")


class Latest:
    """Keeps one thing, with what it was made for."""

    def __init__(self) -> None:
        self._last: tuple[object, Any] | None = None

    def get(self, key: object, make: Callable[[], T]) -> T:
        """The thing that is kept if it was made for an equal key, else a new one, kept in its place."""
        # Read and written as a whole, so that of two questions at once each has its own.
        last = self._last
        if last is None or last[0] != key:
            last = self._last = (key, make())
        found: T = last[1]
        return found


class Same:
    """A thing that is equal to itself alone; part of a key."""

    def __init__(self, thing: object) -> None:
        self._thing = thing

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and self._thing is other._thing

    __hash__ = None  # type: ignore[assignment]


class SameNumbers:
    """Columns of numbers that are equal to others with the same numbers; part of a key."""

    def __init__(self, *columns: Ints) -> None:
        self._columns = columns

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, SameNumbers) or len(self._columns) != len(other._columns):
            return False
        pairs = zip(self._columns, other._columns, strict=True)
        return all(mine is theirs or np.array_equal(mine, theirs) for mine, theirs in pairs)

    __hash__ = None  # type: ignore[assignment]
