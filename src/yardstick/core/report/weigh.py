"""The one path through all rules: tables + settings -> Result."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import NO_INSTANT, Flags, Ints
from ..base.days import DAY_US, days_within
from ..base.notes import Finding, Rejected
from ..base.tables import Tables
from ..credit.credit import Shares, share_credit
from ..plan.plan import Plan, Reporting, Trailing, Windows
from ..reading.captured import captured_for
from ..trails.goals import count_once, first_sales, goodness, previous_counted
from ..trails.trails import Trails, cut_at, fill_empty, lay_trails, yield_to_others
from .breakdown import CONVERSION, TOUCH, check_fields, days_of_elements, hide, lay_axis, part_empty
from .filters import Filter, Kept, keep
from .fingerprint import fingerprint_of
from .ground import Ground, lay_ground
from .report import Place, Report, Row, Traits


@dataclass(frozen=True)
class Result:
    """Everything a weighing gives.

    Attributes
    ----------
    fingerprint, data, origin : of the result, of the rows it was made from, and of where these came from (R27)
    rows : the report, yardstick by yardstick
    shares : per yardstick name, the credit of every trail element that stands in the range
    trails : the trails of the counted conversions in the report range; under `touch` of all that have a touch
    whole, whole_shares : the trails of all conversions whose touches may stand in the range, and all their credit (R22)
    traits : what conversions count as
    where, kept : the filters, and what they leave in the report; None without any
    places : the rows' places; `element_place`, `touch_place`, `spend_place` say which place each of them stands in
        (-1 = none), so that every figure can be traced
    """

    plan: Plan
    by: tuple[str, ...]
    where: tuple[Filter, ...]
    fingerprint: str
    data: str
    origin: str
    ground: Ground
    trails: Trails
    shares: dict[str, Shares]
    whole: Trails
    whole_shares: dict[str, Shares]
    rows: list[Row]
    places: list[Place]
    element_place: Ints
    touch_place: Ints
    spend_place: Ints
    spend_rows: Flags
    touch_in_range: Flags
    kept: Kept | None
    traits: Traits
    findings: list[Finding]
    rejected: list[Rejected]
    agreement: dict[str, int]

    def met_campaigns(self) -> Ints:
        """Numbers of the campaigns that have a touch in the range or credit under any yardstick (R19)."""
        campaign = self.ground.touches.fields["campaign"].codes
        credited = np.zeros(len(self.trails.touch), np.bool_)
        for share in self.shares.values():
            credited[share.element] = True
        touched = campaign[: self.ground.touches.count][self.touch_in_range]
        return np.union1d(touched, campaign[self.trails.touch][credited])


def weigh(
    tables: Tables,
    plan: Plan,
    by: tuple[str, ...] = ("campaign",),
    *,
    where: tuple[Filter, ...] = (),
    ground: Ground | None = None,
) -> Result:
    """Attribute every conversion to the touches before it and set the credit beside the spend.

    Parameters
    ----------
    tables : visits, leads, conversions, spend, rates
    plan : see `core.plan.plan.Plan`
    by : one or two fields of `breakdown.FIELDS`
    where : filters; what they leave out stands in one row of its own
    ground : what `lay_ground` gave for the same tables and plan, if it is at hand

    Returns
    -------
    Result

    Raises
    ------
    SettingsError
        If a setting is wrong or asks for what is not built.

    Notes
    -----
    Rules R1 to R23 in the order in which they apply. Neither the order of rows nor that of people changes a figure.
    """
    check_fields(by, plan.reading)
    ground = ground or lay_ground(tables, plan.reading, plan.trailing, plan.costing, plan.money)
    trails, agreement, traits = _shown_trails(ground, plan.windows, plan.reporting, plan.trailing)
    conversions = ground.conversions
    value, at = conversions.value[trails.conversion], conversions.at[trails.conversion]
    whole, whole_shares = trails, share_credit(trails, value, at, ground.touches, plan.crediting)
    shares = whole_shares
    asked = (plan.reporting.report_from, plan.reporting.report_to)
    if plan.reporting.date_basis == TOUCH:
        stands = days_within(days_of_elements(ground, whole), *asked)
        shares = {name: share.only(stands) for name, share in whole_shares.items()}
        # A trail without touches has no elements, so those that stay keep their numbers.
        trails = whole.only((whole.lengths > 0) | days_within(conversions.day[whole.conversion], *asked))
    in_range = days_within(ground.touches.day, *asked)
    spend_rows = ground.costs.counts & days_within(ground.spend.ints("day"), *asked)
    basis = plan.reporting.date_basis
    axes = [lay_axis(name, ground, trails, in_range, spend_rows, basis) for name in by]
    axes = [
        hide(axis, plan.reporting.hidden_channels) if name == "channel" else axis
        for name, axis in zip(by, axes, strict=True)
    ]
    axes[0] = part_empty(axes[0], ground, trails)
    kept = keep(where, ground, trails, in_range, spend_rows, plan.reading, basis) if where else None
    report = Report(ground, plan, by, trails, shares, axes, in_range, spend_rows, traits, kept)
    return Result(
        plan=plan,
        by=by,
        where=where,
        fingerprint=fingerprint_of(plan, by, tables.data, tuple(map(str, where))),
        data=tables.data,
        origin=tables.origin,
        ground=ground,
        trails=trails,
        shares=shares,
        whole=whole,
        whole_shares=whole_shares,
        rows=report.rows(),
        places=report.places,
        element_place=report.element_place,
        touch_place=report.touch_place,
        spend_place=report.spend_place,
        spend_rows=spend_rows,
        touch_in_range=in_range,
        kept=kept,
        traits=traits,
        findings=list(ground.findings),
        rejected=list(ground.rejected),
        agreement=agreement,
    )


def _look_back(ground: Ground, windows: Windows) -> Ints:
    """(c, 3) int64: window of every conversion for clicks, views and watches, in microseconds."""
    usual, own = windows.window, {(w.name, w.since): w for w in windows.goal_windows}
    per_goal = []
    for goal in ground.goals:
        mine = own.get((goal.name, goal.since))
        days = [
            getattr(usual, kind) if mine is None or getattr(mine, kind) is None else getattr(mine, kind)
            for kind in ("click_days", "view_days", "watch_days")
        ]
        per_goal.append([int(d * DAY_US) for d in days])
    return np.array(per_goal, np.int64).reshape(-1, 3)[ground.conversions.version]


def _shown_trails(
    ground: Ground, windows: Windows, reporting: Reporting, trailing: Trailing
) -> tuple[Trails, dict[str, int], Traits]:
    """Trails of the counted conversions in the report range (R8, R10-R13), how captured sets agree with visits, and
    what the conversions count as (R10, R23)."""
    conversions = ground.conversions
    no_cut = np.full(len(conversions), NO_INSTANT, np.int64)
    shown = conversions.eligible
    if reporting.date_basis == CONVERSION:
        shown = shown & days_within(conversions.day, reporting.report_from, reporting.report_to)
    counting = {goal.count for goal in ground.goals}
    if counting <= {"every"}:
        counted = conversions.eligible
    else:
        last_touch = np.full(len(conversions), -1, np.int64)
        if "one_per_touch" in counting:
            every = _trails_of(conversions.eligible, ground, windows, no_cut)[0]
            filled = every.lengths > 0
            last_touch[every.conversion[filled]] = every.touch[every.offsets[1:][filled] - 1]
        counted = count_once(conversions, ground.goals, last_touch)
    after = previous_counted(conversions, counted) if windows.cut_at_previous else no_cut
    seen = ground.roles.day[: ground.roles.visits][~ground.quarantine.visits]
    good, waiting = goodness(
        conversions,
        counted,
        ground.goals,
        lambda name: trailing.versions_of(name)[0].kind,
        int(seen.max()) if len(seen) else None,
    )
    traits = Traits(first_sales(conversions, counted, ground.goals), good, waiting)
    return *_trails_of(shown & counted, ground, windows, after), traits


def _trails_of(chosen: Flags, ground: Ground, windows: Windows, after: Ints) -> tuple[Trails, dict[str, int]]:
    conversions, touches = ground.conversions, ground.touches
    which = np.flatnonzero(chosen)
    at, look_back = conversions.at[which], _look_back(ground, windows)[which]
    real = touches.count
    trails = lay_trails(
        touches.person, touches.at[:real], touches.kind[:real], conversions.person[which], at, look_back
    )
    trails = Trails(which, trails.offsets, trails.touch)
    if windows.cut_at_previous:
        trails = cut_at(trails, touches.at, after[which])
    empty = np.flatnonzero(trails.lengths == 0)
    sale = np.where(conversions.is_lead_row, -1, conversions.row)[which][empty]
    lead = conversions.names_lead[which][empty]
    owner, number = captured_for(ground.captured, lead, sale, at[empty], look_back[empty, 0], after[which][empty])
    trails = fill_empty(trails, empty[owner], number + real)
    if windows.direct == "yield":
        trails = yield_to_others(trails, touches.direct)
    if windows.views == "yield":
        trails = yield_to_others(trails, touches.kind != 0)
    return trails, _agreement(trails, ground)


def _agreement(trails: Trails, ground: Ground) -> dict[str, int]:
    """How often the set a form captured agrees with the visits, for leads that have both (R8)."""
    conversions, fields, real = ground.conversions, ground.touches.fields, ground.touches.count
    own = conversions.is_lead_row[trails.conversion] & (trails.lengths > 0)
    starts = trails.offsets[:-1][own]
    if len(starts):
        own[np.flatnonzero(own)[trails.touch[starts] >= real]] = False
    lead = conversions.row[trails.conversion[own]]
    out = {}
    ends = {"first": trails.offsets[:-1][own], "last": trails.offsets[1:][own] - 1}
    for offset, (which, element) in enumerate(ends.items()):
        number = 2 * lead + offset
        filled = ground.captured.filled[number]
        touch = trails.touch[element][filled]
        agree = np.ones(len(touch), np.bool_)
        for name in ("source", "medium", "campaign"):
            codes = fields[name].codes
            agree &= codes[touch] == codes[real + number[filled]]
        out[f"{which}_compared"], out[f"{which}_agree"] = int(filled.sum()), int(agree.sum())
    return out
