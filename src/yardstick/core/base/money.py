"""Exact money (R17) and exchange rates (R20). No binary float touches an amount in here."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from .columns import Amounts, Ints, Text, narrow, product
from .limits import AMOUNT_BELOW
from .tables import Table

RATE_DAYS = 7
"""How many days old a rate may be, unless the settings say otherwise (R20)."""


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
        return narrow([half_even(int(u), divisor) for u in units])
    quotient, rest = units // divisor, units % divisor
    rounded: npt.NDArray[Any] = quotient + ((2 * rest > divisor) | ((2 * rest == divisor) & (quotient % 2 == 1)))
    return rounded


def half_even(units: int, divisor: int) -> int:
    """units / divisor, a tie to the even neighbour (R17)."""
    quotient, rest = divmod(units, divisor)
    return quotient + (2 * rest > divisor or (2 * rest == divisor and quotient % 2 == 1))


class RateTable:
    """Rates into one home currency, looked up by currency and day (R20).

    Parameters
    ----------
    rates : the rates table; of two rows for one day the later one holds
    home : code of the home currency
    oldest : how many days old a rate may be

    Notes
    -----
    Only rows with `quote` = home are used: no inverse, no cross rate.
    """

    def __init__(self, rates: Table, home: str, oldest: int = RATE_DAYS) -> None:
        self._oldest = oldest
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
        """Row of the rate that holds for a currency on a day: that day's, or the latest not too many days older."""
        days = self._days.get(currency)
        if days is None:
            return None
        at = int(np.searchsorted(days, day, side="right")) - 1
        if at < 0 or day - int(days[at]) > self._oldest:
            return None
        return self._row[currency][int(days[at])]

    def units(self, row: int) -> int:
        """The rate in that row x 10 ** `decimals`."""
        return int(self._units[row])


FINE, NO_RATE, TOO_LARGE = range(3)
"""Whether an amount could be turned into the home currency, or why not (R20, R29)."""


def to_home(
    amounts: Amounts, currency: Text, days: Ints, rates: RateTable, home: str, minor_digits: int
) -> tuple[Ints, Ints]:
    """Convert a column into minor units of the home currency, each row at the rate of its day (R17, R20, R29).

    Parameters
    ----------
    amounts : (n,) exact amounts in each row's own currency
    currency : (n,) currency codes, empty = home
    days : (n,) days since 1970-01-01
    rates, home, minor_digits : the rates and the home currency with its number of decimals

    Returns
    -------
    minor : (n,) int64, rounded half-even once; 0 where unknown or refused
    refused : (n,) int64, `NO_RATE` for an amount other than 0 for which no rate is at most 7 days old, `TOO_LARGE`
        where it is 10^12 or more in the home currency, else `FINE`
    """
    refused = np.zeros(len(amounts), np.int64)
    exact = round_half_even(amounts.units, amounts.decimals, minor_digits)
    foreign = currency.test(lambda code: code not in ("", home)) & amounts.known & (amounts.units != 0)
    rows = np.flatnonzero(foreign)
    if len(rows):
        exact = exact.astype(object)
        exact[rows] = _converted(amounts, currency, days, rates, minor_digits, rows, refused)
    large = np.abs(exact) >= AMOUNT_BELOW * 10**minor_digits
    if large.any():
        refused[large.astype(np.bool_)] = TOO_LARGE
        exact = np.where(large.astype(np.bool_), 0, exact)
    return exact.astype(np.int64), refused


def _converted(
    amounts: Amounts, currency: Text, days: Ints, rates: RateTable, minor_digits: int, rows: Ints, refused: Ints
) -> npt.NDArray[Any]:
    """Amounts in other currencies as minor units of the home currency; marks those without a rate."""
    found: dict[tuple[int, int], int | None] = {}
    exact: list[int] = []
    for row in rows.tolist():
        key = (int(currency.codes[row]), int(days[row]))
        if key not in found:
            found[key] = rates.row_for(currency[row], key[1])
        rate = found[key]
        if rate is None:
            refused[row] = NO_RATE
        exact.append(0 if rate is None else int(amounts.units[row]) * rates.units(rate))
    return round_half_even(np.array(exact, dtype=object), amounts.decimals + rates.decimals, minor_digits).astype(
        object
    )
