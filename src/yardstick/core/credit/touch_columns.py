"""Touches with all that a breakdown or a yardstick asks of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cached_property

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.distinct import distinct_columns
from ..base.schema import CLICK
from ..base.tables import Table
from ..costs.spend import Costs
from ..costs.spend_tags import platform_columns
from ..plan.costing_phase import Platform
from ..plan.reading_phase import Reading
from ..reading.arrivals import Arrivals
from ..reading.asking import Arrival
from ..reading.captured import Captured
from ..reading.channels import Channel, ChannelRules
from ..reading.roles import RoleTable
from ..reading.tags import FIELDS
from ..trails.touches import Touches
from ..trails.trails import begins_of, ranges
from .touch_fields import TouchFields, TouchSpellings


@dataclass(frozen=True)
class ReadTouches:
    """Touches and captured sets under common numbers, touches first, then the captured sets: as far as no spend is
    asked.

    Attributes
    ----------
    count : how many of them are touches (R7)
    person : (count,) int64, ascending
    at : (n,) int64
    kind : (n,) int64, click, view or watch; captured sets are clicks
    direct : (n,) bool
    tagged : (n,) bool, those that carry a tag with a value (R12); captured sets do
    days : (n,) int64, day in the workspace's zone
    visit, visits : (count,) int64, row of the first visit, and how many visits there are
    begins : (people + 2,) int64, where the touches of each person begin; the last person stands for all without any
    why : which rule gave each touch or set its channel
    spelled : values per breakdown field
    """

    count: int
    person: Ints
    at: Ints
    kind: Ints
    direct: Flags
    tagged: Flags
    days: Ints
    visit: Ints
    visits: Ints
    begins: Ints
    why: Text
    spelled: TouchSpellings

    @cached_property
    def day(self) -> Ints:
        """(count,) int64: report day of each touch."""
        return self.days[: self.count]

    def of_people(self, people: Flags) -> Ints:
        """The touches of some people, ascending.

        Parameters
        ----------
        people : (people,) bool
        """
        which = np.flatnonzero(people[: len(self.begins) - 2])
        return ranges(self.begins[which], self.begins[which + 1])[1]

    def beside(self, spend: Table, costs: Costs, reading: Reading, platforms: Sequence[Platform]) -> TouchColumns:
        """The touches with numbers that they share with the spend (R19).

        Parameters
        ----------
        spend : table
        costs : the same rows as read before
        reading : channel rules, names
        platforms : where their spend stands
        """
        of_platforms = platform_columns(spend, ChannelRules(reading), reading, platforms)
        own = {f.name: getattr(self, f.name) for f in fields(ReadTouches)}
        return TouchColumns(**own, fields=TouchFields(self.spelled, spend, costs, of_platforms, reading))


@dataclass(frozen=True)
class TouchColumns(ReadTouches):
    """Touches and captured sets with all that a breakdown or a yardstick asks of them.

    Attributes
    ----------
    fields : Labels per breakdown field
    """

    fields: TouchFields

    @cached_property
    def campaign_states(self) -> Ints:
        """(n,) int64, the state each touch stands for (R16): its campaign, without one its channel."""
        campaign, channel = self.fields["campaign"], self.fields["channel"].codes
        return np.where(campaign.codes > 0, campaign.codes, len(campaign.keys) + channel).astype(np.int64)


def lay_touches(
    visits: Table, found: Touches, counts: Flags, arrivals: Arrivals, captured: Captured, roles: RoleTable,
    reading: Reading,
) -> ReadTouches:  # fmt: skip
    """Give each touch its fields, among them its channel (R3, R5, R7, R8).

    Parameters
    ----------
    visits : table
    found : the touches
    counts : (visits + sets,) bool, visits that are not quarantined and sets that hold something
    arrivals, captured, roles : the same rows as read before
    reading : folding, channel rules, names
    """
    channels, which = _channels(arrivals, captured, ChannelRules(reading))
    names, reasons = Text.of([c.name for c in channels]), Text.of([c.why for c in channels])
    if len(which):
        named, why = Text(names.codes[which], names.values), Text(reasons.codes[which], reasons.values)
    else:
        named, why = Text.blank(0), Text.blank(0)
    by_legend = roles.text("channel")
    if len(which) and by_legend.filled().any():
        named = by_legend.where(by_legend.filled(), named)
        said = by_legend.map(lambda v: "legend: it fills the channel" if v else "")
        why = said.where(said.filled(), why)
    direct = np.array([c.direct for c in channels] or [False], np.bool_)[which]
    tagged = np.array([reading_.tagged for reading_ in arrivals.readings] or [False], np.bool_)
    number = np.concatenate([found.visit, np.arange(len(visits), len(which))])
    return ReadTouches(
        count=len(found),
        person=found.person,
        at=np.concatenate([found.at, captured.at]),
        kind=np.concatenate([visits.ints("kind")[found.visit], np.full(len(captured.at), CLICK)]),
        direct=direct[number],
        tagged=np.concatenate([tagged[arrivals.url[found.visit]], np.ones(len(captured.at), np.bool_)]),
        days=roles.day[number],
        visit=found.visit,
        visits=found.visits,
        begins=begins_of(found.person),
        why=why.take(number),
        spelled=TouchSpellings(visits, arrivals, roles, named, found.visit, counts, reading),
    )


def _channels(arrivals: Arrivals, captured: Captured, rules: ChannelRules) -> tuple[list[Channel], Ints]:
    """Channels of the visits, then of the captured sets: the distinct ones, and which of them each row has."""
    hosts, marked = arrivals.referrer_host, arrivals.mark.filled()
    pair = arrivals.url * max(1, len(hosts.values)) + hosts.codes
    distinct, row = distinct_columns(np.stack([pair, marked.astype(np.int64)]))
    visits = []
    for key, has_mark in distinct.T.tolist():
        r, host = arrivals.readings[key // len(hosts.values)], hosts.values[key % len(hosts.values)]
        visits.append(Arrival(r.tags, r.tagged, bool(has_mark), host, r.host, r.stated, r.page))
    columns = [captured.fields[name] for name in FIELDS]
    combos, set_row = distinct_columns(np.stack([c.codes.astype(np.int64) for c in columns]))
    sets = []
    for codes in combos.T.tolist():
        said = tuple(c.values[code] for c, code in zip(columns, codes, strict=True))
        sets.append(Arrival(said, True, False))
    channel_of = rules.classify_all([*visits, *sets])
    number = {arrival: at for at, arrival in enumerate(channel_of)}
    of_visits = np.array([number[v] for v in visits], np.int64)[row] if visits else np.empty(0, np.int64)
    of_sets = np.array([number[s] for s in sets], np.int64)[set_row] if sets else np.empty(0, np.int64)
    return list(channel_of.values()), np.concatenate([of_visits, of_sets])
