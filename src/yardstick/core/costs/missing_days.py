"""Days on which an account's spend is missing, not zero (R21): the one meaning that every screen uses."""

from __future__ import annotations

from collections.abc import Mapping, Set
from dataclasses import dataclass

from ..base.money import half_even

WEEKS, AT_LEAST = 4, 3
"""Weeks whose same day is looked at, and of how many it must have rows."""


@dataclass(frozen=True)
class MissingDay:
    """A day without rows: its number, and what such a day usually costs, minor units."""

    day: int
    usual: int


def missing_days(by_day: Mapping[int, int], until: int | None, others: Set[int] = frozenset()) -> list[MissingDay]:
    """Days without rows, though the same weekday of at least three of the four weeks before has some.

    Parameters
    ----------
    by_day : minor units by day number, of every day that has rows
    until : the last day with a visit; None = there are none, and no day is missing
    others : days that have rows of which no amount is known

    Returns
    -------
    in the order of time; what a day usually costs is the mean of those days, half-even

    Examples
    --------
    >>> [one.day for one in missing_days({day: 10 for day in range(0, 28) if day != 23}, 30)]
    [23, 28, 29, 30]
    """
    if not by_day or until is None:
        return []
    out = []
    for day in range(min(by_day), until + 1):
        if day in by_day or day in others:
            continue
        before = [by_day[day - 7 * week] for week in range(1, WEEKS + 1) if day - 7 * week in by_day]
        if len(before) >= AT_LEAST:
            out.append(MissingDay(day, half_even(sum(before), len(before))))
    return out
