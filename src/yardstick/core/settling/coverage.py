"""Coverage (R32): how much of visits, leads, conversions, value and spend is tied together, and since when."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.day_numbers import day_text
from ..base.days import mondays
from ..base.schema import CLICK
from ..base.tally import tally
from ..report.breakdown import REASONS, reasons_of
from ..report.counted import is_sale
from ..report.proportions import Proportion, proportion
from ..report.weigh import Result

Z_99 = 2.5758293035489004
"""The normal distribution's 99.5th percentile: 99 % lie between its negative and it."""
WITH_SOURCE = ("visits", "captured", "code")
"""Reasons that are a source."""


@dataclass(frozen=True)
class CoverageShare:
    """One share.

    Attributes
    ----------
    figure : `visits_tagged`, `leads_with_source`, `conversions_with_trail`, `value_credited` or `spend_matched`
    by, value : of what: empty for the whole, a week by its Monday, or a value of another field
    part, whole : counts; of `value_credited` and `spend_matched` minor units of the home currency
    low, high : Wilson's 90 % interval; None of amounts, and where there is nothing
    since : the Monday since which it is as it is, where it made a step; else empty
    """

    figure: str
    by: str
    value: str
    part: int
    whole: int
    low: float | None
    high: float | None
    since: str

    @property
    def counts(self) -> bool:
        """Whether part and whole are counts, not amounts."""
        return self.figure not in ("value_credited", "spend_matched")


@dataclass(frozen=True)
class _Beam:
    """What a figure is counted of: amounts (1 for each thing that is counted), which of them are covered, their days,
    and fields by which it is split."""

    figure: str
    amount: Ints
    covered: Flags
    day: Ints
    fields: tuple[tuple[str, Ints, Sequence[str]], ...]
    counts: bool


def coverage(result: Result) -> list[CoverageShare]:
    """Every share of a result's range, the whole before its weeks and its other parts.

    Parameters
    ----------
    result : a weighing; its filters are not asked

    Notes
    -----
    All of it is what the board says: touches of its range, its booked conversions, its spend. Value is credited under
    the linear yardstick; a plan without one has no such figure.
    """
    return [one for beam in _beams(result) for one in _rows(beam)]


def _beams(result: Result) -> Iterator[_Beam]:
    prepared, whole = result.prepared, result.whole
    touches, conversions = prepared.touches, prepared.conversions
    clicks = np.flatnonzero(result.touch_in_range & (touches.kind[: touches.count] == CLICK))
    visit = touches.visit[clicks]
    pages = touches.fields["landing_page"]
    host = prepared.arrivals.referrer_host
    yield _Beam(
        "visits_tagged",
        np.ones(len(clicks), np.int64),
        touches.tagged[clicks],
        touches.day[clicks],
        (
            ("landing_page", pages.codes[clicks], pages.shown),
            ("referrer_host", host.codes[visit].astype(np.int64), host.values),
        ),
        True,
    )
    mine, filled = whole.conversion, whole.lengths > 0
    day, goal = conversions.report_day[mine], conversions.goal
    lead = ~is_sale(result.counted.kind[mine])
    form = _forms(result)
    sourced = np.isin(reasons_of(prepared, whole), [REASONS.index(word) + 1 for word in WITH_SOURCE])
    yield _Beam(
        "leads_with_source",
        np.ones(int(lead.sum()), np.int64),
        sourced[lead],
        day[lead],
        (("form", form.codes[mine][lead].astype(np.int64), form.values),),
        True,
    )
    by_goal = ("goal", goal.codes[mine].astype(np.int64), goal.values)
    yield _Beam("conversions_with_trail", np.ones(len(mine), np.int64), filled, day, (by_goal,), True)
    linear = next((y.name for y in result.plan.crediting.yardsticks if y.rule == "linear"), None)
    if linear is not None:
        yield _credited(result, linear, by_goal, day)
    rows = np.flatnonzero(result.spend_rows)
    platform = prepared.spend.text("platform")
    yield _Beam(
        "spend_matched",
        prepared.costs.cost[rows],
        np.isin(prepared.spend_campaign[rows], result.met_campaigns()),
        prepared.spend.ints("day")[rows],
        (("platform", platform.codes[rows].astype(np.int64), platform.values),),
        False,
    )


def _credited(result: Result, linear: str, by_goal: tuple[str, Ints, Sequence[str]], day: Ints) -> _Beam:
    """Booked value in two pieces a conversion: what touches of campaigns have of it, and the rest."""
    prepared, whole = result.prepared, result.whole
    named = prepared.touches.fields["campaign"].codes[whole.touch] != 0
    value = prepared.conversions.value[whole.conversion]
    shares = np.where(named, result.whole_shares[linear].value, 0)
    credited = np.zeros(len(value), np.int64)
    np.add.at(credited, whole.owner(), shares)
    name, codes, shown = by_goal
    return _Beam(
        "value_credited",
        np.concatenate([credited, value - credited]),
        np.repeat([True, False], len(value)),
        np.concatenate([day, day]),
        ((name, np.concatenate([codes, codes]), shown),),
        False,
    )


def _forms(result: Result) -> Text:
    """(c,) text: the form of each lead; orders have none."""
    tables = result.prepared.tables
    return Text.join([tables.leads.text("form"), Text.blank(len(tables.conversions))])


def _rows(beam: _Beam) -> Iterator[CoverageShare]:
    week = mondays(beam.day)
    nothing = np.zeros(len(week), np.int64)
    ((_, weeks),) = _split(beam, nothing, [""], week)
    yield _said(beam, "", "", *_sum(weeks), _since(weeks) if beam.counts else "")
    for monday, part, whole in weeks:
        yield _said(beam, "week", day_text(monday), part, whole, "")
    for name, codes, shown in beam.fields:
        for value, mine in _split(beam, codes, shown, week):
            yield _said(beam, name, value, *_sum(mine), _since(mine) if beam.counts else "")


Weeks = list[tuple[int, int, int]]
"""(Monday, part, whole) in the order of time."""


def _split(beam: _Beam, codes: Ints, shown: Sequence[str], week: Ints) -> Iterator[tuple[str, Weeks]]:
    """What each value of a field has in each week: values by what they show, equal ones as one."""
    texts = sorted(set(shown))
    place = {text: at for at, text in enumerate(texts)}
    one = np.array([place[text] for text in shown] or [0], np.int64)
    values: dict[int, Weeks] = {}
    for value, monday, part, whole in _counted(beam, one[codes], week):
        values.setdefault(value, []).append((monday, part, whole))
    if not values and texts == [""]:
        yield "", []
    for value in sorted(values):
        yield texts[value], sorted(values[value])


MOST_CELLS = 1_000_000


def _counted(beam: _Beam, value: Ints, week: Ints) -> Iterator[tuple[int, int, int, int]]:
    """(value, Monday, part, whole) of each pair of a value and a week that there is."""
    if not len(week):
        return
    first, last = int(week.min()), int(week.max())
    weeks, most = (last - first) // 7 + 1, int(value.max()) + 1
    if beam.counts and weeks * most <= MOST_CELLS:
        # Counts of few kinds need no sorting.
        cell = value * weeks + (week - first) // 7
        whole = np.bincount(cell, minlength=weeks * most)
        part = np.bincount(cell[beam.covered], minlength=weeks * most)
        there = np.flatnonzero(whole)
        for at, some, all_of in zip(there.tolist(), part[there].tolist(), whole[there].tolist(), strict=True):
            yield at // weeks, first + 7 * (at % weeks), some, all_of
        return
    keys = np.stack([value, week])
    found, _ = tally(keys, [(np.flatnonzero(beam.covered), beam.amount[beam.covered]), (None, beam.amount)])
    for (at, monday), some, all_of in zip(found.keys.T.tolist(), found.exact(0), found.exact(1), strict=True):
        yield at, monday, some, all_of


def _sum(weeks: Weeks) -> tuple[int, int]:
    return sum(part for _, part, _ in weeks), sum(whole for *_, whole in weeks)


def _since(weeks: Weeks) -> str:
    """The Monday of the last step: a week whose share is another than that of all weeks since the step before it.

    It is another where their 99 % intervals do not meet.
    """
    since, hits, of = "", 0, 0
    for monday, part, whole in weeks:
        if not whole:
            continue
        if of and _apart(proportion(part, whole, Z_99), proportion(hits, of, Z_99)):
            since, hits, of = day_text(monday), 0, 0
        hits, of = hits + part, of + whole
    return since


def _apart(one: Proportion, other: Proportion) -> bool:
    bounds = (one.low, one.high, other.low, other.high)
    low, high, other_low, other_high = (bound or 0 for bound in bounds)
    return low > other_high or high < other_low


def _said(beam: _Beam, by: str, value: str, part: int, whole: int, since: str) -> CoverageShare:
    share = proportion(part, whole) if beam.counts else None
    low, high = (None, None) if share is None else (share.low, share.high)
    return CoverageShare(beam.figure, by, value, part, whole, low, high, since)
