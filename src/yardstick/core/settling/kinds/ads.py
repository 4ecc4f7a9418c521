"""Ads that will send people to an address without tags, or to a wrong one (R30)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from ...base.days import NO_DAY
from ...base.words import fold
from ...links.audit import RESTING, UNTAGGED_CODES, ads_of
from ..facts import Facts
from ..matter import FoundMatter, MatterKind, RowsOf
from ..parts import spend_part


def _ads(is_wanted: Callable[[bool, frozenset[str]], bool]) -> Callable[[Facts], Iterator[FoundMatter]]:
    def find(facts: Facts) -> Iterator[FoundMatter]:
        table = facts.prepared.tables.ads
        if not len(table):
            return
        ads = ads_of(table)
        found: dict[tuple[str, ...], list[int]] = {}
        for one in facts.audited:
            ad = ads[one.row]
            errors = frozenset(f.code for f in one.findings if f.level == "error")
            if fold(ad.state) not in RESTING and is_wanted(one.tagged, errors):
                found.setdefault((ad.platform, ad.campaign, ad.group, ad.ad), []).append(one.row)
        spend, none = facts.prepared.spend, np.empty(0, np.int64)
        columns = [spend.text(name).map(fold) for name in ("campaign", "ad_group")]
        numbers = [{value: code for code, value in enumerate(column.values)} for column in columns]
        for names, rows in found.items():
            mine = facts.spend_of_ads.get((fold(names[0]), fold(names[3])), none)
            for column, number, wanted in zip(columns, numbers, names[1:3], strict=True):
                if wanted:
                    mine = mine[column.codes[mine] == number.get(fold(wanted), -1)]
            spent = spend_part(facts, mine[facts.costs[mine] != 0], own=False)
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
