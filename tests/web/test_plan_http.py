"""Plan and Mark over HTTP: what a client sends and what it is answered."""

from __future__ import annotations

import tomllib

import pytest

from planned_week import SITE, planned_week_files
from web.http_files import load
from week import week_files


@pytest.fixture
def loaded(client):
    load(client, planned_week_files())
    return client


def put(client, section, records, basis=None):
    basis = client.get("/api/w/test/plan").json()["basis"] if basis is None else basis
    return client.put(
        f"/api/w/test/plan/sections/{section}", json={"basis": basis, "records": records, "what": "a test"}
    )


def test_a_record_is_kept_read_written_out_and_undone(loaded):
    answer = put(loaded, "campaign", [{"name": "Midnight Boat", "budget": "12.50", "starts": "2026-03-01"}])
    assert answer.status_code == 200
    plan = answer.json()
    assert plan["sections"]["campaign"] == [{"name": "Midnight Boat", "budget": "12.50", "starts": "2026-03-01"}]
    assert plan["steps"][0]["what"] == "a test"
    text = loaded.get("/api/w/test/plan/settings.toml")
    assert tomllib.loads(text.text)["campaign"][0]["budget"] == "12.50"
    assert "attachment" in text.headers["content-disposition"]
    assert loaded.post("/api/w/test/plan/undo").json()["sections"]["campaign"] == []


@pytest.mark.parametrize(
    ("section", "records", "status", "said"),
    [
        ("campaign", [{"name": ""}], 422, "name"),
        ("campaign", [{"colour": "red"}], 422, "campaign.1.colour"),
        ("goal", [{"name": "x", "count": "twice"}], 422, "count"),
        (
            "rename",
            [{"field": "campaign", "old": "a", "new": "b"}, {"field": "campaign", "old": "b", "new": "a"}],
            422,
            "circle",
        ),
        ("dialect", [{"platform": "Q"}], 422, "opens"),
        ("nothing", [], 422, "no section"),
        ("Not-One", [], 404, ""),
    ],
)
def test_wrong_records_are_answered_in_words(client, section, records, status, said):
    answer = put(client, section, records)
    assert answer.status_code in (status, 422)
    assert said in answer.json()["message"]
    assert client.get("/api/w/test/plan").json()["steps"] == []


def test_general_settings_are_changed_and_brought_back(client):
    plan = client.get("/api/w/test/plan").json()
    answer = client.put(
        "/api/w/test/plan/general", json={"basis": plan["basis"], "values": {"margin": "0.4", "click_marks": ["ckid"]}}
    )
    assert answer.json()["general"] == {"margin": "0.4", "click_marks": ["ckid"]}
    basis = answer.json()["basis"]
    answer = client.put("/api/w/test/plan/general", json={"basis": basis, "values": {"margin": None}})
    assert answer.json()["general"] == {"click_marks": ["ckid"]}
    basis = answer.json()["basis"]
    for values, said in (
        ({"colour": "red"}, "colour"),
        ({"margin": "0"}, "margin"),
        ({"time_zone": "Moon/Base"}, "Moon"),
    ):
        answer = client.put("/api/w/test/plan/general", json={"basis": basis, "values": values})
        assert answer.status_code == 422
        assert said in answer.json()["message"]


def test_an_edit_of_a_field_that_another_window_changed_is_refused(client):
    put(client, "campaign", [{"name": "Boat", "owner": "Maren"}])
    basis = client.get("/api/w/test/plan").json()["basis"]
    assert put(client, "campaign", [{"name": "Boat", "owner": "Bo"}], basis).status_code == 200
    answer = put(client, "campaign", [{"name": "Boat", "owner": "Idris"}], basis)
    assert (answer.status_code, answer.json()["code"]) == (409, "overtaken")
    assert "changed in another window (owner of Boat was changed); nothing was saved" in answer.json()["message"]
    assert put(client, "campaign", [], basis).json()["code"] == "overtaken"
    # Another field of the same record is kept beside it, and each edit is undone by itself.
    answer = put(client, "campaign", [{"name": "Boat", "owner": "Maren", "budget": "20.00"}], basis)
    assert answer.status_code == 200
    both = {"name": "Boat", "owner": "Bo", "budget": "20.00"}
    assert client.get("/api/w/test/plan").json()["sections"]["campaign"] == [both]
    assert client.post("/api/w/test/plan/undo").status_code == 200
    assert client.get("/api/w/test/plan").json()["sections"]["campaign"] == [{"name": "Boat", "owner": "Bo"}]
    assert client.post("/api/w/test/plan/undo").status_code == 200
    assert client.post("/api/w/test/plan/undo").status_code == 200


def test_nothing_is_left_to_undo(client):
    put(client, "allowed", [{"field": "medium", "words": ["cpc"]}])
    assert client.post("/api/w/test/plan/undo").status_code == 200
    answer = client.post("/api/w/test/plan/undo")
    assert (answer.status_code, answer.json()["code"]) == (409, "cannot_undo")


def test_previews_answer_from_real_rows(loaded):
    tried = loaded.post("/api/w/test/plan/channels/try", json={"url": f"{SITE}/?utm_medium=sms"}).json()
    assert (tried["channel"], tried["why"]) == ("Text message", "built-in rule: medium sms")
    assert loaded.post("/api/w/test/plan/channels/try", json={"url": "lunnick"}).status_code == 422
    counts = loaded.post("/api/w/test/plan/channels/rehearsal", json=[]).json()
    assert sum(c["before"] for c in counts) == sum(c["after"] for c in counts) == 19
    preview = loaded.post(
        "/api/w/test/plan/legends/preview", json={"source": "ostrel", "utm_content": "placement"}
    ).json()
    assert preview["visits"] == 3
    wrong = loaded.post("/api/w/test/plan/legends/preview", json={"source": "ostrel", "utm_content": "colour"})
    assert wrong.status_code == 422
    assert {b["campaign"] for b in loaded.get("/api/w/test/plan/tree").json()} >= {"Freight Fridays", "Two-Bike Deck"}


def test_what_came_stands_beside_what_was_expected(loaded, client):
    put(loaded, "campaign", [{"name": "Two-Island Year Card", "plain_name": "Card", "expected_value": "100"}])
    (came,) = loaded.get("/api/w/test/plan/came").json()
    assert (came["name"], came["leads"], came["value"], came["spend"]) == ("Two-Island Year Card", 1.5, 17_090, 5_530)


def test_there_is_nothing_to_preview_before_anything_is_loaded(client):
    assert client.post("/api/w/test/plan/channels/rehearsal", json=[]).json() == []
    assert client.get("/api/w/test/plan/tree").json() == []
    assert client.get("/api/w/test/plan/came").json() == []
    assert client.get("/api/w/test/mark/placing").json() == []


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_sections_go_out_and_come_in_as_files(client, kind):
    put(client, "campaign", [{"name": "A", "vouchers": ["x", "y"]}, {"name": "B"}])
    content = client.get(f"/api/w/test/plan/sections/campaign.{kind}").content
    before = client.get("/api/w/test/plan").json()["sections"]["campaign"]
    put(client, "campaign", [])
    answer = client.post("/api/w/test/plan/sections/campaign/file", files={"file": (f"c.{kind}", content)})
    assert answer.json()["sections"]["campaign"] == before
    answer = client.post("/api/w/test/plan/sections/campaign/file", files={"file": ("c.csv", b"name\nA\nA\n")})
    assert answer.status_code == 422
    assert "appears twice" in answer.json()["message"]


def test_the_check_up_answers_for_a_list(client):
    put(client, "campaign", [{"name": "night", "ends": "2026-01-31"}])
    good = f"{SITE}/?utm_source=a&utm_medium=cpc&utm_campaign=night"
    answer = client.post("/api/w/test/mark/check-up", json={"urls": [good, " ", good + "&utm_term=a@b.example"]}).json()
    assert [[f["code"] for f in c["findings"]] for c in answer] == [
        ["campaign_ended"],
        ["personal_data", "campaign_ended"],
    ]
    assert answer[1]["mended"] == answer[1]["url"], "who pasted it knows what it was there for"
    assert answer[0]["stripped"] == f"{SITE}/"
    assert [p["name"] for p in answer[0]["parameters"]] == ["utm_source", "utm_medium", "utm_campaign"]
    assert client.post("/api/w/test/mark/check-up", json={"urls": ["x"] * 20_001}).status_code == 422


def test_the_sheet_previews_and_refuses_in_words(client):
    made = client.post("/api/w/test/mark/preview", json={"page": f"{SITE}/a", "source": "x"}).json()
    assert made["url"] == f"{SITE}/a?utm_source=x"
    basis = client.get("/api/w/test/mark/links").json()["basis"]
    wrong = client.patch(
        "/api/w/test/mark/links",
        json={"basis": basis, "what": "", "changes": [{"key": "k", "cells": {"colour": "red"}}]},
    )
    assert (wrong.status_code, wrong.json()["code"]) == (422, "wrong_setting")
    late = client.patch("/api/w/test/mark/links", json={"basis": basis + 1, "what": "", "changes": []})
    assert late.status_code == 409
    assert client.post("/api/w/test/mark/links/file", files={"file": ("x.csv", b"")}).status_code == 422
    assert client.post("/api/w/test/mark/links/undo").status_code == 409


def test_mails_are_previewed(client):
    put(
        client,
        "sender",
        [{"name": "Ellivane", "kind": "series", "source": "ellivane", "medium": "email", "campaign": "(:series:)"}],
    )
    assert client.get("/api/w/test/mark/patterns").json()["senders"] == ["Ellivane"]
    rows = client.post("/api/w/test/mark/mail", json={"sender": "ellivane", "series": "renewal"}).json()
    assert [r["before"] == r["after"] for r in rows] == [False, True, False]
    assert client.get("/api/w/test/mark/patterns/resolved", params={"platform": "Q", "landing": "x"}).status_code == 422


@pytest.mark.parametrize(
    ("values", "status", "said"),
    [
        ({"panel": ["last", "decay"], "verdict_minimum": "3"}, 200, ""),
        ({"panel": ["nobody"]}, 422, "there is no yardstick 'nobody'"),
        ({"panel": ["last", "last"]}, 422, "twice"),
        ({"verdict_minimum": "few"}, 422, "verdict_minimum"),
        ({"verdict_minimum": -1}, 422, "verdict_minimum"),
        ({"verdict_minimum": 1_000_001}, 422, "verdict_minimum"),
    ],
)
def test_the_panel_and_the_minimum_are_typed_at_the_forms_door(client, values, status, said):
    """What a form sends as text is a number to every verdict, and what is none is refused by its name."""
    load(client, week_files())
    basis = client.get("/api/w/test/plan").json()["basis"]
    answer = client.put("/api/w/test/plan/general", json={"basis": basis, "values": values})
    assert answer.status_code == status, answer.text
    sure = client.get("/api/w/test/weigh/certainty").json()
    asked = {v["reason"].partition("; ")[2] for row in sure["rows"] for v in row["verdicts"].values()}
    if status == 200:
        assert (sure["panel"], asked) == (["last", "decay"], {"at least 3 are needed"})
    else:
        assert said in answer.json()["message"]
        assert asked == {"at least 10 are needed"}
