"""Coverage over HTTP, as a file and in the library: what the board says."""

from __future__ import annotations

import csv
import io
from datetime import date, timedelta
from decimal import Decimal

import pyarrow as pa
import pytest

from planned_week import planned_week_files
from web.http_files import load
from yardstick import library

COVERAGE = "/api/w/test/coverage"


@pytest.fixture
def loaded(client):
    load(client, planned_week_files())
    return client


def test_shares_are_those_of_the_board_on_its_days(loaded):
    for days in ({}, {"from": "2026-03-05", "to": "2026-03-06"}):
        answer = loaded.get(COVERAGE, params=days).json()
        board = loaded.get("/api/w/test/weigh/board", params=days).json()
        whole = {one["figure"]: (one["part"], one["whole"]) for one in answer["shares"] if not one["by"]}
        ties = board["ties"]
        assert whole["value_credited"] == (ties["named"]["linear"], ties["booked"]["value"])
        assert whole["spend_matched"] == (ties["matched"], ties["invoiced"])
        assert (answer["fingerprint"], answer["currency"]) == (board["fingerprint"], "AUD")


def test_they_are_taken_away_as_a_file(loaded):
    lines = list(csv.DictReader(io.StringIO(loaded.get(f"{COVERAGE}.csv").text.removeprefix("\ufeff"))))
    spend = {line["value"]: (line["part"], line["whole"]) for line in lines if line["figure"] == "spend_matched"}
    assert spend["Quorrin"] == ("130.00", "142.00")
    assert loaded.get(f"{COVERAGE}.xlsx").status_code == 200


def test_before_the_first_load_it_says_so(client):
    assert client.get(COVERAGE).status_code == 404


def test_the_library_gives_the_same():
    visits = pa.table({"visit_id": ["v"], "occurred_at": ["2026-03-07T09:00:00Z"], "url": ["/?utm_campaign=A"]})
    rows = library.weigh(visits=visits).coverage().to_pylist()
    tagged = next(row for row in rows if (row["figure"], row["by"]) == ("visits_tagged", ""))
    assert (tagged["part"], tagged["whole"], tagged["high"]) == (Decimal(1), Decimal(1), 1)


def test_people_are_told_by_the_identifiers_that_joined_them_and_masked(loaded):
    found = loaded.get(f"{COVERAGE}/people").json()
    assert sum(one["people"] for one in found["by_kinds"]) > 0
    assert all("@" not in one["words"] or "..." in one["words"] for one in found["widest"])
    for one in found["largest"]:
        person = loaded.get("/api/w/test/weigh/person", params={"table": one["table"], "id": one["id"]})
        assert person.status_code == 200, one


def test_matters_of_spend_and_of_visits_are_listed_with_their_heaviest_rows(loaded):
    answer = loaded.get("/api/w/test/matters").json()
    kinds = {one["kind"] for one in answer["matters"]}
    assert "spend_alone" in kinds
    for one in answer["matters"]:
        amounts = [row["value"] if row["value"] is not None else row["spend"] or 0 for row in one["listed"]]
        assert amounts == sorted(amounts, reverse=True), one["kind"]
        assert len(one["listed"]) <= 10
        assert all(row["file"] and row["line"] for row in one["listed"] if row["table"])
    board = loaded.get("/api/w/test/weigh/board").json()
    alone = sum(one["spend"] for one in answer["matters"] if one["kind"] == "spend_alone")
    # Nothing of the week's spend that met no touch has a touch on another day.
    assert alone == board["ties"]["invoiced"] - board["ties"]["matched"]
    lines = list(csv.DictReader(io.StringIO(loaded.get("/api/w/test/matters.csv").text.removeprefix("\ufeff"))))
    assert len(lines) == len(answer["matters"])


def test_stakes_are_of_the_latest_thirteen_whole_weeks_or_of_all_days(client):
    first = date(2026, 1, 5)
    rows = "".join(f"v{n},{first + timedelta(n)}T09:00:00Z,p{n},/?utm_campaign=Isle\n" for n in range(120))
    spend = "day,platform,campaign,cost\n2026-01-06,Quorrin,Alone,10.00\n2026-04-20,Quorrin,Alone,5.00\n"
    visits = "visit_id,occurred_at,visitor_id,url\n" + rows
    load(client, [("visits.csv", visits.encode()), ("spend.csv", spend.encode())])
    said = {}
    for all_days in (False, True):
        answer = client.get("/api/w/test/matters", params={"all_days": all_days}).json()
        (one,) = [matter for matter in answer["matters"] if matter["kind"] == "spend_alone"]
        said[all_days] = (answer["first_day"], answer["last_day"], one["rows"], one["spend"], one["all_rows"])
    # The last visit is of Monday, 4 May: the weeks end the day before.
    assert said == {False: ("2026-02-02", "2026-05-03", 1, 500, 2), True: ("", "", 2, 1500, 2)}


def test_what_was_said_stands_under_its_key_though_earlier_rows_came_since(client):
    """Opened again it is open: nothing that was said before lets it stay."""
    visits = "visit_id,occurred_at,visitor_id,url\n" + "".join(
        f"v{n},2026-04-0{n}T09:00:00Z,p{n},/?utm_campaign=Isle\n" for n in (3, 4)
    )
    load(client, [("visits.csv", visits.encode()), ("a.csv", b"day,platform,campaign,cost\n2026-04-04,Q,Alone,5.00\n")])

    def alone():
        (one,) = [m for m in client.get("/api/w/test/matters").json()["matters"] if m["kind"] == "spend_alone"]
        return one

    def say(**said):
        one, basis = alone(), client.get("/api/w/test/plan").json()["basis"]
        key = {"kind": one["kind"], "object": one["kept_object"], "first_day": one["kept_first_day"]}
        answer = client.put(
            "/api/w/test/plan/sections/matter", json={"basis": basis, "records": [key | said], "what": "said"}
        )
        assert answer.status_code == 200, answer.text

    say(accepted_reason="begins in May", whose="Maren")
    assert (alone()["is_accepted"], alone()["kept_first_day"]) == (True, "2026-04-04")
    load(client, [("b.csv", b"day,platform,campaign,cost\n2026-04-03,Q,Alone,1.00\n")])
    now = alone()
    assert (now["first_day"], now["kept_first_day"], now["is_accepted"]) == ("2026-04-03", "2026-04-04", True)
    say(accepted_reason="")
    assert not alone()["is_accepted"]
