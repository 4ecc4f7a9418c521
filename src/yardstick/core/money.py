"""Exact money (R17) and exchange rates (R20). No binary float touches an amount in here."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from .columns import Amounts, Flags, Ints, Text, narrow, product
from .tables import Table

OLDEST_RATE_DAYS = 7


def round_half_even(units: npt.NDArray[Any], decimals: int, to: int) -> npt.NDArray[Any]:
    """Round scaled integers to fewer decimals, ties to the even neighbour (R17).

    Parameters
    ----------
    units : (n,) int64 or object, amounts x 10 ** decimals
    decimals : decimals the units carry
    to : decimals wanted

    Returns
    -------
    (n,) int64, or object where int64 would overflow: amounts x 10 ** to

    Examples
    --------
    >>> round_half_even(np.array([174498]), 3, 2)
    array([17450])
    """
    if to >= decimals:
        return product(units, 10 ** (to - decimals))
    divisor = 10 ** (decimals - to)
    if units.dtype == object or divisor >= 2**61:
        return narrow([_half_even(int(u), divisor) for u in units])
    quotient, rest = units // divisor, units % divisor
    rounded: npt.NDArray[Any] = quotient + ((2 * rest > divisor) | ((2 * rest == divisor) & (quotient % 2 == 1)))
    return rounded


def _half_even(units: int, divisor: int) -> int:
    quotient, rest = divmod(units, divisor)
    return quotient + (2 * rest > divisor or (2 * rest == divisor and quotient % 2 == 1))


class RateTable:
    """Rates into one home currency, looked up by currency and day (R20).

    Parameters
    ----------
    rates : the rates table; of two rows for one day the later one holds
    home : code of the home currency

    Notes
    -----
    Only rows with `quote` = home are used: no inverse, no cross rate.
    """

    def __init__(self, rates: Table, home: str) -> None:
        column = rates.amounts("rate")
        base, quote, days = rates.text("base"), rates.text("quote"), rates.ints("day")
        self.decimals = column.decimals
        self._row: dict[str, dict[int, int]] = {}
        for row in range(len(rates)):
            if quote[row] == home:
                self._row.setdefault(base[row], {})[int(days[row])] = row
        self._units = column.units
        self._days = {code: np.array(sorted(by_day), dtype=np.int64) for code, by_day in self._row.items()}

    def row_for(self, currency: str, day: int) -> int | None:
        """Row of the rate that holds for a currency on a day: that day's, or the latest at most 7 days older."""
        days = self._days.get(currency)
        if days is None:
            return None
        at = int(np.searchsorted(days, day, side="right")) - 1
        if at < 0 or day - int(days[at]) > OLDEST_RATE_DAYS:
            return None
        return self._row[currency][int(days[at])]

    def units(self, row: int) -> int:
        """The rate in that row x 10 ** `decimals`."""
        return int(self._units[row])


def to_home(
    amounts: Amounts, currency: Text, days: Ints, rates: RateTable, home: str, minor_digits: int
) -> tuple[Ints, Flags]:
    """Convert a column into minor units of the home currency, each row at the rate of its day (R17, R20).

    Parameters
    ----------
    amounts : (n,) exact amounts in each row's own currency
    currency : (n,) currency codes, empty = home
    days : (n,) days since 1970-01-01
    rates, home, minor_digits : the rates and the home currency with its number of decimals

    Returns
    -------
    minor : (n,) int64, rounded half-even once; 0 where unknown
    no_rate : (n,) bool, rows with an amount other than 0 for which no rate is at most 7 days old
    """
    no_rate = np.zeros(len(amounts), np.bool_)
    minor = np.array(round_half_even(amounts.units, amounts.decimals, minor_digits), dtype=np.int64)
    foreign = currency.test(lambda code: code not in ("", home)) & amounts.known & (amounts.units != 0)
    rows = np.flatnonzero(foreign)
    if not len(rows):
        return minor, no_rate
    found: dict[tuple[int, int], int | None] = {}
    exact: list[int] = []
    for row in rows.tolist():
        key = (int(currency.codes[row]), int(days[row]))
        if key not in found:
            found[key] = rates.row_for(currency[row], key[1])
        rate = found[key]
        no_rate[row] = rate is None
        exact.append(0 if rate is None else int(amounts.units[row]) * rates.units(rate))
    converted = round_half_even(np.array(exact, dtype=object), amounts.decimals + rates.decimals, minor_digits)
    minor[rows] = converted.astype(np.int64)
    return minor, no_rate


def apportion(totals: Ints, offsets: Ints, divisors: Ints) -> Ints:
    """Share whole minor units among the touches of each trail by largest remainder (R17).

    Parameters
    ----------
    totals : (n_trails,) int64, minor units to share, not negative
    offsets : (n_trails + 1,) int64, where each trail begins
    divisors : (n_touches,) int64, a touch's share of its trail is 1 / divisor; 0 = no share

    Returns
    -------
    (n_touches,) int64 that add up to `totals` in every trail

    Notes
    -----
    Remainders are compared as integers over a common denominator; ties go to the earlier touch. The method is
    Hamilton's (largest remainder), as in published apportionment examples.
    """
    lengths = np.diff(offsets)
    spread = np.repeat(totals, lengths)
    safe = np.maximum(divisors, 1)
    shares = np.where(divisors > 0, spread // safe, 0)
    left = totals - group_sums(shares, offsets)
    open_trails = np.flatnonzero(left > 0)
    if not len(open_trails):
        return shares
    index, inner = spans(offsets, open_trails)
    d = divisors[index]
    sizes = np.diff(inner)
    remainders = np.where(d > 0, spread[index] % np.maximum(d, 1), -1)
    top = np.maximum.reduceat(d, inner[:-1])
    bottom = np.minimum.reduceat(np.where(d > 0, d, np.iinfo(np.int64).max), inner[:-1])
    trail = np.repeat(np.arange(len(open_trails)), sizes)
    if np.array_equal(top, bottom):
        # Every touch with a share has the same one, so all remainders of a trail are equal: the earlier touches win.
        order = np.lexsort((np.arange(len(d)), d == 0, trail))
    else:
        order = np.lexsort((np.arange(len(d)), _descending(remainders, d, inner), trail))
    rank = np.empty(len(d), np.int64)
    rank[order] = np.arange(len(d)) - np.repeat(inner[:-1], sizes)
    shares[index] += rank < np.repeat(left[open_trails], sizes)
    return shares


def _descending(remainders: Ints, divisors: Ints, offsets: Ints) -> npt.NDArray[Any]:
    """Sort keys, smallest first, for remainder / divisor from largest to smallest, compared exactly in each trail."""
    d = np.maximum(divisors, 1)
    sizes = np.diff(offsets)
    # A product of all distinct divisors bounds their least common multiple; where it might not fit, count in Python.
    logs = np.add.reduceat(np.log2(d), offsets[:-1])
    if len(logs) and float(logs.max()) > 60:
        common = np.repeat(np.lcm.reduceat(d.astype(object), offsets[:-1]), sizes)
        wide = (-(remainders.astype(object) * (common // d))).tolist()
        ranks = {key: rank for rank, key in enumerate(sorted(set(wide)))}
        return np.array([ranks[key] for key in wide], dtype=np.int64)
    common = np.repeat(np.lcm.reduceat(d, offsets[:-1]), sizes)
    keys: Ints = -(remainders * (common // d))
    return keys


def group_sums(values: Ints, offsets: Ints) -> Ints:
    """Sum of each run of `values` between one offset and the next, exact in int64; empty runs give 0."""
    running = np.zeros(len(values) + 1, np.int64)
    np.cumsum(values, out=running[1:])
    return running[offsets[1:]] - running[offsets[:-1]]


def spans(offsets: Ints, groups: Ints) -> tuple[Ints, Ints]:
    """Element indices of some groups of compressed rows, end to end, and where each begins in that list."""
    sizes = (offsets[1:] - offsets[:-1])[groups]
    inner = np.zeros(len(groups) + 1, np.int64)
    np.cumsum(sizes, out=inner[1:])
    index = np.repeat(offsets[:-1][groups] - inner[:-1], sizes) + np.arange(inner[-1])
    return index, inner
