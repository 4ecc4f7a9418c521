"""Both worked weeks over HTTP: every cell by hand, and the report that stood before a deal was signed."""

from __future__ import annotations

import pytest

from web.http_files import load
from week import later_files, week_files, week_two_files
from week_by_hand import BUCKETS, WEEK_ONE, WEEK_TWO
from yardstick.core.report.weigh import weigh

COLUMNS = ["leads", "good_leads", "sales", "value"]
BOARD = "/api/w/test/weigh/board"


def board_of(client, week):
    return client.get(BOARD, params={"from": week.first, "to": week.last, "columns": COLUMNS}).json()


def assert_by_hand(board, week):
    """Every cell of a board is as worked out by hand."""
    rows = {
        BUCKETS.get(row["bucket"], row["name"]): row for row in board["rows"] if row["bucket"] in ("named", *BUCKETS)
    }
    assert {(yardstick, name) for name in rows for yardstick in board["yardsticks"]} == week.cells.keys()
    for (yardstick, name), (leads, good, sales, value) in week.cells.items():
        under = rows[name]["under"][yardstick]
        for figure, by_hand in (("leads", leads), ("good_leads", good), ("sales", sales)):
            assert under[figure] == pytest.approx(float(by_hand), abs=1e-9), (yardstick, name, figure)
        assert under["value"] == minor(value), (yardstick, name)
        assert (rows[name]["spend"] or 0) == minor(week.spend.get(name, "0.00"))
    leads, good, sales, value = week.booked
    booked = board["ties"]["booked"]
    assert (booked["leads"], booked["good_leads"], booked["conversions"], booked["value"]) == (
        leads,
        good,
        sales,
        minor(value),
    )


def minor(text):
    return int(text.replace(".", ""))


def test_every_cell_of_both_weeks_and_the_report_before_the_deal_was_signed(client):
    load(client, week_files())
    assert_by_hand(board_of(client, WEEK_ONE), WEEK_ONE)
    load(client, week_two_files())
    open_ = board_of(client, WEEK_TWO)
    assert open_["ties"]["booked"]["value"] == 100_00 + 40_00 + 15_00
    load(client, later_files())
    signed = board_of(client, WEEK_TWO)
    assert_by_hand(signed, WEEK_TWO)
    assert_by_hand(board_of(client, WEEK_ONE), WEEK_ONE)
    # What was reported before is still there behind its fingerprint, and says what it said.
    tables, plan = client.desk.rebuild(open_["data"])
    result = weigh(tables, plan)
    assert result.fingerprint == open_["fingerprint"]
    again = {(row.yardstick, row.by[0], row.bucket): row.sums.value for row in result.rows}
    for row in open_["rows"]:
        for yardstick, under in row["under"].items():
            assert again[yardstick, row["name"] or "", row["bucket"]] == under["value"]
    assert weigh(*client.desk.rebuild(signed["data"])).fingerprint == signed["fingerprint"] != open_["fingerprint"]


def test_the_pages_of_its_records_say_why(client):
    """The signed deal with its two people, the order paid back, the test that a rule took out."""
    for files in (week_files(), week_two_files(), later_files()):
        load(client, files)

    def page(name):
        return client.get("/api/w/test/weigh/record", params={"table": "conversions", "id": name}).json()

    deal = page("d1")
    assert (deal["word"], deal["value"], deal["apart"]) == ("signed", 900_00, None)
    assert [touch["visit_id"] for touch in deal["touches"] if touch["without"] is None] == ["v10", "v11", "v21", "v22"]
    assert {(row["table"], row["line"]) for row in deal["rows"]} >= {
        ("statuses", 2),
        ("deal_contacts", 2),
        ("deal_contacts", 3),
    }
    order = page("o9")
    assert [(step["step"], step["amount"]) for step in order["worth"]] == [("stated", "110.00"), ("refunded", "-20.00"), ("tax", "-10.00")]  # fmt: skip
    assert order["value"] == 80_00
    assert sum(row["table"] == "order_lines" for row in order["rows"]) == 2
    assert (page("o10")["apart"], page("o10")["by"]) == ("quarantined", "rule 1")
