"""Touches with all that a breakdown or a yardstick asks of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .arrivals import Arrivals
from .captured import Captured
from .channels import Arrival, Channel, ChannelRules
from .columns import Flags, Ints, Text
from .days import local_days
from .labels import Labels, Spelled, label
from .settings import Settings
from .spend import Costs
from .tables import CLICK, Table
from .tags import FIELDS
from .touches import Touches, find_touches
from .words import collapse, fold, same_as

MINUTE_US = 60_000_000
TOUCH_FIELDS = ("campaign", "source", "medium", "channel")
"""Breakdown fields that a touch carries."""


@dataclass(frozen=True)
class TouchColumns:
    """Touches and captured sets under common numbers: touches first, then two captured sets per lead row.

    Attributes
    ----------
    count : how many of them are touches (R7)
    person : (count,) int64, ascending
    at : (n,) int64
    kind : (n,) int64, click, view or watch; captured sets are clicks
    direct : (n,) bool
    day : (count,) int64, report day
    visit : (count,) int64, row of the first visit
    fields : Labels per name of `TOUCH_FIELDS`
    why : which rule gave each touch or set its channel
    """

    count: int
    person: Ints
    at: Ints
    kind: Ints
    direct: Flags
    day: Ints
    visit: Ints
    fields: dict[str, Labels]
    why: Text


def lay_touches(
    visits: Table,
    visits_count: Flags,
    person: Ints,
    arrivals: Arrivals,
    captured: Captured,
    leads_count: Flags,
    costs: Costs,
    settings: Settings,
) -> tuple[TouchColumns, Ints]:
    """Find the touches and give each its campaign, source, medium and channel (R5, R7, R8, R19).

    Parameters
    ----------
    visits, visits_count : the visits and which of them are not quarantined
    person : (n_visits,) int64
    arrivals, captured, costs : the same rows as read before
    leads_count : (n_leads,) bool, leads that are not quarantined
    settings : session gap, folding, zone, channel rules

    Returns
    -------
    columns : the touches
    spend_campaign : (n_spend,) int64, number of each spend row's campaign in `columns.fields["campaign"]`
    """
    at, kind = visits.ints("occurred_at"), visits.ints("kind")
    gap = int(settings.session_gap_minutes * MINUTE_US)
    rows = np.flatnonzero(visits_count)
    found = find_touches(rows, person, at, visits.text("visit_id"), kind == CLICK, arrivals.signature, gap)
    sets_count = captured.filled & np.repeat(leads_count, 2)
    channels, which = _channels(arrivals, captured, ChannelRules(settings))
    fields: dict[str, Labels] = {}
    spend_campaign = np.empty(0, np.int64)
    for name in TOUCH_FIELDS:
        if name == "channel":
            names = Text.of([c.name for c in channels])
            of_all = Text(names.codes[which], names.values) if len(which) else Text.blank(0)
            of_visits, of_sets = of_all.take(np.arange(len(visits))), of_all.take(np.arange(len(visits), len(which)))
        else:
            of_visits, of_sets = _tag(name, arrivals, captured, costs, same_as(settings.fold))
        spend = [Spelled(costs.campaign, costs.accepted)] if name == "campaign" else []
        same = fold if name == "channel" else same_as(settings.fold)
        labels = label([Spelled(of_visits, visits_count), Spelled(of_sets, sets_count)], spend, same, collapse)
        fields[name] = _per_touch(labels[0], labels[1], found)
        if spend:
            spend_campaign = labels[2].codes
    direct = np.array([c.direct for c in channels] or [False], np.bool_)[which]
    reasons = Text.of([c.why for c in channels])
    number = np.concatenate([found.visit, np.arange(len(visits), len(which))])
    columns = TouchColumns(
        count=len(found),
        person=found.person,
        at=np.concatenate([found.at, captured.at]),
        kind=np.concatenate([kind[found.visit], np.full(len(captured.at), CLICK)]),
        direct=direct[number],
        day=local_days(found.at, settings.time_zone),
        visit=found.visit,
        fields=fields,
        why=Text(reasons.codes[which][number], reasons.values) if len(which) else Text.blank(0),
    )
    return columns, spend_campaign


def _channels(arrivals: Arrivals, captured: Captured, rules: ChannelRules) -> tuple[list[Channel], Ints]:
    """Channels of the visits, then of the captured sets: the distinct ones, and which of them each row has."""
    asked: dict[Arrival, int] = {}
    channels: list[Channel] = []

    def ask(arrival: Arrival) -> int:
        if arrival not in asked:
            asked[arrival] = len(channels)
            channels.append(rules.classify(arrival))
        return asked[arrival]

    hosts, marked = arrivals.referrer_host, arrivals.mark.filled()
    pair = arrivals.url * max(1, len(hosts.values)) + hosts.codes
    distinct, row = np.unique(np.stack([pair, marked.astype(np.int64)]), axis=1, return_inverse=True)
    answers = []
    for key, has_mark in distinct.T.tolist():
        r, host = arrivals.readings[key // len(hosts.values)], hosts.values[key % len(hosts.values)]
        answers.append(ask(Arrival(r.tags[0], r.tags[1], r.tags[2], r.tagged, bool(has_mark), host, r.host)))
    columns = (captured.fields[name].strings() for name in ("source", "medium", "campaign"))
    sets = [ask(Arrival(s, m, c, True, False, "", "")) for s, m, c in zip(*columns, strict=True)]
    of_visits = np.array(answers, np.int64)[row.reshape(-1)] if answers else np.empty(0, np.int64)
    return channels, np.concatenate([of_visits, np.array(sets, np.int64)])


def _tag(
    name: str, arrivals: Arrivals, captured: Captured, costs: Costs, same: Callable[[str], str]
) -> tuple[Text, Text]:
    """One tag field of the visits and of the captured sets; a campaign's id in the spend rows names it (R19)."""
    index = FIELDS.index(name)
    per_address = [r.tags[index] for r in arrivals.readings]
    of_sets = captured.fields[name]
    if name == "campaign" and costs.names:
        by_id = [costs.names.get(same(r.tags[5]), "") if r.tags[5] else "" for r in arrivals.readings]
        per_address = [a or b for a, b in zip(by_id, per_address, strict=True)]
        set_by_id = captured.fields["id"].map(lambda v: costs.names.get(same(v), "") if v else "")
        of_sets = set_by_id.where(set_by_id.filled(), of_sets)
    of_address = Text.of(per_address)
    return (of_address.take(arrivals.url) if len(arrivals.url) else Text.blank(0)), of_sets


def _per_touch(of_visits: Labels, of_sets: Labels, found: Touches) -> Labels:
    return Labels(np.concatenate([of_visits.codes[found.visit], of_sets.codes]), of_visits.keys, of_visits.shown)
