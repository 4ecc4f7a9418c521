"""Lists of records over HTTP: counted, grouped, listed where somebody asks, taken away."""

from __future__ import annotations

import csv
import io

import pytest

from planned_week import planned_week_files
from web.http_files import load

RECORDS = "/api/w/test/records"


@pytest.fixture
def loaded(client):
    load(client, planned_week_files())
    return client


def test_numbers_come_before_names(loaded):
    answer = loaded.get(RECORDS, params={"by": "table"}).json()
    assert {group["values"][0]: group["sums"]["records"] for group in answer["groups"]} == {"lead": 6, "order": 12}
    assert (answer["rows"], answer["unlisted"], answer["currency"]) == ([], [], "AUD")
    assert answer["fingerprint"] == loaded.get("/api/w/test/weigh/board").json()["fingerprint"]
    listed = loaded.get(RECORDS, params={"where": "id is o1", "limit": 5})
    assert listed.status_code == 422
    some = loaded.get(RECORDS, params={"where": "counts is not counts", "limit": 2, "columns": ["counts", "product"]})
    assert [(row["id"], row["cells"]) for row in some.json()["rows"]] == [
        ("o7", {"counts": "test", "product": "Whale boat"}),
        ("o5", {"counts": "cancelled", "product": "Whale boat"}),
    ]


def test_lists_name_only_those_who_agreed_where_that_is_set_once(loaded):
    head = "lead_id,occurred_at,visitor_id,consent,consent_base\n"
    load(loaded, [("agreed.csv", f"{head}l40,2026-03-07T09:00:00+10:30,K,yes,newsletter; calls\n".encode())])
    every = loaded.get(RECORDS, params={"limit": 100}).json()
    assert (len(every["rows"]), every["purpose"], every["withheld"]) == (every["sums"]["records"], "", 0)
    plan = loaded.get("/api/w/test/plan").json()
    set_once = {"basis": plan["basis"], "values": {"list_purpose": "Newsletter"}}
    assert loaded.put("/api/w/test/plan/general", json=set_once).status_code == 200
    some = loaded.get(RECORDS, params={"limit": 100, "by": "consent"}).json()
    assert {row["id"] for row in some["rows"]} == {"l40", "o30"}
    # Counts stay those of all, and how many are not named is said.
    assert (some["purpose"], some["withheld"]) == ("Newsletter", some["sums"]["records"] - 2)
    assert some["sums"] == every["sums"]
    assert some["fingerprint"] == every["fingerprint"]
    every_id = loaded.get(RECORDS, params={"limit": 100, "every": True, "columns": ["owner"]}).json()
    assert (len(every_id["rows"]), every_id["rows"][0]["cells"]) == (every["sums"]["records"], {})
    lines = list(csv.DictReader(io.StringIO(loaded.get(f"{RECORDS}/rows.csv").text.removeprefix("\ufeff"))))
    assert {(line["id"], line["agreed_to"]) for line in lines} == {("l40", "Newsletter"), ("o30", "Newsletter")}


def test_how_many_are_in_quarantine_is_counted_whatever_is_asked(loaded):
    """`quarantined_by is not rule 1` lists what counts, too: none of it may be put back as if it were out."""
    every = loaded.get(RECORDS).json()
    assert (every["sums"]["records"], every["quarantined"]) == (18, 2)
    others = loaded.get(RECORDS, params={"where": "quarantined_by is not rule 1"}).json()
    assert (others["sums"]["records"], others["quarantined"]) == (18, 2)
    out = loaded.get(RECORDS, params={"where": "quarantined_by is by itself"}).json()
    assert (out["sums"]["records"], out["quarantined"]) == (2, 2)


def test_a_list_kept_by_a_field_that_was_called_otherwise_still_opens(loaded):
    was, now = (
        loaded.get(RECORDS, params={"by": name, "where": f"{name} is new"}).json() for name in ("new", "customer")
    )
    assert was["groups"] == now["groups"] != []


def test_days_that_are_not_asked_for_are_counted_beside(loaded):
    answer = loaded.get(RECORDS, params={"from": "2026-03-08", "to": "2026-03-08"}).json()
    assert (answer["sums"]["records"], answer["elsewhere"]) == (3, 15)


@pytest.mark.parametrize(
    "asked",
    [
        {"by": "colour"},
        {"by": "goal,owner,form"},
        {"where": "colour is red"},
        {"where": "goal"},
        {"day_of": "lost"},
        {"from": "yesterday"},
        {"columns": ["colour"]},
        {"columns": ["goal"] * 13},
        {"limit": 1001},
        {"by": "x" * 101},
    ],
    ids=str,
)
def test_what_is_no_question_is_refused_with_what_there_is(loaded, asked):
    answer = loaded.get(RECORDS, params=asked)
    assert answer.status_code == 422
    assert answer.json()["message"]


def test_before_the_first_load_it_says_so(client):
    assert client.get(RECORDS).status_code == 404


def test_groups_and_rows_are_taken_away_with_what_was_asked(loaded):
    asked = {"by": "latest_source,counts", "where": "table is order", "columns": ["counts"]}
    groups = list(csv.DictReader(io.StringIO(loaded.get(f"{RECORDS}/groups.csv", params=asked).text)))
    rows = list(csv.DictReader(io.StringIO(loaded.get(f"{RECORDS}/rows.csv", params=asked).text)))
    assert sum(int(group["records"]) for group in groups) == len(rows) == 12
    assert sum(int(group["counted"]) for group in groups) == sum(row["counts"] == "counts" for row in rows)
    assert {row["asked_where"] if "asked_where" in row else row["where"] for row in rows} == {"table is order"}
    assert all(row["fingerprint"] for row in rows)
    assert {"email", "name", "phone"}.isdisjoint(rows[0])


def test_a_word_is_given_a_meaning_on_trial(loaded):
    text = "record_id,occurred_at,status\no30,2026-03-20T09:00:00+10:30,lost\n"
    load(loaded, [("statuses.csv", text.encode())])
    answer = loaded.get(RECORDS).json()
    assert [(one["values"], one["sums"]["records"], one["sums"]["value"]) for one in answer["unlisted"]] == [
        (["lost"], 1, 4000)
    ]
    basis = loaded.get("/api/w/test/plan").json()["basis"]
    edit = {"basis": basis, "records": [{"word": "lost", "means": "does not count"}]}
    tried = loaded.post("/api/w/test/plan/sections/status/trial", json=edit).json()
    assert (tried["moves"], tried["value"]) == (True, 4000)
    assert loaded.put("/api/w/test/plan/sections/status", json=edit | {"tried": tried["state"]}).status_code == 200
    assert loaded.get(RECORDS).json()["unlisted"] == []


def test_what_forms_captured_is_held_against_what_was_seen(loaded):
    more = (
        "lead_id,occurred_at,visitor_id,form,last_source\n"
        "l30,2026-03-07T10:00:00+10:30,K,group,ostrel\nl31,2026-03-07T10:00:00+10:30,M,group,ostrel\n"
    )
    load(loaded, [("more.csv", more.encode())])
    assert [(one["form"], one["week"], one["agree"], one["compared"]) for one in loaded.get(f"{RECORDS}/agreement").json()] == [
        ("group", "2026-W10", 1, 2)
    ]  # fmt: skip
    (line,) = csv.DictReader(io.StringIO(loaded.get(f"{RECORDS}/agreement.csv").text))
    assert (line["form"], line["agree"], line["compared"]) == ("group", "1", "2")
