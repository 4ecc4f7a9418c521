"""The totals of a report under two names (R23): *ads only*, and *blended* (everything that was counted)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from ..base.columns import Flags, sums_by, total
from ..base.tables import CLICK
from ..credit.apportioning import apportion_evenly
from ..credit.credit import WHOLE, part_sums
from .figures import Figures, Sums, figures
from .report import KINDS, classes_of, is_other_cost, is_sale, sums_of
from .weigh import Result


@dataclass(frozen=True)
class Shown:
    """What the rows of a report show together, without what its filters leave out.

    Attributes
    ----------
    elements, touches, spend, empty : (k,), (n_touches,), (s,), (c,) bool: trail elements, touches, spend rows,
        conversions without any touch
    """

    elements: Flags
    touches: Flags
    spend: Flags
    empty: Flags


def shown_in(result: Result) -> Shown:
    """Everything a report shows."""
    empty, kept = result.trails.lengths == 0, result.kept
    if kept is None:
        return Shown(np.ones(len(result.trails.touch), np.bool_), result.touch_in_range, result.spend_rows, empty)
    touches = result.touch_in_range & kept.touches
    return Shown(kept.elements, touches, result.spend_rows & kept.spend, empty & kept.trails)


def ads_in(result: Result) -> Shown:
    """What a report shows of campaigns whose spend in the range is other than 0, with all spend it shows (R23)."""
    ground, shown = result.ground, shown_in(result)
    campaign = ground.touches.fields["campaign"]
    spend = sums_by(ground.spend_campaign[result.spend_rows], ground.costs.cost[result.spend_rows], len(campaign.keys))
    paid = np.array([cost != 0 for cost in spend], np.bool_)
    # Number 0 is the empty value: touches without a campaign are no campaign's.
    paid[0] = False
    of_element = paid[campaign.codes[result.trails.touch]]
    touches = shown.touches & paid[campaign.codes[: ground.touches.count]]
    return Shown(shown.elements & of_element, touches, shown.spend, np.zeros(len(shown.empty), np.bool_))


def totals(result: Result, shown: Shown) -> Mapping[str, tuple[Sums, Figures]]:
    """Sums and their ratios by yardstick: ratios of sums, never means of ratios (R23).

    Parameters
    ----------
    result : what was weighed
    shown : what is to be added up
    """
    ground, trails = result.ground, result.trails
    classes = classes_of(ground, trails, result.traits)
    of_element = np.repeat(classes, trails.lengths)
    alone = sums_of(classes[shown.empty], ground.conversions.value[trails.conversion[shown.empty]])
    claimed = ground.costs.claimed_conversions
    clicks = shown.touches & (ground.touches.kind[: ground.touches.count] == CLICK)
    fixed = Sums(
        touches=int(shown.touches.sum()),
        click_touches=int(clicks.sum()),
        bounces=int((clicks & (ground.touches.visits == 1)).sum()),
        spend=total(ground.costs.cost[shown.spend]),
        ad_cost=total(ground.costs.cost[shown.spend & ~is_other_cost(ground)]),
        impressions=total(ground.costs.impressions[shown.spend]),
        clicks=total(ground.costs.clicks[shown.spend]),
        claimed_conversions=claimed.sum_of(shown.spend),
        claimed_value=total(ground.costs.claimed_value[shown.spend]),
    )
    out = {}
    for name, share in result.shares.items():
        mine = shown.elements[share.element]
        kinds, worth = of_element[share.element[mine]], share.worth[mine]
        sales, leads, good, new, waiting = part_sums(kinds, share.part[mine], KINDS)
        sums = replace(
            fixed,
            leads=leads + good + waiting + alone.leads,
            good_leads=good + alone.good_leads,
            open_leads=waiting + alone.open_leads,
            conversions=sales + new + alone.conversions,
            value=total(worth) + alone.value,
            sales_value=total(worth[is_sale(kinds)]) + alone.sales_value,
            new_customers=new + alone.new_customers,
        )
        out[name] = (sums, figures(sums, result.plan.reporting.margin, result.plan.money.minor_digits))
    return out


@dataclass(frozen=True)
class Evenly:
    """What linear credits, whichever yardsticks a report shows; where it is too little, nothing is judged (R25)."""

    sales: Fraction = Fraction(0)
    leads: Fraction = Fraction(0)


def linear_counts(result: Result) -> dict[tuple[str, tuple[str, ...]], Evenly]:
    """What linear credits each place of a report with, by (bucket, values)."""
    trails, size = result.trails, len(result.places)
    part = apportion_evenly(np.full(len(trails.lengths), WHOLE), trails.offsets)
    placed = np.flatnonzero(result.element_place >= 0)
    kinds = np.repeat(classes_of(result.ground, trails, result.traits), trails.lengths)[placed]
    counts = part_sums(result.element_place[placed] * 2 + ~is_sale(kinds), part[placed], size * 2)
    return {
        (place.bucket, place.shown): Evenly(counts[2 * i], counts[2 * i + 1]) for i, place in enumerate(result.places)
    }


@dataclass(frozen=True)
class Ads:
    """What touches of campaigns with spend earned in one place: minor units, and leads."""

    value: int
    leads: Fraction


def ads_by_place(result: Result) -> dict[tuple[str, tuple[str, ...]], dict[str, Ads]]:
    """By (bucket, values) and yardstick what the ads alone earned (R23): what may be set against their spend in rows by
    anything but the campaign."""
    wanted, size = ads_in(result).elements & (result.element_place >= 0), len(result.places)
    kinds = np.repeat(classes_of(result.ground, result.trails, result.traits), result.trails.lengths)
    out: dict[tuple[str, tuple[str, ...]], dict[str, Ads]] = {(p.bucket, p.shown): {} for p in result.places}
    for name, share in result.shares.items():
        mine = wanted[share.element]
        element, part = share.element[mine], share.part[mine]
        place = result.element_place[element]
        value = sums_by(place, share.worth[mine], size)
        lead = ~is_sale(kinds[element])
        leads = part_sums(place[lead], part[lead], size)
        for i, one in enumerate(result.places):
            out[one.bucket, one.shown][name] = Ads(value[i], leads[i])
    return out
