"""Levels of spend that do not agree (R18, R30)."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import numpy as np

from ...base.columns import total
from ...costs.level_gaps import LevelGap, level_gaps
from ..facts import Facts
from ..matter import AmountsOf, FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    plan, prepared = facts.plan, facts.prepared
    gaps = level_gaps(prepared.spend, prepared.costs, prepared.read.rates, plan.reading, plan.money, plan.costing)
    share = Fraction(facts.threshold(KIND.name))
    spend = prepared.spend
    campaign, shown = prepared.spend_campaign, prepared.touches.fields["campaign"].shown
    found: dict[tuple[str, str, int], list[LevelGap]] = {}
    for gap in gaps:
        row = int(gap.rows[0])
        key = (spend.text("platform")[row], gap.account, int(campaign[row]))
        found.setdefault(key, []).append(gap)
    for (platform, account, number), some in sorted(found.items()):
        of_campaign = (campaign == number) & facts.spend_platform.test(facts.folded(platform).__eq__)
        counted = total(facts.costs[of_campaign & facts.account_is(account)])
        if sum(gap.amount for gap in some) <= share * counted:
            continue
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
