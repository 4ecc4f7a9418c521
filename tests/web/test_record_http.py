"""The page of a record over HTTP: its credits are the board's, and what is not there is said."""

from __future__ import annotations

import pytest

from planned_week import planned_week_files
from web.http_files import load

RECORD = "/api/w/test/weigh/record"


@pytest.fixture
def loaded(client):
    load(client, planned_week_files())
    return client


def test_a_page_tells_value_touches_and_credit(loaded):
    page = loaded.get(RECORD, params={"table": "conversions", "id": "o30"}).json()
    assert (page["goal"], page["value"], page["currency"], page["apart"]) == ("ticket", 4000, "AUD", None)
    assert [(step["step"], step["amount"]) for step in page["worth"]] == [("stated", "40.00")]
    (touch,) = page["touches"]
    assert (touch["visit_id"], touch["campaign"], touch["without"]) == ("v30", "Two-Island Year Card", None)
    linear = next(credit for credit in touch["credits"] if credit["yardstick"] == "linear")
    assert (linear["share"], linear["value"]) == (1.0, 4000)
    assert set(page["panel"]) <= set(page["yardsticks"])
    assert page["fingerprint"] == loaded.get("/api/w/test/weigh/board").json()["fingerprint"]


def test_a_changed_record_says_so_and_why(loaded):
    """A deal that is lost the week after is in no figure, and the row that says so stands on its page."""
    text = "record_id,occurred_at,status\no30,2026-03-20T09:00:00+10:30,lost\n"
    load(loaded, [("statuses.csv", text.encode())])
    basis = loaded.get("/api/w/test/plan").json()["basis"]
    words = {"basis": basis, "records": [{"word": "lost", "means": "does not count"}]}
    assert loaded.put("/api/w/test/plan/sections/status", json=words).status_code == 200
    page = loaded.get(RECORD, params={"table": "conversions", "id": "o30"}).json()
    assert (page["apart"], page["by"], page["word"]) == ("word", "lost", "lost")
    assert [(row["table"], row["said"], row["line"]) for row in page["rows"]] == [("statuses", {"status": "lost"}, 2)]
    # Each row with the load it came with: the status is the newer one.
    (row,) = page["rows"]
    assert page["load"] < row["load"]
    loads = loaded.get("/api/w/test/gather/loads").json()
    batches = [page["loads"][str(load)]["batch_number"] for load in (row["load"], page["load"])]
    assert batches[0] != batches[1]
    came = {one["file"]: one["made_at"] for one in loads}
    assert page["loads"][str(row["load"])]["at"] == came["statuses.csv"]
    assert page["loads"][str(page["load"])]["at"] == came["conversions.csv"]


@pytest.mark.parametrize(
    ("asked", "status"),
    [
        ({"table": "conversions", "id": "nobody"}, 404),
        ({"table": "visits", "id": "v30"}, 422),
        ({"table": "leads", "id": ""}, 422),
        ({"table": "leads", "id": "x" * 501}, 422),
        ({"table": "leads"}, 422),
    ],
)
def test_what_is_not_there_is_said(loaded, asked, status):
    answer = loaded.get(RECORD, params=asked)
    assert answer.status_code == status
    assert answer.json()["message"]


def test_windows_of_the_question_hold_on_the_page(loaded):
    asked = {"table": "conversions", "id": "o30", "click_days": "0.5"}
    page = loaded.get(RECORD, params=asked).json()
    assert [touch["without"] for touch in page["touches"]] == ["window"]
    assert page["look_back"][0] == 0.5


PERSON, FIND = "/api/w/test/weigh/person", "/api/w/test/weigh/find"


def test_the_person_of_any_row_is_told_by_what_joined_it(loaded):
    pages = [
        loaded.get(PERSON, params={"table": table, "id": id}).json()
        for table, id in (("visits", "v09"), ("leads", "l1"), ("conversions", "o3"))
    ]
    assert pages[0] == pages[1] == pages[2]
    page = pages[0]
    joined = [(one["kind"], one["shown"], one["by"]["id"], one["by"]["line"]) for one in page["identifiers"]]
    assert joined == [
        ("visitor_id", "C", "v09", 10),
        ("email", "c...@groups.example", "l1", 2),
        ("lead_id", "l1", "l1", 2),
    ]
    assert [(row["id"], row["what"], row["value"]) for row in page["rows"]] == [
        ("v09", "click", 0), ("l1", "lead", 0), ("o3", "ticket", 9090)
    ]  # fmt: skip
    assert page["currency"] == "AUD"


@pytest.mark.parametrize(
    ("asked", "status"),
    [
        ({"table": "visits", "id": "nobody"}, 404),
        ({"table": "spend", "id": "1"}, 422),
        ({"table": "leads", "id": ""}, 422),
    ],
)
def test_a_person_that_is_not_there_is_said(loaded, asked, status):
    answer = loaded.get(PERSON, params=asked)
    assert answer.status_code == status
    assert answer.json()["message"]


def test_records_are_found_by_a_text_and_people_stay_masked(loaded):
    answer = loaded.get(FIND, params={"text": "carla@groups"}).json()
    assert [(one["table"], one["id"], one["field"], one["shown"]) for one in answer["records"]] == [
        ("leads", "l1", "email", "c...@groups.example")
    ]
    assert loaded.get(FIND, params={"text": "o3"}).json()["number"] == 5
    assert loaded.get(FIND, params={"text": "nobody has this"}).json() == {"records": [], "number": 0}
    assert loaded.get(FIND, params={"text": "x" * 201}).status_code == 422


def test_what_came_within_minutes_before_now_is_found(loaded):
    plan = loaded.get("/api/w/test/plan").json()
    values = {"as_of": "2026-03-08T14:05:00+10:30"}
    loaded.put("/api/w/test/plan/general", json={"basis": plan["basis"], "values": values})
    answer = loaded.get(FIND, params={"minutes": 10}).json()
    assert ([(one["table"], one["id"]) for one in answer["records"]], answer["number"]) == ([("conversions", "o8")], 1)
    assert loaded.get(FIND, params={"minutes": 1441}).status_code == 422


def test_before_the_first_load_nobody_is_found(client):
    assert client.get(FIND, params={"text": "o3"}).json() == {"records": [], "number": 0}


def _trial(client, section, records):
    basis = client.get("/api/w/test/plan").json()["basis"]
    return client.post(f"/api/w/test/plan/sections/{section}/trial", json={"basis": basis, "records": records})


def test_a_trial_of_a_separation_names_what_keeps_the_two_one(loaded):
    more = "lead_id,occurred_at,visitor_id,email\nl20,2026-03-09T09:00:00+10:30,D,dina@freight.example\n"
    load(loaded, [("more.csv", more.encode())])
    pair = {"first": "visitor_id:D", "second": "email:dina@freight.example"}
    late = _trial(loaded, "separate", [pair | {"from": "2026-03-09"}]).json()
    (still,) = late["still_one"]
    assert late["moves"]
    assert [row["id"] for row in still["rows"]] == ["l2"]
    assert _trial(loaded, "separate", [pair]).json()["still_one"] == []


@pytest.mark.parametrize(
    ("pair", "said"),
    [
        (("visitor:v-1", "email:a@x.example"), "is no identifier: write one of visitor_id, email"),
        (("visitor_id:v-1", "email:n/a"), "identifies nobody"),
        (("visitor_id:v-1", "visitor_id:v-2"), "no row carries two"),
    ],
)
def test_a_separation_that_could_do_nothing_is_refused(loaded, pair, said):
    answer = _trial(loaded, "separate", [dict(zip(("first", "second"), pair, strict=True))])
    assert answer.status_code == 422
    assert said in answer.json()["message"]


def test_one_pair_is_separated_once(loaded):
    one, other = "visitor_id:v-1", "email:a@x.example"
    twice = [{"first": one, "second": other}, {"first": other.upper().replace("EMAIL", "email"), "second": one}]
    answer = _trial(loaded, "separate", twice)
    assert answer.status_code == 422
    assert "appear twice" in answer.json()["message"]
