"""Clicks at a typed price (R19): what each arrival cost, where no platform reports that day's cost."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base.columns import Amounts, Flags, Ints, Text, narrow
from ..base.day_numbers import day_text
from ..base.days import days_within
from ..base.distinct import distinct_columns
from ..base.money import FINE, NO_RATE, RateTable, to_home
from ..base.notes import Finding, Rejected
from ..base.schema import SCHEMA
from ..base.tables import Table, blank_column
from ..base.words import fold, same_as
from ..plan.costing_phase import ClickPrice, Costing, Money
from ..plan.reading_phase import Reading
from ..plan.renamed_rows import rename_rows
from ..reading.arrivals import Arrivals
from ..reading.roles import RoleTable
from ..trails.goals import decimal_units
from ..trails.touches import order_by_person
from .spend import Costs

CLICK_PRICES = "Price per click"
"""Where such rows stand in place of a platform."""
FILE = "plan: price per click"


@dataclass(frozen=True)
class Clicks:
    """Touches by click that a price may hold for.

    Attributes
    ----------
    touch : (k,) int64, number of each among all touches
    visit : (k,) int64, row of its first visit
    day, at : (k,) int64, its report day and instant
    """

    touch: Ints
    visit: Ints
    day: Ints
    at: Ints


@dataclass(frozen=True)
class Priced:
    """Spend with a row for every kind of click at a price.

    Attributes
    ----------
    spend, costs : rows as they were, then those of clicks
    touch : (s,) int64, a touch that stands where the row's clicks do; -1 for rows of no click
    rejected : clicks that no rate holds for, or that cost too much
    unrated : of those, what had no rate: (currency, day, units, decimals)
    findings : clicks whose estimate yields to reported cost
    """

    spend: Table
    costs: Costs
    touch: Ints
    rejected: list[Rejected]
    unrated: list[tuple[str, int, int, int]]
    findings: list[Finding]


def campaigns_of(roles: RoleTable, names: Mapping[str, str], reading: Reading) -> Text:
    """(n,) text: the campaign of each visit and captured set, before renames: the name of its id, else its own (R19).

    Parameters
    ----------
    roles : of visits, then captured sets
    names : campaign name by compared id
    reading : folding
    """
    text = roles.text("campaign")
    if not names:
        return text
    same = same_as(reading.fold)
    by_id = roles.text("id").map(lambda v: names.get(same(v), "") if v else "")
    return by_id.where(by_id.filled(), text)


def unpriced(spend: Table, costs: Costs) -> Priced:
    """Spend to which no click at a price adds anything."""
    return Priced(spend, costs, np.full(len(spend), -1, np.int64), [], [], [])


def price_clicks(
    clicks: Clicks, spend: Table, costs: Costs, arrivals: Arrivals, roles: RoleTable, visits: Table, rates: RateTable,
    costing: Costing, reading: Reading, money: Money,
) -> Priced:  # fmt: skip
    """Add what clicks at a price cost to the spend (R19).

    Parameters
    ----------
    clicks : of everyone
    spend, costs : all other spend
    arrivals, roles, visits : the same visits as read before
    rates, costing, reading, money : rates, prices and platforms, names, the home currency

    Notes
    -----
    Ids find the campaign before prices are compared. Per price, day and campaign the clicks' cost is converted and
    rounded once and shared over them by largest remainder, the earlier first, at one instant the smaller visit id.
    Clicks of one day that cannot be told apart by any field stand in one row.
    """
    nothing = unpriced(spend, costs)
    if not costing.click_prices or not len(clicks.touch):
        return nothing
    same = reading.names.same
    named = rename_rows(reading.names, "campaign", campaigns_of(roles, costs.names, reading), roles.day)
    campaign = named.take(clicks.visit)
    price = _prices_of(costing.click_prices, arrivals, clicks, campaign, reading)
    mine = np.flatnonzero(price >= 0)
    if not len(mine):
        return nothing
    source = rename_rows(reading.names, "source", roles.text("source"), roles.day).take(clicks.visit)
    reported = _reported(spend, costs, costing, same)
    key = campaign.map(same)
    yields = np.array(
        [(key[i], int(clicks.day[i]), same(source[i])) in reported for i in mine.tolist()] if reported else [], np.bool_
    )
    yields = yields if reported else np.zeros(len(mine), np.bool_)
    # Not by person: people have no order that the order of rows leaves alone.
    tie = visits.text("visit_id").take(clicks.visit[mine])
    order = order_by_person(np.zeros(len(mine), np.int64), clicks.at[mine], tie)
    mine, yields = mine[order], yields[order]
    groups: dict[tuple[bool, int, int, str], list[int]] = defaultdict(list)
    for i, out in zip(mine.tolist(), yields.tolist(), strict=True):
        groups[out, int(price[i]), int(clicks.day[i]), key[i]].append(i)
    keys = sorted(groups)
    minor, refused = _amounts(keys, groups, costing.click_prices, rates, money)
    rows: list[tuple[int, int, int, int, int]] = []
    rejected, unrated, findings = [], [], []
    kind = _kinds(clicks, arrivals, roles, visits)
    for (out, number, day, _), cost, why in zip(keys, minor.tolist(), refused.tolist(), strict=True):
        some = groups[out, number, day, _]
        stated = costing.click_prices[number]
        if why != FINE:
            if not out:
                rejected.append(_refusal(stated, number, day, why, money))
                units, decimals = decimal_units(stated.price)
                unrated += [(stated.currency, day, units * len(some), decimals)] if why == NO_RATE else []
            continue
        if out:
            shown = f"{campaign[some[0]]}, {day_text(day)}"
            said = ("price_yields", "warning", "spend", "", "campaign", shown)
            findings.append(Finding(*said, cost, money.home_currency, FILE, number + 1))
            continue
        each, more = divmod(cost, len(some))
        parts: dict[int, list[int]] = {}
        for place, i in enumerate(some):
            at = parts.setdefault(int(kind[i]), [i, 0, 0])
            at[1] += 1
            at[2] += each + (place < more)
        rows += [(i, number, day, count, amount) for i, count, amount in parts.values()]
    return _with_rows(nothing, rows, clicks, campaign, costing.click_prices, money, rejected, unrated, findings)


def _reported(spend: Table, costs: Costs, costing: Costing, same: Callable[[str], str]) -> set[tuple[str, int, str]]:
    """(campaign, day, source) for which a platform reports a cost: an estimate yields there."""
    sources: dict[str, set[str]] = defaultdict(set)
    for platform in costing.platforms:
        if platform.source.strip():
            sources[fold(platform.name)].add(same(platform.source))
    stated = spend.amounts("cost")
    telling = np.flatnonzero(costs.counts & ~costs.estimated & ~costs.rest & stated.known & (costs.cost != 0))
    names, platforms, days = costs.campaign.map(same), spend.text("platform").map(fold), spend.ints("day")
    out = set()
    for row in telling.tolist():
        for source in sources.get(platforms[row], ()):
            out.add((names[row], int(days[row]), source))
    return out


def _amounts(
    keys: Sequence[tuple[bool, int, int, str]], groups: Mapping[tuple[bool, int, int, str], Sequence[int]],
    prices: Sequence[ClickPrice], rates: RateTable, money: Money,
) -> tuple[Ints, Ints]:  # fmt: skip
    """What the clicks of each price, day and campaign cost together, in minor units, and why some cannot be weighed."""
    exact = []
    for key in keys:
        units, decimals = decimal_units(prices[key[1]].price)
        exact.append((units * len(groups[key]), decimals))
    currency = Text.of([prices[number].currency for _, number, _, _ in keys])
    days = np.array([day for _, _, day, _ in keys], np.int64)
    return to_home(Amounts.of(exact), currency, days, rates, money.home_currency, money.minor_digits)


def _kinds(clicks: Clicks, arrivals: Arrivals, roles: RoleTable, visits: Table) -> Ints:
    """(k,) int64: equal for clicks that stand at one place in every breakdown and filter."""
    visit = clicks.visit
    marked: Flags = arrivals.mark.filled()
    device = visits.text("device").codes
    return distinct_columns(
        np.stack(
            [
                roles.kind[visit],
                arrivals.url[visit],
                arrivals.referrer_host.codes[visit].astype(np.int64),
                marked[visit].astype(np.int64),
                device[visit].astype(np.int64),
            ]
        )
    )[1]


def _refusal(price: ClickPrice, number: int, day: int, why: int, money: Money) -> Rejected:
    home = money.home_currency
    span = f"{day_text(day)} or the {money.rate_days} days before"
    reason = f"no rate {price.currency} to {home} for {span}: add it to rates"
    if why != NO_RATE:
        reason = "the clicks of a day cost too much: correct the price"
    return Rejected("spend", FILE, number + 1, "currency", price.currency, reason)


def _with_rows(
    before: Priced, rows: Sequence[tuple[int, int, int, int, int]], clicks: Clicks, campaign: Text,
    prices: Sequence[ClickPrice], money: Money, rejected: list[Rejected], unrated: list[tuple[str, int, int, int]],
    findings: list[Finding],
) -> Priced:  # fmt: skip
    """The spend with rows for clicks: (a click, number of the price, day, how many, minor units)."""
    n = len(rows)
    if not n:
        return replace(before, rejected=rejected, unrated=unrated, findings=findings)
    spend, costs = before.spend, before.costs
    named = Text.of([campaign[i] for i, *_ in rows])
    counts = np.array([count for _, _, _, count, _ in rows], np.int64)
    more = {c.name: blank_column(c.kind, n) for c in SCHEMA["spend"]}
    more["day"] = np.array([day for _, _, day, _, _ in rows], np.int32)
    more["platform"] = Text.of([CLICK_PRICES] * n)
    more["account"] = Text.of([prices[number].source for _, number, *_ in rows])
    more["campaign"] = named
    more["currency"] = Text.of([prices[number].currency for _, number, *_ in rows])
    more["clicks"] = counts
    more["click_price"] = Amounts.of([decimal_units(prices[number].price) for _, number, *_ in rows])
    lines = np.array([number + 1 for _, number, *_ in rows], spend.line.dtype)
    added = Table("spend", more, Text.of([FILE] * n), lines)
    none, yes = np.zeros(n, np.int64), np.ones(n, np.bool_)
    claimed = costs.claimed_conversions
    all_costs = replace(
        costs,
        cost=np.concatenate([costs.cost, np.array([cost for *_, cost in rows], np.int64)]),
        claimed_value=np.concatenate([costs.claimed_value, none]),
        clicks=np.concatenate([costs.clicks, counts]),
        impressions=np.concatenate([costs.impressions, none]),
        claimed_conversions=Amounts(
            narrow([*claimed.units.tolist(), *[0] * n]), claimed.decimals, np.concatenate([claimed.known, yes])
        ),
        estimated=np.concatenate([costs.estimated, yes]),
        rest=np.concatenate([costs.rest, ~yes]),
        refused=np.concatenate([costs.refused, np.full(n, FINE, np.int64)]),
        counts=np.concatenate([costs.counts, yes]),
        campaign=Text.join([costs.campaign, named]),
    )
    touch = np.concatenate([before.touch, clicks.touch[np.array([i for i, *_ in rows], np.int64)]])
    return Priced(spend.joined(added), all_costs, touch, rejected, unrated, findings)


def _prices_of(
    prices: Sequence[ClickPrice], arrivals: Arrivals, clicks: Clicks, campaign: Text, reading: Reading
) -> Ints:
    """(k,) int64: number of the price that holds for each click, -1 where none does; of two the one written first.

    Notes
    -----
    Clicks are grouped by campaign and tags first, so that each group looks at the prices of its campaign alone.
    """
    out = np.full(len(clicks.touch), -1, np.int64)
    keys = campaign.map(reading.names.same)
    url, day = arrivals.url[clicks.visit], clicks.day
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
                out[rows[wanted]] = number
    return out


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
