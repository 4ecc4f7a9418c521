"""Trials over HTTP: what a client is told of an edit before it is kept."""

from __future__ import annotations

import pytest

from planned_week import planned_week_files
from web.http_files import load

FREIGHT = "Freight Fridays"
FEE = {"campaign": FREIGHT, "kind": "fee", "cost": "10.00", "from": "2026-03-07", "to": "2026-03-09"}
PLAN = "/api/w/test/plan"


@pytest.fixture
def loaded(client):
    load(client, planned_week_files())
    return client


def basis(client):
    return client.get(PLAN).json()["basis"]


def board(client):
    return client.get("/api/w/test/weigh/board").json()


def test_a_cost_is_tried_then_kept(loaded):
    body = {"basis": basis(loaded), "records": [FEE]}
    before = board(loaded)
    trial = loaded.post(f"{PLAN}/sections/other_cost/trial", json=body).json()
    assert (trial["moves"], trial["spend"], trial["value"], trial["currency"]) == (True, 667, 0, "AUD")
    assert (trial["by"], trial["yardstick"], trial["moved"]) == ("campaign", before["yardstick"], 1)
    (row,) = trial["rows"]
    assert (row["called"], row["before"]["spend"], row["after"]["spend"]) == (FREIGHT, 3000, 3667)
    assert trial["fingerprint_before"] == before["fingerprint"] == board(loaded)["fingerprint"]
    answer = loaded.put(f"{PLAN}/sections/other_cost", json=body | {"tried": trial["state"]})
    assert answer.status_code == 200
    assert board(loaded)["fingerprint"] == trial["fingerprint"]


def test_a_setting_is_tried_then_kept(loaded):
    body = {"basis": basis(loaded), "values": {"home_currency": "NZD"}}
    trial = loaded.post(f"{PLAN}/general/trial", json=body).json()
    assert (trial["was_currency"], trial["currency"], trial["moves"]) == ("AUD", "NZD", True)
    assert loaded.put(f"{PLAN}/general", json=body | {"tried": trial["state"]}).status_code == 200
    assert board(loaded)["fingerprint"] == trial["fingerprint"]
    assert board(loaded)["currency"] == "NZD"


def test_a_file_of_records_is_tried_then_kept(loaded):
    content = "campaign,kind,cost,from,to\nFreight Fridays,fee,10.00,2026-03-07,2026-03-09\n"
    files = {"file": ("fees.csv", content, "text/csv")}
    trial = loaded.post(f"{PLAN}/sections/other_cost/file/trial", files=files, params={"how": "add"}).json()
    assert trial["spend"] == 667
    assert loaded.get(PLAN).json()["sections"]["other_cost"] == []
    kept = loaded.post(f"{PLAN}/sections/other_cost/file", files=files, params={"how": "add", "tried": trial["state"]})
    assert len(kept.json()["sections"]["other_cost"]) == 1
    assert board(loaded)["fingerprint"] == trial["fingerprint"]


def test_shared_rules_are_tried_then_taken_over(loaded):
    rule = {"name": "Boat search", "when": [{"field": "campaign", "op": "is", "value": "Spring Whale Boats"}]}
    body = {"basis": basis(loaded), "records": [rule]}
    loaded.put(f"{PLAN}/sections/shared_channel", json=body)
    version = loaded.get(f"{PLAN}/shared-rules").json()["version"]
    version = loaded.put(f"{PLAN}/shared-rules/{version}").json()["version"]
    loaded.put(f"{PLAN}/sections/shared_channel", json={"basis": basis(loaded), "records": []})
    wanted = {"version": version, "basis": basis(loaded)}
    trial = loaded.post(f"{PLAN}/shared-rules/take-over/trial", json=wanted).json()
    assert (trial["by"], trial["value"]) == ("channel", 14000)
    kept = loaded.post(f"{PLAN}/shared-rules/take-over", json=wanted | {"tried": trial["state"]})
    assert kept.json()["sections"]["shared_channel"] == [rule]


def test_another_state_than_the_one_tried_is_not_kept(loaded):
    body = {"basis": basis(loaded), "records": [FEE]}
    answer = loaded.put(f"{PLAN}/sections/other_cost", json=body | {"tried": "0" * 32})
    assert answer.status_code == 409
    assert "Try it again" in answer.json()["message"]
    assert loaded.get(PLAN).json()["sections"]["other_cost"] == []


def test_a_wrong_record_is_answered_in_words(loaded):
    body = {"basis": basis(loaded), "records": [FEE | {"cost": "ten"}]}
    answer = loaded.post(f"{PLAN}/sections/other_cost/trial", json=body)
    assert answer.status_code == 422
    assert "cost" in answer.json()["message"]


def test_a_price_in_the_link_sheet_is_tried_then_kept(loaded):
    cells = {"page": "https://www.lunnick.example/night", "campaign": "Midnight Boat", "source": "ellivane"}
    change = [{"key": "k", "cells": cells | {"medium": "email", "price": "0.35"}}]
    sheet = "/api/w/test/mark/links"
    body = {"basis": loaded.get(sheet).json()["basis"], "changes": change, "what": "a price"}
    before = board(loaded)
    trial = loaded.post(f"{sheet}/trial", json=body).json()
    assert (trial["moves"], trial["spend"]) == (True, 35)
    assert (board(loaded)["fingerprint"], loaded.get(sheet).json()["rows"]) == (before["fingerprint"], [])
    refused = loaded.patch(sheet, json=body | {"tried": "something else"})
    assert (refused.status_code, loaded.get(sheet).json()["rows"]) == (409, [])
    assert loaded.patch(sheet, json=body | {"tried": trial["state"]}).status_code == 200
    assert board(loaded)["fingerprint"] == trial["fingerprint"]
    file = {
        "file": (
            "more.csv",
            b"page,campaign,source,medium,price\nhttps://www.lunnick.example/n,Midnight Boat,ellivane,email,1\n",
        )
    }
    assert loaded.post(f"{sheet}/file/trial", files=file).json()["moves"] is False  # of two prices the first holds
    assert len(loaded.get(sheet).json()["rows"]) == 1


def test_a_settings_file_is_tried_where_it_waits(loaded):
    settings = dict(planned_week_files())["settings.toml"].decode().replace('margin = "0.5"', 'margin = "0.25"')
    before = board(loaded)["fingerprint"]
    asked = loaded.post("/api/w/test/gather/rehearsals", files=[("files", ("settings.toml", settings.encode()))]).json()
    trial = loaded.post(f"/api/w/test/gather/rehearsals/{asked['token']}/settings/trial")
    assert trial.status_code == 200
    assert board(loaded)["fingerprint"] == before
    load(loaded, [("settings.toml", settings.encode())])
    assert board(loaded)["fingerprint"] == trial.json()["fingerprint"] != before
    for token in ("gone", "../x"):
        assert loaded.post(f"/api/w/test/gather/rehearsals/{token}/settings/trial").status_code == 404
    rows = loaded.post("/api/w/test/gather/rehearsals", files=[("files", ("a.csv", b"day,base,quote,rate\n"))]).json()
    assert loaded.post(f"/api/w/test/gather/rehearsals/{rows['token']}/settings/trial").status_code == 404
