"""The rows of a figure, described."""

from __future__ import annotations

from dataclasses import dataclass
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
from .trace_figures import CREDIT_FIGURES, EVERYTHING
from .traced import Opening, TracedConversion, TracedSpend, TracedTouch
from .weigh import Result


@dataclass(frozen=True)
class Picked:
    """Which trail elements, touches, spend rows and conversions without a trail count in a figure."""

    elements: Flags | None = None
    touches: Flags | None = None
    spend: Flags | None = None
    empty_trails: Flags | None = None
    open_up: bool = False


def conversions_in(result: Result, shares: Shares, picked: Picked, credit: str) -> tuple[Ints, float, int]:
    """Trails that count in a credit figure, largest value first, with the share and value of them that does."""
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


def conversion_of(result: Result, shares: Shares, picked: Picked, trail: int) -> TracedConversion:
    """One conversion with every touch of its trail, and what of it is picked.

    Parameters
    ----------
    result, shares : what was weighed, under one yardstick
    picked : what stands in the figure
    trail : its number among those of `result`
    """
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
    touches = [touch_of(result, touch, here, part / int(WHOLE), value) for (touch, here), (part, value) in sums.items()]
    if not touches:
        parts_here, value_here = int(WHOLE), int(prepared.conversions.value[number])
    return described(result, number, parts_here / int(WHOLE), value_here, tuple(touches))


def described(
    result: Result, number: int, share: float, value: int, touches: tuple[TracedTouch, ...]
) -> TracedConversion:
    """A conversion as the trace lists it: `number` among all conversions, with the share and value of it that count."""
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


def touch_of(result: Result, touch: int, here: bool, share: float, value: int) -> TracedTouch:
    """A touch as the trace lists it: `touch` among all touches and captured sets, with its credit."""
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


def spend_of(result: Result, row: int) -> TracedSpend:
    """A spend row as the trace lists it: as it was reported, and what it costs in the home currency."""
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


def openings_of(result: Result, shares: Shares, picked: Picked) -> tuple[Opening, ...]:
    """Where picked touches came from and where they landed, the most worth first (R12)."""
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
