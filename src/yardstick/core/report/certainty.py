"""Certainty (R24): 90 % intervals by a Poisson bootstrap over people, the same to the last digit on every machine."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal, localcontext
from fractions import Fraction
from functools import cache
from typing import Any

import numpy as np
import numpy.typing as npt

from ..base.axis_numbers import NOWHERE
from ..base.columns import Flags, Ints
from ..base.distinct import distinct_columns
from ..base.tally import LIMB, Tally, merged
from ..trails.buckets import BUCKETS
from .breakdown import NAMED
from .counted import is_sale
from .totals import of_ads
from .weigh import Result

REPLICATES = 400
FIGURES = ("conversions", "leads", "cost_per_lead", "roas")
"""What has an interval. Without a place in the bootstrap are the spend, which is known, and `removal`."""
PARTS_BITS = 20
"""Credits are added up in parts of 2^-20 here."""
MONEY_BITS = 26
_CHUNK = 256
_LOW, _HIGH = Fraction(5, 100), Fraction(95, 100)
_EXACT_BELOW = 2**53


@dataclass(frozen=True)
class Interval:
    """A figure with its 90 % interval; None = no figure, of a bound also where it is infinite. Ratios are in units of
    the home currency."""

    point: Fraction | None
    low: Fraction | None
    high: Fraction | None


@cache
def replicate_weights() -> Ints:
    """(400, 2048) int64: how often each bucket of people is drawn in each replicate, Poisson(1) by inversion (R24).

    References
    ----------
    J. A. Hanley, B. MacGibbon, "Creating non-parametric bootstrap samples using Poisson frequencies", 2006.
    """
    draws = np.random.PCG64(1).random_raw(REPLICATES * BUCKETS)
    weights = np.searchsorted(_thresholds(), draws, side="right").astype(np.int64)
    return weights.reshape(REPLICATES, BUCKETS)


def _thresholds() -> npt.NDArray[np.uint64]:
    """P(X <= k) of Poisson(1) in whole parts of 2^64, for k = 0, 1, ... as long as they are below 1."""
    with localcontext() as context:
        context.prec = 60
        term = Decimal(-1).exp()
        so_far, out = Decimal(0), []
        for k in range(64):
            so_far += term
            whole = int((so_far * 2**64).to_integral_value("ROUND_HALF_EVEN"))
            if whole >= 2**64:
                break
            out.append(whole)
            term /= k + 1
    return np.array(out, np.uint64)


def spread(result: Result, places: Sequence[int], ads_only: bool = False) -> Tally:
    """What some rows of a report are credited with, by bucket of people.

    Parameters
    ----------
    result : a weighing
    places : numbers of its places
    ads_only : only what touches of campaigns with spend are credited with (R23)

    Returns
    -------
    keys (number in `places`, bucket); by yardstick parts of sales, parts of leads, minor units in turn. Tallies of
    parts of the people add up to that of all.
    """
    number = np.full(len(result.places) + 1, NOWHERE, np.int64)
    number[list(places)] = np.arange(len(places))
    of_element = number[result.element_place]
    wanted = of_element != NOWHERE
    mine = np.flatnonzero(wanted & of_ads(result, result.laid.touch) if ads_only else wanted)
    owner = result.laid.owner()[mine]
    sale = is_sale(result.counted.kind[result.trails.conversion]).astype(np.int64)
    keys, which = distinct_columns(np.stack([of_element[mine], _buckets(result, owner)[owner], sale[owner]]))
    cell = np.full(len(of_element), NOWHERE, np.int64)
    cell[mine] = which
    # Parts of sales and of leads stand under keys of their own; minor units of both are added up.
    is_sold = keys[2] == 1
    halves: tuple[list[Ints], list[Ints]] = ([], [])
    for found in result.laid_shares.summed_by_all(cell, keys.shape[1]):
        for half, (part, worth) in zip(halves, found, strict=True):
            half += [np.where(is_sold, part, 0), np.where(is_sold, 0, part), worth]
    none = np.zeros((0, keys.shape[1]), np.int64)
    high, low = (np.stack(half) if half else none for half in halves)
    return merged([Tally(keys[:2, some], high[:, some], low[:, some]) for some in (is_sold, ~is_sold)])


def _buckets(result: Result, owner: Ints) -> Ints:
    """(n_trails,) int64: the bucket of the person of each trail that is asked for, else 0."""
    conversions, known_by = result.prepared.conversions, result.prepared.known_by
    out = np.zeros(len(result.trails.conversion), np.int64)
    asked = np.flatnonzero(np.bincount(owner, minlength=len(out)))
    of_person: dict[int, int] = {}
    rows = result.trails.conversion[asked]
    for trail, row, person in zip(asked.tolist(), rows.tolist(), conversions.person[rows].tolist(), strict=True):
        if person not in of_person:
            table = "leads" if conversions.is_lead_row[row] else "conversions"
            of_person[person] = known_by.bucket(person, table, conversions.id[row])
        out[trail] = of_person[person]
    return out


Redraws = dict[tuple[str, int], tuple[npt.NDArray[Any], npt.NDArray[Any]]]
"""By yardstick and number of the place (400,) minor units of value, and (400,) parts of 2^-20 of leads."""


def intervals_and_redraws(
    result: Result, ads_only: bool = False
) -> tuple[dict[tuple[str, int], dict[str, Interval]], Redraws]:
    """The intervals of all named rows with spend, and of the panel's yardsticks the replicates they were made of.

    With `ads_only` both are of what the ads alone earned, and an interval has no point.
    """
    spend = spend_of(result)
    places = [i for i, place in enumerate(result.places) if place.bucket == NAMED and spend[i] > 0]
    points = {(row.yardstick, row.by): row for row in result.rows if row.bucket == NAMED}
    out = {}
    redraws: Redraws = {}
    panel = set(result.plan.panel)
    by_bucket = spread(result, places, ads_only)
    for begin in range(0, len(places), _CHUNK):
        some = range(begin, min(begin + _CHUNK, len(places)))
        for y, name in enumerate(result.shares):
            drawn = [_replicates(by_bucket, 3 * y + k, some, k < 2) for k in range(3)]
            if name in panel:
                redraws |= {(name, places[at]): (drawn[2][:, c], drawn[1][:, c]) for c, at in enumerate(some)}
            sales, leads, value = (_sorted(one) for one in drawn)
            for column, at in enumerate(some):
                place = result.places[places[at]]
                cost = Fraction(spend[places[at]], 10**result.plan.money.minor_digits)
                row = points[name, place.shown]
                ranges = {
                    "conversions": _bounds(sales[:, column], Fraction(1, 2**PARTS_BITS)),
                    "leads": _bounds(leads[:, column], Fraction(1, 2**PARTS_BITS)),
                    "cost_per_lead": _inverse_bounds(leads[:, column], cost * 2**PARTS_BITS),
                    "roas": _bounds(value[:, column], Fraction(1, spend[places[at]])),
                }
                point = {
                    "conversions": row.sums.conversions,
                    "leads": row.sums.leads,
                    "cost_per_lead": row.figures.cost_per_lead,
                    "roas": row.figures.roas,
                }
                out[name, places[at]] = {f: Interval(None if ads_only else point[f], *ranges[f]) for f in FIGURES}
    return out, redraws


def spend_of(result: Result) -> list[int]:
    """Minor units spent in each place of a result."""
    rows = np.flatnonzero(result.spend_place != NOWHERE)
    out = [0] * len(result.places)
    costs = result.prepared.costs.cost[rows].tolist()
    for place, cost in zip(result.spend_place[rows].tolist(), costs, strict=True):
        out[place] += cost
    return out


def _replicates(by_bucket: Tally, amount: int, places: range, is_credit: bool) -> npt.NDArray[Any]:
    """(400, places) whole numbers: parts of 2^-20 conversions or minor units of each replicate."""
    here: Flags = (by_bucket.keys[0] >= places.start) & (by_bucket.keys[0] < places.stop)
    row, bucket = by_bucket.keys[0][here] - places.start, by_bucket.keys[1][here]
    high, low = by_bucket.high[amount][here], by_bucket.low[amount][here]
    limb = np.int64(2**MONEY_BITS - 1)
    if is_credit:
        # Rounded to parts of 2^-20, half up; the lower half of a sum is too small to turn it.
        limbs = [(high + (1 << (LIMB - PARTS_BITS - 1))) >> (LIMB - PARTS_BITS)]
    else:
        rest = (high << (LIMB - MONEY_BITS)) | (low >> MONEY_BITS)
        limbs = [low & limb, rest & limb, rest >> MONEY_BITS]
    weights = replicate_weights()
    sums = []
    for some in limbs:
        table = np.zeros((BUCKETS, len(places)), np.int64)
        table[bucket, row] = some
        sums.append(_product(weights, table))
    if len(sums) == 1:
        return sums[0]
    if not sums[2].any() and int(sums[1].max(initial=0)) < 2**36:
        return np.asarray(sums[0] + (sums[1] << MONEY_BITS))
    wide = [s.astype(object) for s in sums]
    return np.asarray(wide[0] + wide[1] * 2**MONEY_BITS + wide[2] * 4**MONEY_BITS)


def _product(weights: Ints, table: Ints) -> Ints:
    """weights @ table, exactly: in floats where these hold every sum whole, which is many times faster."""
    if not table.size or int(weights.max()) * int(table.sum(axis=0).max()) < _EXACT_BELOW:
        return (weights.astype(np.float64) @ table.astype(np.float64)).astype(np.int64)
    return weights @ table


def _sorted(replicates: npt.NDArray[Any]) -> npt.NDArray[Any]:
    """Each column from the smallest to the largest."""
    return np.sort(replicates, axis=0)


def _bounds(ordered: npt.NDArray[Any], unit: Fraction) -> tuple[Fraction, Fraction]:
    return _percentile(ordered, _LOW) * unit, _percentile(ordered, _HIGH) * unit


def _percentile(ordered: npt.NDArray[Any], share: Fraction) -> Fraction:
    """With linear interpolation between neighbours."""
    at = share * (len(ordered) - 1)
    below = at.numerator // at.denominator
    one, two = Fraction(int(ordered[below])), Fraction(int(ordered[below + 1]))
    return one + (at - below) * (two - one)


def _inverse_bounds(ordered: npt.NDArray[Any], cost: Fraction) -> tuple[Fraction | None, Fraction | None]:
    """Bounds of cost / replicate, where nothing to divide by counts as +infinity; an infinite bound is none."""
    out: list[Fraction | None] = []
    for share in (_LOW, _HIGH):
        at = share * (len(ordered) - 1)
        below = at.numerator // at.denominator
        # The more there is to divide by, the less the cost: from the largest down.
        one, two = int(ordered[-1 - below]), int(ordered[-2 - below])
        out.append(None if not two else cost / one + (at - below) * (cost / two - cost / one))
    return out[0], out[1]
