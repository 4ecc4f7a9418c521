"""Labels: values that fold to the same thing are one value, shown in its most frequent spelling (R2)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
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


def label(
    main: Sequence[Spelled], fallback: Sequence[Spelled], same: Callable[[str], str], clean: Callable[[str], str]
) -> list[Labels]:
    """Give the values of one field common numbers over several columns.

    Parameters
    ----------
    main : columns whose use decides the spelling (visits and captured sets)
    fallback : columns that decide where there is no use in `main` (spend)
    same : when two values are one
    clean : the trimmed spelling that is shown

    Returns
    -------
    one Labels per column, main first, all with the same `keys` and `shown`
    """
    parts = [*main, *fallback]
    keys = sorted({same(v) for part in parts for v in part.text.values} | {""})
    number = {key: i for i, key in enumerate(keys)}
    use: list[dict[str, int]] = [{} for _ in keys]
    spare: list[dict[str, int]] = [{} for _ in keys]
    out = []
    for place, part in enumerate(parts):
        into = use if place < len(main) else spare
        values = part.text.values
        table = np.array([number[same(v)] for v in values], dtype=np.int64)
        codes = part.text.codes
        used = np.bincount(codes[part.counts], minlength=len(values)) if len(codes) else np.zeros(len(values), int)
        for value, count in zip(values, used.tolist(), strict=True):
            if count:
                spelling, at = clean(value), number[same(value)]
                into[at][spelling] = into[at].get(spelling, 0) + count
        out.append(table[codes] if len(codes) else np.empty(0, np.int64))
    shown = [_most_frequent(a or b, key) for a, b, key in zip(use, spare, keys, strict=True)]
    return [Labels(codes, keys, shown) for codes in out]


def _most_frequent(spellings: dict[str, int], key: str) -> str:
    return min(spellings, key=lambda s: (-spellings[s], s)) if spellings else key
