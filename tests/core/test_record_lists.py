"""Lists of records: what is grouped adds up, what is filtered fits, days are those asked for (R10, R22, R23, R32)."""

from __future__ import annotations

from collections import defaultdict
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from worlds import choices, into_core, worlds
from yardstick.core.base.errors import SettingsError
from yardstick.core.plan.counting_phase import Goal, StatusWord
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, QuarantineRule, RecordState
from yardstick.core.report.capture_agreement import capture_agreements
from yardstick.core.report.consent import consented
from yardstick.core.report.filters import read_filter
from yardstick.core.report.record_fields import NO_SOURCE, RECORD_FIELDS, RecordFields
from yardstick.core.report.record_list import RecordQuestion, list_records, listed, unlisted_words
from yardstick.core.report.record_page import find_record, record_page
from yardstick.core.report.weigh import weigh
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.rows.input_tables import read_file, tables_of

SITE = "https://www.lunnick.example/"
TEXTS = {
    "visits": f"""visit_id,occurred_at,visitor_id,url
v1,2026-01-01T09:00:00Z,p,{SITE}?utm_source=quorrin&utm_campaign=Freight
v2,2026-01-08T09:00:00Z,p,{SITE}?utm_source=ostrel&utm_campaign=Freight
v3,2026-01-09T09:00:00Z,q,{SITE}
""",
    "leads": """lead_id,occurred_at,visitor_id,form,stage,owner,self_reported,last_source,consent,consent_base,consent_at
l1,2026-01-10T09:00:00Z,p,freight,asked,Ines,a poster,ostrel,yes,news,2026-01-10T20:00:00Z
l2,2026-01-11T09:00:00Z,q,group,asked,Bo,,quorrin,no,,2026-02-01T09:00:00Z
l3,2026-02-11T09:00:00Z,,group,asked,Bo,,tarvolin,,,
""",
    "conversions": """conversion_id,occurred_at,visitor_id,goal,total,status,product
o1,2026-01-12T09:00:00Z,p,deal,500.00,open,Freight
o2,2026-02-12T09:00:00Z,p,deal,90.00,lost,Freight
o3,2026-02-13T09:00:00Z,r,deal,10.00,test,
""",
    "order_lines": """conversion_id,line,product,total
o1,2,Meals,100.00
o1,1,Crossing,300.00
o1,3,Crossing,100.00
o3,1,Bike,10.00
""",
    "statuses": """record_id,occurred_at,status,stage,owner,pipeline,value
o1,2026-03-30T23:00:00Z,signed,,Ines,north,750.00
o1,2026-02-01T09:00:00Z,quoted,,Bo,south,
l1,2026-02-20T09:00:00Z,,signed up,,,
""",
}


def plan(**more):
    words = (StatusWord("lost", "does not count"), StatusWord("signed", "good"))
    goals = (Goal("lead", "lead", "every", good_stages=("signed up",)), Goal("deal", "sale", "every"))
    return plan_of(home_currency="AUD", goals=goals, status_words=words, time_zone="Australia/Adelaide", **more)


@pytest.fixture(scope="module")
def fields():
    tables = tables_of([read_file(csv_of(f"{n}.csv", text.encode()), "UTC") for n, text in TEXTS.items()]).tables
    return RecordFields(weigh(tables, plan()))


def by(fields, *names, where=(), **more):
    found = list_records(fields, RecordQuestion(names, tuple(map(read_filter, where)), **more))
    return {group.values if len(names) > 1 else group.values[0]: group.sums.records for group in found.groups}


@pytest.mark.parametrize(
    ("name", "wanted"),
    [
        ("table", {"lead": 3, "order": 3}),
        ("goal", {"lead": 3, "deal": 3}),
        ("counts", {"counts": 4, "word": 1, "test": 1}),
        ("status", {"": 3, "signed": 1, "lost": 1, "test": 1}),
        ("stage", {"": 3, "asked": 2, "signed up": 1}),
        ("owner", {"Ines": 2, "Bo": 2, "": 2}),
        ("pipeline", {"": 5, "north": 1}),
        ("form", {"": 3, "group": 2, "freight": 1}),
        ("reason", {"": 3, "visits": 1, "captured": 1, "direct": 1}),
        ("first_source", {"quorrin": 2, NO_SOURCE: 1, "tarvolin": 1, "": 2}),
        ("latest_source", {"ostrel": 2, NO_SOURCE: 1, "tarvolin": 1, "": 2}),
        ("first_campaign", {"Freight": 2, NO_SOURCE: 2, "": 2}),
        ("captured_source", {"": 3, "ostrel": 1, "quorrin": 1, "tarvolin": 1}),
        ("self_reported", {"": 5, "a poster": 1}),
        ("product", {"": 4, "Freight": 2}),
        ("good", {"": 3, "not good": 2, "good": 1}),
        ("products", {"": 3, "Freight": 1, "Crossing + Meals": 1, "Bike": 1}),
        ("quarantined_by", {"": 5, "by itself": 1}),
        ("consent_day", {"": 4, "2026-01-11": 1, "2026-02-01": 1}),
        ("customer", {"": 5, "new": 1}),
        ("consent", {"": 4, "yes": 1, "no": 1}),
        ("consent_base", {"": 5, "news": 1}),
        ("created_month", {"2026-01": 3, "2026-02": 3}),
        # 23:00 in UTC is the next morning at Adelaide.
        ("won_month", {"": 4, "2026-03": 1, "2026-02": 1}),
    ],
)
def test_records_are_grouped_by_what_they_are_now(fields, name, wanted):
    assert by(fields, name) == wanted


def test_what_quarantines_is_the_first_rule_that_fits_then_a_hand(fields):
    rules = (
        QuarantineRule((Condition("form", "is", ("none",)),)),
        QuarantineRule((Condition("product", "is", ("freight",)),)),
        QuarantineRule((Condition("product", "contains", ("e",)),)),
    )
    states = (RecordState("leads", "l3", "quarantined"), RecordState("conversions", "o2", "counted"))
    given = fields.result.prepared.read.known.given
    with_rules = RecordFields(weigh(given, plan(quarantine=rules, records=states)))
    assert by(with_rules, "quarantined_by") == {"": 3, "by hand": 1, "by itself": 1, "rule 2": 1}
    number = find_record(with_rules.result.prepared, "conversions", "o1")
    assert number is not None
    assert record_page(with_rules.result, number).by == "rule 2"


@pytest.mark.parametrize(
    ("purpose", "who"),
    [("any", ["l1", "o1", "o2"]), ("NEWS", ["l1", "o1", "o2"]), ("calls", [])],
)
def test_those_who_agreed_are_told_by_their_latest_word(fields, purpose, who):
    flags = consented(fields.result, purpose)
    ids = fields.result.prepared.conversions.id.strings()
    assert [name for name, agreed in zip(ids, flags.tolist(), strict=True) if agreed] == who


def test_a_later_no_takes_back_a_yes_and_silence_says_nothing():
    head = "lead_id,occurred_at,visitor_id,consent,consent_at,consent_base\n"
    rows = (
        "a1,2026-01-05T09:00:00Z,a,yes,,news; calls\na2,2026-01-06T09:00:00Z,a,,,\n"
        "b1,2026-01-05T09:00:00Z,b,yes,2026-01-09T09:00:00Z,news\nb2,2026-01-07T09:00:00Z,b,no,,\n"
        "c1,2026-01-05T09:00:00Z,c,true,,news\nc2,2026-01-08T09:00:00Z,c,no,,\n"
        "d1,2026-01-05T09:00:00Z,d,perhaps,,news\n"
    )
    given = tables_of([read_file(csv_of("leads.csv", (head + rows).encode()), "UTC")]).tables
    result = weigh(given, plan())
    ids = result.prepared.conversions.id.strings()
    told = {
        purpose: [name for name, agreed in zip(ids, consented(result, purpose).tolist(), strict=True) if agreed]
        for purpose in ("news", "calls", "any")
    }
    assert told == {"news": ["a1", "a2", "b1", "b2"], "calls": ["a1", "a2"], "any": ["a1", "a2", "b1", "b2"]}


def test_life_is_from_the_month_created_to_the_month_won(fields):
    assert by(fields, "created_month", "won_month", where=["won_month is not empty"]) == {
        ("2026-01", "2026-03"): 1,
        ("2026-01", "2026-02"): 1,
    }


def test_the_day_a_deal_was_won_is_that_of_the_workspace(fields):
    day = date(2026, 3, 31)
    found = list_records(fields, RecordQuestion(day_of="won", first_day=day, last_day=day))
    assert [one.id for one in listed(fields, found.numbers, ())] == ["o1"]
    assert (found.sums.value, found.elsewhere) == (75000, 5)


def test_money_is_that_of_all_and_that_which_counts(fields):
    found = list_records(fields, RecordQuestion(("goal",), tuple(map(read_filter, ["goal is deal"]))))
    (group,) = found.groups
    assert (group.sums.records, group.sums.value, group.sums.counted, group.sums.counted_value) == (3, 85000, 1, 75000)


def test_records_are_listed_the_latest_first_with_what_is_asked(fields):
    found = list_records(fields, RecordQuestion(where=(read_filter("owner is Ines"),)))
    rows = listed(fields, found.numbers, ("stage", "consent"))
    assert [(row.table, row.id, row.line, row.cells) for row in rows] == [
        ("conversions", "o1", 2, {"stage": "", "consent": ""}),
        ("leads", "l1", 2, {"stage": "signed up", "consent": "yes"}),
    ]


def test_words_without_a_meaning_are_told_with_their_money(fields):
    assert unlisted_words(fields) == ()
    without = RecordFields(weigh(fields.result.prepared.read.known.given, plan_of(home_currency="AUD")))
    told = [(group.values, group.sums.records, group.sums.value) for group in unlisted_words(without)]
    assert told == [(("signed",), 1, 75000), (("lost",), 1, 9000)]


def test_captured_is_compared_with_seen_by_form_and_week(fields):
    told = [(one.form, one.week, one.agree, one.compared) for one in capture_agreements(fields)]
    assert told == [("group", "2026-W02", 0, 1), ("freight", "2026-W02", 1, 1)]
    first = capture_agreements(fields)[0]
    assert first.low == 0
    assert first.high == pytest.approx(0.7301, abs=1e-4)  # z^2 / (1 + z^2), z = 1.644854


def test_without_any_record_every_question_has_an_answer():
    nothing = RecordFields(weigh(tables_of([]).tables, plan()))
    for name in RECORD_FIELDS:
        found = list_records(nothing, RecordQuestion((name,), (read_filter(f"{name} is empty"),), "won"))
        assert (found.sums.records, found.groups) == (0, ())
    assert capture_agreements(nothing) == []
    assert unlisted_words(nothing) == ()


@pytest.mark.parametrize(
    ("question", "said"),
    [
        (RecordQuestion(("colour",)), "records have no field 'colour'"),
        (RecordQuestion(("goal", "goal")), "two different"),
        (RecordQuestion(("goal", "owner", "form")), "two different"),
        (RecordQuestion(where=(read_filter("colour is red"),)), "no field 'colour'"),
        (RecordQuestion(day_of="lost"), "no day 'lost'"),
    ],
)
def test_what_is_no_question_is_refused(fields, question, said):
    with pytest.raises(SettingsError, match=said):
        list_records(fields, question)


NAMES = st.sampled_from(sorted(RECORD_FIELDS))


@examples(40)
@given(worlds(), choices(), st.lists(NAMES, min_size=1, max_size=2, unique=True), NAMES)
def test_groups_add_up_and_say_what_the_page_of_each_record_says(world, both, names, other):
    result = weigh(into_core(world), both[1])
    fields = RecordFields(result)
    found = list_records(fields, RecordQuestion(tuple(names)))
    rows = listed(fields, found.numbers, (*names, other, "counts", "reason"))
    assert len(rows) == found.sums.records == len(result.prepared.conversions)
    sums = defaultdict(lambda: [0, 0])
    for row in rows:
        mine = sums[tuple(row.cells[name] for name in names)]
        mine[0], mine[1] = mine[0] + 1, mine[1] + row.value
    assert {g.values: [g.sums.records, g.sums.value] for g in found.groups} == sums
    assert sum(g.sums.counted_value for g in found.groups) == found.sums.counted_value
    value = rows[0].cells[other] if rows else ""
    # A value such as "not good" would be read as part of the operator "is".
    clause = f"{other} in list {value}" if value else f"{other} is empty"
    some = list_records(fields, RecordQuestion(where=(read_filter(clause),)))
    fitting = [row for row in rows if row.cells[other].casefold() == value.casefold()]
    assert some.sums.records == len(fitting)
    for row in rows[:3]:
        number = find_record(result.prepared, row.table, row.id)
        assert number is not None
        page = record_page(result, number)
        assert row.cells["counts"] == (page.apart or "counts")
        assert row.cells["reason"] == page.reason
        assert row.value == page.value
