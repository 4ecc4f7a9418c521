"""A disk that is full: nothing half done, the word about it true, and all goes on once there is room."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
from concurrent.futures import ThreadPoolExecutor, wait

import pytest
from fastapi.testclient import TestClient

from cluster import Databases, reachable
from web.conftest import BASE
from web.http_files import load, rehearse
from week import week_files
from yardstick.web.app import create

MORE = b"visit_id,occurred_at,visitor_id,url\n" + b"".join(
    b"m%d,2026-03-02T10:00:00Z,p%d,/?utm_campaign=c%d\n" % (i, i, i % 50) for i in range(20_000)
)


@contextlib.contextmanager
def disk(folder, size):
    """A small disk mounted on a folder."""
    folder.mkdir(exist_ok=True)
    done = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={size},mode=755", "tmpfs", str(folder)], capture_output=True, text=True
    )
    if done.returncode:
        pytest.skip(f"no disk can be mounted here: {done.stderr.strip()}")
    yield folder
    subprocess.run(["umount", "--lazy", str(folder)], check=True)


@pytest.fixture
def small(tmp_path):
    """A disk of 8 MiB."""
    with disk(tmp_path / "small", "8m") as folder:
        yield folder


@pytest.fixture
def cramped():
    """A database whose own disk has 192 MiB, and that disk."""
    with disk(reachable("cramped"), "192m") as folder:
        databases = Databases(folder / "cluster", durable=True)
        yield databases, folder
        databases.cluster.stop("immediate")


def fill(folder, leave):
    """Take all room but some bytes."""
    filler = os.open(folder / "filler", os.O_CREAT | os.O_WRONLY)
    with contextlib.suppress(OSError):
        while True:
            os.write(filler, b"x" * 4096)
    os.close(filler)
    os.truncate(folder / "filler", max(0, os.path.getsize(folder / "filler") - leave))


def shown(client):
    board = client.get("/api/w/test/weigh/board").json()
    return board["fingerprint"], board["rows"], client.get("/api/w/test/gather/loads").json()


@pytest.mark.parametrize("leave", [0, 64 * 1024])
def test_no_room_for_an_upload_is_said_and_changes_nothing(databases, small, tmp_path, leave):
    with TestClient(create(databases.fresh(), small / "home", "test", tmp_path / "none"), base_url=BASE) as client:
        load(client, week_files())
        before = shown(client)
        fill(small, leave)
        answer = client.post("/api/w/test/gather/rehearsals", files=[("files", ("visits.csv", MORE))])
        assert answer.status_code == 507
        assert "full" in answer.json()["message"]
        assert shown(client) == before
        (small / "filler").unlink()
        load(client, [("visits.csv", MORE)])


@pytest.mark.parametrize("leave", [0, 16 * 1024, 256 * 1024])
def test_with_no_room_while_a_file_is_kept_it_is_kept_whole_or_not_at_all_and_what_is_said_is_so(
    databases, small, tmp_path, leave
):
    url, home = databases.fresh(), small / "home"
    with TestClient(create(url, home, "test", tmp_path / "none"), base_url=BASE) as client:
        load(client, week_files())
        before = shown(client)
        token = rehearse(client, [("visits.csv", MORE)])["token"]
        fill(small, leave)
        job = client.post("/api/w/test/gather/loads", json={"token": token}).json()["id"]
        client.get(f"/api/w/test/gather/jobs/{job}/events")
        state = client.get(f"/api/w/test/gather/jobs/{job}").json()
        # The rehearsal has its rows on disk already: with a little room they only need a name.
        if state["state"] != "done" or not leave:
            assert state["state"] == "failed", state
            assert "full" in state["message"]
            assert "kept nothing" in state["message"]
            assert shown(client) == before
        (small / "filler").unlink()
        load(client, [("visits.csv", MORE)])
        after = shown(client)
    with TestClient(create(url, home, "test", tmp_path / "none"), base_url=BASE) as client:
        assert shown(client) == after
    with TestClient(create(databases.fresh(), tmp_path / "clean", "test", tmp_path / "none"), base_url=BASE) as client:
        load(client, week_files())
        load(client, [("visits.csv", MORE)])
        assert shown(client)[:2] == after[:2]


@pytest.mark.parametrize("leave", [0, 1024 * 1024, 3 * 1024 * 1024])
def test_no_room_for_the_database_keeps_nothing_of_a_file_and_says_so(cramped, tmp_path, leave):
    """With some room the tables cannot grow; with none, the database may end itself."""
    databases, folder = cramped
    url, home = databases.fresh(), tmp_path / "home"
    with (
        TestClient(create(url, home, "test", tmp_path / "none"), base_url=BASE) as client,
        ThreadPoolExecutor(1) as aside,
    ):
        load(client, week_files())
        before = shown(client)
        token = rehearse(client, [("visits.csv", MORE)])["token"]
        fill(folder, leave)
        asked = client.post("/api/w/test/gather/loads", json={"token": token})
        assert asked.status_code in (202, 503, 507), asked.text
        if asked.status_code == 202:
            job = f"/api/w/test/gather/jobs/{asked.json()['id']}"
            told = aside.submit(lambda: client.get(f"{job}/events").text)
            while (answer := client.get(job)).status_code == 200 and answer.json()["state"] == "running":
                wait([told], timeout=0.2)
        (folder / "filler").unlink()
        databases.cluster.start()
        if asked.status_code == 202:
            last = json.loads(told.result(60).rstrip().rsplit("data: ", 1)[1])
            assert last["state"] == "failed", last
            assert "kept nothing" in last["message"]
            assert "full" in last["message"] or "database" in last["message"], last
        client.get("/api/w/test/gather/loads")
        assert shown(client) == before
        load(client, [("visits.csv", MORE)])
        after = shown(client)
    with TestClient(create(url, home, "test", tmp_path / "none"), base_url=BASE) as client:
        assert shown(client) == after
