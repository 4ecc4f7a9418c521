"""Costs that no platform reports (R18): fees and the like, spread over days."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base.columns import Amounts, Text
from ..base.day_numbers import day_number
from ..base.limits import AMOUNT_BELOW
from ..base.notes import Rejected
from ..base.schema import SCHEMA
from ..base.tables import Table, blank_column
from ..plan.costing_phase import Costing, OtherCost
from ..trails.goals import decimal_units

OTHER_COSTS = "Other costs"
"""Where such rows stand in place of a platform."""
LONGEST_DAYS = 3_660
_DIGITS = {
    0: "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF",
    3: "BHD IQD JOD KWD LYD OMR TND",
    4: "CLF UYW",
}
_DIGITS_OF = {code: digits for digits, codes in _DIGITS.items() for code in codes.split()}


def currency_digits(code: str) -> int:
    """Decimals of a currency's minor unit (ISO 4217): 0, 2, 3 or 4.

    Examples
    --------
    >>> currency_digits("AUD"), currency_digits("JPY")
    (2, 0)
    """
    return _DIGITS_OF.get(code.upper(), 2)


@dataclass(frozen=True)
class _Row:
    day: int
    platform: str
    account: str
    campaign: str
    cost: tuple[int, int] | None
    clicks: int
    price: tuple[int, int] | None
    currency: str
    file: str
    line: int


def with_further_costs(spend: Table, other_costs: Table, costing: Costing, home: str) -> tuple[Table, list[Rejected]]:
    """The spend table with one more row per day of every further cost.

    Parameters
    ----------
    spend, other_costs : tables
    costing : other costs typed in the plan
    home : the home currency

    Returns
    -------
    spend : rows as reported first
    rejected : other costs that end before they begin, or run for more than ten years
    """
    rows: list[_Row] = []
    rejected: list[Rejected] = []
    first, last = other_costs.ints("from"), other_costs.ints("to")
    cost, quantity, each = (other_costs.amounts(name) for name in ("cost", "quantity", "price"))
    for i in range(len(other_costs)):
        where = (other_costs.file[i], int(other_costs.line[i]))
        reason = _why_not(int(first[i]), int(last[i]))
        if reason:
            rejected.append(Rejected("other_costs", *where, "to", "", reason))
            continue
        amount = (int(cost.units[i]), cost.decimals)
        if not cost.known[i]:
            amount = (int(quantity.units[i]) * int(each.units[i]), quantity.decimals + each.decimals)
            if amount[0] >= AMOUNT_BELOW * 10 ** amount[1]:
                reason = f"quantity x price is {AMOUNT_BELOW:,} or more: correct one of them"
                rejected.append(Rejected("other_costs", *where, "price", "", reason))
                continue
        text = {name: other_costs.text(name)[i] for name in ("campaign", "kind", "currency")}
        rows += _spread(int(first[i]), int(last[i]), amount, **text, home=home, where=where)
    for number, typed in enumerate(costing.other_costs, 1):
        rows += _typed(typed, number, home)
    return (_joined(spend, rows) if rows else spend), rejected


def _typed(typed: OtherCost, number: int, home: str) -> list[_Row]:
    days = day_number(typed.first), day_number(typed.last)
    amount = decimal_units(typed.cost)
    where = ("plan: other costs", number)
    return _spread(*days, amount, typed.campaign, typed.kind, typed.currency, home, where)


def _why_not(first: int, last: int) -> str:
    if last < first:
        return "the cost ends before it begins: swap from and to"
    if last - first >= LONGEST_DAYS:
        return "the cost runs for more than ten years: shorten it"
    return ""


def _spread(
    first: int, last: int, amount: tuple[int, int], campaign: str, kind: str, currency: str, home: str,
    where: tuple[str, int],
) -> list[_Row]:  # fmt: skip
    """Evenly by day: what is left over goes to the earlier days, one minor unit each."""
    digits = max(amount[1], currency_digits(currency or home))
    units = amount[0] * 10 ** (digits - amount[1])
    share, left = divmod(units, last - first + 1)
    return [
        _Row(day, OTHER_COSTS, kind, campaign, (share + (day - first < left), digits), -1, None, currency, *where)
        for day in range(first, last + 1)
    ]


def _joined(spend: Table, rows: list[_Row]) -> Table:
    n = len(rows)
    more: dict[str, Any] = {c.name: blank_column(c.kind, n) for c in SCHEMA["spend"]}
    more["day"] = np.array([r.day for r in rows], np.int32)
    more["platform"] = Text.of([r.platform for r in rows])
    more["account"] = Text.of([r.account for r in rows])
    more["campaign"] = Text.of([r.campaign for r in rows])
    more["currency"] = Text.of([r.currency for r in rows])
    more["clicks"] = np.array([r.clicks for r in rows], np.int64)
    more["cost"] = Amounts.of([r.cost for r in rows])
    more["click_price"] = Amounts.of([r.price for r in rows])
    added = Table(
        "spend", more, Text.of([r.file for r in rows]), np.array([r.line for r in rows], dtype=spend.line.dtype)
    )
    return spend.joined(added)
