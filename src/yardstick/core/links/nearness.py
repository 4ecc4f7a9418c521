"""Values that are almost a known one: another case, spacing or punctuation, or a letter or two off. A difference by
which names of one series differ is no mistake: it is asked about."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import Enum

from ..base.words import fold

_LETTERS = re.compile(r"[\W_]+")
_DIGITS = re.compile(r"\d+")
_PARTS = re.compile(r"\d+|[^\W\d_]+")
SHORT = 6
"""Letters below which a word that is one letter off may as well be another word."""
TAG = 4
"""Letters below which a part of a name is a mark: a language, a letter of a series, a size."""


class How(Enum):
    """In what way a value is almost a known one."""

    SPELLING = "only case, spaces or punctuation differ"
    MISTYPED = "letters are off"
    PERHAPS = "a short word that may be another"
    ANOTHER = "differs as names of one series do"


@dataclass(frozen=True)
class Near:
    """The known value that may have been meant, and in what way it is near."""

    known: str
    how: How


def bare(text: str) -> str:
    """A value without case, spaces and punctuation."""
    return _LETTERS.sub("", fold(text))


def distance(a: str, b: str, limit: int) -> int:
    """Letters to insert, delete, replace or swap with their neighbour to come from one word to the other.

    Parameters
    ----------
    a, b : words
    limit : give up beyond this

    Returns
    -------
    int
        The distance, or `limit` + 1 if it is larger.

    Notes
    -----
    Optimal string alignment distance: Damerau, CACM 7(3), 1964; each pair of neighbours is swapped at most once.

    Examples
    --------
    >>> distance("whale", "whael", 2), distance("whale", "shale", 2)
    (1, 1)
    """
    # Loaded where it is needed: the command starts without it.
    from rapidfuzz.distance import OSA

    return int(OSA.distance(a, b, score_cutoff=limit))


def _within(word: str, others: Sequence[str], limit: int) -> list[tuple[int, str]]:
    """Of many words those that are at most so far from one, with how far they are; see `distance`."""
    if not limit or not others:
        return []
    from rapidfuzz import process
    from rapidfuzz.distance import OSA

    found = process.extract(word, others, scorer=OSA.distance, score_cutoff=limit, limit=None)
    return [(int(off), other) for other, off, _ in found]


def _most_for(word: str) -> int:
    """How many letters may be off: short words are too easily another word."""
    return 0 if len(word) < 3 else 1 if len(word) < 8 else 2


class KnownValues:
    """The known values of one field.

    Parameters
    ----------
    values : as they should be written
    arrived : that came often enough to be names, whatever they resemble
    used : of the link sheet: names as long as they resemble none of `values`
    """

    def __init__(self, values: Iterable[str], arrived: Iterable[str] = (), used: Iterable[str] = ()) -> None:
        self.values = [v for v in dict.fromkeys(values) if v]
        seen = [v for v in dict.fromkeys(arrived) if v]
        self._exact = {*self.values, *seen}
        self._used = {v for v in used if v}
        self._firm = _Words([*self.values, *seen])
        self._all = _Words([*self.values, *seen, *sorted(self._used)]) if self._used else self._firm

    def __contains__(self, value: str) -> bool:
        return value in self._exact

    def near(self, value: str) -> Near | None:
        """The known value that a value is almost, None if it is one itself or far from all of them."""
        if value in self._exact or not value:
            return None
        found = self._firm.near(value)
        if found is not None and found.how is not How.ANOTHER:
            return found
        return None if value in self._used else self._all.near(value)


class Bearing:
    """Tells on which values it bears that known values came or went: what is said of every other one stays as it was.

    Parameters
    ----------
    changed : the known values that came or went
    """

    def __init__(self, changed: Iterable[str]) -> None:
        self._values = set(changed)
        self._words = _Words(sorted(self._values))

    def on(self, value: str) -> bool:
        """Whether a value is one of them, as near to one as `KnownValues.near` looks, or of one series with one."""
        return value in self._values or self._words.has_like(value)


class _Words:
    def __init__(self, values: Sequence[str]) -> None:
        self._bare: dict[str, list[str]] = {}
        for value in values:
            self._bare.setdefault(bare(value), []).append(value)
        # Names that differ in a number are two names, not one mistyped: only those of the same numbers are compared.
        self._alike: dict[tuple[int, tuple[str, ...]], list[str]] = {}
        for key in self._bare:
            self._alike.setdefault((len(key), tuple(_DIGITS.findall(key))), []).append(key)
        self._parts = {key: _parts(same[0]) for key, same in self._bare.items()}
        self._series: dict[tuple[tuple[str, ...], tuple[str, ...]], set[str]] = {}
        for parts in self._parts.values():
            for at, part in enumerate(parts):
                self._series.setdefault((parts[:at], parts[at + 1 :]), set()).add(part)

    def has_like(self, value: str) -> bool:
        key, parts = bare(value), _parts(value)
        if key in self._bare or self._within_reach(key):
            return True
        return any((parts[:at], parts[at + 1 :]) in self._series for at in range(len(parts)))

    def _within_reach(self, key: str) -> list[tuple[int, str]]:
        """Names that are few enough letters off, with how many."""
        limit, digits = _most_for(key), tuple(_DIGITS.findall(key))
        found: list[tuple[int, str]] = []
        for length in range(len(key) - limit, len(key) + limit + 1) if limit else ():
            there = self._alike.get((length, digits), [])
            found += _within(key, there, min(limit, _most_for(" " * length)))
        return found

    def near(self, value: str) -> Near | None:
        key = bare(value)
        if key in self._bare:
            return Near(_of_form(value, self._bare[key]), How.SPELLING)
        found = self._within_reach(key)
        if not found:
            return None
        off, other = min(found)
        how = self._how(_parts(value), self._parts[other], off)
        # Of two that are as near, nobody can tell which was meant.
        if how is How.MISTYPED and sum(o == off for o, _ in found) > 1:
            how = How.PERHAPS
        if how is How.PERHAPS and not _may_be(key, other):
            return None
        return Near(_of_form(value, self._bare[other]), how)

    def _how(self, mine: Sequence[str], theirs: Sequence[str], off: int) -> How:
        if len(mine) == len(theirs) == 1:
            return How.PERHAPS if min(len(mine[0]), len(theirs[0])) < SHORT else How.MISTYPED
        if len(mine) != len(theirs):
            return How.ANOTHER if _has_one_more(mine, theirs) or _has_one_more(theirs, mine) else How.PERHAPS
        differ = [at for at, (a, b) in enumerate(zip(mine, theirs, strict=True)) if a != b]
        if any(min(len(mine[at]), len(theirs[at])) < TAG for at in differ):
            return How.ANOTHER
        if len(differ) == 1 and self._is_series(theirs, differ[0]):
            long = min(len(mine[differ[0]]), len(theirs[differ[0]])) >= SHORT
            return How.MISTYPED if long and off == 1 else How.ANOTHER
        return How.MISTYPED if all(_is_slip(mine[at], theirs[at]) for at in differ) else How.PERHAPS

    def _is_series(self, parts: Sequence[str], at: int) -> bool:
        """Whether there is another known name that differs in this part alone."""
        return len(self._series.get((tuple(parts[:at]), tuple(parts[at + 1 :])), ())) > 1


def _parts(value: str) -> tuple[str, ...]:
    return tuple(_PARTS.findall(fold(value)))


def _has_one_more(one: Sequence[str], other: Sequence[str]) -> bool:
    """Whether a name is another one with parts before or behind it."""
    more = len(one) - len(other)
    return more > 0 and (list(one[:-more]) == list(other) or list(one[more:]) == list(other))


def _is_slip(one: str, other: str) -> bool:
    """Whether two parts of names that are a letter off are one mistyped: in a word of four letters another letter makes
    another word too easily; one too many, too few, or in the wrong order hardly does."""
    return min(len(one), len(other)) > TAG or len(one) != len(other) or sorted(one) == sorted(other)


def _may_be(key: str, other: str) -> bool:
    """Whether a short word may be a slip of another: of very short ones a letter in another's place makes a word of its
    own too easily."""
    return len(key) != len(other) or sorted(key) == sorted(other) or min(len(key), len(other)) > TAG


def _of_form(value: str, same: Sequence[str]) -> str:
    """Of known values that differ in form alone, the one written most like a value: a code for a code, a name for a
    name."""
    form = _form(value)
    return min(same, key=lambda known: sum(a != b for a, b in zip(form, _form(known), strict=True)))


def _form(text: str) -> tuple[bool, ...]:
    return (" " in text, "-" in text, "_" in text, text == text.lower(), text == text.upper())
