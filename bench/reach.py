"""Touches that can stand in a trail at all: those of people who convert, not later than their last conversion and not
longer before their first one than the window. Dropped in one pass, before anything is sorted, the others cost least.
"""

from __future__ import annotations

from dataclasses import dataclass

import numba
import numpy as np

BLOCK = 1024
"""So many rows are looked at before the times of those whose people convert are."""
KINDS = (np.int32, np.int64, np.int32, np.int32, np.bool_)
"""Of the columns: number of the person, time, campaign, channel, whether direct."""


@dataclass(frozen=True)
class Reach:
    """Whose touches, and from when to when.

    Attributes
    ----------
    number : (people + 1,) int32, numbers without gaps for those who convert, -1 for the others and, last, all beyond
    span : (2 x buyers,) int64, microseconds: from and to when touches of each of them can stand in a trail
    """

    number: np.ndarray
    span: np.ndarray

    @classmethod
    def of(cls, buyer: np.ndarray, bought_at: np.ndarray, window: int) -> Reach:
        """From conversions in (person, time) order and a window in microseconds."""
        opens = np.flatnonzero(np.diff(buyer, prepend=-1))
        closes = np.append(opens[1:], len(buyer)) - 1
        number = np.full(int(buyer[-1]) + 2, -1, np.int32)
        number[buyer[opens]] = np.arange(len(opens))
        return cls(number, np.stack([bought_at[opens] - window, bought_at[closes]], axis=1).reshape(-1))

    def within(self, person: np.ndarray, at: np.ndarray, *others: np.ndarray) -> list[np.ndarray]:
        """The columns of the touches within reach, persons under their numbers."""
        columns = [np.empty(len(person) + 1, kind) for kind in KINDS]
        kept = _within(self.number, self.span, person, at, *others, *columns)
        return [column[:kept] for column in columns]


def _column(kind: object, **how: bool) -> object:
    return numba.types.Array(numba.from_dtype(np.dtype(kind)), 1, "C", **how)


_TOLD = [_column(kind, readonly=True) for kind in (np.int32, np.int64, np.int64, *KINDS[1:])]


@numba.njit([numba.int64(*_TOLD, *map(_column, KINDS))], nogil=True, cache=True)
def _within(number, span, person, at, campaign, channel, direct, who_of, at_of, campaign_of, channel_of, direct_of):  # type: ignore[no-untyped-def]
    """Fills the last five and says how many; without branches that a processor could guess wrong."""
    beyond, kept = len(number) - 1, 0
    row, whose = np.empty(BLOCK + 1, np.int64), np.empty(BLOCK + 1, np.int32)
    for begin in range(0, len(person), BLOCK):
        buyers = 0
        for i in range(begin, min(begin + BLOCK, len(person))):
            who = number[np.uint64(min(person[np.uint64(i)], beyond))]
            row[np.uint64(buyers)], whose[np.uint64(buyers)] = i, who
            buyers += np.int64(who >= 0)
        for e in range(buyers):
            i, who, k = np.uint64(row[np.uint64(e)]), whose[np.uint64(e)], np.uint64(kept)
            who_of[k], at_of[k], direct_of[k] = who, at[i], direct[i]
            campaign_of[k], channel_of[k] = campaign[i], channel[i]
            since = 2 * np.int64(who)
            kept += np.int64((span[np.uint64(since)] <= at[i]) & (at[i] <= span[np.uint64(since + 1)]))
    return kept
