"""Reading files for a rehearsal: how far it is, stopping it, and what a stopped keep leaves."""

from __future__ import annotations

import threading
from io import BytesIO

import pytest

from web.http_files import rehearse
from yardstick.stations.gather import rehearse_file
from yardstick.stations.gather.waiting_files import UploadReading, choose, put_back, put_file, reading_of, uploaded
from yardstick.stations.workspace.reading_now import ReadingNow, ReadingsNow, ReadingStopped, followed

ROWS = b"visit_id,occurred_at,visitor_id,url\n" + b"".join(b"v%d,2026-03-02T10:00:00Z,p,/\n" % i for i in range(30_000))


def test_nobody_reads_and_a_name_that_is_none_is_refused(client):
    said = client.get("/api/w/test/gather/readings/abc").json()
    assert said == {"file": "", "rows": 0, "done": 0, "size": 0, "stopped": False}
    assert client.get("/api/w/test/gather/readings/a.b").status_code == 422
    assert (
        client.post("/api/w/test/gather/rehearsals?called=a%20b", files=[("files", ("v.csv", ROWS))]).status_code == 422
    )


def test_reading_says_how_far_it_is_and_is_stopped_with_nothing_left(client, monkeypatch):
    met, seen = threading.Event(), []
    before = rehearse_file.in_time

    def slowly(name, size):
        look = before(name, size)

        def wait(rows, done):
            look(rows, done)
            seen.append(client.get("/api/w/test/gather/readings/mine").json())
            client.post("/api/w/test/gather/readings/mine/stop")
            met.set()

        return wait

    monkeypatch.setattr(rehearse_file, "in_time", slowly)
    files = [("files", ("visits.csv", ROWS * 20))]
    answer = client.post("/api/w/test/gather/rehearsals?called=mine", files=files)
    assert met.is_set()
    assert (answer.status_code, answer.json()["code"]) == (409, "stopped")
    assert "visits.csv: reading it was stopped after" in answer.json()["message"]
    assert seen[0]["file"] == "visits.csv"
    assert 0 < seen[0]["rows"] < 600_000
    assert 0 < seen[0]["done"] <= seen[0]["size"]
    assert not list(client.desk.uploads.iterdir())
    assert client.get("/api/w/test/gather/readings/mine").json()["file"] == ""


def test_what_a_stopped_keep_did_not_keep_waits_in_its_rehearsal(client):
    """It had to be chosen and read again, questions and all."""
    files = [("a.csv", ROWS), ("rates.csv", b"day,base,quote,rate\n2026-03-02,NZD,EUR,0.5\n")]
    token = rehearse(client, files)["token"]
    assert client.get(f"/api/w/test/gather/rehearsals/{token}").json() == ["a.csv", "rates.csv"]
    loader = client.at_work.loader
    before = loader._progress

    def stop_at_rows(job, name, rows, done, size):
        if name == "a.csv":
            loader.stop(job)
        before(job, name, rows, done, size)

    loader._progress = stop_at_rows
    job = client.post("/api/w/test/gather/loads", json={"token": token}).json()["id"]
    assert '"state": "stopped"' in client.get(f"/api/w/test/gather/jobs/{job}/events").text
    loader._progress = before
    kept = {load["file"] for load in client.get("/api/w/test/gather/loads").json()}
    left = client.get(f"/api/w/test/gather/rehearsals/{token}").json()
    assert "a.csv" in left
    assert set(left) == {"a.csv", "rates.csv"} - kept
    job = client.post("/api/w/test/gather/loads", json={"token": token}).json()["id"]
    assert '"state": "done"' in client.get(f"/api/w/test/gather/jobs/{job}/events").text
    assert {load["file"] for load in client.get("/api/w/test/gather/loads").json()} == {"a.csv", "rates.csv"}
    assert client.get(f"/api/w/test/gather/rehearsals/{token}").json() == []


def test_a_file_of_which_only_one_part_was_kept_goes_back_whole(tmp_path):
    """Orders were kept and the refunds among them not: the file would have been gone."""
    taken, folder = tmp_path / "taken", tmp_path / "token"
    taken.mkdir()
    for number, name in enumerate(("orders.csv", "visits.csv")):
        choose(put_file(taken, number, name, BytesIO(b"x")), UploadReading())
    assert put_back(taken, folder, {"visits.csv"})
    ((name, path),) = uploaded(folder)
    assert (name, path.read_bytes(), reading_of(path)) == ("orders.csv", b"x", UploadReading())
    # A file of no rehearsal, as earlier versions put them down, is none that waits.
    (folder / "000-orders.csv").write_bytes(b"x")
    assert uploaded(folder) == [(name, path)]
    # Where nothing can be moved the job ends all the same, and says so.
    assert not put_back(taken, tmp_path / "gone" / "token", set())


def test_a_rehearsal_that_is_none_has_nothing_waiting(client):
    for token in ("f" * 24, "no-token", "..."):
        assert client.get(f"/api/w/test/gather/rehearsals/{token}").json() == []


def test_a_name_is_free_again_when_reading_ended():
    readings = ReadingsNow()
    with readings.reading("x"):
        look = followed("f.csv", 10, lambda rows, done: None)
        look(3, 5)
        assert readings.at("x") == ReadingNow("f.csv", 3, 5, 10)
        readings.stop("x")
        with pytest.raises(ReadingStopped, match="after 4 rows"):
            look(4, 6)
    assert readings.at("x") == ReadingNow()
