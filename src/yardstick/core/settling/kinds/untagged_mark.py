"""Arrivals with a click mark and without a tag: an ad went out untagged (R5, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.words import fold
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import by_number, spend_part, touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    names = [fold(name) for name in facts.plan.reading.click_marks]
    if not names:
        return
    arrivals, touches = facts.prepared.arrivals, facts.prepared.touches
    number = {name: at + 1 for at, name in enumerate(names)}
    of_url = np.array([number.get(one.mark_name, 0) for one in arrivals.readings] or [0], np.int64)
    mark = of_url[arrivals.url[touches.visit]]
    tagged = touches.tagged[: facts.touch_count]
    campaign = facts.label("campaign")[0][: facts.touch_count]
    pages, shown = facts.label("landing_page")
    found = np.flatnonzero((mark > 0) & facts.untagged)
    campaigns = len(facts.label("campaign")[1])
    for parameter, name in enumerate(facts.plan.reading.click_marks, 1):
        of_mark = found[mark[found] == parameter]
        if not len(of_mark):
            continue
        carries = np.zeros(campaigns, np.bool_)
        carries[campaign[tagged & (mark == parameter)]] = True
        carries[0] = False
        spent = carries[facts.prepared.spend_campaign] & (facts.costs != 0)
        for page, mine in by_number(pages, of_mark):
            rows = np.flatnonzero(spent & np.isin(facts.spend_days, np.unique(touches.day[mine])))
            yield FoundMatter((name, shown[page]), (*touches_part(facts, mine), spend_part(facts, rows, own=False)))


KIND = MatterKind(
    name="untagged_mark",
    station="mark",
    mendings=("legend by mark",),
    rule="touches with a click mark in the address and no tag",
    find=_find,
)
