"""The distinct values of a large text column, held as Arrow holds them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, overload


class Values(Sequence[str]):
    """The distinct values of a text column, made into Python text only where somebody looks at them.

    `arrow` is the Arrow array they are, for whoever can work on all of them at once.
    """

    def __init__(self, array: Any) -> None:
        self.arrow = self._array = array
        self._texts: list[str] | None = None

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
