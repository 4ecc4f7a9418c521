"""Accounts whose days are not the workspace's (R21, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.day_numbers import day_number
from ...base.words import fold
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import spend_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    here, reporting = facts.plan.reading.time_zone, facts.range
    zones = {fold(one.name): one.time_zone for one in facts.plan.costing.platforms if one.time_zone}
    account = facts.prepared.spend.text("account")
    for name, zone in zones.items():
        if zone == here:
            continue
        of_platform = facts.spend_platform.test(name.__eq__)
        for code in np.unique(account.codes[of_platform]).tolist():
            rows = np.flatnonzero(of_platform & (account.codes == code))
            days = facts.spend_days[rows]
            first = int(days.min()) if reporting.report_from is None else day_number(reporting.report_from)
            last = int(days.max()) if reporting.report_to is None else day_number(reporting.report_to)
            edge = rows[(days == first) | (days == last)]
            platform = facts.prepared.spend.text("platform")[int(rows[0])]
            part = spend_part(facts, edge)
            yield FoundMatter((platform, account.values[code]), (part,), None, int(days.min()), zone)


KIND = MatterKind(
    name="zone_differs",
    station="gather",
    mendings=("accept",),
    rule="the account's days are of another time zone: spend of the first and last day is unsure",
    find=_find,
)
