"""Labels: values that fold to the same thing are one value, shown in its most frequent spelling (R2)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .columns import Flags, Ints, Text


@dataclass(frozen=True)
class Labels:
    """A breakdown field: one number a row and what to show for it.

    Attributes
    ----------
    codes : (n,) int64, 0 = empty; numbers follow the folded values in code point order, whatever the order of rows
    keys : folded value per number
    shown : spelling to show per number
    """

    codes: Ints
    keys: list[str]
    shown: list[str]


@dataclass(frozen=True)
class Spelled:
    """One place where values of a field are spelled: a text column and the rows whose spelling counts as use."""

    text: Text
    counts: Flags


@dataclass(frozen=True)
class Spellings:
    """The values of one column by number, and how often each spelling was used.

    Attributes
    ----------
    codes : (n,) int64
    keys : folded value per number, in code point order; the empty value is among them
    use : per number, how often each spelling was used
    """

    codes: Ints
    keys: list[str]
    use: list[dict[str, int]]

    def take(self, rows: Ints) -> Spellings:
        """The same values for some rows; use stays that of all."""
        return Spellings(self.codes[rows], self.keys, self.use)


def spellings(column: Spelled, same: Callable[[str], str], clean: Callable[[str], str]) -> Spellings:
    """Number the values of one column.

    Parameters
    ----------
    column : the column and the rows whose spelling counts as use
    same : when two values are one
    clean : the trimmed spelling that is shown
    """
    values, codes = column.text.values, column.text.codes
    folded = [same(v) for v in values]
    keys = sorted({*folded, ""})
    number = {key: i for i, key in enumerate(keys)}
    use: list[dict[str, int]] = [{} for _ in keys]
    if not len(codes):
        return Spellings(np.empty(0, np.int64), keys, use)
    used = np.bincount(codes[column.counts], minlength=len(values))
    for value, key, count in zip(values, folded, used.tolist(), strict=True):
        if count:
            spelling, of = clean(value), use[number[key]]
            of[spelling] = of.get(spelling, 0) + count
    return Spellings(np.array([number[key] for key in folded], np.int64)[codes], keys, use)


def label(main: Spellings, fallback: Spellings | None = None) -> tuple[Labels, Ints]:
    """Give the values of one field common numbers over two columns.

    Parameters
    ----------
    main : the column whose use decides the spelling (visits and captured sets)
    fallback : the column that decides where there is no use in `main` (spend)

    Returns
    -------
    the labels of `main`, its own numbers where `fallback` has no value of its own, and the numbers of `fallback`
    """
    if fallback is None:
        return Labels(main.codes, main.keys, list(map(_most_frequent, main.use, main.keys))), np.empty(0, np.int64)
    keys, codes, use = main.keys, main.codes, main.use
    number = {key: i for i, key in enumerate(keys)}
    if not number.keys() >= set(fallback.keys):
        keys = sorted({*keys, *fallback.keys})
        number = {key: i for i, key in enumerate(keys)}
        codes = np.array([number[key] for key in main.keys], np.int64)[codes]
        of_main = dict(zip(main.keys, main.use, strict=True))
        use = [of_main.get(key, {}) for key in keys]
    spare = dict(zip(fallback.keys, fallback.use, strict=True))
    shown = [_most_frequent(of or spare.get(key, {}), key) for of, key in zip(use, keys, strict=True)]
    return Labels(codes, keys, shown), np.array([number[key] for key in fallback.keys], np.int64)[fallback.codes]


def _most_frequent(spellings: dict[str, int], key: str) -> str:
    return min(spellings, key=lambda s: (-spellings[s], s)) if spellings else key
