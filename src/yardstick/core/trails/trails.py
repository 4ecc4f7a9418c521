"""Trails (R11-R13): the touches of one person before one conversion, all trails as compressed sparse rows."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..base.machine_code import at_hand
from ..base.schema import CLICK
from .touches import COMPILED


@dataclass(frozen=True)
class Trails:
    """All trails end to end.

    Attributes
    ----------
    conversion : (c,) int64, the conversion each trail belongs to
    offsets : (c + 1,) int64; trail i is `touch[offsets[i]:offsets[i + 1]]`; it may be empty
    touch : (k,) int64, touch numbers in time order
    """

    conversion: Ints
    offsets: Ints
    touch: Ints

    @property
    def lengths(self) -> Ints:
        """(c,) int64, touches per trail."""
        return np.diff(self.offsets)

    def owner(self) -> Ints:
        """(k,) int64, which trail each element belongs to."""
        return np.repeat(np.arange(len(self.conversion)), self.lengths)

    def keep(self, elements: Flags) -> Trails:
        """The same trails with only some of their elements."""
        kept = np.zeros(len(elements) + 1, np.int64)
        np.cumsum(elements, out=kept[1:])
        return Trails(self.conversion, kept[self.offsets], self.touch[elements])

    def only(self, trails: Flags) -> Trails:
        """Some of the trails, whole."""
        lengths = self.lengths
        offsets = np.zeros(int(trails.sum()) + 1, np.int64)
        np.cumsum(lengths[trails], out=offsets[1:])
        return Trails(self.conversion[trails], offsets, self.touch[np.repeat(trails, lengths)])


def first_at_or_after(at: Ints, low: Ints, high: Ints, wanted: Ints) -> Ints:
    """Binary search for many targets at once, each in its own stretch of one sorted column.

    Parameters
    ----------
    at : (n,) int64, ascending within every stretch
    low, high : (c,) int64, stretch i is `at[low[i]:high[i]]`
    wanted : (c,) int64

    Returns
    -------
    (c,) int64, the first index in the stretch with `at >= wanted`, or `high` if there is none
    """
    low, high = low.copy(), high.copy()
    active = np.flatnonzero(low < high)
    while len(active):
        middle = (low[active] + high[active]) >> 1
        right = at[middle] < wanted[active]
        low[active[right]] = middle[right] + 1
        high[active[~right]] = middle[~right]
        active = active[low[active] < high[active]]
    return low


def lay_trails(
    begins: Ints, at: Ints, kind: Ints, conversion_person: Ints, conversion_at: Ints, look_back: Ints
) -> Trails:
    """The touches within the look-back window of each conversion, both ends inclusive (R11).

    Parameters
    ----------
    begins : where the touches of each person begin, see `begins_of`
    at : (n,) int64, touches in (person, time) order
    kind : (n,) int64, click, view or watch
    conversion_person, conversion_at : (c,) int64
    look_back : (c, 3) int64, window of each conversion per kind, in microseconds

    Returns
    -------
    Trails, one per conversion, in the order given
    """
    clicks_only = not kind.any()
    widest = look_back[:, CLICK] if clicks_only else look_back.max(axis=1, initial=0)
    trails = _within(begins, at, conversion_person, conversion_at, widest)
    if clicks_only:
        return trails
    owner = trails.owner()
    age = conversion_at[owner] - at[trails.touch]
    return trails.keep(age <= look_back[owner, kind[trails.touch]])


def _within(begins: Ints, at: Ints, person: Ints, until: Ints, window: Ints) -> Trails:
    """The touches of some people until an instant, and not longer before it than a window."""
    compiled, trail = at_hand(COMPILED, len(at)), np.arange(len(person))
    if compiled is None:
        whose = np.minimum(person, len(begins) - 2)
        begin, end = begins[whose], begins[whose + 1]
        start = first_at_or_after(at, begin, end, until - window)
        return Trails(trail, *ranges(start, first_at_or_after(at, start, end, until + 1)))
    told = (np.ascontiguousarray(column, np.int64) for column in (begins, at, person, until, window))
    start, stop = np.empty(len(person), np.int64), np.empty(len(person), np.int64)
    compiled.within_windows(*told, start, stop)
    offsets = np.zeros(len(start) + 1, np.int64)
    np.cumsum(stop - start, out=offsets[1:])
    touch = np.empty(offsets[-1], np.int64)
    compiled.ranges_of(start, offsets, touch)
    return Trails(trail, offsets, touch)


def begins_of(person: Ints) -> Ints:
    """Where the touches of each person begin.

    Parameters
    ----------
    person : (n,), whose each touch is, in any order; numbers without large gaps

    Returns
    -------
    (people + 2,) int64: of each person, of one who stands for all that come after and have none, and n
    """
    people = int(person.max(initial=-1)) + 1
    begins = np.full(people + 2, len(person), np.int64)
    begins[0] = 0
    compiled = at_hand(COMPILED, len(person))
    if compiled is None:
        counts = np.bincount(person, minlength=people)
    else:
        compiled.counted(np.ascontiguousarray(person, np.int64), counts := np.zeros(people, np.int64))
    np.cumsum(counts, out=begins[1 : people + 1])
    return begins


def ranges(start: Ints, stop: Ints) -> tuple[Ints, Ints]:
    """Numbers from each start to before each stop, end to end: where each range begins (m + 1,), and all numbers."""
    lengths = stop - start
    offsets = np.zeros(len(start) + 1, np.int64)
    np.cumsum(lengths, out=offsets[1:])
    return offsets, np.repeat(start - offsets[:-1], lengths) + np.arange(offsets[-1])


def cut_at(trails: Trails, at: Ints, previous_at: Ints) -> Trails:
    """Leave out the touches at or before an instant per trail (R11, `cut_at_previous`).

    Parameters
    ----------
    previous_at : (c,) int64, time of the counted conversion just before; the smallest int64 where there is none
    """
    return trails.keep(at[trails.touch] > np.repeat(previous_at, trails.lengths))


def yield_to_others(trails: Trails, gives_way: Flags) -> Trails:
    """Leave touches that give way out of every trail that has any other touch (R13).

    Parameters
    ----------
    gives_way : (n_touches,) bool
    """
    weak = gives_way[trails.touch]
    if not weak.any():
        return trails
    strong = np.zeros(len(weak) + 1, np.int64)
    np.cumsum(~weak, out=strong[1:])
    has_other = strong[trails.offsets[1:]] > strong[trails.offsets[:-1]]
    return trails.keep(~(weak & np.repeat(has_other, trails.lengths)))


def fill_empty(trails: Trails, owner: Ints, touch: Ints) -> Trails:
    """Give trails that are empty the captured touches found for them (R8).

    Parameters
    ----------
    owner : (m,) int64, the trail each captured touch is for, ascending; only empty trails
    touch : (m,) int64, touch numbers
    """
    if not len(owner):
        return trails
    extra = np.bincount(owner, minlength=len(trails.conversion))
    offsets = np.zeros(len(trails.offsets), np.int64)
    np.cumsum(trails.lengths + extra, out=offsets[1:])
    merged = np.empty(offsets[-1], np.int64)
    from_capture = np.repeat(extra > 0, trails.lengths + extra)
    merged[from_capture] = touch
    merged[~from_capture] = trails.touch
    return Trails(trails.conversion, offsets, merged)
