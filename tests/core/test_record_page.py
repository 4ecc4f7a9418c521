"""The page of a record: steps that come to its value, credits that come to the board's, and why what is apart is."""

from __future__ import annotations

from collections import defaultdict
from decimal import Decimal

import pytest
from hypothesis import given

from effort import examples
from planned_week import planned_week_files
from worlds import choices, into_core, worlds
from yardstick.core.base.masking import masked_email
from yardstick.core.base.money import half_even
from yardstick.core.plan.counting_phase import Goal, StatusWord
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, QuarantineRule, RecordState
from yardstick.core.report.record_page import find_record, record_page
from yardstick.core.report.recorded import Apart, ValueStep, Without
from yardstick.core.report.weigh import weigh
from yardstick.core.rules.registry import by_states
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.rows.input_tables import read_file, tables_of

SITE = "https://www.lunnick.example/"
TEXTS = {
    "visits": f"""visit_id,occurred_at,visitor_id,url
v1,2026-03-01T09:00:00Z,p,{SITE}?utm_source=quorrin&utm_campaign=Whales
v2,2026-03-08T09:00:00Z,p,{SITE}
v3,2026-03-09T09:00:00Z,p,{SITE}?utm_source=ostrel&utm_campaign=Cards
v4,2026-03-20T09:00:00Z,p,{SITE}?utm_source=ostrel&utm_campaign=Cards
v5,2025-11-01T09:00:00Z,p,{SITE}?utm_source=quorrin&utm_campaign=Old
""",
    "leads": """lead_id,occurred_at,visitor_id,email,self_reported
l1,2026-03-09T10:00:00Z,p,ada@lunnick.example,
l2,2026-03-09T10:00:00Z,,bea@lunnick.example,a poster
l3,2026-03-09T11:00:00Z,,test@harnock.example,
""",
    "conversions": """conversion_id,occurred_at,visitor_id,goal,total,tax,shipping,currency,status
o1,2026-03-10T09:00:00Z,p,ticket,120.00,10.00,5.00,NZD,
o2,2026-03-11T09:00:00Z,p,ticket,20.00,,,,cancelled
o3,2026-03-12T09:00:00Z,p,ticket,20.00,,,,lost
o4,2026-03-13T09:00:00Z,p,ticket,20.00,30.00,,,
o5,2026-03-14T09:00:00Z,p,card,50.00,,,,
o6,2026-03-15T09:00:00Z,p,once,50.00,,,,
o7,2026-03-16T09:00:00Z,p,once,50.00,,,,
""",
    "refunds": """refund_id,conversion_id,occurred_at,amount,currency
r1,o1,2026-03-18T09:00:00Z,15.50,NZD
""",
    "statuses": """record_id,occurred_at,status,stage,owner,value
o1,2026-03-12T09:00:00Z,,quoted,Ines,
o1,2026-03-15T09:00:00Z,won,signed,,150.00
""",
    "order_lines": """conversion_id,line_number,product,total
o1,1,Boat,100.00
o1,2,Deck,50.00
""",
    "rates": """day,base,quote,rate
2026-03-09,NZD,EUR,0.5555
""",
}
GOALS = (
    Goal("lead", "lead", "every", default_value=Decimal("7.50")),
    Goal("ticket", "sale", "every", value="net"),
    Goal("card", "sale", "every", fixed_value=Decimal("30.00")),
    Goal("once", "sale", "one"),
)


def plan(**more):
    words = (StatusWord("lost", "does not count"),)
    rules = (QuarantineRule((Condition("email_host", "is", ("harnock.example",)),)),)
    return plan_of(home_currency="EUR", goals=GOALS, status_words=words, quarantine=rules, **more)


@pytest.fixture(scope="module")
def tables():
    return tables_of([read_file(csv_of(f"{n}.csv", text.encode()), "UTC") for n, text in TEXTS.items()]).tables


def page_of(tables, id, table="conversions", **more):
    result = weigh(tables, plan(**more))
    number = find_record(result.prepared, table, id)
    assert number is not None
    return record_page(result, number)


def steps(page):
    return [(one.step, one.amount, one.currency) for one in page.worth]


def test_each_step_of_a_value_stands_with_its_amount(tables):
    page = page_of(tables, "o1")
    # By hand: the latest status says 150.00; 150 - 15.50 - 10 - 5 = 119.50 NZD x 0.5555 = 66.38225, rounded to 66.38.
    assert steps(page) == [
        (ValueStep.STATED, "150.00", "NZD"),
        (ValueStep.REFUNDED, "-15.50", "NZD"),
        (ValueStep.TAX, "-10.00", "NZD"),
        (ValueStep.SHIPPING, "-5.00", "NZD"),
        (ValueStep.RATE, "66.38", "EUR"),
    ]
    assert page.worth[-1].by == "0.5555 of 2026-03-09"
    assert page.value == 6638
    assert (page.word, page.stage, page.owner, page.apart) == ("won", "signed", "Ines", None)


def test_a_currency_without_decimals_is_written_without(tables):
    """Other rows of the column have decimals; yen have none."""
    yen = "conversion_id,occurred_at,goal,total,currency,refunded\na,2026-03-09T09:00:00Z,ticket,10000,JPY,1000\n"
    more = "b,2026-03-09T09:00:00Z,ticket,1.25,EUR,0.25\n"
    rates = "day,base,quote,rate\n2026-03-09,JPY,EUR,0.0061\n"
    files = {"conversions.csv": yen + more, "rates.csv": rates}
    given = tables_of([read_file(csv_of(name, text.encode()), "UTC") for name, text in files.items()])
    page = page_of(given.tables, "a")
    assert [one.amount for one in page.worth] == ["10000", "-1000", "54.90"]


def test_values_that_no_record_states(tables):
    assert steps(page_of(tables, "o5")) == [(ValueStep.FIXED, "30.00", "EUR")]
    assert steps(page_of(tables, "l1", "leads")) == [(ValueStep.DEFAULT, "7.50", "EUR")]
    page = page_of(tables, "o4")
    assert steps(page) == [
        (ValueStep.STATED, "20.00", "EUR"),
        (ValueStep.TAX, "-30.00", "EUR"),
        (ValueStep.FLOOR, "10.00", "EUR"),
    ]
    assert page.value == 0


@pytest.mark.parametrize(
    ("id", "table", "more", "apart", "by"),
    [
        ("o2", "conversions", {}, Apart.CANCELLED, "cancelled"),
        ("o3", "conversions", {}, Apart.WORD, "lost"),
        ("o7", "conversions", {}, Apart.COUNTED_ELSEWHERE, "one"),
        ("o6", "conversions", {}, None, ""),
        ("l3", "leads", {}, Apart.QUARANTINED, "rule 1"),
        ("o6", "conversions", {"records": (RecordState("conversions", "o6", "quarantined"),)}, Apart.QUARANTINED, "by hand"),
        ("o1", "conversions", {"date_basis": "event:signed"}, None, ""),
        ("o6", "conversions", {"date_basis": "event:signed"}, Apart.NO_EVENT, "signed"),
    ],
)  # fmt: skip
def test_what_counts_a_record_or_not(tables, id, table, more, apart, by):
    page = page_of(tables, id, table, **more)
    assert (page.apart, page.by) == (apart, by)


def test_outside_the_range(tables):
    from datetime import date

    page = page_of(tables, "o1", report_from=date(2026, 3, 11))
    assert (page.apart, page.by) == (Apart.OUTSIDE, "2026-03-10")


def test_touches_of_its_person_stand_in_order_with_why_they_are_not_in_its_trail(tables):
    page = page_of(tables, "o1", direct="yield")
    without = {touch.visit_id: touch.without for touch in page.touches}
    assert without == {"v5": Without.WINDOW, "v1": None, "v2": Without.DIRECT, "v3": None, "v4": Without.AFTER}
    assert [touch.visit_id for touch in page.touches] == ["v5", "v1", "v2", "v3", "v4"]
    linear = {t.visit_id: c.value for t in page.touches for c in t.credits if c.yardstick == "linear"}
    assert linear == {"v5": 0, "v1": 3319, "v2": 0, "v3": 3319, "v4": 0}
    kept = page_of(tables, "o1")
    assert {t.visit_id for t in kept.touches if t.without is None} == {"v1", "v2", "v3"}


def test_the_conversion_before_cuts(tables):
    page = page_of(tables, "o4", cut_at_previous=True)
    # o1 and o3 are before it; o3 does not count, so that of o1 cuts.
    assert {t.visit_id: t.without for t in page.touches}["v3"] is Without.PREVIOUS


def test_rows_about_it_stand_with_file_and_line(tables):
    page = page_of(tables, "o1")
    said = [(row.table, row.line, row.said) for row in page.rows]
    assert said == [
        ("statuses", 2, {"stage": "quoted", "owner": "Ines"}),
        ("statuses", 3, {"status": "won", "stage": "signed", "value": "150"}),
        ("refunds", 2, {"refund_id": "r1", "amount": "15.5", "currency": "NZD"}),
        ("order_lines", 2, {"line_number": "1", "product": "Boat", "total": "100"}),
        ("order_lines", 3, {"line_number": "2", "product": "Deck", "total": "50"}),
    ]
    assert (page.file, page.line) == ("conversions.csv", 2)


def test_why_a_lead_has_a_source(tables):
    assert page_of(tables, "l1", "leads").reason == "visits"
    assert page_of(tables, "l2", "leads").reason == "self_reported"
    assert page_of(tables, "o1").reason == ""


def test_no_record_of_that_name(tables):
    result = weigh(tables, plan())
    assert find_record(result.prepared, "leads", "o1") is None
    assert find_record(result.prepared, "conversions", " o1 ") is not None


@pytest.mark.parametrize(
    ("email", "shown"), [("ada@lunnick.example", "a...@lunnick.example"), ("@x", "...@x"), ("ada", "..."), (" ", "")]
)
def test_an_address_is_masked_email(email, shown):
    assert masked_email(email) == shown


def against_the_board(result):
    """Of every record: its steps come to its value, and its credits to the board's."""
    credited: dict[tuple[str, str], int] = defaultdict(int)
    digits = result.plan.money.minor_digits
    for number in range(len(result.prepared.conversions)):
        page = record_page(result, number)
        own = [Decimal(one.amount) for one in page.worth if one.step != ValueStep.RATE]
        if page.worth and page.worth[-1].step == ValueStep.RATE:
            # A test record may stand without a rate, and is worth nothing then.
            rate = Decimal(page.worth[-1].by.partition(" ")[0] or 0)
            assert half_even_of(sum(own) * rate, digits) == page.value
        else:
            assert half_even_of(sum(own), digits) == page.value
        if page.apart is not None:
            continue
        for name in page.yardsticks:
            mine = [(t, c) for t in page.touches for c in t.credits if c.yardstick == name]
            if all(touch.without for touch in page.touches):
                continue
            assert sum(credit.value for _, credit in mine) == page.value
            for touch, credit in mine:
                credited[name, touch.campaign] += credit.value
    for row in result.rows:
        yardstick = next(y for y in result.plan.crediting.yardsticks if y.name == row.yardstick)
        if not by_states(yardstick) and row.bucket == "named":
            assert credited[row.yardstick, row.by[0]] == row.sums.value, (row.yardstick, row.by)


def half_even_of(amount, digits):
    return int(half_even(amount.as_integer_ratio()[0] * 10**digits, amount.as_integer_ratio()[1]))


def test_on_the_planned_week_all_pages_come_to_the_board():
    files = dict(planned_week_files())
    week_plan = read_settings(files.pop("settings.toml"))
    given = tables_of([read_file(csv_of(*file), week_plan.reading.time_zone) for file in files.items()])
    against_the_board(weigh(given.tables, week_plan))


@examples(20)
@given(worlds(), choices())
def test_in_any_world_all_pages_come_to_the_board(world, both):
    result = weigh(into_core(world), both[1].having(date_basis="conversion"))
    against_the_board(result)
