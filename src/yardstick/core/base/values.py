"""The distinct values of a large text column, held as Arrow holds them."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Sequence
from typing import Any, TypeVar, overload

R = TypeVar("R")


class Values(Sequence[str]):
    """The distinct values of a text column, made into Python text only where somebody looks at them.

    `arrow` is the Arrow array they are, for whoever can work on all of them at once.

    Parameters
    ----------
    array : Arrow strings
    grown_from : values that these begin with; what was worked out of them is worked out no more
    """

    def __init__(self, array: Any, grown_from: Values | None = None) -> None:
        self.arrow = self._array = array
        self._texts: list[str] | None = None
        self._known: dict[str, tuple[Hashable, int, Any]] = {} if grown_from is None else dict(grown_from._known)

    def known(self, what: str, key: Hashable, work: Callable[[Any, R | None], R]) -> R:
        """Something worked out of all values, kept, so that values that grew cost no more than what they grew by.

        Parameters
        ----------
        what : its name; of each name the latest is kept
        key : whatever else it depends on
        work : makes it of (further values as an Arrow array, what it was without them or None)
        """
        before, count, found = self._known.get(what, (None, 0, None))
        if before != key:
            count, found = 0, None
        if found is None or count < len(self._array):
            found = work(self._array[count:], found)
            self._known[what] = (key, len(self._array), found)
        return found  # type: ignore[no-any-return]

    def __len__(self) -> int:
        return len(self._array)

    def __iter__(self) -> Iterator[str]:
        if self._texts is None:
            self._texts = self._array.to_pylist()
        return iter(self._texts)

    @overload
    def __getitem__(self, at: int) -> str: ...
    @overload
    def __getitem__(self, at: slice) -> list[str]: ...
    def __getitem__(self, at: int | slice) -> str | list[str]:
        if self._texts is not None:
            return self._texts[at]
        if isinstance(at, slice):
            return list(self._array[at].to_pylist())
        return str(self._array[at].as_py())
