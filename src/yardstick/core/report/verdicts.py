"""Verdicts (R25): which rows to grow, keep or cut, over the whole panel of yardsticks, and what would flip it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction

import numpy as np

from ..base.axis_numbers import NOWHERE
from ..base.columns import Ints
from ..base.tally import tally
from .breakdown import NAMED, NO_TOUCH_SPEND
from .certainty import Interval, Redraws, spend_of
from .flips import LEAD_PARTS, Flips, conversions_needed, cost_of_a_click, flipping_yardstick, redraws_on_each_side
from .maturity import KINDS_OF_GOALS, LEADS, SALES, Maturity
from .report import is_other_cost
from .totals import Ads, ads_by_place, linear_counts
from .weigh import Result


class VerdictCode(StrEnum):
    """Verdicts, in the order in which they are tried; words are made where they are shown."""

    FEW = "too_few"
    EARLY = "too_early"
    DEPENDS = "depends"
    GROW = "grow"
    CUT = "cut"
    UNSURE = "unsure"
    KEEP = "keep"


@dataclass(frozen=True)
class Verdict:
    """What a campaign's figures say, for one kind of goal.

    Attributes
    ----------
    place : number of its place in the result; shown : its values
    kind : `SALES`, judged by ROAS, or `LEADS`, judged by cost per lead
    code, reason : the verdict, and a sentence that says why
    credited : conversions of that kind under linear
    spend : minor units
    break_even, target : of the figure; for leads both are the target cost per lead; None without one
    lowest, highest : (yardstick, point figure), None where it has no figure
    maturity : see `Maturity.mean`, by its days of spend; None where it cannot be told
    flips : what it depends on (R34)
    """

    place: int
    shown: tuple[str, ...]
    kind: str
    code: VerdictCode
    reason: str
    credited: Fraction
    spend: int
    break_even: Fraction | None
    target: Fraction | None
    lowest: tuple[str, Fraction | None]
    highest: tuple[str, Fraction | None]
    maturity: Fraction | None
    flips: Flips


def judge(
    result: Result,
    maturity: Mapping[str, Maturity],
    intervals: Mapping[tuple[str, int], Mapping[str, Interval]],
    redraws: Redraws,
) -> list[Verdict]:
    """The verdicts of all rows with spend.

    Parameters
    ----------
    result : a weighing, by whatever fields; a campaign's own targets hold where the campaign is one of them. By
        anything but the campaign alone a row is judged by what its ads earned (R23), see `earned`
    maturity : see `maturity.maturity`
    intervals, redraws : see `certainty.intervals_and_redraws`, of the same result; of the ads alone where
        these are judged

    Returns
    -------
    One a row and kind; none of leads for a row without a target cost per lead
    """
    spend, days = spend_of(result), days_of(result)
    other, clicks = _other_costs_and_clicks(result)
    evenly = linear_counts(result, is_by_ads(result))
    earned_by = earned(result)
    panel = [name for name in result.plan.panel if name in result.ledger.yardsticks]
    unit = 10**result.plan.money.minor_digits
    out = []
    for number, place in enumerate(result.places):
        if place.bucket not in (NAMED, NO_TOUCH_SPEND) or spend[number] <= 0:
            continue
        named = place.shown[result.by.index("campaign")] if "campaign" in result.by else ""
        campaign = result.plan.campaign_of(named) if named else None
        general = result.plan.reporting
        target_roas = campaign.target_roas if campaign and campaign.target_roas is not None else general.target_roas
        own_cost = campaign.target_cost_per_lead if campaign else None
        target_cost = own_cost if own_cost is not None else general.target_cost_per_lead
        counts = evenly[place.bucket, place.shown]
        for kind in KINDS_OF_GOALS:
            if kind == LEADS and target_cost is None:
                continue
            figure = "roas" if kind == SALES else "cost_per_lead"
            of_row = {name: earned_by[place.bucket, place.shown][name] for name in panel}
            points = [(name, _point(kind, one, spend[number], unit)) for name, one in of_row.items()]
            bounds = [intervals.get((name, number), {}).get(figure) for name in panel]
            if kind == SALES:
                target = None if target_roas is None else Fraction(target_roas)
                break_even: Fraction | None = 1 / Fraction(general.margin)
            else:
                target = break_even = None if target_cost is None else Fraction(target_cost)
            assert break_even is not None
            share = maturity[kind].mean(days[number])
            credited = counts.sales if kind == SALES else counts.leads
            code, reason = verdict_of(
                kind=kind,
                points=points,
                bounds=bounds,
                credited=credited,
                minimum=general.verdict_minimum,
                break_even=break_even,
                target=target,
                come=share,
                mature=Fraction(general.mature_share),
            )
            ordered = sorted(points, key=lambda p: (p[1] is None, p[1] or Fraction(0)))
            out.append(
                Verdict(
                    place=number,
                    shown=place.shown,
                    kind=kind,
                    code=code,
                    reason=reason,
                    credited=credited,
                    spend=spend[number],
                    break_even=break_even,
                    target=target,
                    lowest=ordered[0],
                    highest=ordered[-1],
                    maturity=share,
                    flips=_flips(
                        kind,
                        code,
                        panel,
                        number,
                        of_row,
                        points,
                        bounds,
                        redraws,
                        break_even,
                        credited,
                        (spend[number], other[number], clicks[number]),
                        general.margin,
                        result.plan.money.minor_digits,
                    ),
                )
            )
    return out


def is_by_ads(result: Result) -> bool:
    """Whether rows are judged by what their ads earned: by anything but the campaign they hold other touches, too."""
    return not result.by.is_by_campaign


def earned(result: Result) -> Mapping[tuple[str, tuple[str, ...]], Mapping[str, Ads]]:
    """By (bucket, values) and yardstick what is set against the spend of a row."""
    if is_by_ads(result):
        return ads_by_place(result)
    out: dict[tuple[str, tuple[str, ...]], dict[str, Ads]] = {}
    for row in result.rows:
        out.setdefault((row.bucket, row.by), {})[row.yardstick] = Ads(row.sums.value, row.sums.leads)
    return out


def _point(kind: str, earned: Ads, spend: int, unit: int) -> Fraction | None:
    """ROAS, or cost per lead in units of the home currency."""
    if kind == SALES:
        return Fraction(earned.value, spend)
    return Fraction(spend, unit) / earned.leads if earned.leads else None


def _other_costs_and_clicks(result: Result) -> tuple[list[int], list[int]]:
    """Of each place: other costs in minor units, and clicks."""
    rows = np.flatnonzero(result.spend_place != NOWHERE)
    other, clicks = [0] * len(result.places), [0] * len(result.places)
    apart, costs = is_other_cost(result.prepared), result.prepared.costs
    for row, place in zip(rows.tolist(), result.spend_place[rows].tolist(), strict=True):
        other[place] += int(costs.cost[row]) if apart[row] else 0
        clicks[place] += int(costs.clicks[row])
    return other, clicks


def _flips(
    kind: str, code: VerdictCode, panel: Sequence[str], place: int, of_row: Mapping[str, Ads],
    points: Sequence[tuple[str, Fraction | None]], bounds: Sequence[Interval | None], redraws: Redraws,
    break_even: Fraction, credited: Fraction, spent: tuple[int, int, int], margin: Decimal, digits: int,
) -> Flips:  # fmt: skip
    """What a verdict depends on (R34): spent = spend, other costs, clicks."""
    spend, other, clicks = spent
    # What a minor unit of value, or a lead, is worth against the spend.
    each = Fraction(margin) if kind == SALES else break_even * 10**digits
    worth = {name: Fraction(one.value if kind == SALES else one.leads) * each for name, one in of_row.items()}
    chosen = LINEAR if LINEAR in panel else panel[0]
    drawn = [redraws[name, place] for name in panel if (name, place) in redraws]
    amounts = [value if kind == SALES else leads for value, leads in drawn]
    pays = loses = None
    if code not in (VerdictCode.FEW, VerdictCode.EARLY) and amounts:
        pays, loses = redraws_on_each_side(amounts, each if kind == SALES else each * LEAD_PARTS, spend)
    unsure = [(point, bound) for (_, point), bound in zip(points, bounds, strict=True)]
    return Flips(
        pays,
        loses,
        flipping_yardstick(worth, spend, chosen),
        cost_of_a_click(min(worth.values()), other, clicks, digits),
        conversions_needed(unsure, break_even, credited) if code == VerdictCode.UNSURE else "",
        worth,
    )


LINEAR = "linear"


def verdict_of(
    *,
    kind: str,
    points: Sequence[tuple[str, Fraction | None]],
    bounds: Sequence[Interval | None],
    credited: Fraction,
    minimum: int,
    break_even: Fraction,
    target: Fraction | None,
    come: Fraction | None,
    mature: Fraction,
) -> tuple[VerdictCode, str]:
    """The verdict on one campaign, and why (R25).

    Parameters
    ----------
    kind : `SALES` (figures are ROAS: more is better) or `LEADS` (cost per lead: less is better)
    points : by yardstick of the panel; None = no figure, which for a cost is above every target
    bounds : of each, None where a yardstick has no interval and stands by its point alone
    credited, minimum : conversions under linear, and below how many nothing is said
    break_even, target : of the figure; a target None never lets a campaign grow
    come, mature : the share of its conversions that has come, and the one that is asked for; None = unknown
    """
    thing = "sales" if kind == SALES else "leads"
    if credited < minimum:
        return VerdictCode.FEW, f"{_number(credited)} {thing} credited under linear; at least {minimum} are needed"
    if come is not None and come < mature:
        return (
            VerdictCode.EARLY,
            f"{_per_cent(come)} of the {thing} of its days have come; at least {_per_cent(mature)} are needed",
        )
    better = kind == SALES

    def pays(point: Fraction | None) -> bool:
        """A point on break-even itself pays."""
        return point is not None and (point >= break_even if better else point <= break_even)

    good = [name for name, point in points if pays(point)]
    bad = [name for name, point in points if not pays(point)]
    if good and bad:
        return VerdictCode.DEPENDS, f"it pays under {', '.join(good)} and does not under {', '.join(bad)}"
    worst, best = [], []
    for (name, point), bound in zip(points, bounds, strict=True):
        low, high = (point, point) if bound is None else (bound.low, bound.high)
        worst.append((name, low if better else high))
        best.append((name, high if better else low))
    if target is not None and all(_beats(value, target, better) for _, value in worst):
        name, value = _worst(worst, better)
        return (
            VerdictCode.GROW,
            f"even the worse bound, {_number(value)} under {name}, beats the target of {_number(target)}",
        )
    if all(_beaten(value, break_even, better) for _, value in best):
        name, value = _worst(best, not better)
        return (
            VerdictCode.CUT,
            f"even the better bound, {_figure(value)} under {name}, misses break-even at {_number(break_even)}",
        )
    held = [
        name
        for (name, one), (_, other) in zip(worst, best, strict=True)
        if _beaten(one, break_even, better) and not _beaten(other, break_even, better)
    ]
    if held:
        return VerdictCode.UNSURE, f"break-even at {_number(break_even)} lies inside the interval under {held[0]}"
    if target is None:
        return VerdictCode.KEEP, "it pays under every yardstick; without a target it is not said to grow"
    name, value = _worst(worst, better)
    return (
        VerdictCode.KEEP,
        f"it pays; to grow, {_figure(value)} under {name} has to beat the target of {_number(target)}",
    )


def _beats(value: Fraction | None, mark: Fraction, better: bool) -> bool:
    return value is not None and (value > mark if better else value < mark)


def _beaten(value: Fraction | None, mark: Fraction, better: bool) -> bool:
    """An infinite cost, or no cost for want of leads, is above every mark."""
    return value is None or (value < mark if better else value > mark)


def _worst(of: Sequence[tuple[str, Fraction | None]], better: bool) -> tuple[str, Fraction | None]:
    unknown = [pair for pair in of if pair[1] is None]
    if unknown:
        return unknown[0]
    ordered = sorted(of, key=lambda pair: pair[1] or Fraction(0), reverse=not better)
    return ordered[0]


def _number(value: Fraction | None) -> str:
    return "no figure" if value is None else f"{float(value):.2f}".rstrip("0").rstrip(".")


def _figure(value: Fraction | None) -> str:
    return "no bound" if value is None else f"{float(value):.2f}"


def _per_cent(share: Fraction) -> str:
    return f"{float(share * 100):.0f} %"


def days_of(result: Result) -> list[dict[int, int]]:
    """What each day of a place weighs in its maturity (R28): its spend, or its touches where nothing was spent."""
    spend, touches = _by_day(result, result.spend_place, True), _by_day(result, result.touch_place, False)
    return [s if sum(s.values()) > 0 else t for s, t in zip(spend, touches, strict=True)]


def days_of_all(result: Result) -> dict[int, int]:
    """The same for everything that a report shows."""
    spend = np.where(result.spend_rows & result.kept_spend, 0, NOWHERE)
    touches = result.touch_in_range if result.kept is None else result.touch_in_range & result.kept.touches
    (by_spend,) = _by_day(result, spend, True, 1)
    (by_touch,) = _by_day(result, np.where(touches, 0, NOWHERE), False, 1)
    return by_spend if sum(by_spend.values()) > 0 else by_touch


def _by_day(result: Result, place: Ints, is_spend: bool, size: int | None = None) -> list[dict[int, int]]:
    prepared = result.prepared
    days = prepared.spend.ints("day") if is_spend else prepared.touches.day
    rows = np.flatnonzero(place != NOWHERE)
    weights = prepared.costs.cost[rows] if is_spend else np.ones(len(rows), np.int64)
    found, _ = tally(np.stack([place[rows], days[rows]]), [(None, weights)])
    out: list[dict[int, int]] = [{} for _ in range(len(result.places) if size is None else size)]
    for at, day, weight in zip(*found.keys.tolist(), found.exact(0), strict=True):
        out[at][day] = weight
    return out
