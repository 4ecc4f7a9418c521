"""Tallies: whole numbers summed by key, so that the sums of parts add up to those of the whole, in any order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from .columns import Codes, Flags, Ints
from .distinct import distinct_columns

LIMB = 30
"""Bits of the lower half of a sum. Two 64-bit halves hold what one could not (R29)."""
_MASK = np.int64(2**LIMB - 1)
_STRETCH = 2**22
"""So few numbers of one limb add up exactly in a binary float."""


@dataclass(frozen=True)
class Tally:
    """Sums of whole numbers by key; equal sums are equal arrays, however they were added up.

    Attributes
    ----------
    keys : (k, m) int64, distinct columns in lexicographic order
    high, low : (n, m) int64, n sums a key: high x 2^30 + low, 0 <= low < 2^30
    """

    keys: Ints
    high: Ints
    low: Ints

    def __len__(self) -> int:
        return int(self.keys.shape[1])

    def exact(self, amount: int) -> list[int]:
        """The sums of one amount, by key."""
        halves = zip(self.high[amount].tolist(), self.low[amount].tolist(), strict=True)
        return [(high << LIMB) + low for high, low in halves]

    def sums(self, amount: int, place: Ints, size: int) -> list[int]:
        """The sums of one amount added up by place.

        Parameters
        ----------
        amount : which
        place : (m,) int64, the place of each key; those below 0 are left out
        size : places
        """
        there = place >= 0
        high, low = np.zeros(size, np.int64), np.zeros(size, np.int64)
        np.add.at(high, place[there], self.high[amount][there])
        np.add.at(low, place[there], self.low[amount][there])
        return [(h << LIMB) + w for h, w in zip(high.tolist(), low.tolist(), strict=True)]

    def total(self, amount: int, keys: Flags | None = None) -> int:
        """One amount added up over some keys, or over all."""
        chosen: Flags | slice = slice(None) if keys is None else keys
        return (int(self.high[amount][chosen].sum()) << LIMB) + int(self.low[amount][chosen].sum())

    def nonzero(self, amounts: slice) -> Flags:
        """(m,) bool: where any of some amounts is not 0."""
        some: Flags = (self.high[amounts] != 0).any(axis=0) | (self.low[amounts] != 0).any(axis=0)
        return some


def tally(cells: Ints, amounts: Sequence[tuple[Ints | None, npt.NDArray[np.int64]]]) -> tuple[Tally, Ints]:
    """Add up amounts by key.

    Parameters
    ----------
    cells : (k, e) int64, one key a column
    amounts : numbers whose size is below 2^61; of each amount the columns it is of (None = all in turn), and values

    Returns
    -------
    Tally, and (e,) int64 the number of each column's key in it
    """
    keys, which = distinct_columns(cells)
    size = keys.shape[1]
    high, low = np.zeros((len(amounts), size), np.int64), np.zeros((len(amounts), size), np.int64)
    for i, (of, values) in enumerate(amounts):
        place = which if of is None else which[of]
        high[i], low[i] = sums_of(place, values, size)
    return Tally(keys, high, low), which


def exact_tally(cells: Ints, amounts: Sequence[Sequence[int]]) -> Tally:
    """Add up whole numbers of any size by key; see `tally`."""
    keys, which = distinct_columns(cells)
    high, low = (np.zeros((len(amounts), keys.shape[1]), np.int64) for _ in range(2))
    for i, values in enumerate(amounts):
        np.add.at(high[i], which, np.array([value >> LIMB for value in values], np.int64))
        np.add.at(low[i], which, np.array([value & int(_MASK) for value in values], np.int64))
    return Tally(keys, *carried(high, low))


def counted_by(cells: Ints) -> Tally:
    """How often each key stands there."""
    return tally(cells, [(None, np.ones(cells.shape[1], np.int64))])[0]


def merged(tallies: Sequence[Tally]) -> Tally:
    """The sums of all tallies as one; at least one is given, all with the same keys' length and amounts."""
    keys, which = distinct_columns(np.concatenate([t.keys for t in tallies], axis=1))
    halves = []
    for name in ("high", "low"):
        given = np.concatenate([getattr(t, name) for t in tallies], axis=1)
        out = np.zeros((given.shape[0], keys.shape[1]), np.int64)
        for row, of in zip(out, given, strict=True):
            np.add.at(row, which, of)
        halves.append(out)
    return Tally(keys, *carried(*halves))


def sums_of(place: Codes | Ints, values: Ints, size: int) -> tuple[Ints, Ints]:
    """The two halves (size,) of the sums of values by place; values are smaller than 2^61 in size."""
    if not len(place):
        return np.zeros(size, np.int64), np.zeros(size, np.int64)
    least, most = int(values.min()), int(values.max())
    if least == most:
        # All the same, as the shares of rules that give all to one touch are.
        counts = np.bincount(place, minlength=size).astype(np.int64)
        return carried(counts * (most >> LIMB), counts * (most & int(_MASK)))
    low = _limb_sums(place, values & _MASK, size)
    high = _limb_sums(place, values >> LIMB, size) if most >> LIMB or least < 0 else np.zeros(size, np.int64)
    return carried(high, low)


def _limb_sums(place: Codes | Ints, limbs: Ints, size: int) -> Ints:
    out = np.zeros(size, np.int64)
    for begin in range(0, len(place), _STRETCH):
        some = slice(begin, begin + _STRETCH)
        out += np.bincount(place[some], limbs[some], minlength=size).astype(np.int64)
    return out


def carried(high: Ints, low: Ints) -> tuple[Ints, Ints]:
    """The same sums with lower halves below 2^30."""
    return high + (low >> LIMB), low & _MASK
