"""Touches that can stand in a trail at all: those of people who convert, not later than their last conversion and not
longer before their first one than the window. Dropped in one pass, before anything is sorted, the others cost least.
"""

from __future__ import annotations

from dataclasses import dataclass

import numba
import numpy as np

BLOCK = 1024
"""So many rows are looked at before the times of those whose people convert are."""
BITS = 8
"""People are looked up by so many at a time: who of them converts, and how many do before them."""


@dataclass(frozen=True)
class Reach:
    """Whose touches, and from when to when. Small enough for the nearest memory, since people come in no order.

    Attributes
    ----------
    converts : (people / 8 + 2,) uint8, a bit a person
    before : the same, int32, how many convert of those before these eight
    span : (2 x buyers,) int64, microseconds: from and to when touches of each of them can stand in a trail
    """

    converts: np.ndarray
    before: np.ndarray
    span: np.ndarray

    @classmethod
    def of(cls, buyer: np.ndarray, bought_at: np.ndarray, window: int) -> tuple[Reach, np.ndarray]:
        """From conversions in (person, time) order and a window in microseconds; and the buyers' numbers without gaps."""
        opens = np.flatnonzero(np.diff(buyer, prepend=-1))
        closes = np.append(opens[1:], len(buyer)) - 1
        flags = np.zeros((int(buyer[-1]) // BITS + 2) * BITS, np.bool_)
        flags[buyer] = True
        converts = np.packbits(flags, bitorder="little")
        before = np.zeros(len(converts), np.int32)
        np.cumsum(np.bitwise_count(converts[:-1]), out=before[1:])
        span = np.stack([bought_at[opens] - window, bought_at[closes]], axis=1).reshape(-1)
        return cls(converts, before, span), np.repeat(np.arange(len(opens)), np.diff(np.append(opens, len(buyer))))

    def within(self, columns: list[np.ndarray], into: list[np.ndarray]) -> int:
        """Put the number of the person, the time, and campaign, channel and direct in one (see `ordered`), of the touches
        within reach into three columns; how many there are."""
        return int(_within(self.converts, self.before, COUNTS, self.span, *columns, *into))


def ordered(order: np.ndarray, at: np.ndarray, told: np.ndarray, campaigns: int) -> list[np.ndarray]:
    """Time, campaign, channel, player and whether direct, in an order; a player is a campaign, or else a channel."""
    out = [np.empty(len(order), kind) for kind in (np.int64, np.int32, np.int32, np.int32, np.bool_)]
    _ordered(order, at, told, campaigns, *out)
    return out


COUNTS = np.bitwise_count(np.arange(2**BITS, dtype=np.uint8))


def _column(kind: object, **how: bool) -> object:
    return numba.types.Array(numba.from_dtype(np.dtype(kind)), 1, "C", **how)


_TOLD = [np.uint8, np.int32, np.uint8, np.int64, np.int64, np.int64, np.int32, np.int32, np.uint8]
U = np.uint64


@numba.njit(
    [numba.int64(*(_column(k, readonly=True) for k in _TOLD), *[_column(np.int64)] * 3)], nogil=True, cache=True
)
def _within(converts, before, counts, span, person, at, campaign, channel, direct, whose, when, told):  # type: ignore[no-untyped-def]
    """Without branches that a processor could guess wrong."""
    beyond, kept = len(converts) * BITS - 1, 0
    row, bits = np.empty(BLOCK + 1, np.int64), np.empty(BLOCK + 1, np.uint8)
    for begin in range(0, len(person), BLOCK):
        buyers = 0
        for i in range(begin, min(begin + BLOCK, len(person))):
            p = min(person[U(i)], beyond)
            these = converts[U(p >> 3)]
            row[U(buyers)], bits[U(buyers)] = i, these
            buyers += (np.int64(these) >> (p & 7)) & 1
        for e in range(buyers):
            i, k = U(row[U(e)]), U(kept)
            p = person[i]
            who = before[U(p >> 3)] + np.int64(counts[U(np.int64(bits[U(e)]) & ((1 << (p & 7)) - 1))])
            whose[k], when[k] = who, at[i]
            told[k] = (
                (np.int64(campaign[i]) << 32)
                | (np.int64(channel[i]) << 1)
                | ((np.int64(direct[i >> U(3)]) >> np.int64(i & U(7))) & 1)
            )
            kept += np.int64((span[U(2 * who)] <= at[i]) & (at[i] <= span[U(2 * who + 1)]))
    return kept


_OUT = [_column(kind) for kind in (np.int64, np.int32, np.int32, np.int32, np.bool_)]


@numba.njit([numba.void(*[_column(np.int64, readonly=True)] * 3, numba.int64, *_OUT)], nogil=True, cache=True)
def _ordered(order, at, told, campaigns, at_of, campaign, channel, player, direct):  # type: ignore[no-untyped-def]
    for i in range(len(order)):
        row, k = U(order[i]), U(i)
        this = told[row]
        at_of[k], direct[k] = at[row], this & 1
        campaign[k], channel[k] = this >> 32, (this & 0xFFFFFFFF) >> 1
        player[k] = campaign[k] if campaign[k] > 0 else campaigns + channel[k]
