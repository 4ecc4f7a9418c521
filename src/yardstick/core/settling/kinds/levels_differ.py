"""Levels of spend that do not agree (R18, R30)."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import numpy as np

from ...base.columns import total
from ...costs.level_gaps import LevelGap, level_gaps
from ...report.account_days import account_days
from ..facts import Facts
from ..matter import AmountsOf, FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    plan, prepared = facts.plan, facts.prepared
    gaps = level_gaps(prepared.spend, prepared.costs, prepared.read.rates, plan.reading, plan.money, plan.costing)
    share = Fraction(facts.threshold(KIND.name))
    spend = prepared.spend
    campaign, shown = prepared.spend_campaign, prepared.touches.fields["campaign"].shown
    account_of = np.full(len(spend), -1, np.int64)
    accounts = account_days(prepared)
    for number, one in enumerate(accounts):
        account_of[one.rows] = number
    found: dict[tuple[int, int], list[LevelGap]] = {}
    for gap in gaps:
        row = int(gap.rows[0])
        found.setdefault((int(account_of[row]), int(campaign[row])), []).append(gap)
    for (whose, number), some in sorted(found.items()):
        counted = total(facts.costs[(account_of == whose) & (campaign == number)])
        if sum(gap.amount for gap in some) <= share * counted:
            continue
        platform, account = accounts[whose].platform, accounts[whose].account
        rows = np.concatenate([gap.rows for gap in some])
        days = np.array([gap.day for gap in some], np.int64)
        amounts = AmountsOf(days, np.array([gap.amount for gap in some], np.int64))
        part = RowsOf(spend, rows, facts.spend_days[rows])
        yield FoundMatter((platform, account, shown[number]), (part,), amounts)


KIND = MatterKind(
    name="levels_differ",
    station="gather",
    mendings=("levels", "load"),
    rule="the largest level of spend exceeds the smallest by more than {} of what counts",
    find=_find,
)
