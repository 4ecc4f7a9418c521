"""Intervals, maturity and verdicts hold against the plain reading on random worlds, and do not depend on the cutting."""

from __future__ import annotations

from decimal import Decimal
from fractions import Fraction

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from plain_certainty import (
    come_plainly,
    drawn_plainly,
    flips_plainly,
    intervals_plainly,
    maturity_plainly,
    verdict_plainly,
)
from plain_reading import fold, read_plainly, squeeze
from worlds import choices, into_core, worlds
from yardstick.core.base.day_numbers import day_text
from yardstick.core.plan.counting_phase import Window
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.certainty import spread
from yardstick.core.report.judged import judge_result
from yardstick.core.report.weigh import weigh


@examples(10)
@given(worlds(), choices(), st.sampled_from([Breakdown.read(by) for by in ("campaign", "source", "campaign,medium")]))
def test_intervals_are_those_of_the_plain_reading(world, both, by):
    plain, chosen = both
    tables = into_core(world)
    result = weigh(tables, chosen, by)
    rows, _, known = read_plainly(world, plain, by)
    # Removal has no interval.
    named = [name for name, rule in plain["yardsticks"].items() if not rule.startswith("removal")]
    wanted = intervals_plainly(rows, known, named)
    same = fold if plain["fold"] else squeeze
    got = {}
    for (name, number), figures in judge_result(tables, result).intervals.items():
        values = tuple(map(same, result.places[number].shown))
        for figure, one in figures.items():
            got[name, values, figure] = (one.low, one.high)
    assert got == wanted


@examples(12)
@given(worlds(), choices(), st.integers(0, 3), st.integers(0, 4), st.sampled_from(["0.3", "0.9"]))
def test_maturity_and_verdicts_are_those_of_the_plain_reading(world, both, minimum, least, mature):
    plain, chosen = both
    # Short windows: these worlds have four days, and a touch day has to be older than the longest window.
    plain = plain | dict.fromkeys(("click_days", "view_days", "watch_days"), 1)
    plan = chosen.having(
        window=Window(Decimal(1), Decimal(1), Decimal(1)),
        mature_minimum=minimum,
        verdict_minimum=least,
        mature_share=Decimal(mature),
        target_roas=Decimal(3),
        target_cost_per_lead=Decimal("0.50"),
        panel=("first", "last", "linear", "removal"),
    )
    tables = into_core(world)
    result = weigh(tables, plan)
    judged = judge_result(tables, result)
    rows, _, known = read_plainly(world, plain, ("campaign",))
    wanted = maturity_plainly(known, minimum)
    for kind, one in judged.maturity.items():
        end, share = wanted[kind]
        assert (None if one.end is None else day_text(one.end)) == end
        assert one.known == (share is not None)
        if share is not None:
            assert [one.share(n) for n in range(40)] == [share(n) for n in range(40)]

    panel = list(plan.panel)
    drawing = [name for name in panel if name != "removal"]
    bounds = intervals_plainly(rows, known, drawing)
    drawn = drawn_plainly(rows, known, drawing)
    same = fold if plain["fold"] else squeeze
    evenly = {}
    for conv, ts in known["every"]:
        evenly[id(conv)] = Fraction(1, len(ts)) if ts else None
    linear = next(name for name, rule in plain["yardsticks"].items() if rule == "linear")
    seen = set()
    for verdict in judged.verdicts:
        kind, values = verdict.kind, (same(verdict.shown[0]),)
        bucket = result.places[verdict.place].bucket
        spend = rows[linear, bucket, values]["spend"]
        points, ranges = [], []
        for name in panel:
            row = rows[name, bucket, values]
            leads = row["leads"]
            cost = Fraction(spend, 100) / leads if leads else None
            points.append(Fraction(row["value"], spend) if kind == "sale" else cost)
            figure = "roas" if kind == "sale" else "cost_per_lead"
            ranges.append(bounds.get((name, values, figure), (points[-1], points[-1])))
        days = [(d, w) for d, _, w in known["spend_days"][bucket, values]]
        end, share = wanted[kind]
        come = come_plainly(end, share, days)
        assert verdict.maturity == come
        credited = rows[linear, bucket, values]["conversions" if kind == "sale" else "leads"]
        assert verdict.credited == credited
        even = 1 / Fraction(plan.reporting.margin) if kind == "sale" else Fraction(1, 2)
        target = Fraction(3) if kind == "sale" else Fraction(1, 2)
        word = verdict_plainly(kind, points, ranges, credited, least, even, target, come, Fraction(mature))
        assert verdict.code == word, verdict
        each = Fraction(plan.reporting.margin) if kind == "sale" else Fraction(50)
        what = "value" if kind == "sale" else "leads"
        own = rows[linear, bucket, values]
        flips = flips_plainly(
            kind,
            word,
            panel,
            {name: rows[name, bucket, values][what] * each for name in panel},
            [drawn[name, values][what] for name in drawing if (name, values) in drawn],
            each if kind == "sale" else each / 2**20,
            points,
            [bounds.get((name, values, "roas" if kind == "sale" else "cost_per_lead")) for name in panel],
            even,
            credited,
            (spend, spend - own["ad_cost"], own["clicks"]),
        )
        told = verdict.flips
        assert (told.pays, told.loses, told.under, told.up_to_click, told.needed) == flips, verdict
        seen.add((bucket, values, kind))
    assert seen == {
        (bucket, values, kind)
        for name, bucket, values in rows
        for kind in ("sale", "lead")
        if name == linear and bucket in ("named", "no_touch_spend") and rows[name, bucket, values]["spend"] > 0
    }


@examples(15)
@given(worlds(), choices(), st.sampled_from(["campaign", "product"]))
def test_sums_by_bucket_are_those_of_every_bucket(world, both, by):
    """All buckets together hold what the row says."""
    _, chosen = both
    result = weigh(into_core(world), chosen, Breakdown((by,)))
    named = [i for i, place in enumerate(result.places) if place.bucket == "named"]
    by_bucket = spread(result, named)
    for y, name in enumerate(result.shares):
        for number, place in enumerate(named):
            row = next(r for r in result.rows if (r.yardstick, r.by) == (name, result.places[place].shown))
            here = by_bucket.keys[0] == number
            assert by_bucket.total(3 * y + 2, here) == row.sums.value
            assert Fraction(by_bucket.total(3 * y, here), 2**60) == row.sums.conversions
            assert Fraction(by_bucket.total(3 * y + 1, here), 2**60) == row.sums.leads
    assert np.all(by_bucket.keys[1] < 2048)
