"""The trace: what a figure is made of, down to the line of the file each row came from. What it lists adds up to it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..base.columns import total
from ..credit.shares import Shares
from ..trails.trails import Trails
from .breakdown import LEFT_OUT, NO_TRAIL, UNTAGGED
from .summary import quarantined_in_range
from .totals import Shown, ads_in, shown_in
from .trace_figures import CREDIT_ALONE, CREDIT_FIGURES, EVERYTHING, FIGURES, OF_TOUCHES, RATIOS, SPEND_FIGURES
from .trace_lists import Picked, conversion_of, conversions_in, described, openings_of, spend_of, touch_of
from .trace_states import OfRow, of_part, of_place, of_totals, removing, trace_states
from .traced import Trace
from .weigh import Result

TOTAL, ADS_ONLY = "total", "ads_only"
PARTS = (
    *("booked", "named", "untagged", "no_value", "no_trail", "outside"),
    *("invoiced", "matched", "unmatched", "quarantined"),
)
"""Parts of the tie line that open."""


class NoSuchFigure(ValueError):
    """The figure asked for is not in the result; the text says what is."""


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
        return _trace(result, shares, Picked(empty_trails=alone), figure, first, limit)
    place = next((i for i, p in enumerate(result.places) if (p.bucket, p.shown) == (bucket, values)), None)
    if place is None:
        raise NoSuchFigure(f"there is no row {bucket} {', '.join(values)} in this report: its data may have changed")
    picked = Picked(
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
        return _trace(result, shares, Picked(spend=spend), "spend", first, limit)
    if part == "no_trail":
        return _trace(result, shares, Picked(empty_trails=empty), EVERYTHING, first, limit)
    if part in ("untagged", "no_value"):
        tagged = result.prepared.touches.tagged[result.trails.touch]
        wanted = (of_element == 0) & (tagged == (part == "no_value"))
        found = _trace(result, shares, Picked(elements=wanted, open_up=part == "untagged"), EVERYTHING, first, limit)
        return _with_states(result, yardstick, found, of_part(part), EVERYTHING)
    if part == "named":
        found = _trace(result, shares, Picked(elements=of_element > 0), EVERYTHING, first, limit)
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
        found = _trace(all_of_it, shares, Picked(elements=picked, empty_trails=alone), EVERYTHING, first, limit)
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


def _picked(shown: Shown) -> Picked:
    return Picked(shown.elements, shown.touches, shown.spend, shown.empty)


def _credit_of(figure: str) -> str:
    """The credit figure that a figure is made of."""
    return (RATIOS | OF_TOUCHES | CREDIT_ALONE).get(figure, figure)


def _trace(result: Result, shares: Shares, picked: Picked, figure: str, first: int, limit: int) -> Trace:
    credit = _credit_of(figure)
    conversions, share, value = conversions_in(result, shares, picked, credit)
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
        conversions=tuple(conversion_of(result, shares, picked, int(i)) for i in page),
        spend_rows=tuple(spend_of(result, int(row)) for row in spend[first : first + limit]),
        touches=tuple(touch_of(result, int(t), True, 0.0, 0) for t in touches[first : first + limit]),
        openings=openings_of(result, shares, picked)
        if picked.open_up and credit in (*CREDIT_FIGURES, EVERYTHING)
        else (),
    )


def _quarantined(result: Result, first: int, limit: int) -> Trace:
    prepared = result.prepared
    _, rows = quarantined_in_range(result)
    value = prepared.conversions.value
    page = rows[first : first + limit].tolist()
    conversions = tuple(described(result, i, 1.0, int(value[i]), ()) for i in page)
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
