"""Shared channel rules over HTTP, from two workspaces of one app."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from web.conftest import BASE, InWorkspace
from yardstick.web.app import create

RULE = {"name": "Boats", "when": [{"field": "source", "op": "is", "value": "quorrin"}]}
OTHER = {"name": "Nights", "when": [{"field": "source", "op": "is", "value": "harnock"}]}


@pytest.fixture
def both(databases, tmp_path):
    url = databases.fresh()
    app = create(url, tmp_path / "home", "north", tmp_path / "none")
    with TestClient(app, base_url=BASE) as client:
        assert client.post("/api/workspaces", json={"name": "south"}).json() == ["north", "south"]
        yield InWorkspace(client, "north"), InWorkspace(client, "south")


def put(client, *records):
    basis = client.get("/api/w/test/plan").json()["basis"]
    answer = client.put("/api/w/test/plan/sections/shared_channel", json={"basis": basis, "records": records})
    assert answer.status_code == 200
    return answer.json()["basis"]


def test_a_list_goes_from_one_workspace_to_the_other_and_back(both):
    north, south = both
    put(north, RULE)
    shared = north.put("/api/w/test/plan/shared-rules/0").json()
    assert (shared["mine"], shared["same"], shared["records"]) == (True, True, [RULE])
    seen = south.get("/api/w/test/plan/shared-rules").json()
    assert (seen["by"], seen["mine"], seen["only_shared"]) == ("north", False, ["Boats"])
    plan = south.post("/api/w/test/plan/shared-rules/take-over", json={"version": seen["version"], "basis": 0}).json()
    assert plan["sections"]["shared_channel"] == [RULE]
    assert plan["steps"][0]["what"] == "shared rules of north taken over"
    tried = south.post("/api/w/test/plan/channels/try", json={"url": "/?utm_source=quorrin"}).json()
    assert (tried["channel"], tried["why"]) == ("Boats", "shared rule 1: Boats")
    assert south.post("/api/w/test/plan/undo").json()["sections"]["shared_channel"] == []
    assert north.delete(f"/api/w/test/plan/shared-rules/{shared['version']}").json()["version"] == 0


def test_a_stale_version_is_answered_409_and_a_foreign_one_cannot_be_taken_back(both):
    north, south = both
    put(north, RULE)
    put(south, OTHER)
    version = north.put("/api/w/test/plan/shared-rules/0").json()["version"]
    assert south.put("/api/w/test/plan/shared-rules/0").status_code == 409
    assert south.post("/api/w/test/plan/shared-rules/take-over", json={"version": 0, "basis": 1}).status_code == 409
    assert (
        south.post("/api/w/test/plan/shared-rules/take-over", json={"version": version, "basis": 77}).status_code == 409
    )
    answer = south.delete(f"/api/w/test/plan/shared-rules/{version}")
    assert (answer.status_code, "only the workspace that shared" in answer.json()["message"]) == (422, True)
    assert south.get("/api/w/test/plan").json()["sections"]["shared_channel"] == [OTHER]


def test_rules_of_either_kind_are_tried_before_they_are_kept(both):
    north, _ = both
    for section, whose in (("channel", "own"), ("shared_channel", "shared")):
        asked = {"url": "/?utm_source=quorrin", "rules": [OTHER, RULE], "section": section}
        assert north.post("/api/w/test/plan/channels/try", json=asked).json()["why"] == f"{whose} rule 2: Boats"
    assert north.post("/api/w/test/plan/channels/try", json={"url": "/", "section": "built in"}).status_code == 422
    assert north.post("/api/w/test/plan/channels/rehearsal?section=shared_channel", json=[RULE]).json() == []
