"""Touches (R7): which arrivals of a person can earn credit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..base.columns import Flags, Ints, Text
from ..base.machine_code import at_hand

COMPILED = "yardstick.core.trails.compiled"
"""Ordering and laying as machine code; comes with that of the rules."""


@dataclass(frozen=True)
class Touches:
    """Touches in (person, time, visit id) order.

    Attributes
    ----------
    visit : (n,) int64, row of the touch's first visit
    person : (n,) int64
    at : (n,) int64, microseconds since 1970 in UTC
    visits : (n,) int64, how many visits each is made of; 1 for views and watches
    """

    visit: Ints
    person: Ints
    at: Ints
    visits: Ints

    def __len__(self) -> int:
        return len(self.visit)


def order_by_person(person: Ints, at: Ints, tie: Text | None = None) -> Ints:
    """Row numbers in (person, time, tie) order.

    Parameters
    ----------
    person : (n,) int64, not negative
    at : (n,) int64, microseconds since 1970 in UTC
    tie : (n,) texts compared in code point order where person and time are equal; without it, by row

    Returns
    -------
    (n,) int64 permutation

    Notes
    -----
    One sort of a packed key (person rank | coarse time | row) with the few equal keys put right afterwards is several
    times faster than sorting by three keys.
    """
    n = len(person)
    if n < 2:
        return np.arange(n)
    low = int(at.min())
    row_bits = int(n - 1).bit_length()
    # One at least, since a number must not be moved by all of its 64 bits.
    person_bits = max(1, int(person.max()).bit_length())
    time_bits = 64 - row_bits - person_bits
    coarse = max(0, int(at.max() - low).bit_length() - time_bits)
    if time_bits < 16:
        order = np.lexsort((at, person))
        return _settle_ties(order, _equal_pairs(order, person, at), person, at, tie)
    compiled = at_hand(COMPILED, n)
    if compiled is None:
        key = _packed(person, at, low, coarse, time_bits, row_bits)
    else:
        key = np.empty(n, np.uint64)
        columns = np.ascontiguousarray(person, np.int64), np.ascontiguousarray(at, np.int64)
        compiled.packed(*columns, low, coarse, time_bits, row_bits, key)
    key.sort()
    if compiled is not None and compiled.unpacked(key, row_bits):
        return key.view(np.int64)
    order = (key & np.uint64((1 << row_bits) - 1)).view(np.int64)
    key >>= np.uint64(row_bits)
    return _settle_ties(order, key[1:] == key[:-1], person, at, tie)


def _packed(person: Ints, at: Ints, low: int, coarse: int, time_bits: int, row_bits: int) -> npt.NDArray[np.uint64]:
    """Person, time since `low` without its `coarse` lowest bits, and row, one behind the other in 64 bits.

    In place where it can be: of very many rows every further column costs more than the work on it.
    """
    key: Ints = np.subtract(at, low, dtype=np.int64)
    key >>= coarse
    key <<= row_bits
    key |= np.arange(len(key))
    packed = key.view(np.uint64)
    packed |= person.astype(np.uint64) << np.uint64(time_bits + row_bits)
    return packed


def _equal_pairs(order: Ints, person: Ints, at: Ints) -> Flags:
    p, t = person[order], at[order]
    pairs: Flags = (p[1:] == p[:-1]) & (t[1:] == t[:-1])
    return pairs


def _settle_ties(order: Ints, unsure: Flags, person: Ints, at: Ints, tie: Text | None) -> Ints:
    """Sort again, by full time and tie text, the runs whose packed keys could not tell rows apart."""
    if not unsure.any():
        return order
    runs = _in_runs(unsure)
    rows = np.sort(order[runs])
    rows = rows[np.lexsort((at[rows], person[rows]))]
    if tie is not None:
        same = _equal_pairs(rows, person, at)
        edges = np.flatnonzero(np.diff(np.concatenate([[False], same, [False]]).astype(np.int8)))
        for first, last in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
            rows[first : last + 1] = sorted(rows[first : last + 1].tolist(), key=lambda row: (tie[row], row))
    order[runs] = rows
    return order


def _in_runs(same_as_next: Flags) -> Flags:
    runs = np.zeros(len(same_as_next) + 1, np.bool_)
    runs[:-1] |= same_as_next
    runs[1:] |= same_as_next
    return runs


def find_touches(
    rows: Ints, person: Ints, at: Ints, visit_id: Text, is_click: Flags, signature: Ints, gap_us: int
) -> Touches:
    """Group the visits of each person into touches (R7).

    Parameters
    ----------
    rows : (k,) visit rows that count
    person, at : (n,) int64 over all visits
    visit_id : (n,) text
    is_click : (n,) bool; views and watches are touches of their own
    signature : (n,) int64, one number per distinct folded tags and click mark; 0 where a visit has neither
    gap_us : a pause longer than this, in microseconds, starts a new touch; 0 makes every visit one

    Returns
    -------
    Touches
    """
    order = rows[order_by_person(person[rows], at[rows], visit_id.take(rows))]
    clicks = order[is_click[order]]
    starts = _click_starts(person[clicks], at[clicks], signature[clicks], gap_us)
    opens = ~is_click
    opens[clicks] = starts
    first = order[opens[order]]
    long = np.ones(len(is_click), np.int64)
    begins = np.flatnonzero(starts)
    long[clicks[begins]] = np.diff(np.append(begins, len(clicks)))
    return Touches(first, person[first], at[first], long[first])


def _click_starts(person: Ints, at: Ints, signature: Ints, gap_us: int) -> Flags:
    n = len(person)
    if not n or gap_us == 0:
        return np.ones(n, np.bool_)
    session = np.ones(n, np.bool_)
    session[1:] = (person[1:] != person[:-1]) | (at[1:] - at[:-1] > gap_us)
    marked = signature != 0
    # The current touch's signature is that of the last visit of the session that had one.
    index = np.arange(n)
    session_start = np.maximum.accumulate(np.where(session, index, 0))
    last_marked = np.full(n, -1, np.int64)
    last_marked[1:] = np.maximum.accumulate(np.where(marked, index, -1))[:-1]
    current = np.where(last_marked >= session_start, signature[np.maximum(last_marked, 0)], 0)
    starts: Flags = session | (marked & (signature != current))
    return starts
