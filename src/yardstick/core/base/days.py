"""Report days: instants into days of a time zone, whatever its clock changes (R21)."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

import numpy as np

from .columns import Flags, Ints
from .day_numbers import DAY_US, day_number


def day_at(instant: int, zone: str) -> int:
    """The day of one instant in a time zone, as days since 1970-01-01 (R21)."""
    return int(local_days(np.array([instant]), zone)[0])


def local_days(instants: Ints, zone: str) -> Ints:
    """The day each instant falls on in a time zone (R21).

    Parameters
    ----------
    instants : (n,) int64, microseconds since 1970 in UTC
    zone : IANA time zone name

    Returns
    -------
    (n,) int64, days since 1970-01-01 in that zone

    Notes
    -----
    Offsets come from the IANA time zone data; a day may have 23, 24, 25 hours, half hours more or less, or be missing.
    """
    if not len(instants):
        return np.empty(0, np.int64)
    starts, offsets = _offsets(int(instants.min()), int(instants.max()), ZoneInfo(zone))
    shift = offsets[np.searchsorted(starts, instants, side="right") - 1]
    days: Ints = np.floor_divide(instants + shift, DAY_US)
    return days


def _offsets(first: int, last: int, zone: ZoneInfo) -> tuple[Ints, Ints]:
    """Instants from which on a new offset to UTC holds, and those offsets, in microseconds, covering first..last."""
    probes = [*range(first, last, 7 * DAY_US), last]
    starts, offsets = [first], [_offset(first, zone)]
    for low, high in pairwise(probes):
        _split(low, high, zone, starts, offsets)
    return np.array(starts, np.int64), np.array(offsets, np.int64)


def _split(low: int, high: int, zone: ZoneInfo, starts: list[int], offsets: list[int]) -> None:
    """Find the one change between two probes a week apart (no zone changes twice in a week and back unseen)."""
    after = _offset(high, zone)
    if after == offsets[-1]:
        return
    while high - low > 1:
        middle = (low + high) // 2
        if _offset(middle, zone) == offsets[-1]:
            low = middle
        else:
            high = middle
    starts.append(high)
    offsets.append(_offset(high, zone))


def _offset(instant: int, zone: ZoneInfo) -> int:
    at = datetime(1970, 1, 1, tzinfo=UTC) + timedelta(microseconds=instant)
    shift = at.astimezone(zone).utcoffset()
    assert shift is not None
    return int(shift / timedelta(microseconds=1))


NO_DAY = int(np.iinfo(np.int64).min)
"""In place of a day where there is none."""


def days_within(days: Ints, first: date | None, last: date | None) -> Flags:
    """(n,) bool: days from `first` to `last`, both inclusive; None = no end on that side. `NO_DAY` is in no range."""
    inside: Flags = days != NO_DAY
    if first is not None:
        inside &= days >= day_number(first)
    if last is not None:
        inside &= days <= day_number(last)
    return inside


_MONDAY = 4
"""The first Monday after 1 January 1970, a Thursday, in days since then."""


def mondays(days: Ints) -> Ints:
    """The Monday of the week that each day stands in, weeks beginning on Monday (ISO 8601).

    Examples
    --------
    >>> import numpy as np
    >>> mondays(np.array([4, 10, 11, 3])).tolist()
    [4, 4, 11, -3]
    """
    return days - (days - _MONDAY) % 7
