"""Goals (R10): which records count as conversions, and what each is worth."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from ..base.columns import Amounts, Flags, Ints, Text
from ..base.day_numbers import DAY_US, day_number
from ..base.money import RateTable, to_home
from ..base.tables import Table
from ..plan.counting_phase import Goal, Trailing
from .trails import first_at_or_after


def decimal_units(value: Decimal) -> tuple[int, int]:
    """A decimal as (integer, decimals), exact."""
    sign, digits, exponent = value.as_tuple()
    assert isinstance(exponent, int)
    whole = int("".join(map(str, digits)) or "0") * (-1 if sign else 1)
    return (whole * 10**exponent, 0) if exponent > 0 else (whole, -exponent)


@dataclass(frozen=True)
class Conversions:
    """Lead rows and conversion rows as one list: leads first, then conversions, each in table order.

    Attributes
    ----------
    is_lead_row : (c,) bool
    row : (c,) int64, row in its own table
    id : (c,) text, lead or conversion id
    goal : (c,) text
    version : (c,) int64, which version of its goal reads it, index into the goals of the ground
    person, at, day : (c,) int64; day in the workspace's zone
    value : (c,) int64, minor units of the home currency
    good : (c,) bool, records that say they are good: marked so, in a stage that their goal calls good, or by their word
    eligible : (c,) bool, not cancelled, test, quarantined or rejected
    names_lead : (c,) int64, row of the lead whose captured sets may serve (R8), -1 if none
    report_day : (c,) int64, the day reports set it on, `NO_DAY` where it has none: its own, or that of an event (R22)
    word, stage, owner : (c,) text, what each is now (R10)
    self_reported : (c,) bool, records that say themselves where they had heard of it
    """

    is_lead_row: Flags
    row: Ints
    id: Text
    goal: Text
    version: Ints
    person: Ints
    at: Ints
    day: Ints
    value: Ints
    good: Flags
    eligible: Flags
    names_lead: Ints
    report_day: Ints
    word: Text
    stage: Text
    owner: Text
    self_reported: Flags

    def __len__(self) -> int:
        return len(self.row)

    @cached_property
    def by_person(self) -> Ints:
        """(c,) int64: their numbers in the order of people, as their touches stand, so that what is looked up for the
        touches of one trail after another lies side by side."""
        return np.argsort(self.person, kind="stable")


def record_values(
    table: Table, total: Amounts, refunded: Amounts, goals: Sequence[Goal], goal_code: Ints, days: Ints,
    rates: RateTable, home: str, minor_digits: int,
) -> tuple[Ints, Ints]:  # fmt: skip
    """What each row of leads or conversions is worth in the home currency (R10, R17, R20).

    Parameters
    ----------
    table : leads or conversions
    total : (n,) what each is said to be worth now, in its own currency
    refunded : (n,) what was given back of it, not negative
    goals : goals by code
    goal_code : (n,) int64, index into `goals`
    days : (n,) int64, report day of each row
    rates, home, minor_digits : for rows in other currencies

    Returns
    -------
    minor : (n,) int64: total - refunded, under `net` also - tax - shipping, floored at 0 once at the end
    refused : (n,) int64, why a row has to be rejected (see `money.to_home`)
    """
    n = len(table)
    tax, shipping = (
        table.amounts(name) if name in table.columns else Amounts.unknown(n) for name in ("tax", "shipping")
    )
    currency = table.text("currency") if "currency" in table.columns else Text.blank(n)
    decimals = max(total.decimals, refunded.decimals, tax.decimals, shipping.decimals)
    net = np.array([goal.value == "net" for goal in goals], np.bool_)[goal_code] if n else np.empty(0, np.bool_)
    whole, less, gone, sent = (_roomy(column.at(decimals)) for column in (total, refunded, tax, shipping))
    worth = whole - less - np.where(net, gone + sent, 0)
    worth = np.where(total.known & (worth > 0), worth, 0)
    exact = Amounts(worth, decimals, total.known)
    minor, refused = to_home(exact, currency, days, rates, home, minor_digits)
    own, own_refused = own_values(goals, goal_code, days, rates, home, minor_digits)
    fixed = np.array([goal.fixed_value is not None for goal in goals], np.bool_)
    if n:
        said = total.known & ~fixed[goal_code]
        minor = np.where(said, minor, own)
        refused = np.where(said, refused, own_refused)
    return minor, refused


def _roomy(units: npt.NDArray[Any]) -> npt.NDArray[Any]:
    """Integers with room for adding four of them."""
    if units.dtype == object or not len(units) or max(abs(int(units.min())), abs(int(units.max()))) < 2**60:
        return units
    return units.astype(object)


def own_values(
    goals: Sequence[Goal], goal_code: Ints, days: Ints, rates: RateTable, home: str, minor_digits: int
) -> tuple[Ints, Ints]:
    """What conversions are worth without their record: the fixed or default value of their goal, 0 if it has none.

    Parameters
    ----------
    goals, goal_code, days, rates, home, minor_digits : see `record_values`

    Returns
    -------
    minor : (n,) int64, minor units of the home currency
    refused : (n,) int64, why it has none (see `money.to_home`)
    """
    minor, refused = np.zeros(len(goal_code), np.int64), np.zeros(len(goal_code), np.int64)
    for number, goal in enumerate(goals):
        value = goal.default_value if goal.fixed_value is None else goal.fixed_value
        mine = np.flatnonzero(goal_code == number)
        if value is None or not len(mine):
            continue
        amounts = Amounts.of([decimal_units(value)] * len(mine))
        currency = Text(np.zeros(len(mine), np.int32), [goal.currency])
        minor[mine], refused[mine] = to_home(amounts, currency, days[mine], rates, home, minor_digits)
    return minor, refused


def version_of(names: Text, days: Ints, trailing: Trailing) -> tuple[tuple[Goal, ...], Ints]:
    """Which version of its goal reads each conversion: the latest that has begun on its day, else the first.

    Parameters
    ----------
    names : (c,) text, goal of each conversion
    days : (c,) int64, its day

    Returns
    -------
    goals : all versions of all goals named
    version : (c,) int64, index into `goals`
    """
    goals: list[Goal] = []
    version = np.zeros(len(names), np.int64)
    for code, name in enumerate(names.values):
        mine = names.codes == code
        for number, goal in enumerate(trailing.versions_of(name)):
            begun = mine if number == 0 else mine & (days >= day_number(goal.since or date.min))
            version[begun] = len(goals)
            goals.append(goal)
    return tuple(goals), version


def in_order(conversions: Conversions) -> Ints:
    """Conversion numbers by (time, id); of two with both equal, lead rows first, then table order (R10)."""
    order = np.argsort(conversions.at, kind="stable")
    at, ids = conversions.at[order], conversions.id
    same = np.flatnonzero(np.diff(np.concatenate([[False], at[1:] == at[:-1], [False]]).astype(np.int8)))
    for first, last in zip(same[::2].tolist(), same[1::2].tolist(), strict=True):
        order[first : last + 1] = sorted(order[first : last + 1].tolist(), key=lambda row: (ids[row], row))
    return order


def count_once(conversions: Conversions, goals: Sequence[Goal], last_touch: Ints) -> Flags:
    """Which conversions count under the counting rule of their goal (R10), over all the data.

    Parameters
    ----------
    conversions : all of them
    goals : the versions that `conversions.version` names; a version's rule looks at all conversions of the goal
    last_touch : (c,) int64, number of the trail's last touch, -1 where the trail is empty (those all count)

    Returns
    -------
    (c,) bool
    """
    counted = conversions.eligible.copy()
    order = in_order(conversions)
    order = order[counted[order]]
    goal_code, version = conversions.goal.codes.astype(np.int64), conversions.version
    numbers = {name: code for code, name in enumerate(conversions.goal.values)}
    for number, goal in enumerate(goals):
        if goal.count == "every" or goal.name not in numbers:
            continue
        mine = order[goal_code[order] == numbers[goal.name]]
        person, day, last = conversions.person[mine], conversions.day[mine], last_touch[mine]
        if goal.count == "one":
            keys = np.stack([person, np.zeros_like(person)])
        elif goal.count == "one_per_day":
            keys = np.stack([person, day])
        else:
            alone = -2 - np.arange(len(mine))
            keys = np.stack([np.where(last >= 0, last, alone), np.zeros_like(last)])
        first = np.unique(keys, axis=1, return_index=True)[1]
        repeated = np.ones(len(mine), np.bool_)
        repeated[first] = False
        counted[mine[repeated & (version[mine] == number)]] = False
    return counted


def previous_counted(conversions: Conversions, counted: Flags) -> Ints:
    """Time of the person's counted conversion of the same goal just before each, in (time, id) order (R11).

    Returns
    -------
    (c,) int64, the smallest int64 where there is none
    """
    before = np.full(len(conversions), np.iinfo(np.int64).min, np.int64)
    order = in_order(conversions)
    order = order[counted[order]]
    goal = conversions.goal.codes.astype(np.int64)
    grouped = order[np.lexsort((np.arange(len(order)), goal[order], conversions.person[order]))]
    same = (conversions.person[grouped][1:] == conversions.person[grouped][:-1]) & (
        goal[grouped][1:] == goal[grouped][:-1]
    )
    before[grouped[1:][same]] = conversions.at[grouped[:-1][same]]
    return before


def first_sales(conversions: Conversions, counted: Flags, goals: Sequence[Goal]) -> Flags:
    """(c,) bool: each person's first counted sale of any sale goal in the data (R23), in (time, id) order."""
    sale = np.array([goal.kind != "lead" for goal in goals], np.bool_)
    order = in_order(conversions)
    order = order[counted[order]]
    order = order[sale[conversions.version[order]]] if len(order) else order
    first = np.zeros(len(conversions), np.bool_)
    first[order[np.unique(conversions.person[order], return_index=True)[1]]] = True
    return first


def goodness(
    conversions: Conversions,
    counted: Flags,
    goals: Sequence[Goal],
    kind_of: Callable[[str], str],
    last_visit: int | None,
) -> tuple[Flags, Flags]:
    """Which conversions are good leads, and of which leads that is not known yet (R10).

    Parameters
    ----------
    counted : (c,) bool, see `count_once`
    goals : the versions that `conversions.version` names
    kind_of : the kind of a goal, by its name
    last_visit : the last day with a visit that counts, None if there is none

    Returns
    -------
    good, open : (c,) bool

    Notes
    -----
    A later conversion makes a lead good from the lead's own instant to so many days of 24 hours after it, both ends
    included. While the lead's day and those days reach beyond the end of the data, its goodness is not known.
    """
    good, waiting = conversions.good.copy(), np.zeros(len(conversions), np.bool_)
    lead = np.array([goal.kind == "lead" for goal in goals], np.bool_)
    for number, goal in enumerate(goals):
        mine = np.flatnonzero((conversions.version == number) & ~good)
        if not goal.good_goal or goal.kind != "lead" or not len(mine):
            continue
        wanted = conversions.goal.test(lambda name, want=goal.good_goal: name == want)  # type: ignore[misc]
        later = np.flatnonzero(counted & wanted)
        later = later[np.lexsort((conversions.at[later], conversions.person[later]))]
        person, at = conversions.person[later], conversions.at[later]
        low = np.searchsorted(person, conversions.person[mine], side="left")
        high = np.searchsorted(person, conversions.person[mine], side="right")
        begin = conversions.at[mine]
        first = first_at_or_after(at, low, high, begin)
        follows = first < high
        within = begin + int(goal.good_days * DAY_US)
        follows[follows] = at[first[follows]] <= within[follows]
        good[mine[follows]] = True
        of_kind = counted & (lead[conversions.version] == (kind_of(goal.good_goal) == "lead"))
        ends = [int(conversions.day[of_kind].max())] if of_kind.any() else []
        ends += [last_visit] if last_visit is not None else []
        rest = mine[~follows]
        until = conversions.day[rest] + math.ceil(goal.good_days)
        waiting[rest] = until > min(ends) if len(ends) == 2 else True
    return good, waiting
