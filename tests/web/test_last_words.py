"""What is said of a job whose end the database did not hear of, or of which it lost the answer."""

from __future__ import annotations

from sqlalchemy.exc import OperationalError

from web.http_files import load, rehearse
from web.test_short_links import ROW, go, put
from week import week_files
from yardstick.stations.gather import keep_files
from yardstick.stations.workspace.desk import Desk
from yardstick.store import jobs

MORE = b"visit_id,occurred_at,visitor_id,url\nm1,2026-03-02T10:00:00Z,p1,/?utm_campaign=a\n"


def away():
    return OperationalError("commit", {}, Exception("server closed the connection"))


def keep(client):
    """Keep a file, and wait until the work on it is over; what is said of the job."""
    token = rehearse(client, [("more.csv", MORE)])["token"]
    job = client.post("/api/w/test/gather/loads", json={"token": token}).json()["id"]
    client.at_work.loader._pool.shutdown(wait=True)
    return client.get(f"/api/w/test/gather/jobs/{job}").json()


def test_a_job_whose_end_could_not_be_said_is_not_running_for_ever(client, monkeypatch):
    load(client, week_files())
    before = client.get("/api/w/test/gather/loads").json()
    end, asked = jobs.end, []

    def at(step, backends=None):
        if step == "load copied":
            raise away()

    def unheard(*words):
        asked.append(words)
        if len(asked) == 1:
            raise away()
        end(*words)

    monkeypatch.setattr(keep_files, "reach", at)
    monkeypatch.setattr(jobs, "end", unheard)
    said = keep(client)
    assert len(asked) == 2
    assert said["state"] == "failed"
    assert "the database went away; kept nothing; load the other files again" in said["message"]
    assert client.get("/api/w/test/gather/loads").json() == before


def test_a_commit_whose_answer_was_lost_is_a_load_that_is_kept(client, monkeypatch):
    load(client, week_files())
    fingerprint = client.get("/api/w/test/weigh/board").json()["fingerprint"]

    def at(step, backends=None):
        if step == "load committed":
            raise away()

    monkeypatch.setattr(keep_files, "reach", at)
    said = keep(client)
    assert (said["state"], said["message"]) == ("done", "kept more.csv")
    assert client.get("/api/w/test/gather/loads").json()[0]["file"] == "more.csv"
    assert client.get("/api/w/test/weigh/board").json()["fingerprint"] != fingerprint


def test_a_short_link_does_not_wait_for_a_state_that_is_behind(client, monkeypatch):
    code = f"Behind{client.workspace}"
    put(client, ("k1", ROW | {"short": code}))
    assert go(client, f"/~/{code}").status_code == 302

    def asked(self):
        raise AssertionError("a click asked for the state")

    monkeypatch.setattr(Desk, "catch_up", asked)
    assert go(client, f"/~/{code}").status_code == 302
