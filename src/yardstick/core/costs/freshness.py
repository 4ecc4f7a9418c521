"""Freshness: the last day of every source, and the days that are missing or not over yet (R21)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints
from ..base.day_numbers import day_text
from ..base.days import local_days
from ..base.tables import Tables
from ..base.words import fold
from ..plan.costing_phase import Costing
from ..plan.reading_phase import Reading
from .accounts import accounts_of
from .missing_days import missing_days


@dataclass(frozen=True)
class SourceFreshness:
    """One source of rows.

    Attributes
    ----------
    name : visits, leads, conversions, or a platform with its account
    table : the table it fills
    zone : time zone of its days
    other_zone : whether that is not the workspace's zone
    last_day : its last day (ISO 8601), None without rows
    missing : days without a row up to the last visit, though such days usually have some (spend only)
    partial : whether its last day is not over yet
    """

    name: str
    table: str
    zone: str
    other_zone: bool
    last_day: str | None
    missing: tuple[str, ...]
    partial: bool


def freshness(tables: Tables, reading: Reading, costing: Costing, now: int) -> list[SourceFreshness]:
    """How fresh every source is.

    Parameters
    ----------
    tables : the data
    reading, costing : the workspace's zone, and those of platforms
    now : the present instant, microseconds since 1970; the core has no clock of its own
    """
    out = []
    zone_here = reading.time_zone
    for name in ("visits", "leads", "conversions"):
        at = getattr(tables, name).ints("occurred_at")
        days = local_days(at, zone_here)
        out.append(_source(name, name, zone_here, zone_here, days, now))
    spend = tables.spend
    zones = {fold(p.name): p.time_zone for p in costing.platforms if p.time_zone}
    accounts, spend_days = accounts_of(spend, tables.invoices), spend.ints("day")
    visits = tables.visits.ints("occurred_at")
    until = int(local_days(visits, zone_here).max()) if len(visits) else None
    for number, (platform, account) in enumerate(accounts.names):
        mine = spend_days[accounts.spend == number]
        if not len(mine):
            continue
        name, zone = f"{platform} {account}".strip(), zones.get(fold(platform), zone_here)
        gone = missing_days(dict.fromkeys(mine.tolist(), 0), until)
        out.append(_source(name, "spend", zone, zone_here, mine, now, [day_text(one.day) for one in gone]))
    return out


def _source(
    name: str, table: str, zone: str, zone_here: str, days: Ints, now: int, missing: Sequence[str] = ()
) -> SourceFreshness:
    other = zone != zone_here
    if not len(days):
        return SourceFreshness(name, table, zone, other, None, (), False)
    last = int(days.max())
    today = int(local_days(np.array([now]), zone)[0])
    return SourceFreshness(name, table, zone, other, day_text(last), tuple(missing), last >= today)
