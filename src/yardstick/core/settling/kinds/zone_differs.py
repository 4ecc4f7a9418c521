"""Accounts whose days are not the workspace's (R21, R30)."""

from __future__ import annotations

from collections.abc import Iterator

from ...base.day_numbers import day_number
from ...base.words import fold
from ...report.account_days import account_days
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import spend_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    here, reporting = facts.plan.reading.time_zone, facts.range
    zones = {fold(one.name): one.time_zone for one in facts.plan.costing.platforms if one.time_zone}
    for account in account_days(facts.prepared):
        zone = zones.get(fold(account.platform), here)
        if zone == here:
            continue
        days = facts.spend_days[account.rows]
        first = int(days.min()) if reporting.report_from is None else day_number(reporting.report_from)
        last = int(days.max()) if reporting.report_to is None else day_number(reporting.report_to)
        part = spend_part(facts, account.rows[(days == first) | (days == last)])
        yield FoundMatter((account.platform, account.account), (part,), None, int(days.min()), zone)


KIND = MatterKind(
    name="zone_differs",
    station="gather",
    mendings=("accept",),
    rule="the account's days are of another time zone: spend of the first and last day is unsure",
    find=_find,
)
