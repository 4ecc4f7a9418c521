"""Costs that no platform reports (R18): fees and the like spread over days, and clicks at a typed price."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base.columns import Amounts, Ints, Text
from ..base.days import day_number, days_within
from ..base.limits import AMOUNT_BELOW
from ..base.notes import Rejected
from ..base.tables import SCHEMA, Table, blank_column
from ..plan.plan import Costing, Reading
from ..plan.records import ClickPrice, OtherCost
from ..reading.arrivals import Arrivals
from ..trails.goals import decimal_units

OTHER_COSTS, CLICK_PRICES = "Other costs", "Price per click"
"""Where such rows stand in place of a platform."""
LONGEST_DAYS = 3_660
_DIGITS = {
    0: "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF",
    3: "BHD IQD JOD KWD LYD OMR TND",
    4: "CLF UYW",
}
_DIGITS_OF = {code: digits for digits, codes in _DIGITS.items() for code in codes.split()}


def currency_digits(code: str) -> int:
    """Decimals of a currency's minor unit (ISO 4217): 0, 2, 3 or 4."""
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


def with_further_costs(
    spend: Table, other_costs: Table, clicks: Sequence[tuple[ClickPrice, int, int]], costing: Costing, home: str
) -> tuple[Table, list[Rejected]]:
    """The spend table with one more row per day of every further cost.

    Parameters
    ----------
    spend, other_costs : tables
    clicks : (price, day, clicks) as `count_clicks` gives them
    costing : other costs and prices typed in the plan
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
    numbers = {id(price): i for i, price in enumerate(costing.click_prices, 1)}
    for price, day, count in clicks:
        where = ("plan: price per click", numbers[id(price)])
        rows.append(
            _Row(
                day,
                CLICK_PRICES,
                price.source,
                price.campaign,
                None,
                count,
                decimal_units(price.price),
                price.currency,
                *where,
            )
        )
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


def count_clicks(
    prices: Sequence[ClickPrice], arrivals: Arrivals, visit: Ints, day: Ints, campaign: Text, reading: Reading
) -> list[tuple[ClickPrice, int, int]]:
    """Arrivals that a typed price holds for, per price and day.

    Parameters
    ----------
    prices : of two that hold for one arrival the one written first counts
    arrivals : addresses as read
    visit : (k,) int64, first visit row of each touch by click
    day : (k,) int64, its day
    campaign : (k,) text, its campaign, under the name of its day
    reading : folding and names

    Notes
    -----
    Touches are grouped by campaign and tags first, so that each group looks at the prices of its campaign alone.
    """
    if not prices or not len(visit):
        return []
    counts: dict[tuple[int, int], int] = {}
    keys = campaign.map(reading.names.same)
    url = arrivals.url[visit]
    for first, last in reading.names.spans("campaign"):
        of_campaign: dict[str, list[int]] = {}
        for number, price in enumerate(prices):
            of_campaign.setdefault(reading.names.meant("campaign", price.campaign, first), []).append(number)
        here = np.flatnonzero(keys.test(of_campaign.__contains__) & (day >= first) & (day < last))
        for candidates, rows in _by_candidates(prices, of_campaign, arrivals, url, keys, here, reading):
            free = np.ones(len(rows), np.bool_)
            for number in candidates:
                wanted = free & days_within(day[rows], prices[number].first, prices[number].last)
                free &= ~wanted
                for on, count in zip(*np.unique(day[rows[wanted]], return_counts=True), strict=True):
                    counts[number, int(on)] = counts.get((number, int(on)), 0) + int(count)
    return [(prices[number], on, count) for (number, on), count in sorted(counts.items())]


def _by_candidates(
    prices: Sequence[ClickPrice],
    of_campaign: Mapping[str, Sequence[int]],
    arrivals: Arrivals,
    url: Ints,
    keys: Text,
    rows: Ints,
    reading: Reading,
) -> Iterator[tuple[tuple[int, ...], Ints]]:
    """Touches by the prices that fit their campaign and tags, in the order in which these are written."""
    same = reading.names.same
    pairs, which = np.unique(np.stack([keys.codes[rows], url[rows]]), axis=1, return_inverse=True)
    seen: dict[tuple[str, ...], tuple[int, ...]] = {}
    groups: dict[tuple[int, ...], int] = {}
    group = np.zeros(pairs.shape[1], np.int64)
    for number, (code, at) in enumerate(pairs.T.tolist()):
        tags = tuple(same(arrivals.readings[at].tags[i]) for i in _PRICED_TAGS)
        key = (keys.values[code], *tags)
        if key not in seen:
            mine = of_campaign[keys.values[code]]
            seen[key] = tuple(n for n in mine if _fits(prices[n], tags, same))
        group[number] = groups.setdefault(seen[key], len(groups))
    of_row = group[which.reshape(-1)]
    order = np.argsort(of_row, kind="stable")
    ends = np.searchsorted(of_row[order], np.arange(len(groups) + 1))
    for candidates, number in groups.items():
        if candidates:
            yield candidates, rows[order[ends[number] : ends[number + 1]]]


_PRICED_TAGS = (0, 1, 3, 4)
"""Source, medium, term and content among `tags.FIELDS`."""


def _fits(price: ClickPrice, tags: Sequence[str], same: Callable[[str], str]) -> bool:
    stated = (price.source, price.medium, price.term, price.content)
    return all(not same(want) or same(want) == tag for want, tag in zip(stated, tags, strict=True))


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
