"""What was made for the last question, for the next one that needs the same."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

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
