"""Ads that will send people to an address without tags, or to a wrong one (R30)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from ...base.days import NO_DAY
from ...links.audit import RESTING, UNTAGGED_CODES, ads_of, audit
from ..facts import Facts
from ..matter import FoundMatter, MatterKind, RowsOf
from ..parts import spend_part


def _ads(is_wanted: Callable[[bool, frozenset[str]], bool]) -> Callable[[Facts], Iterator[FoundMatter]]:
    def find(facts: Facts) -> Iterator[FoundMatter]:
        table = facts.prepared.tables.ads
        if not len(table):
            return
        fold, spend, plan = facts.folded, facts.prepared.spend, facts.plan
        ads = ads_of(table)
        columns = [spend.text(name).map(fold) for name in ("platform", "campaign", "ad_group", "ad")]
        found: dict[tuple[str, ...], list[int]] = {}
        for one in audit(ads, plan.linking, plan.reading, facts.landing_pages):
            ad = ads[one.row]
            errors = frozenset(f.code for f in one.findings if f.level == "error")
            if fold(ad.state) not in RESTING and is_wanted(one.tagged, errors):
                found.setdefault((ad.platform, ad.campaign, ad.group, ad.ad), []).append(one.row)
        for names, rows in found.items():
            mine = np.ones(len(spend), np.bool_)
            for column, name in zip(columns, names, strict=True):
                mine &= column.test(fold(name).__eq__) if name else True
            spent = spend_part(facts, np.flatnonzero(mine & (facts.costs != 0)), own=False)
            which = np.array(rows, np.int64)
            first = int(spent.days.min()) if len(spent.days) else None
            parts = (RowsOf(table, which, np.full(len(which), NO_DAY)), spent)
            yield FoundMatter(tuple(name for name in names if name), parts, None, first)

    return find


UNTAGGED = MatterKind(
    name="ad_untagged",
    station="mark",
    mendings=("pattern", "ad"),
    rule="an ad whose address will carry no tag",
    find=_ads(lambda tagged, _: not tagged),
)
WRONG = MatterKind(
    name="ad_wrong",
    station="mark",
    mendings=("pattern", "ad"),
    rule="an ad whose address is wrong, as the audit of ads says",
    find=_ads(lambda tagged, errors: tagged and bool(errors - UNTAGGED_CODES)),
)
