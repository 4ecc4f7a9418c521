"""What is open, over HTTP and from the library: as the command writes it."""

from __future__ import annotations

import csv
import io
from decimal import Decimal

import pyarrow as pa
import pytest

from planned_week import planned_week_files
from web.http_files import load
from yardstick import library

MATTERS = "/api/w/test/matters"
AGAIN = "conversion_id,occurred_at,goal,visitor_id,total\no40,2026-03-07T09:12:00+10:30,ticket,K,40.00\n"


@pytest.fixture
def loaded(client):
    load(client, [*planned_week_files(), ("again.csv", AGAIN.encode())])
    return client


def test_a_double_stands_beside_what_it_may_double(loaded):
    answer = loaded.get(MATTERS).json()
    (one,) = answer["matters"]
    assert (one["kind"], one["object"], one["rows"], one["value"]) == (
        "order_twice",
        ["ticket", "visitor_id:K"],
        1,
        4000,
    )
    (row,) = one["listed"]
    assert (row["id"], row["beside"]["id"], row["file"], row["line"]) == ("o40", "o30", "again.csv", 2)
    assert answer["fingerprint"] == loaded.get("/api/w/test/weigh/board").json()["fingerprint"]
    (line,) = csv.DictReader(io.StringIO(loaded.get(f"{MATTERS}.csv").text))
    assert (line["kind"], line["object"], line["value"]) == ("order_twice", "ticket / visitor_id:K", "40.00")


def test_what_was_taken_out_is_open_no_more(loaded):
    basis = loaded.get("/api/w/test/plan").json()["basis"]
    edit = {"basis": basis, "records": [{"table": "conversions", "id": "o40", "state": "quarantined"}]}
    assert loaded.put("/api/w/test/plan/sections/record", json=edit).status_code == 200
    assert loaded.get(MATTERS).json()["matters"] == []


def test_before_the_first_load_it_says_so(client):
    assert client.get(MATTERS).status_code == 404
    assert client.get(f"{MATTERS}.xlsx").status_code == 404


def test_the_library_gives_the_same():
    text = pa.string()
    visits = pa.table({"visit_id": ["v"], "occurred_at": ["2026-03-07T09:00:00Z"], "url": ["/?utm_campaign=A"]})
    orders = pa.table(
        {
            "conversion_id": ["o30", "o40"],
            "occurred_at": ["2026-03-07T09:00:00Z", "2026-03-07T09:12:00Z"],
            "goal": ["ticket", "ticket"],
            "visitor_id": ["K", "K"],
            "total": pa.array(["40.00", "40.00"], text),
        }
    )
    (one,) = library.weigh(visits=visits, conversions=orders).matters().to_pylist()
    assert (one["kind"], one["object"], one["rows"], one["value"], one["spend"]) == (
        *("order_twice", "ticket / visitor_id:K", 1),
        *(Decimal("40.00"), None),
    )
