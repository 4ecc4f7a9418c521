"""The core holds against a plain reading of the rules on random small worlds, and keeps its invariants."""

from __future__ import annotations

import random
import re
from collections import Counter
from fractions import Fraction
from zlib import crc32

from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from plain_reading import fold, squeeze, weigh_plainly
from worlds import ELSEWHERE, choices, into_core, moved, worlds
from yardstick.core.base.schema import ROW_ID
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.summary import tie_line
from yardstick.core.report.weigh import weigh

BREAKDOWNS = [
    Breakdown.read(by)
    for by in (
        "campaign",
        "channel",
        "source",
        "medium",
        "goal",
        "product",
        "campaign,product",
        "product,channel",
        "customer",
        "customer,product",
        "day",
        "campaign,channel",
        "day,campaign",
        "medium,goal",
        "group",
        "keyword",
        "ad,campaign",
        "extra:size",
        "extra:source",
        "extra:size,source",
    )
]


def core_rows(result, plain):
    same = fold if plain["fold"] else squeeze
    clean = [
        fold if f == "channel" else (str if f in ("goal", "product", "customer", "day") else same) for f in result.by
    ]
    out = {}
    for row in result.rows:
        key = (row.yardstick, row.bucket, tuple(c(v) for c, v in zip(clean, row.by, strict=True)))
        assert key not in out, "a row appears twice"
        out[key] = row.sums
    return out


@st.composite
def somewhere(draw):
    """A world, and settings for it, in one zone or another."""
    elsewhere = draw(st.sampled_from(ELSEWHERE))
    return moved(draw(worlds()), elsewhere[1]), draw(choices(elsewhere))


@given(somewhere(), st.sampled_from(BREAKDOWNS))
def test_every_figure_is_that_of_the_plain_reading(there, by):
    world, (plain, chosen) = there
    result = weigh(into_core(world), chosen, by)
    wanted, credits = weigh_plainly(world, plain, by)
    got = core_rows(result, plain)
    assert set(got) == set(wanted)
    for key, row in wanted.items():
        sums = got[key]
        for name in ("leads", "good_leads", "open_leads", "conversions", "new_customers", "sales_value"):
            assert getattr(sums, name) == row[name], (key, name)
        assert sums.value == row["value"], key
        if sums.touches is not None:
            for name in ("touches", "click_touches", "bounces"):
                assert getattr(sums, name) == row[name], (key, name)
        assert (sums.ad_cost or 0) == row["ad_cost"], key
        assert (sums.spend or 0) == row["spend"], key
        for name in ("clicks", "impressions", "claimed_conversions"):
            assert (getattr(sums, name) or 0) == row[name], (key, name)
        assert (sums.claimed_value or 0) == row["claimed"], key
    assert core_credits(result) == credits


def core_credits(result):
    prepared, trails = result.prepared, result.trails
    ids = prepared.tables.visits.text("visit_id")
    out = {}
    for name, share in result.shares.items():
        for i, conversion in enumerate(trails.conversion.tolist()):
            line = []
            for e in range(trails.offsets[i], trails.offsets[i + 1]):
                if share.parts[e]:
                    touch = trails.touch[e]
                    visit = ids[prepared.touches.visit[touch]] if touch < prepared.touches.count else ""
                    line.append((visit, Fraction(int(share.parts[e]), 2**60), int(share.value[e])))
            if line:
                table = "leads" if prepared.conversions.is_lead_row[conversion] else "conversions"
                out[name, table, prepared.conversions.id[conversion]] = line
    return out


@given(worlds(), choices(), st.sampled_from(BREAKDOWNS))
def test_credits_and_no_trail_are_all_counted_conversions_to_the_cent(world, both, by):
    _, chosen = both
    result = weigh(into_core(world), chosen, by)
    ties = tie_line(result)
    for yardstick in chosen.crediting.yardsticks:
        rows = [r for r in result.rows if r.yardstick == yardstick.name]
        outside = ties.outside[yardstick.name]
        assert sum(r.sums.value for r in rows) + outside == ties.booked.value
        if chosen.reporting.date_basis == "conversion":
            assert outside == 0
            assert sum(r.sums.leads for r in rows) == ties.booked.leads
            assert sum(r.sums.conversions for r in rows) == ties.booked.conversions
        parts = [part[yardstick.name] for part in (ties.named, ties.untagged, ties.no_value, ties.outside)]
        assert sum(parts) + ties.no_trail.value == ties.booked.value
        assert sum(r.sums.spend or 0 for r in rows) == ties.invoiced
    assert ties.matched + ties.unmatched == ties.invoiced


def mixed(rows, ident, chance):
    """Rows in another order, but those of one id in theirs: of them the last that can be accepted stands (R20)."""
    waiting = {}
    for row in rows:
        waiting.setdefault(row[ident].strip(), []).append(row)
    return [waiting[row[ident].strip()].pop(0) for row in chance.sample(rows, len(rows))]


@given(worlds(), choices(), st.randoms(use_true_random=False))
def test_the_order_of_rows_does_not_matter(world, both, chance: random.Random):
    _, chosen = both
    shuffled = {name: mixed(rows, ROW_ID[name], chance) if name in ROW_ID else rows for name, rows in world.items()}
    one, two = (weigh(into_core(w), chosen) for w in (world, shuffled))
    assert one.rows == two.rows
    assert core_credits(one) == core_credits(two)


@examples(15)
@given(worlds(), choices(), st.integers(0, 3))
def test_people_weighed_apart_and_added_up_are_all_people_weighed_together(world, both, salt):
    """Cut the rows between people, weigh each part for itself, add up: the same credit, value and touches.

    Spend, rates and what they say of names belong to no person, so every part gets them all.
    """
    _, chosen = both
    # What would be lost without a state depends on everyone: a ledger can be cut (test_cutting), rows cannot.
    kept = tuple(y for y in chosen.crediting.yardsticks if y.rule != "removal")
    chosen = chosen.having(yardsticks=kept)
    # Nor do people of one deal, who stay different people, fall into one part here.
    world = world | {"deal_contacts": []}
    part_of = _people_apart(world, salt)
    parts = [
        {**world, **{name: [r for r in world[name] if part_of[name, r[key]] == n] for name, key in PERSONS.items()}}
        for n in (0, 1)
    ]
    whole, *apart = (weigh(into_core(w), chosen) for w in (world, *parts))
    same = fold if chosen.reading.fold else squeeze
    added = Counter()
    for result in apart:
        for row in result.rows:
            added.update(_figures(row, same))
    wanted = Counter()
    for row in whole.rows:
        wanted.update(_figures(row, same))
    assert +added == +wanted
    assert core_credits(apart[0]) | core_credits(apart[1]) == core_credits(whole)


PERSONS = {"visits": "visit_id", "leads": "lead_id", "conversions": "conversion_id"}


def _people_apart(world, salt):
    """Which of two parts each row is in; rows that share any identifier, of whatever kind, are in one."""
    boss = {}

    def top(x):
        while boss.get(x, x) != x:
            x = boss[x]
        return x

    for table, key in PERSONS.items():
        for row in world[table]:
            me = (table, row[key])
            marks = [*re.findall("ckid=([^&]*)", row.get("url", "")), row.get("click_id", "")]
            held = [row.get(name, "") for name in ("visitor_id", "email", "lead_id")] + marks
            held.append(re.sub("[^0-9]", "", row.get("phone", "")))
            for text in held:
                if text:
                    boss[top(("id", fold(text)))] = top(me)
    return {
        (table, row[key]): crc32(f"{top((table, row[key]))} {salt}".encode()) % 2
        for table, key in PERSONS.items()
        for row in world[table]
    }


def _figures(row, same):
    place = (row.yardstick, row.bucket if row.bucket in ("untagged", "no_value", "no_trail") else "", same(row.by[0]))
    sums = row.sums
    figures = {"leads": sums.leads, "good": sums.good_leads, "sales": sums.conversions, "value": sums.value}
    return Counter({(place, name): number for name, number in {**figures, "touches": sums.touches or 0}.items()})
