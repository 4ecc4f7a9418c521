"""The trace: what a figure is made of, down to the line of the file each row came from. What it lists adds up to it.

Instants are ISO 8601 text in UTC, days ISO 8601 dates, so that these records can be shown as they are.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal

import numpy as np

from ..base.columns import Flags, Ints, total
from ..base.day_numbers import day_text, instant_text
from ..base.report_fields import MAIN_FIELDS
from ..base.schema import VISIT_KINDS
from ..base.tables import Table
from ..costs.levels import LEVELS
from ..credit.credit import WHOLE
from ..credit.shares import Shares
from ..trails.trails import Trails
from .breakdown import LEFT_OUT, NO_TRAIL, UNTAGGED
from .summary import quarantined_in_range
from .totals import Shown, ads_in, shown_in
from .trace_states import OfRow, TracedState, of_part, of_place, of_totals, removing, trace_states
from .weigh import Result

CREDIT_FIGURES = ("leads", "good_leads", "conversions", "new_customers", "value")
EVERYTHING = "everything"
"""All conversions of a part of the tie line, those worth nothing among them."""
SPEND_FIGURES = ("spend", "impressions", "clicks", "claimed_conversions", "claimed_value")
RATIOS = {
    "cost_per_lead": "leads",
    "cost_per_good_lead": "good_leads",
    "cost_per_conversion": "conversions",
    "cost_per_new_customer": "new_customers",
    "roas": "value",
    "profit": "value",
}
"""Ratio -> the credit figure it sets beside the spend."""
OF_TOUCHES = {"touches": "", "bounce_rate": "", "conversion_rate": "conversions", "value_per_touch": "value"}
"""Figure of touches -> the credit figure it sets beside them, if any."""
CREDIT_ALONE = {"average_value": "conversions", "good_rate": "leads"}
"""Ratio of credit alone -> the credit figure it is of."""
FIGURES = (*CREDIT_FIGURES, *SPEND_FIGURES, "cost_per_click", *RATIOS, *OF_TOUCHES, *CREDIT_ALONE)
TOTAL, ADS_ONLY = "total", "ads_only"
PARTS = (
    *("booked", "named", "untagged", "no_value", "no_trail", "outside"),
    *("invoiced", "matched", "unmatched", "quarantined"),
)
"""Parts of the tie line that open."""


class NoSuchFigure(ValueError):
    """The figure asked for is not in the result; the text says what is."""


@dataclass(frozen=True)
class TracedTouch:
    """One touch of a trail and what it got, in minor units; `here` tells whether it stands in the traced figure."""

    visit_id: str
    at: str
    kind: str
    campaign: str
    source: str
    medium: str
    channel: str
    why: str
    captured: bool
    tagged: bool
    here: bool
    share: float
    value: int
    file: str
    line: int


@dataclass(frozen=True)
class TracedConversion:
    """One conversion: its trail, and the share and value of it that stand in the figure. Money in minor units."""

    id: str
    table: str
    goal: str
    at: str
    value: int
    share_here: float
    value_here: int
    good: bool
    file: str
    line: int
    touches: tuple[TracedTouch, ...]


@dataclass(frozen=True)
class TracedSpend:
    """One spend row. `cost` in minor units of the home currency, `original` as reported."""

    day: str
    platform: str
    account: str
    campaign: str
    level: str
    original: str
    currency: str
    estimated: bool
    cost: int
    impressions: int
    clicks: int
    claimed_value: int
    file: str
    line: int


@dataclass(frozen=True)
class Opening:
    """A part of the untagged credit: where those touches came from and where they landed (R12)."""

    channel: str
    referrer_host: str
    landing_page: str
    touches: int
    share: float
    value: int


@dataclass(frozen=True)
class Trace:
    """What a figure is made of. The totals are over all rows; the lists hold one page of them. `states` are those whose
    credit stands in it, under yardsticks that credit states in place of touches (R16)."""

    share: float
    value: int
    spend: int
    conversion_count: int
    spend_count: int
    touch_count: int
    conversions: tuple[TracedConversion, ...]
    spend_rows: tuple[TracedSpend, ...]
    touches: tuple[TracedTouch, ...]
    openings: tuple[Opening, ...]
    states: tuple[TracedState, ...] = ()


def trace_row(
    result: Result, yardstick: str, bucket: str, values: tuple[str, ...], figure: str, first: int = 0, limit: int = 200
) -> Trace:
    """Trace one figure of one row of the report.

    Parameters
    ----------
    result : what a weighing gave
    yardstick : name of the yardstick the figure stands under
    bucket, values : the row, its values as shown; buckets `TOTAL` and `ADS_ONLY` are the rows of totals
    figure : one of `FIGURES`
    first, limit : which page of the rows to list

    Returns
    -------
    Trace

    Raises
    ------
    NoSuchFigure
        If the result has no such yardstick, row or figure.
    """
    result = replace(result, trails=result.laid, shares=result.laid_shares)
    shares = _shares(result, yardstick)
    if figure not in FIGURES:
        raise NoSuchFigure(f"there is no figure {figure!r}; figures are {', '.join(FIGURES)}")
    if bucket in (TOTAL, ADS_ONLY):
        shown = shown_in(result) if bucket == TOTAL else ads_in(result)
        found = _trace(result, shares, _picked(shown), figure, first, limit)
        return _with_states(result, yardstick, found, of_totals(bucket == ADS_ONLY), figure, bucket == ADS_ONLY)
    empty, kept = result.trails.lengths == 0, result.kept
    if bucket == NO_TRAIL:
        alone = empty if kept is None else empty & kept.trails
        return _trace(result, shares, _Picked(empty_trails=alone), figure, first, limit)
    place = next((i for i, p in enumerate(result.places) if (p.bucket, p.shown) == (bucket, values)), None)
    if place is None:
        raise NoSuchFigure(f"there is no row {bucket} {', '.join(values)} in this report: its data may have changed")
    picked = _Picked(
        elements=result.element_place == place,
        touches=result.touch_place == place,
        spend=result.spend_place == place,
        empty_trails=empty & ~kept.trails if kept is not None and bucket == LEFT_OUT else None,
        open_up=result.places[place].bucket == UNTAGGED,
    )
    found = _trace(result, shares, picked, figure, first, limit)
    return _with_states(result, yardstick, found, of_place(result.places[place].values), figure)


def _with_states(
    result: Result, yardstick: str, found: Trace, wanted: OfRow, figure: str, by_campaign: bool = False
) -> Trace:
    """The trace with the states that give the figure, where the yardstick credits states; see `trace_states`."""
    removal, credit = removing(result, yardstick), _credit_of(figure)
    if removal is None or credit not in (*CREDIT_FIGURES, EVERYTHING):
        return found
    states = trace_states(result, removal, wanted, credit, by_campaign)
    share = found.share + sum(one.share for one in states)
    value = found.value + sum(one.value for one in states)
    return replace(found, share=share, value=value, states=tuple(states))


def trace_part(result: Result, yardstick: str, part: str, first: int = 0, limit: int = 200) -> Trace:
    """Trace one part of the tie line; see `trace_row`.

    Parameters
    ----------
    part : one of `PARTS`
    """
    shares = _shares(result, yardstick)
    empty = result.trails.lengths == 0
    campaign = result.prepared.touches.fields["campaign"].codes
    of_element = campaign[result.trails.touch]
    if part == "quarantined":
        return _quarantined(result, first, limit)
    if part in ("invoiced", "matched", "unmatched"):
        met = result.met_campaigns()
        matched = np.isin(result.prepared.spend_campaign, met)
        wanted = {"invoiced": result.spend_rows, "matched": matched, "unmatched": ~matched}[part]
        spend = result.spend_rows & wanted
        return _trace(result, shares, _Picked(spend=spend), "spend", first, limit)
    if part == "no_trail":
        return _trace(result, shares, _Picked(empty_trails=empty), EVERYTHING, first, limit)
    if part in ("untagged", "no_value"):
        tagged = result.prepared.touches.tagged[result.trails.touch]
        wanted = (of_element == 0) & (tagged == (part == "no_value"))
        found = _trace(result, shares, _Picked(elements=wanted, open_up=part == "untagged"), EVERYTHING, first, limit)
        return _with_states(result, yardstick, found, of_part(part), EVERYTHING)
    if part == "named":
        found = _trace(result, shares, _Picked(elements=of_element > 0), EVERYTHING, first, limit)
        return _with_states(result, yardstick, found, of_part(part), EVERYTHING)
    if part in ("booked", "outside"):
        whole = result.whole
        picked = np.ones(len(whole.touch), np.bool_)
        alone = whole.lengths == 0
        if part == "outside":
            picked[shares.element] = False
            alone &= ~np.isin(whole.conversion, result.trails.conversion)
        all_of_it = replace(result, trails=whole, shares=result.whole_shares)
        shares = result.whole_shares.get(yardstick, nothing(whole))
        found = _trace(all_of_it, shares, _Picked(elements=picked, empty_trails=alone), EVERYTHING, first, limit)
        return _with_states(result, yardstick, found, of_part(part), EVERYTHING)
    raise NoSuchFigure(f"the tie line has no part {part!r}; parts are {', '.join(PARTS)}")


def _shares(result: Result, yardstick: str) -> Shares:
    if removing(result, yardstick):
        return nothing(result.trails)
    if yardstick not in result.shares:
        raise NoSuchFigure(f"there is no yardstick {yardstick!r}; there are {', '.join(result.ledger.yardsticks)}")
    return result.shares[yardstick]


def nothing(trails: Trails) -> Shares:
    """No credit for any touch."""
    none = np.empty(0, np.int64)
    return Shares(len(trails.touch), none, none, none)


@dataclass(frozen=True)
class _Picked:
    """Which trail elements, touches, spend rows and conversions without a trail stand in a figure."""

    elements: Flags | None = None
    touches: Flags | None = None
    spend: Flags | None = None
    empty_trails: Flags | None = None
    open_up: bool = False


def _picked(shown: Shown) -> _Picked:
    return _Picked(shown.elements, shown.touches, shown.spend, shown.empty)


def _credit_of(figure: str) -> str:
    """The credit figure that stands in a figure."""
    return (RATIOS | OF_TOUCHES | CREDIT_ALONE).get(figure, figure)


def _trace(result: Result, shares: Shares, picked: _Picked, figure: str, first: int, limit: int) -> Trace:
    credit = _credit_of(figure)
    conversions, share, value = _conversions(result, shares, picked, credit)
    page = conversions[first : first + limit]
    wants_spend = figure in (*SPEND_FIGURES, "cost_per_click", *RATIOS) and picked.spend is not None
    spend = np.flatnonzero(picked.spend) if wants_spend and picked.spend is not None else np.empty(0, np.int64)
    spend = spend[np.argsort(result.prepared.spend.ints("day")[spend], kind="stable")]
    wants_touches = figure in OF_TOUCHES and picked.touches is not None
    touches = np.flatnonzero(picked.touches) if wants_touches and picked.touches is not None else np.empty(0, np.int64)
    return Trace(
        share=share,
        value=value,
        spend=total(result.prepared.costs.cost[spend]),
        conversion_count=len(conversions),
        spend_count=len(spend),
        touch_count=len(touches),
        conversions=tuple(_conversion(result, shares, picked, int(i)) for i in page),
        spend_rows=tuple(_spend(result, int(row)) for row in spend[first : first + limit]),
        touches=tuple(_touch(result, int(t), True, 0.0, 0) for t in touches[first : first + limit]),
        openings=_openings(result, shares, picked)
        if picked.open_up and credit in (*CREDIT_FIGURES, EVERYTHING)
        else (),
    )


def _conversions(result: Result, shares: Shares, picked: _Picked, credit: str) -> tuple[Ints, float, int]:
    """Trails that stand in a credit figure, largest value first, with the share and value of them that does."""
    if credit not in (*CREDIT_FIGURES, EVERYTHING):
        return np.empty(0, np.int64), 0.0, 0
    trails, prepared = result.trails, result.prepared
    which = trails.conversion
    wanted = np.ones(len(which), np.bool_)
    if credit not in ("value", EVERYTHING):
        is_lead = np.array([g.kind == "lead" for g in prepared.goals], np.bool_)[prepared.conversions.version[which]]
        wanted = ~is_lead if credit in ("conversions", "new_customers") else is_lead
        if credit == "good_leads":
            wanted = wanted & result.counted.good[which]
        if credit == "new_customers":
            wanted = wanted & result.counted.new[which]
    share, value = np.zeros(len(which), np.int64), np.zeros(len(which), np.int64)
    if picked.elements is not None:
        use = picked.elements & (shares.parts > 0)
        owner = trails.owner()[use]
        np.add.at(share, owner, shares.parts[use])
        np.add.at(value, owner, shares.value[use])
    if picked.empty_trails is not None:
        empty = picked.empty_trails
        share[empty] = WHOLE
        value[empty] += prepared.conversions.value[which[empty]]
    # What is worth nothing adds nothing to a value.
    rows = np.flatnonzero(wanted & (value > 0 if credit == "value" else share > 0))
    order = np.lexsort((which[rows], prepared.conversions.at[which[rows]], -share[rows], -value[rows]))
    return rows[order], total(share[rows]) / int(WHOLE), total(value[rows])


def _conversion(result: Result, shares: Shares, picked: _Picked, trail: int) -> TracedConversion:
    prepared, trails = result.prepared, result.trails
    number = int(trails.conversion[trail])
    # A touch of an order with lines stands there once a line: what of it is here, and what is not, are one each.
    sums: dict[tuple[int, bool], list[int]] = {}
    parts_here, value_here = 0, 0
    for e in range(int(trails.offsets[trail]), int(trails.offsets[trail + 1])):
        part, value = int(shares.parts[e]), int(shares.value[e])
        here = picked.elements is not None and bool(picked.elements[e]) and part > 0
        so_far = sums.setdefault((int(trails.touch[e]), here), [0, 0])
        so_far[0], so_far[1] = so_far[0] + part, so_far[1] + value
        if here:
            parts_here, value_here = parts_here + part, value_here + value
    touches = [_touch(result, touch, here, part / int(WHOLE), value) for (touch, here), (part, value) in sums.items()]
    if not touches:
        parts_here, value_here = int(WHOLE), int(prepared.conversions.value[number])
    return _described(result, number, parts_here / int(WHOLE), value_here, tuple(touches))


def _described(
    result: Result, number: int, share: float, value: int, touches: tuple[TracedTouch, ...]
) -> TracedConversion:
    conversions = result.prepared.conversions
    is_lead, row = bool(conversions.is_lead_row[number]), int(conversions.row[number])
    table = result.prepared.tables.leads if is_lead else result.prepared.tables.conversions
    return TracedConversion(
        id=conversions.id[number],
        table=table.name,
        goal=conversions.goal[number],
        at=instant_text(int(conversions.at[number])),
        value=int(conversions.value[number]),
        share_here=share,
        value_here=value,
        good=bool(result.counted.good[number]),
        file=table.file[row],
        line=int(table.line[row]),
        touches=touches,
    )


def _touch(result: Result, touch: int, here: bool, share: float, value: int) -> TracedTouch:
    touches = result.prepared.touches
    captured = touch >= touches.count
    table, row = _origin(result, touch)
    fields = {name: touches.fields[name] for name in MAIN_FIELDS}
    labels = {name: field.shown[int(field.codes[touch])] for name, field in fields.items()}
    return TracedTouch(
        visit_id="" if captured else table.text("visit_id")[row],
        at=instant_text(int(touches.at[touch])),
        kind=VISIT_KINDS[int(touches.kind[touch])],
        why=touches.why[touch],
        captured=captured,
        tagged=bool(touches.tagged[touch]),
        here=here,
        share=share,
        value=value,
        file=table.file[row],
        line=int(table.line[row]),
        **labels,
    )


def _origin(result: Result, touch: int) -> tuple[Table, int]:
    """The table and row a touch or captured set was read from."""
    prepared = result.prepared
    number = touch - prepared.touches.count
    if number < 0:
        return prepared.tables.visits, int(prepared.touches.visit[touch])
    lead = int(prepared.captured.lead[number])
    return (
        (prepared.tables.leads, lead)
        if lead >= 0
        else (prepared.tables.conversions, int(prepared.captured.sale[number]))
    )


def _spend(result: Result, row: int) -> TracedSpend:
    spend, costs = result.prepared.spend, result.prepared.costs
    amounts = spend.amounts("click_price" if costs.estimated[row] else "cost")
    units, decimals = int(amounts.units[row]), amounts.decimals
    text = format(Decimal(units).scaleb(-decimals), "f")
    original = (
        f"{spend.ints('clicks')[row]} clicks x {text}" if costs.estimated[row] else "" if costs.rest[row] else text
    )
    return TracedSpend(
        day=day_text(int(spend.ints("day")[row])),
        platform=spend.text("platform")[row],
        account=spend.text("account")[row],
        campaign=costs.campaign[row],
        level="not itemised"
        if costs.rest[row]
        else " / ".join(v for v in (spend.text(name)[row] for name in LEVELS) if v),
        original=original,
        currency=spend.text("currency")[row] or result.plan.money.home_currency,
        estimated=bool(costs.estimated[row]),
        cost=int(costs.cost[row]),
        impressions=int(costs.impressions[row]),
        clicks=int(costs.clicks[row]),
        claimed_value=int(costs.claimed_value[row]),
        file=spend.file[row],
        line=int(spend.line[row]),
    )


def _openings(result: Result, shares: Shares, picked: _Picked) -> tuple[Opening, ...]:
    prepared, trails = result.prepared, result.trails
    touches, arrivals = prepared.touches, prepared.arrivals
    found: dict[tuple[str, str, str], list[int]] = {}
    seen: set[tuple[tuple[str, str, str], int]] = set()
    elements = picked.elements if picked.elements is not None else np.zeros(len(trails.touch), np.bool_)
    for e in np.flatnonzero(elements & (shares.parts > 0)).tolist():
        touch = int(trails.touch[e])
        channel = touches.fields["channel"].shown[int(touches.fields["channel"].codes[touch])]
        key = (channel, "", "")
        if touch < touches.count:
            visit = int(touches.visit[touch])
            key = (channel, arrivals.referrer_host[visit], arrivals.readings[int(arrivals.url[visit])].page)
        sums = found.setdefault(key, [0, 0, 0])
        if (key, touch) not in seen:
            seen.add((key, touch))
            sums[0] += 1
        sums[1] += int(shares.parts[e])
        sums[2] += int(shares.value[e])
    ordered = sorted(found.items(), key=lambda item: (-item[1][2], -item[1][1], item[0]))
    return tuple(Opening(*key, n, parts / int(WHOLE), value) for key, (n, parts, value) in ordered)


def _quarantined(result: Result, first: int, limit: int) -> Trace:
    prepared = result.prepared
    _, rows = quarantined_in_range(result)
    value = prepared.conversions.value
    page = rows[first : first + limit].tolist()
    conversions = tuple(_described(result, i, 1.0, int(value[i]), ()) for i in page)
    return Trace(
        share=float(len(rows)),
        value=total(value[rows]),
        spend=0,
        conversion_count=len(rows),
        spend_count=0,
        touch_count=0,
        conversions=conversions,
        spend_rows=(),
        touches=(),
        openings=(),
    )
