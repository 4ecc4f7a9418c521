"""Exact money (R17) and exchange rates (R20). No binary float touches an amount in here."""

from __future__ import annotations

from fractions import Fraction
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
    filled = lengths > 0
    starts = offsets[:-1][filled]
    uniform = np.zeros(len(lengths), np.bool_)
    if len(starts):
        low, high = np.minimum.reduceat(divisors, starts), np.maximum.reduceat(divisors, starts)
        uniform[filled] = (low == high) & (low > 0)
    if uniform.all():
        return apportion_evenly(totals, offsets)
    shares = np.zeros(len(divisors), np.int64)
    if uniform.any():
        index, inner = spans(offsets, np.flatnonzero(uniform))
        shares[index] = apportion_evenly(totals[uniform], inner)
    index, inner = spans(offsets, np.flatnonzero(~uniform & filled))
    shares[index] = _by_remainder(totals[~uniform & filled], inner, divisors[index])
    return shares


def apportion_evenly(totals: Ints, offsets: Ints) -> Ints:
    """Share whole minor units equally among the touches of each trail (R17).

    Every touch has the same share, so all remainders of a trail are equal and the earlier touches win.

    Parameters
    ----------
    totals : (n_trails,) int64, minor units to share, not negative
    offsets : (n_trails + 1,) int64, where each trail begins

    Returns
    -------
    (n_touches,) int64 that add up to `totals` in every filled trail
    """
    lengths = np.diff(offsets)
    each, left = np.divmod(totals, np.maximum(lengths, 1))
    # Counting down from the left-over at the start of a trail, the touches above 0 get one unit more.
    place = np.arange(offsets[-1])
    return np.repeat(each, lengths) + (place < np.repeat(offsets[:-1] + left, lengths))


def _by_remainder(totals: Ints, offsets: Ints, divisors: Ints) -> Ints:
    """Trails whose touches have different shares: the largest remainders win, ties the earlier touch."""
    lengths = np.diff(offsets)
    none = divisors == 0
    has_none = bool(none.any())
    shares, remainders = _divide(np.repeat(totals, lengths), np.maximum(divisors, 1) if has_none else divisors)
    if has_none:
        shares[none] = 0
        remainders[none] = -1
    left = totals - group_sums(shares, offsets)
    open_trails = np.flatnonzero(left > 0)
    if not len(open_trails):
        return shares
    index, inner = spans(offsets, open_trails)
    sizes = np.diff(inner)
    order = _largest_first(remainders[index], np.maximum(divisors[index], 1), inner)
    winners = np.arange(len(order)) < np.repeat(inner[:-1] + left[open_trails], sizes)
    shares[index[order[winners]]] += 1
    return shares


def _divide(numbers: Ints, divisors: Ints) -> tuple[Ints, Ints]:
    """Quotients and remainders; in 32 bits where everything fits, which is several times faster."""
    if len(numbers) and max(int(numbers.max()), int(divisors.max())) < 2**31 and int(numbers.min()) >= 0:
        quotients, rest = np.divmod(numbers.astype(np.uint32), divisors.astype(np.uint32))
        return quotients.astype(np.int64), rest.astype(np.int64)
    return np.divmod(numbers, divisors)


WIDEST_DIVISOR = 2**20
FRACTION_BITS = 40


def _largest_first(remainders: Ints, divisors: Ints, offsets: Ints) -> Ints:
    """Element numbers trail by trail, remainder / divisor from largest to smallest, ties in their own order.

    Notes
    -----
    Two different fractions with divisors up to 2**20 are at least 2**-40 apart, so the integers
    floor(remainder x 2**40 / divisor) order them exactly, and equal fractions give equal integers. Wider divisors are
    compared over a common denominator in Python integers.
    """
    sizes = np.diff(offsets)
    trail = np.repeat(np.arange(len(sizes)), sizes)
    widest = int(divisors.max())
    if widest > WIDEST_DIVISOR:
        return np.lexsort((_wide_keys(remainders, divisors), trail))
    bits = min(FRACTION_BITS, 2 * widest.bit_length())
    keys = (1 << bits) - ((remainders << bits) // divisors)
    place_bits = int(sizes.max() - 1).bit_length()
    if int(trail[-1]).bit_length() + bits + 1 + place_bits > 64:
        return np.lexsort((keys, trail))
    # One sort of a packed key (trail | fraction | place in the trail).
    begins = np.repeat(offsets[:-1], sizes)
    packed = ((trail.view(np.uint64) << np.uint64(bits + 1)) | keys.view(np.uint64)) << np.uint64(place_bits)
    packed |= (np.arange(len(trail)) - begins).view(np.uint64)
    packed.sort()
    packed &= np.uint64((1 << place_bits) - 1)
    return begins + packed.view(np.int64)


def _wide_keys(remainders: Ints, divisors: Ints) -> Ints:
    fractions = [-Fraction(r, d) for r, d in zip(remainders.tolist(), divisors.tolist(), strict=True)]
    rank = {fraction: i for i, fraction in enumerate(sorted(set(fractions)))}
    return np.array([rank[fraction] for fraction in fractions], dtype=np.int64)


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
