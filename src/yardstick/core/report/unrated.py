"""Money that is in no figure because no exchange rate holds for its day (R20), with its amount."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from ..base.columns import Amounts, Ints
from ..base.money import NO_RATE
from ..base.tables import Table
from ..costs.further_costs import currency_digits


@dataclass(frozen=True)
class Unrated:
    """A row that no rate holds for: its table, currency, report day, amount x 10 ** decimals in that currency, and its
    number among the rows of its table as they came; -1 where it is none of them."""

    table: str
    platform: str
    account: str
    currency: str
    day: int
    units: int
    decimals: int
    row: int = -1


@dataclass(frozen=True)
class WithoutRate:
    """What of a currency is in no figure for want of a rate: rows, and their amount as a decimal in that currency."""

    table: str
    currency: str
    rows: int
    amount: str


def unrated_rows(
    table: Table, amounts: Amounts, refused: Ints, days: Ints, home: str, of_goal: Sequence[str] | None = None
) -> list[Unrated]:
    """The rows of a table that no rate holds for.

    Parameters
    ----------
    table : spend, leads or conversions
    amounts : (n,) what each is worth, in its own currency
    refused : (n,) int64, see `money.to_home`
    days : (n,) int64, the day a rate was looked for
    home : home currency
    of_goal : currency of the value that each row's goal gives it
    """
    out = []
    by_platform = table.name == "spend"
    for row in np.flatnonzero(refused == NO_RATE).tolist():
        code = "" if table.name == "leads" else table.text("currency")[row]
        code = of_goal[row] if of_goal and code in ("", home) else code
        whose = (table.text("platform")[row], table.text("account")[row]) if by_platform else ("", "")
        units = int(amounts.units[row]) if amounts.known[row] else 0
        out.append(Unrated(table.name, *whose, code, int(days[row]), units, amounts.decimals, row))
    return out


def without_rate(rows: Sequence[Unrated], first: int | None = None, last: int | None = None) -> list[WithoutRate]:
    """Rows without a rate by table and currency.

    Parameters
    ----------
    rows : see `unrated_rows`
    first, last : days of the range since 1970, both inclusive; None = open
    """
    found: dict[tuple[str, str], tuple[int, Decimal]] = {}
    for row in rows:
        if (first is None or row.day >= first) and (last is None or row.day <= last):
            count, total = found.get((row.table, row.currency), (0, Decimal(0)))
            found[row.table, row.currency] = (count + 1, total + Decimal(row.units).scaleb(-row.decimals))
    return [WithoutRate(*key, count, written_amount(key[1], total)) for key, (count, total) in sorted(found.items())]


def written_amount(currency: str, total: Decimal) -> str:
    """An amount with the decimals of its currency at least."""
    least = Decimal(1).scaleb(-currency_digits(currency))
    return f"{total:f}" if -int(total.as_tuple().exponent) > currency_digits(currency) else f"{total.quantize(least):f}"
