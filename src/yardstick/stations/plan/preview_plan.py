"""What a change of the channel rules would do to the real rows; the level tree; what campaigns brought."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import numpy as np

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.tables import Tables
from yardstick.core.base.words import collapse, fold
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.arrivals import Arrivals, read_arrivals, reader_of
from yardstick.core.reading.asking import Arrival
from yardstick.core.reading.channels import Channel, ChannelRules
from yardstick.core.reading.tags import ReadAddress, host_of, why_not_an_address
from yardstick.core.report.report import Row

from ..workspace.desk import Desk
from ..workspace.kept_plans import KeptPlan


def rows_and_plan(desk: Desk) -> tuple[Tables | None, KeptPlan]:
    """The rows of the current snapshot, None before anything was loaded, and the plan."""
    return desk.tables(), desk.kept_plan()


@dataclass(frozen=True)
class Tried:
    """Which channel an address takes, why, and what was read from it."""

    channel: str
    why: str
    tags: dict[str, str]
    mark: str
    referrer_host: str


def try_channel(
    desk: Desk, url: str, referrer: str, rules: Sequence[Mapping[str, Any]] | None, section: str = "channel"
) -> Tried:
    """Which rule takes an arrival (R5).

    Parameters
    ----------
    desk : the workspace
    url, referrer : landing address and referrer
    rules : channel rules to try; None = those that are kept
    section : whether they are the own ones ("channel") or the shared ones ("shared_channel")

    Raises
    ------
    SettingsError
        If the address is none, or a rule cannot be understood.
    """
    problem = why_not_an_address(url)
    if problem:
        raise SettingsError(problem)
    kept = desk.kept_plan()
    reading = (kept.plan if rules is None else kept.document.with_records(section, rules).plan()).reading
    read = reader_of(reading)(url)
    host = host_of(referrer)
    channel = ChannelRules(reading).classify(_arrival(read, bool(read.mark), host))
    tags = {name: value for name, value in read.values().items() if value}
    return Tried(channel.name, channel.why, tags, read.mark, host)


def _arrival(read: ReadAddress, marked: bool, referrer: str) -> Arrival:
    return Arrival(read.tags, read.tagged, marked, referrer, read.host, read.stated, read.page)


@dataclass(frozen=True)
class RuleCount:
    """How many real visits a rule takes, under the rules kept and under those tried."""

    why: str
    channel: str
    before: int
    after: int


def rehearse_channels(desk: Desk, rules: Sequence[Mapping[str, Any]], section: str = "channel") -> list[RuleCount]:
    """How many visits each rule takes before and after a change of the own or the shared rules; see `try_channel`."""
    tables, kept = rows_and_plan(desk)
    if tables is None:
        return []
    before, after = kept.plan.reading, kept.document.with_records(section, rules).plan().reading
    arrivals = read_arrivals(tables.visits, before)
    counts: dict[tuple[str, str], list[int]] = {}
    for side, reading in enumerate((before, after)):
        for channel, number in _taken(arrivals, ChannelRules(reading)):
            counts.setdefault((channel.why, channel.name), [0, 0])[side] += number
    ordered = sorted(counts.items(), key=lambda item: (-max(item[1]), item[0]))
    return [RuleCount(why, name, *both) for (why, name), both in ordered]


def _taken(arrivals: Arrivals, rules: ChannelRules) -> list[tuple[Channel, int]]:
    hosts = arrivals.referrer_host
    marked = arrivals.mark.filled().astype(np.int64)
    stacked = np.stack([arrivals.url, hosts.codes.astype(np.int64), marked])
    distinct, counts = np.unique(stacked, axis=1, return_counts=True)
    seen = [_arrival(arrivals.readings[url], bool(mark), hosts.values[host]) for url, host, mark in distinct.T.tolist()]
    channel_of = rules.classify_all(seen)
    return [(channel_of[arrival], number) for arrival, number in zip(seen, counts.tolist(), strict=True)]


@dataclass(frozen=True)
class Branch:
    """One entry of the tree that spend files show: a campaign of an account, or a level under it."""

    platform: str
    account: str
    campaign: str
    level: str
    id: str
    name: str
    days: int
    first_day: int
    last_day: int


COLUMN_LEVEL = {"ad_group": "group", "ad": "ad", "keyword": "keyword", "placement": "placement"}


def level_tree(desk: Desk) -> list[Branch]:
    """What spend files show of accounts, campaigns and the levels under them, in order."""
    tables, _ = rows_and_plan(desk)
    if tables is None:
        return []
    spend = tables.spend
    days = spend.ints("day")
    found: dict[tuple[str, ...], set[int]] = {}
    columns = {name: spend.text(name) for name in ("platform", "account", "campaign", "campaign_id", *COLUMN_LEVEL)}
    stacked = np.stack([c.codes.astype(np.int64) for c in columns.values()])
    distinct, which = np.unique(stacked, axis=1, return_inverse=True)
    which = which.reshape(-1)
    for number, codes in enumerate(distinct.T.tolist()):
        cell = {n: collapse(c.values[k]) for (n, c), k in zip(columns.items(), codes, strict=True)}
        mine = set(days[which == number].tolist())
        above = (cell["platform"], cell["account"], cell["campaign"])
        found.setdefault((*above, "campaign", cell["campaign_id"], cell["campaign"]), set()).update(mine)
        for column, level in COLUMN_LEVEL.items():
            if cell[column]:
                found.setdefault((*above, level, cell[column], cell[column]), set()).update(mine)
    order = ("campaign", *COLUMN_LEVEL.values())
    keys = sorted(found, key=lambda k: (k[0], k[1], fold(k[2]), order.index(k[3]), k[4]))
    out = []
    for key in keys:
        platform, account, campaign, level, ident, name = key
        mine = found[key]
        out.append(Branch(platform, account, campaign, level, ident, name, len(mine), min(mine), max(mine)))
    return out


@dataclass(frozen=True)
class Came:
    """What a campaign brought on its own days, under one yardstick; value in minor units of the home currency."""

    name: str
    leads: float
    value: int
    spend: int
    digits: int


def expected_against_came(rows: Sequence[Row], plan: Plan, yardstick: str) -> list[Came]:
    """Add a report by campaign and day up over the days of each campaign of the plan.

    Parameters
    ----------
    rows : rows of a result by ("campaign", "day")
    plan : whose campaigns are added up
    yardstick : name of the yardstick
    """
    by_campaign: dict[str, list[Row]] = {}
    for row in rows:
        campaign = plan.campaign_of(row.by[0]) if row.yardstick == yardstick and row.by[0] else None
        if campaign is not None:
            by_campaign.setdefault(campaign.name, []).append(row)
    out = []
    for campaign in plan.campaigns:
        first, last = (day.isoformat() if day else "" for day in (campaign.starts, campaign.ends))
        mine = [row.sums for row in by_campaign.get(campaign.name, []) if first <= row.by[1] <= (last or "9999")]
        leads = float(sum((s.leads for s in mine), Fraction(0)))
        value, spend = sum(s.value for s in mine), sum(s.spend or 0 for s in mine)
        out.append(Came(campaign.name, leads, value, spend, plan.money.minor_digits))
    return out
