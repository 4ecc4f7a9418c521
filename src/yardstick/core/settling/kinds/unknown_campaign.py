"""Campaigns that the plan does not have (R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import by_number, spend_part, touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    if not facts.plan.campaigns:
        return
    codes, shown = facts.label("campaign")
    of_spend = facts.prepared.spend_campaign
    unknown = np.array([bool(name) and facts.plan.campaign_of(name) is None for name in shown], np.bool_)
    touched = facts.touches_where(unknown[codes])
    spent = np.flatnonzero(unknown[of_spend] & (facts.costs != 0))
    by_touch, by_spend = dict(by_number(codes, touched)), dict(by_number(of_spend, spent))
    none = np.empty(0, np.int64)
    for number in sorted(by_touch.keys() | by_spend.keys()):
        mine = by_touch.get(number, none)
        spend = spend_part(facts, by_spend.get(number, none), own=not len(mine))
        yield FoundMatter((shown[number],), (*touches_part(facts, mine), spend))


KIND = MatterKind(
    name="unknown_campaign",
    station="plan",
    mendings=("register", "same as", "legend"),
    rule="a campaign that is none of the plan's",
    find=_find,
)
