"""Values that are almost a known one: another case, spacing or punctuation, or one or two letters off."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from ..base.words import fold

_LETTERS = re.compile(r"[\W_]+")
_DIGITS = re.compile(r"\d+")


def bare(text: str) -> str:
    """A value without case, spaces and punctuation."""
    return _LETTERS.sub("", fold(text))


def distance(a: str, b: str, most: int) -> int:
    """Letters to insert, delete, replace or swap with their neighbour to come from one word to the other.

    Parameters
    ----------
    a, b : words
    most : give up beyond this

    Returns
    -------
    int
        The distance, or `most` + 1 if it is larger.

    Notes
    -----
    Optimal string alignment distance: Damerau, CACM 7(3), 1964; each pair of neighbours is swapped at most once.
    """
    if abs(len(a) - len(b)) > most:
        return most + 1
    before: list[int] = []
    row = list(range(len(b) + 1))
    for i, x in enumerate(a, 1):
        older, before, row = before, row, [i]
        for j, y in enumerate(b, 1):
            cost = min(before[j] + 1, row[j - 1] + 1, before[j - 1] + (x != y))
            if i > 1 and j > 1 and x == b[j - 2] and a[i - 2] == y:
                cost = min(cost, older[j - 2] + 1)
            row.append(cost)
        if min(row) > most:
            return most + 1
    return min(row[-1], most + 1)


def _most_for(word: str) -> int:
    """How many letters may be off: short words are too easily another word."""
    return 0 if len(word) < 5 else 1 if len(word) < 8 else 2


@dataclass(frozen=True)
class Near:
    """The known value that was meant, and whether only case, spaces or punctuation differ."""

    known: str
    spelling_only: bool


class KnownValues:
    """The known values of one field.

    Parameters
    ----------
    values : as they should be written
    """

    def __init__(self, values: Iterable[str]) -> None:
        self.values = [v for v in dict.fromkeys(values) if v]
        self._exact = set(self.values)
        self._bare: dict[str, str] = {}
        for value in self.values:
            self._bare.setdefault(bare(value), value)
        self._by_length: dict[int, list[tuple[str, str]]] = {}
        for key, value in self._bare.items():
            self._by_length.setdefault(len(key), []).append((key, value))

    def __contains__(self, value: str) -> bool:
        return value in self._exact

    def near(self, value: str) -> Near | None:
        """The known value that a value is almost, None if it is one itself or far from all of them."""
        if value in self._exact or not value:
            return None
        key = bare(value)
        if key in self._bare:
            return Near(self._bare[key], True)
        most, digits = _most_for(key), _DIGITS.findall(key)
        best: tuple[int, str] | None = None
        for length in range(len(key) - most, len(key) + most + 1):
            for other, known in self._by_length.get(length, ()):
                # Names that differ in a number are two names, not one mistyped.
                if _DIGITS.findall(other) != digits:
                    continue
                off = distance(key, other, min(most, _most_for(other)))
                if 0 < off <= min(most, _most_for(other)) and (best is None or (off, known) < best):
                    best = (off, known)
        return None if best is None else Near(best[1], False)
