"""However the people are cut into parts, the ledger of all parts is the same, number by number, and so is the report."""

from __future__ import annotations

import random
from dataclasses import replace
from decimal import Decimal

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from ledgers import same_bytes
from worlds import choices, into_core, worlds
from yardstick.core.plan.costing_phase import ClickPrice
from yardstick.core.report.breakdown import BY_CAMPAIGN, Breakdown
from yardstick.core.report.filters import read_filter
from yardstick.core.report.ledger import merge
from yardstick.core.report.part import PartQuestion, weigh_part
from yardstick.core.report.weigh import complete, learn, report, weigh
from yardstick.formats.results.csv_out import credit_rows, report_rows

BREAKDOWNS = [
    Breakdown.read(by)
    for by in (
        "campaign",
        "channel",
        "goal",
        "day,campaign",
        "source,medium",
        "campaign,product",
    )
]
FILTERS = [
    (),
    ("source is quorrin",),
    ("customer is new",),
    ("goal is not lead", "campaign is not empty"),
    ("product is Boat",),
]


@examples(30)
@given(
    worlds(),
    choices(),
    st.sampled_from(BREAKDOWNS),
    st.sampled_from(FILTERS),
    st.integers(1, 6),
    st.randoms(use_true_random=False),
)
def test_any_cutting_of_the_people_gives_the_same_bytes(world, both, by, filters, number, chance: random.Random):
    """Priced clicks, captured sets and goals that count once a touch are in these worlds."""
    _, plan = both
    plan = plan.having(click_prices=(ClickPrice("Whale", Decimal("0.35")), ClickPrice("pier", Decimal("0.07"))))
    where = tuple(map(read_filter, filters))
    tables = into_core(world)
    whole = weigh(tables, plan, by, where=where)
    glossary, question = learn(tables, plan), PartQuestion(by, where)
    whose = np.array([chance.randrange(number) for _ in range(_people(glossary.prepared))], np.int64)
    parts = [weigh_part(glossary, plan, question, whose == i) for i in range(number)]
    chance.shuffle(parts)
    ledger = merge([part.ledger for part in parts])
    everyone = weigh_part(glossary, plan, question)
    assert same_bytes(ledger, everyone.ledger)
    # Two by two in another order, too.
    halves = [merge([part.ledger for part in some]) for some in (parts[::2], parts[1::2]) if some]
    assert same_bytes(merge(halves[::-1]), everyone.ledger)
    found = report(complete(ledger, glossary, plan, question), glossary, plan, question, parts[0])
    assert list(report_rows(replace(whole, rows=found.rows()))) == list(report_rows(whole))
    lines = [line for part in parts for line in credit_rows(replace(whole, trails=part.trails, shares=part.shares))]
    assert sorted(lines) == sorted(credit_rows(whole))


def _people(prepared):
    return 1 + int(max(prepared.touches.person.max(initial=-1), prepared.conversions.person.max(initial=-1)))


@given(worlds(), choices())
def test_two_ledgers_of_other_people_differ(world, both):
    """The comparison can fail: without somebody who has a touch the ledger is another."""
    _, plan = both
    tables = into_core(world)
    glossary, question = learn(tables, plan), PartQuestion(BY_CAMPAIGN)
    everyone = weigh_part(glossary, plan, question)
    if not len(everyone.touch):
        return
    one = glossary.prepared.touches.person[everyone.touch[0]]
    people = np.ones(_people(glossary.prepared), np.bool_)
    people[one] = False
    assert not same_bytes(weigh_part(glossary, plan, question, people).ledger, everyone.ledger)
