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
