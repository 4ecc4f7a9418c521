"""Every door holds by itself: who asks, how much comes, what a path or an id may be made of; and progress as it is told."""

from __future__ import annotations

import json

import pytest
from fastapi.testclient import TestClient

from web.http_files import load, rehearse
from week import week_files
from yardstick.web.app import create
from yardstick.web.guards import HEADERS
from yardstick.web.limits import upload_limit

BASE = "http://127.0.0.1:8420"
VISITS = b"visit_id,occurred_at,visitor_id,url\n" + b"".join(
    b"v%d,2026-03-02T10:00:00Z,p%d,/?utm_campaign=a\n" % (i, i) for i in range(200)
)


def secure(answer):
    return all(answer.headers.get(name.decode()) == value.decode() for name, value in HEADERS)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"host": ""}, 403),
        ({"host": "[::1"}, 403),
        ({"host": "127.0.0.1:8420@evil.example"}, 403),
        ({"host": "evil.example:8420"}, 403),
        ({"origin": "http://[::1"}, 403),
        ({"origin": "127.0.0.1:8420"}, 403),
        ({"content-length": "many"}, 400),
        ({"content-length": "-1"}, 400),
        ({"content-length": str(10**14)}, 413),
    ],
)
def test_broken_and_foreign_requests_are_refused_with_the_same_headers(client, headers, status):
    answer = client.post("/api/w/test/gather/loads", content=b"{}", headers=headers)
    assert (answer.status_code, secure(answer)) == (status, True)
    assert answer.json()["message"]


@pytest.mark.parametrize(
    "path",
    [
        "/%00",
        "/w/%00",
        "/" + "a" * 300,
        "/w/" + "a" * 300 + "/weigh",
        "/w/../../etc/passwd",
        "/%ed%a0%80",
        "/api/w/%00/weigh/board",
        "/api/w/" + "a" * 300 + "/weigh/board",
        "/api/w/test/gather/loads/99999999999999999999999/rejected.csv",
        "/api/w/test/gather/jobs/-99999999999999999999999",
        "/api/w/test/gather/jobs/99999999999999999999999/events",
        "/~/%00",
        "/~/" + "a" * 5000,
    ],
)
def test_no_path_is_an_error_of_ours(client, path):
    answer = client.get(path, follow_redirects=False)
    assert answer.status_code < 500
    assert secure(answer)
    assert b"root:" not in answer.content


@pytest.mark.parametrize("token", [".", "..", "", "/", "../..", "\x00", "a" * 5000, "\ud800"])
def test_a_token_names_a_rehearsal_or_nothing(client, token):
    kept = rehearse(client, [("visits.csv", VISITS)])["token"]
    body = json.dumps({"token": token}).encode()
    answer = client.post("/api/w/test/gather/loads", content=body, headers={"content-type": "application/json"})
    assert answer.status_code in (404, 422), answer.text
    assert client.post("/api/w/test/gather/loads", json={"token": kept}).status_code == 202


@pytest.mark.parametrize("said", [True, False], ids=["length said", "in pieces"])
def test_an_upload_beyond_the_limit_is_refused_and_nothing_of_it_is_kept(databases, tmp_path, monkeypatch, said):
    monkeypatch.setenv("YARDSTICK_UPLOAD_LIMIT", "4 KiB")
    app = create(databases.fresh(), tmp_path / "home", "test", tmp_path / "no-front-end")
    with TestClient(app, base_url=BASE) as client:
        head = b'--b\r\nContent-Disposition: form-data; name="files"; filename="visits.csv"\r\n\r\n'
        body = head + VISITS + b"\r\n--b--\r\n"
        content = body if said else iter([body[i : i + 500] for i in range(0, len(body), 500)])
        kind = {"content-type": "multipart/form-data; boundary=b"}
        answer = client.post("/api/w/test/gather/rehearsals", content=content, headers=kind)
        assert answer.status_code == 413
        assert "4,096 bytes" in answer.json()["message"]
        assert secure(answer)
        assert [p for p in (tmp_path / "home" / "uploads").rglob("*") if p.is_file()] == []
        assert client.get("/api/w/test/gather/loads").json() == []
        assert client.get("/api/health").status_code == 200


def test_a_limit_that_is_no_size_is_said(monkeypatch):
    monkeypatch.setenv("YARDSTICK_UPLOAD_LIMIT", "plenty")
    with pytest.raises(ValueError, match="'plenty' is no size"):
        upload_limit()


def test_progress_is_told_until_the_job_has_ended(client):
    token = rehearse(client, [("visits.csv", VISITS)])["token"]
    job = client.post("/api/w/test/gather/loads", json={"token": token}).json()["id"]
    told = client.get(f"/api/w/test/gather/jobs/{job}/events")
    assert told.headers["content-type"].startswith("text/event-stream")
    states = [json.loads(line[6:]) for line in told.text.splitlines() if line.startswith("data: ")]
    assert states[-1]["state"] == "done"
    assert [s["state"] for s in states[:-1]] == ["running"] * (len(states) - 1)
    assert all(s["id"] == job for s in states)


@pytest.mark.parametrize("harm", ["cut", "changed", "gone", "no pointer", "empty pointer"])
def test_what_is_damaged_on_disk_is_made_again_and_the_figures_are_the_same(databases, tmp_path, harm):
    url, home = databases.fresh(), tmp_path / "home"
    with TestClient(create(url, home, "test", tmp_path / "none"), base_url=BASE) as client:
        load(client, week_files())
        before = client.get("/api/w/test/weigh/board").json()
    folder = home / "snapshots" / "test"
    parts = sorted(p for p in (folder / "parts").rglob("*") if p.is_file())
    assert parts
    for file in [folder / "current.json"] if "pointer" in harm else parts:
        content = bytearray(file.read_bytes())
        content[len(content) // 2] ^= 0xFF
        if harm in ("gone", "no pointer"):
            file.unlink()
        else:
            file.write_bytes({"cut": content[: len(content) // 2], "changed": content}.get(harm, b""))
    with TestClient(create(url, home, "test", tmp_path / "none"), base_url=BASE) as client:
        after = client.get("/api/w/test/weigh/board").json()
    assert after["fingerprint"] == before["fingerprint"]
    assert after["rows"] == before["rows"]


@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("DELETE", "/api/health"),
        ("PUT", "/api/workspaces"),
        ("POST", "/api/w/test/weigh/board"),
        ("DELETE", "/api/w/test/gather/loads"),
        ("PATCH", "/api/w/test/plan"),
        ("POST", "/w/test/weigh"),
        ("POST", "/~/code"),
    ],
)
def test_a_method_that_a_path_does_not_know_is_refused_as_such(client, method, path):
    answer = client.request(method, path)
    assert (answer.status_code, secure(answer)) == (405, True)
    assert answer.headers["allow"]
