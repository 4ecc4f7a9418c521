"""Spend (R18) and how it joins the touches (R19)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..base.columns import Amounts, Flags, Ints, Text, narrow, sums_by
from ..base.limits import AMOUNT_BELOW
from ..base.money import FINE, TOO_LARGE, RateTable, to_home
from ..base.notes import Finding
from ..base.tables import Table
from ..base.words import collapse, same_as
from ..plan.plan import Money, Reading

LEVELS = ("ad_group", "ad", "keyword", "placement")
"""Columns below the campaign; which of them a row fills is its level."""


@dataclass(frozen=True)
class Costs:
    """Spend rows in the home currency.

    Attributes
    ----------
    cost, claimed_value : (n,) int64, minor units
    estimated : (n,) bool, cost reckoned from clicks x click price
    refused : (n,) int64, why a row cannot be weighed, `FINE` where it can (see `money.to_home`)
    counts : (n,) bool, accepted rows at the finest level of their campaign's day
    campaign : (n,) text, the campaign's name; rows with an id all carry the id's latest name
    names : campaign name by compared id, for the touches that carry the id (R19)
    findings : what was noticed
    """

    cost: Ints
    claimed_value: Ints
    estimated: Flags
    refused: Ints
    counts: Flags
    campaign: Text
    names: dict[str, str]
    findings: tuple[Finding, ...]

    @property
    def accepted(self) -> Flags:
        """(n,) bool, rows that can be weighed."""
        fine: Flags = self.refused == FINE
        return fine


def read_spend(table: Table, rates: RateTable, reading: Reading, money: Money) -> Costs:
    """Turn spend rows into money of the home currency, each campaign's day counted once (R18-R20).

    Parameters
    ----------
    table : spend
    rates : for rows in other currencies
    reading : folding; ids, codes and renames of campaigns
    money : the home currency

    Returns
    -------
    Costs
    """
    home, minor_digits, same = money.home_currency, money.minor_digits, same_as(reading.fold)
    cost, estimated, large = _original_cost(table)
    currency, days = table.text("currency"), table.ints("day")
    minor, refused = to_home(cost, currency, days, rates, home, minor_digits)
    claimed, claim_refused = to_home(table.amounts("claimed_value"), currency, days, rates, home, minor_digits)
    refused = np.where(large, TOO_LARGE, np.where(refused != FINE, refused, claim_refused))
    accepted = refused == FINE
    # What the plan says of an id goes before what spend rows say.
    planned = {same(i): c.name for c in reading.named_campaigns for i in c.ids if same(i)}
    names = _names_by_id(table, accepted, same) | planned
    ids = table.text("campaign_id").map(same)
    own = table.text("campaign")
    by_id = Text(ids.codes, [names.get(v, "") for v in ids.values])
    campaign = Text.of(by_id.strings()).where(by_id.filled(), own) if len(table) else own
    campaign = reading.names.rename_rows("campaign", campaign, days)
    counts, findings = _finest(table, ids, own.map(same), minor, accepted, home, same)
    return Costs(minor, claimed, estimated, refused, counts, campaign, names, findings)


def _original_cost(table: Table) -> tuple[Amounts, Flags, Flags]:
    """Cost as reported, or clicks x click price where there is none, in the row's own currency; which rows are
    estimated, and which of these are too large (R29)."""
    cost, price = table.amounts("cost"), table.amounts("click_price")
    clicks = table.ints("clicks")
    estimated = ~cost.known & price.known & (clicks >= 0)
    if not estimated.any():
        return cost, estimated, estimated
    decimals = max(cost.decimals, price.decimals)
    reckoned = price.at(decimals).astype(object) * clicks
    large = estimated & (reckoned >= AMOUNT_BELOW * 10**decimals).astype(np.bool_)
    exact = np.where(large, 0, np.where(estimated, reckoned, cost.at(decimals).astype(object)))
    return Amounts(narrow(exact.tolist()), decimals, cost.known | estimated), estimated, large


def _names_by_id(table: Table, accepted: Flags, same: Callable[[str], str]) -> dict[str, str]:
    """Campaign name by id: that of the latest day, then of the later row."""
    latest: dict[str, tuple[int, str]] = {}
    ids, names, days = table.text("campaign_id"), table.text("campaign"), table.ints("day")
    for row in np.flatnonzero(accepted & ids.test(lambda v: bool(same(v)))).tolist():
        key, day = same(ids[row]), int(days[row])
        if key not in latest or day >= latest[key][0]:
            latest[key] = (day, collapse(names[row]))
    return {key: name for key, (_, name) in latest.items()}


def level_of(table: Table) -> Ints:
    """(n,) int64: which columns of `LEVELS` each row fills, the first as 1, then 2, 4, 8."""
    level = np.zeros(len(table), np.int64)
    for bit, name in enumerate(LEVELS):
        level |= table.text(name).test(lambda v: bool(v.strip())).astype(np.int64) << bit
    return level


def _finest(
    table: Table, ids: Text, names: Text, minor: Ints, accepted: Flags, home: str, same: Callable[[str], str]
) -> tuple[Flags, tuple[Finding, ...]]:
    """Of a campaign's day given at several levels, keep that with most columns filled; the difference is a finding."""
    level = level_of(table)
    if not len(table) or (level == level[0]).all():
        return accepted.copy(), ()
    named = Text(ids.codes, [f"id {v}" if v else "" for v in ids.values])
    key = named.where(named.filled(), names.map(lambda v: f"name {v}"))
    parts: list[npt.NDArray[np.int64]] = [
        table.ints("day"),
        table.text("platform").map(same).codes.astype(np.int64),
        table.text("account").map(same).codes.astype(np.int64),
        key.codes.astype(np.int64),
    ]
    group = np.unique(np.stack(parts), axis=1, return_inverse=True)[1].reshape(-1)
    rank = np.array([bin(v).count("1") * 16 + v for v in range(16)], np.int64)[level]
    best = np.full(int(group.max()) + 1, -1, np.int64)
    np.maximum.at(best, group[accepted], rank[accepted])
    counts = accepted & (rank == best[group])
    return counts, tuple(_level_findings(table, group, rank, minor, accepted & ~counts, counts, home))


def _level_findings(
    table: Table, group: Ints, rank: Ints, minor: Ints, coarse: Flags, counts: Flags, home: str
) -> list[Finding]:
    """One finding per campaign's day and coarser level: how far its sum is from that of the finest level."""
    if not coarse.any():
        return []
    fine_sum = sums_by(group[counts], minor[counts], int(group.max()) + 1)
    rows = np.flatnonzero(coarse)
    _, first, which = np.unique(np.stack([group[rows], rank[rows]]), axis=1, return_index=True, return_inverse=True)
    coarse_sum = sums_by(which.reshape(-1), minor[rows], len(first))
    out = []
    for row, total in zip(rows[first].tolist(), coarse_sum, strict=True):
        name, stake = table.text("campaign")[row], total - fine_sum[group[row]]
        where = (table.file[row], int(table.line[row]))
        out.append(Finding("several_levels", "warning", "spend", "", "campaign", name, stake, home, *where))
    return out
