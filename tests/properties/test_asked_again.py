"""What is kept of one question for the next one on the same rows changes no figure."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from ledgers import same_bytes
from worlds import choices, into_core, worlds
from yardstick.core.base import machine_code
from yardstick.core.credit import summing
from yardstick.core.plan.campaign_records import Rename
from yardstick.core.plan.costing_phase import ClickPrice, Costing, Money, OtherCost, Platform
from yardstick.core.plan.counting_phase import Trailing
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Reading, RecordState, Separation
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.filters import read_filter
from yardstick.core.report.prepared_data import prepare_data
from yardstick.core.report.read_rows import read_rows
from yardstick.core.report.weigh import weigh
from yardstick.formats.results.csv_out import credit_rows, report_rows

FIELDS = [Breakdown.read(by) for by in ("campaign", "channel", "goal", "day,campaign", "campaign,product")]
FILTERS = [(), ("source is quorrin",), ("product is Boat",)]
CHANGES = [{}, {"direct": "yield"}, {"views": "yield"}, {"report_to": None}]
"""What of a plan changes trails and leaves everything that was read."""
questions = st.tuples(st.sampled_from(FIELDS), st.sampled_from(FILTERS), st.sampled_from(CHANGES))


@examples(30)
@given(worlds(), choices(), st.lists(questions, min_size=2, max_size=5), st.booleans())
def test_one_question_after_another_gives_what_each_gives_alone(world, both, asked, compiled):
    tables, plan = into_core(world), both[1]
    with pytest.MonkeyPatch.context() as patch:
        fewest = 0 if compiled else 2**60
        patch.setattr(summing, "FEWEST", fewest)
        patch.setattr(machine_code, "FEWEST", fewest)
        patch.setattr(summing, "COMPILED_FROM", 0)
        prepared = weigh(tables, plan).prepared
        last = None
        for by, filters, changes in asked:
            mine, where = plan.having(**changes), tuple(map(read_filter, filters))
            again, alone = weigh(tables, mine, by, where=where, prepared=prepared), weigh(tables, mine, by, where=where)
            # Else nothing was kept, and this proves nothing.
            assert last is None or last[0] != changes or again.whole is last[1]
            last = changes, again.whole
            assert same_bytes(again.ledger, alone.ledger)
            assert list(report_rows(again)) == list(report_rows(alone))
            assert list(credit_rows(again)) == list(credit_rows(alone))


COSTS = [
    {},
    {"other_costs": (OtherCost(date(2026, 4, 3), date(2026, 4, 6), "Whale", "fee", Decimal("10.01")),)},
    {"other_costs": (OtherCost(date(2026, 4, 4), date(2026, 4, 4), "Nobody knows it", "fee", Decimal(7)),)},
    {"click_prices": (ClickPrice("Card", Decimal("0.35")),), "other_costs": ()},
    {"platforms": (Platform("Quorrin", source="ostrel", medium="cpc"),)},
]
"""What a change of costs may say: more for a campaign that is there, for one that is not, per click, of a platform."""


@examples(30)
@given(worlds(), choices(), st.lists(st.tuples(st.sampled_from(COSTS), questions), min_size=2, max_size=5))
def test_a_change_of_costs_begins_after_what_was_read_and_gives_what_it_gives_alone(world, both, asked):
    tables, plan = into_core(world), both[1]
    rows = read_rows(tables, plan.reading, plan.trailing, plan.money)
    for costs, (by, filters, changes) in asked:
        mine, where = plan.having(**costs, **changes), tuple(map(read_filter, filters))
        # Where a platform is read anew, channels may be: what was read is kept for costs alone.
        kept = rows if mine.reading == plan.reading else None
        again = weigh(tables, mine, by, where=where, prepared=prepare_data(tables, *_phases(mine), kept))
        alone = weigh(tables, mine, by, where=where)
        assert same_bytes(again.ledger, alone.ledger)
        for rows_of in (report_rows, credit_rows):
            assert list(rows_of(again)) == list(rows_of(alone))
        assert (again.findings, again.rejected) == (alone.findings, alone.rejected)
        assert again.touch_place.tolist() == alone.touch_place.tolist()


READ = [
    {},
    {"renames": (Rename("campaign", "Whale", "Card"),)},
    {"session_gap_minutes": Decimal(0)},
    {"fold": False},
    {"click_marks": ()},
    {"tag_parameters": ("size",)},
    {"slot_pairs": (("W", "e"),)},
    {"identifier_limit": 1},
    {"test_parameter": "size"},
    {"home_currency": "EUR"},
    {"records": (RecordState("visits", "v0", "quarantined"),)},
    {"separations": (Separation("visitor_id:p", "email:a@x.example"),)},
    {"separations": (Separation("visitor_id:p", "email:a@x.example", date(2026, 4, 4)),), "time_zone": "Asia/Tokyo"},
]
"""What a change of how rows are read may say: of names, of touches, of people, of what is a test."""


@examples(30)
@given(worlds(), choices(), st.lists(st.sampled_from(READ), min_size=2, max_size=6))
def test_rows_read_again_after_another_reading_are_what_they_are_read_alone(world, both, changes):
    tables, plan = into_core(world), both[1]
    before = None
    for change in changes:
        mine = plan.having(**change)
        before = read_rows(tables, mine.reading, mine.trailing, mine.money, before)
        again = weigh(tables, mine, prepared=prepare_data(tables, *_phases(mine), before))
        alone = weigh(tables, mine)
        assert same_bytes(again.ledger, alone.ledger)
        assert list(credit_rows(again)) == list(credit_rows(alone))
        assert (again.findings, again.rejected) == (alone.findings, alone.rejected)


def test_another_name_finds_no_people_anew():
    """Else what is kept of people is kept for nobody."""
    visit = {"visit_id": "v", "occurred_at": "2026-04-03T12:00:00Z", "visitor_id": "p", "url": "/?utm_campaign=Whale"}
    tables, plan = into_core({"visits": [visit]}), plan_of()
    first = read_rows(tables, plan.reading, plan.trailing, plan.money)
    renamed = plan.having(renames=(Rename("campaign", "Whale", "Card"),))
    second = read_rows(tables, renamed.reading, renamed.trailing, renamed.money, first)
    assert second.known.people is first.known.people
    assert second.known.touches is first.known.touches
    tested = plan.having(records=(RecordState("visits", "v", "quarantined"),))
    assert (
        read_rows(tables, tested.reading, tested.trailing, tested.money, first).known.people is not first.known.people
    )


def _phases(plan) -> tuple[Reading, Trailing, Costing, Money]:
    return plan.reading, plan.trailing, plan.costing, plan.money
