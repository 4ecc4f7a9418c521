"""Matters of records (R30): found over all days, staked in the range. Worked cases by hand; no outside source."""

from __future__ import annotations

import csv
from datetime import date

import pytest
from hypothesis import given
from typer.testing import CliRunner

from effort import examples
from worlds import choices, into_core, worlds
from yardstick.cli import app
from yardstick.core.base.day_numbers import day_text
from yardstick.core.plan.counting_phase import StatusWord
from yardstick.core.plan.plan import plan_of
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.matters import MATTER_KINDS, find_matters
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.rows.input_tables import read_file, tables_of

VISITS = "visit_id,occurred_at,visitor_id,url\na,2026-04-01T09:00:00Z,p,/?utm_campaign=Isle\n"


OF_RECORDS = ("order_twice", "refund_alone", "unlisted_word", "shared_identifier")


def found(texts, **more):
    texts = {"visits": VISITS} | texts
    tables = tables_of([read_file(csv_of(f"{n}.csv", text.encode()), "UTC") for n, text in texts.items()]).tables
    result = weigh(tables, plan_of(home_currency="AUD", **more))
    some = [one for one in find_matters(result) if one.kind.name in OF_RECORDS]
    return [(one.kind.name, one.object, day_text(one.first_day or 0), one.rows, one.value) for one in some]


ORDERS = """conversion_id,occurred_at,goal,visitor_id,total
o1,2026-04-04T09:00:00Z,ticket,p,25.00
o2,2026-04-04T09:30:00Z,ticket,p,25.00
o3,2026-04-04T10:00:01Z,ticket,p,25.00
o4,2026-04-04T09:10:00Z,ticket,p,26.00
o5,2026-04-04T09:05:00Z,ticket,q,25.00
o6,2026-04-04T09:05:00Z,card,p,25.00
o7,2026-04-04T09:06:00Z,ticket,q,0.00
o8,2026-04-04T09:06:00Z,ticket,q,0.00
"""


def test_an_order_soon_after_one_of_equal_value_may_be_its_double():
    twice = ("order_twice", ("ticket", "visitor_id:p"), "2026-04-04", 1, 2500)
    assert found({"conversions": ORDERS}) == [twice]
    # A third within half an hour of the second is another row of the same matter.
    more = ORDERS.replace("10:00:01", "10:00:00")
    assert found({"conversions": more}) == [(*twice[:3], 2, 5000)]
    # What the goal does not count is no double.
    gone = ORDERS.replace("o2,2026-04-04T09:30:00Z,ticket,p,25.00", "o2,2026-04-04T09:30:00Z,ticket,p,25.01")
    assert found({"conversions": gone}) == []


def test_the_range_cuts_the_stake_and_no_matter():
    assert found({"conversions": ORDERS}, report_from=date(2026, 4, 5)) == [
        ("order_twice", ("ticket", "visitor_id:p"), "2026-04-04", 0, 0)
    ]


def test_a_refund_of_an_order_that_is_not_there_and_words_without_a_meaning():
    texts = {
        "conversions": "conversion_id,occurred_at,goal,visitor_id,total,status\n"
        "w1,2026-04-02T09:00:00Z,ticket,p,25.00,Parked\n"
        "w2,2026-04-03T09:00:00Z,ticket,q,10.00,\n"
        "w3,2026-04-03T09:00:00Z,ticket,r,5.00,parked\n",
        "statuses": "record_id,occurred_at,status\nw2,2026-04-05T09:00:00Z,PARKED\nw3,2026-04-06T09:00:00Z,ok\n",
        "refunds": "refund_id,conversion_id,occurred_at,amount\nr1,nobody,2026-04-07T09:00:00Z,-7.00\n"
        "r2,w1,2026-04-07T09:00:00Z,1.00\n",
    }
    words = (StatusWord("ok", "counts"),)
    # Of w1 a refund of 1.00 was given: a word's stake is what its records are worth.
    assert found(texts, status_words=words) == [
        ("unlisted_word", ("parked",), "2026-04-02", 2, 3400),
        ("refund_alone", ("r1",), "2026-04-07", 1, 700),
    ]
    listed = (*words, StatusWord("parked", "counts"))
    assert [one[0] for one in found(texts, status_words=listed)] == ["refund_alone"]


def test_an_identifier_of_too_many_puts_the_orders_that_carry_it_at_stake():
    texts = {
        "visits": "visit_id,occurred_at,visitor_id,email,url\n"
        + "".join(f"v{n},2026-04-0{n}T09:00:00Z,p{n},desk@ferry.test,/\n" for n in (1, 2, 3)),
        "conversions": "conversion_id,occurred_at,goal,visitor_id,email,total\n"
        "o1,2026-04-04T09:00:00Z,ticket,,desk@ferry.test,25.00\no2,2026-04-04T09:00:00Z,ticket,p1,,10.00\n",
    }
    assert found(texts, identifier_limit=2) == [
        ("shared_identifier", ("email", "desk@ferry.test"), "2026-04-01", 4, 2500)
    ]
    assert found(texts, identifier_limit=3) == []


def test_a_matter_without_rate_or_rows_stops_nothing():
    texts = {
        "refunds": "refund_id,conversion_id,occurred_at,amount,currency\nr1,nobody,2026-04-07T09:00:00Z,7.00,SEK\n",
    }
    assert found(texts) == [("refund_alone", ("r1",), "2026-04-07", 1, 0)]
    assert found({}) == []


@pytest.mark.parametrize("format", ["csv", "jsonl", "parquet", "xlsx"])
def test_the_command_writes_what_is_open(tmp_path, format):
    (tmp_path / "visits.csv").write_text(VISITS)
    (tmp_path / "conversions.csv").write_text(ORDERS)
    (tmp_path / "settings.toml").write_text('home_currency = "AUD"\n')
    call = ["credit", str(tmp_path), "--settings", str(tmp_path / "settings.toml"), "--out", str(tmp_path / "out")]
    done = CliRunner().invoke(app, [*call, "--format", format])
    assert done.exit_code == 0, done.output
    assert (tmp_path / "out" / f"matters.{format}").stat().st_size > 0
    if format == "csv":
        rows = csv.DictReader((tmp_path / "out" / "matters.csv").open())
        (row,) = [row for row in rows if row["kind"] == "order_twice"]
        assert row == {
            "kind": "order_twice",
            "object": "ticket / visitor_id:p",
            "first_day": "2026-04-04",
            "rows": "1",
            "spend": "",
            "value": "25.00",
            "words": "two counted records of one goal, person and value above 0 within 30 minutes",
            "state": "open",
        }


@examples(30)
@given(worlds(), choices())
def test_in_any_world_matters_are_what_a_plain_reading_finds(world, both):
    result = weigh(into_core(world), both[1])
    matters = find_matters(result)
    conversions, flags = result.prepared.conversions, result.counted.flags
    counted = [n for n in range(len(conversions)) if flags[n] and conversions.value[n] > 0]
    later = set()
    for n in counted:
        alike = [
            m
            for m in counted
            if conversions.person[m] == conversions.person[n]
            and conversions.goal[m] == conversions.goal[n]
            and conversions.value[m] == conversions.value[n]
            and (conversions.at[m], m) < (conversions.at[n], n)
        ]
        if alike and conversions.at[n] - max(conversions.at[m] for m in alike) <= 30 * 60_000_000:
            later.add((bool(conversions.is_lead_row[n]), int(conversions.row[n])))
    found_later = {
        (part.table.name == "leads", row)
        for one in matters
        if one.kind.name == "order_twice"
        for part in one.parts
        for row in part.rows.tolist()
    }
    assert found_later == later
    words = {one.object[0] for one in matters if one.kind.name == "unlisted_word"}
    known = {word.word.casefold() for word in both[1].trailing.status_words} | {"", "cancelled", "test"}
    assert words == {word for word in set(conversions.word.strings()) if word not in known}
    alone = [f for f in result.prepared.read.findings if f.code == "refund_of_unknown_order"]
    assert len([one for one in matters if one.kind.name == "refund_alone"]) == len(alone)
    assert {one.kind.name for one in matters} <= set(MATTER_KINDS)
    amounts = [max(one.spend or 0, one.value or 0) for one in matters if (one.spend, one.value) != (None, None)]
    assert amounts == sorted(amounts, reverse=True)
