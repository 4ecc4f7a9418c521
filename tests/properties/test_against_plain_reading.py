"""The core holds against a plain reading of the rules on random small worlds, and keeps its invariants."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plain_reading import fold, squeeze, weigh_plainly
from worlds import choices, into_core, worlds
from yardstick.core.summary import tie_line
from yardstick.core.weigh import weigh

BREAKDOWNS = [
    ("campaign",),
    ("channel",),
    ("source",),
    ("medium",),
    ("goal",),
    ("day",),
    ("campaign", "channel"),
    ("day", "campaign"),
    ("medium", "goal"),
    ("group",),
    ("keyword",),
    ("ad", "campaign"),
]


def core_rows(result, plain):
    same = fold if plain["fold"] else squeeze
    clean = [fold if f == "channel" else (str if f in ("goal", "day") else same) for f in result.by]
    out = {}
    for row in result.rows:
        key = (row.yardstick, row.bucket, tuple(c(v) for c, v in zip(clean, row.by, strict=True)))
        assert key not in out, "a row stands twice"
        out[key] = row.sums
    return out


@given(worlds(), choices(), st.sampled_from(BREAKDOWNS))
def test_every_figure_is_that_of_the_plain_reading(world, both, by):
    plain, chosen = both
    result = weigh(into_core(world), chosen, by)
    wanted, credits = weigh_plainly(world, plain, by)
    got = core_rows(result, plain)
    assert set(got) == set(wanted)
    for key, row in wanted.items():
        sums = got[key]
        for name in ("leads", "good_leads", "conversions"):
            assert getattr(sums, name) == pytest.approx(float(row[name]), abs=1e-9), (key, name)
        assert sums.value == row["value"], key
        if sums.touches is not None:
            assert sums.touches == row["touches"], key
        assert (sums.spend or 0) == row["spend"], key
        assert (sums.clicks or 0) == row["clicks"], key
    assert core_credits(result) == {k: [(v, float(x), u) for v, x, u in c] for k, c in credits.items()}


def core_credits(result):
    ground, trails = result.ground, result.trails
    ids = ground.tables.visits.text("visit_id")
    out = {}
    for name, share in result.shares.items():
        for i, conversion in enumerate(trails.conversion.tolist()):
            line = []
            for e in range(trails.offsets[i], trails.offsets[i + 1]):
                if share.divisors[e]:
                    touch = trails.touch[e]
                    visit = ids[ground.touches.visit[touch]] if touch < ground.touches.count else ""
                    line.append((visit, float(1 / share.divisors[e]), int(share.value[e])))
            if line:
                table = "leads" if ground.conversions.is_lead_row[conversion] else "conversions"
                out[name, table, ground.conversions.id[conversion]] = line
    return out


@given(worlds(), choices(), st.sampled_from(BREAKDOWNS))
def test_credits_and_no_trail_are_all_counted_conversions_to_the_cent(world, both, by):
    _, chosen = both
    result = weigh(into_core(world), chosen, by)
    ties = tie_line(result)
    for yardstick in chosen.yardsticks:
        rows = [r for r in result.rows if r.yardstick == yardstick.name]
        assert sum(r.sums.value for r in rows) == ties.booked.value
        assert sum(r.sums.leads for r in rows) == pytest.approx(ties.booked.leads, abs=1e-9)
        assert sum(r.sums.conversions for r in rows) == pytest.approx(ties.booked.conversions, abs=1e-9)
        assert ties.named[yardstick.name] + ties.untagged[yardstick.name] + ties.no_trail.value == ties.booked.value
        assert sum(r.sums.spend or 0 for r in rows) == ties.invoiced
    assert ties.matched + ties.unmatched == ties.invoiced


@given(worlds(), choices(), st.randoms(use_true_random=False))
def test_the_order_of_rows_does_not_matter(world, both, chance: random.Random):
    _, chosen = both
    shuffled = {
        name: chance.sample(rows, len(rows)) if name in ("visits", "leads", "conversions") else rows
        for name, rows in world.items()
    }
    one, two = (weigh(into_core(w), chosen) for w in (world, shuffled))
    assert one.rows == two.rows
    assert core_credits(one) == core_credits(two)


@given(worlds(), choices())
def test_people_can_be_weighed_apart_and_merged(world, both):
    """Split the people into two parts, weigh each, add up: the same sums (R27's ground: a trail is one person's own)."""
    _, chosen = both
    tables = into_core(world)
    whole = weigh(tables, chosen)
    ground = whole.ground
    person_of_visit = {}
    for touch, visit in enumerate(ground.touches.visit.tolist()):
        person_of_visit[visit] = int(ground.touches.person[touch])
    from yardstick.core.credit import exact_sums

    owner = whole.trails.owner()
    conversion_person = ground.conversions.person[whole.trails.conversion]
    for share in whole.shares.values():
        parts = []
        for half in (0, 1):
            mine = (conversion_person % 2 == half)[owner]
            parts.append(
                exact_sums(whole.element_place[mine], share.value[mine], len(whole.places)) if mine.any() else 0
            )
        together = exact_sums(
            whole.element_place[whole.element_place >= 0], share.value[whole.element_place >= 0], len(whole.places)
        )
        assert ((parts[0] + parts[1]) == together).all()
