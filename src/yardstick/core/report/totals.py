"""The totals of a report under two names (R23): *ads only*, and *blended* (everything that was counted)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ..base.axis_numbers import LEFT, NOWHERE
from ..base.columns import Flags, Ints, total
from ..credit.credit import WHOLE
from ..rules.registry import by_states
from .counted import is_sale
from .figures import Figures, Sums, figures
from .ledger import BOUNCES, CLICK_TOUCHES, EVENLY, TOUCHES
from .part import paid_campaigns
from .removals import ads_credit
from .report import alone_of, credit_sums, is_other_cost, with_conversions
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
    """Everything a report shows, to be traced."""
    empty, kept = result.trails.lengths == 0, result.kept
    if kept is None:
        return Shown(np.ones(len(result.trails.touch), np.bool_), result.touch_in_range, result.spend_rows, empty)
    touches = result.touch_in_range & kept.touches
    return Shown(kept.elements, touches, result.spend_rows & result.kept_spend, empty & kept.trails)


def ads_in(result: Result) -> Shown:
    """What a report shows of campaigns whose spend in the range is other than 0, with all spend it shows (R23)."""
    shown = shown_in(result)
    touches = shown.touches & of_ads(result, np.arange(result.prepared.touches.count))
    none = np.zeros(len(shown.empty), np.bool_)
    return Shown(shown.elements & of_ads(result, result.trails.touch), touches, shown.spend, none)


def of_ads(result: Result, touch: Ints) -> Flags:
    """(n,) bool: which of some touches, by number, are of campaigns whose spend in the range is other than 0."""
    paid = paid_campaigns(result.prepared, result.spend_rows)
    return np.asarray(paid[result.prepared.touches.fields["campaign"].codes[touch]])


def totals(result: Result, ads_only: bool) -> Mapping[str, tuple[Sums, Figures]]:
    """Sums and their ratios by yardstick: ratios of sums, never means of ratios (R23).

    Parameters
    ----------
    result : what was weighed
    ads_only : add up what touches of campaigns with spend got, or everything that was counted
    """
    prepared, ledger = result.prepared, result.ledger
    shown = (ledger.credit.keys[0] != LEFT) & ((ledger.paid == 1) | (not ads_only))
    touched = (ledger.touches.keys[0] != LEFT) & ((ledger.touches.keys[-1] == 1) | (not ads_only))
    spend = result.spend_rows & result.kept_spend
    claimed = prepared.costs.claimed_conversions
    alone = None if ads_only else alone_of(ledger, True)
    fixed = Sums(
        touches=ledger.touches.total(TOUCHES, touched),
        click_touches=ledger.touches.total(CLICK_TOUCHES, touched),
        bounces=ledger.touches.total(BOUNCES, touched),
        spend=total(prepared.costs.cost[spend]),
        ad_cost=total(prepared.costs.cost[spend & ~is_other_cost(prepared)]),
        impressions=total(prepared.costs.impressions[spend]),
        clicks=total(prepared.costs.clicks[spend]),
        claimed_conversions=claimed.sum_of(spend),
        claimed_value=total(prepared.costs.claimed_value[spend]),
    )
    out = {}
    for name in ledger.yardsticks:
        credited = _ads_of_states(result, name) if ads_only else None
        sums = with_conversions(fixed, credited or credit_sums(ledger, name, np.where(shown, 0, -1), 1)[0])
        sums = with_conversions(sums, alone) if alone else sums
        out[name] = (sums, figures(sums, result.plan.reporting.margin, result.plan.money.minor_digits))
    return out


def _ads_of_states(result: Result, name: str) -> Sums | None:
    """What the ads alone earned under a yardstick that credits states: shared inside a state by the filters, then by
    campaign alone, whatever is shown (R23); None under any other."""
    yardstick = next(y for y in result.plan.crediting.yardsticks if y.name == name)
    if not by_states(yardstick):
        return None
    ledger = ads_credit(result.ledger, result.prepared, yardstick, len(result.where))
    mine = (ledger.credit.keys[0] != LEFT) & (ledger.paid == 1)
    return credit_sums(ledger, name, np.where(mine, 0, -1), 1)[0]


@dataclass(frozen=True)
class Evenly:
    """What linear credits, whichever yardsticks a report shows; where it is too little, nothing is judged (R25)."""

    sales: Fraction = Fraction(0)
    leads: Fraction = Fraction(0)


def linear_counts(result: Result, ads_only: bool = False) -> dict[tuple[str, tuple[str, ...]], Evenly]:
    """What linear credits each place of a report with, by (bucket, values); perhaps the ads alone."""
    ledger, size = result.ledger, len(result.places)
    left_out = (result.credit_place == NOWHERE) | ((ledger.paid != 1) & ads_only)
    cell = np.where(left_out, NOWHERE, result.credit_place * 2 + ~is_sale(ledger.kind))
    counts = [Fraction(parts, int(WHOLE)) for parts in ledger.credit.sums(EVENLY, cell, size * 2)]
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
    ledger, size = result.ledger, len(result.places)
    mine = (ledger.credit.keys[0] != LEFT) & (ledger.paid == 1)
    place = np.where(mine, result.credit_place, NOWHERE)
    out: dict[tuple[str, tuple[str, ...]], dict[str, Ads]] = {(p.bucket, p.shown): {} for p in result.places}
    for name in ledger.yardsticks:
        earned = credit_sums(ledger, name, place, size)
        for one, sums in zip(result.places, earned, strict=True):
            out[one.bucket, one.shown][name] = Ads(sums.value, sums.leads)
    return out
