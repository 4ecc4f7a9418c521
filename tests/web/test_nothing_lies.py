"""What the app says happened is so: a change that was kept is said to be kept, and figures that are behind say so."""

from __future__ import annotations

import shutil

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as NoConnection

from web.conftest import BASE, InWorkspace
from web.http_files import load
from web.test_short_links import ROW, put
from week import week_files
from yardstick.stations.workspace.desk import Desk
from yardstick.store.snapshots import Snapshots
from yardstick.web import plan as plan_door
from yardstick.web.app import create

AWAY = OperationalError("", None, Exception())


def change_plan(client, **values):
    basis = client.get("/api/w/test/plan").json()["basis"]
    return client.put("/api/w/test/plan/general", json={"basis": basis, "values": values})


@pytest.mark.parametrize("fault", [OSError(28, "No space left on device"), ValueError("a cell of another world"), AWAY])
def test_a_change_whose_state_cannot_be_worked_out_is_kept_and_said_everywhere(alone, monkeypatch, fault):
    load(alone, week_files())
    before = alone.get("/api/w/test/weigh/board").json()
    monkeypatch.setattr("yardstick.stations.workspace.desk.RETRY_S", 0.0)
    with monkeypatch.context() as broken:

        def publish(*_):
            raise fault

        broken.setattr(Snapshots, "publish", publish)
        answer = change_plan(alone, margin="0.42")
        assert (answer.status_code, answer.json()["general"]["margin"]) == (200, "0.42")
        board = alone.get("/api/w/test/weigh/board").json()
        assert board["fingerprint"] == before["fingerprint"]
        assert board["behind"]
        assert alone.get("/api/health").json()["behind"] == {"test": board["behind"]}
        said = alone.get("/api/w/test/weigh/board.csv").headers["content-disposition"]
        assert 'filename="test-behind-board' in said
    board = alone.get("/api/w/test/weigh/board").json()
    assert (board["behind"], board["margin"]) == ("", 0.42)
    assert alone.get("/api/health").json()["behind"] == {}
    assert "behind" not in alone.get("/api/w/test/weigh/board.csv").headers["content-disposition"]


@pytest.mark.parametrize("fault", [AWAY, NoConnection(), OSError(28, "No space left on device"), ValueError("odd")])
def test_what_was_kept_is_never_said_to_be_undone(alone, monkeypatch, fault):
    def broken(*_):
        raise fault

    client = InWorkspace(TestClient(alone.app, base_url=BASE, raise_server_exceptions=False), "test")
    with monkeypatch.context() as gone:
        gone.setattr(plan_door, "read", broken)
        answer = client.put("/api/w/test/plan/general", json={"basis": 0, "values": {"margin": "0.42"}})
    assert (answer.status_code, answer.json()["code"]) == (503, "kept")
    assert "This was kept" in answer.json()["message"]
    assert alone.get("/api/w/test/plan").json()["general"]["margin"] == "0.42"


def test_a_commit_whose_answer_is_lost_is_not_said_to_have_failed(alone):
    engine = alone.desk.engine

    def lost(_):
        raise AWAY

    event.listen(engine, "commit", lost)
    try:
        answer = alone.put("/api/w/test/plan/general", json={"basis": 0, "values": {"margin": "0.42"}})
    finally:
        event.remove(engine, "commit", lost)
    assert (answer.status_code, answer.json()["code"]) == (503, "unsure")
    # What failed before its commit is what it was.
    with engine.connect() as holder:
        holder.execute(text("SELECT id FROM workspace FOR UPDATE"))
        engine.dispose(close=False)
        with engine.connect() as other:
            other.execute(text("SET lock_timeout = '1ms'"))
            other.commit()
        answer = change_plan(alone, margin="0.43")
    assert (answer.status_code, answer.json()["code"]) == (503, "busy")


def test_an_answer_nobody_thought_of_is_a_sentence(databases, tmp_path, monkeypatch):
    app = create(databases.fresh(), tmp_path / "home", "test", tmp_path / "none")

    def broken(*_):
        raise ZeroDivisionError

    monkeypatch.setattr(plan_door.change_plan, "read_plan", broken)
    with TestClient(app, base_url=BASE, raise_server_exceptions=False) as client:
        answer = client.get("/api/w/test/plan")
    assert (answer.status_code, answer.json()["code"]) == (500, "unforeseen")
    assert "Look at what stands" in answer.json()["message"]


def test_a_workspace_that_cannot_be_worked_out_is_listed_can_be_undone_and_stops_nobody(databases, tmp_path):
    """A setting that this version cannot read once kept every workspace of the instance from being opened."""
    url, home = databases.fresh(), tmp_path / "home"
    with TestClient(create(url, home, "north", tmp_path / "none"), base_url=BASE) as client:
        client.post("/api/workspaces", json={"name": "south"})
        north, south = InWorkspace(client, "north"), InWorkspace(client, "south")
        load(north, week_files())
        good = north.get("/api/w/test/weigh/board").json()
        put(north, ("k", ROW | {"short": "pier"}))
        load(north, [("settings.toml", b"margin = 0.9")])
        with north.desk.engine.begin() as connection:
            connection.execute(text("UPDATE settings_version SET toml = 'margin = [' WHERE toml LIKE '%0.9%'"))
    shutil.rmtree(home / "snapshots" / "north")
    with TestClient(create(url, home, "south", tmp_path / "none"), base_url=BASE) as client:
        north, south = InWorkspace(client, "north"), InWorkspace(client, "south")
        assert client.get("/api/workspaces").json() == ["north", "south"]
        assert client.get("/~/pier", follow_redirects=False).status_code in (302, 503)
        assert south.get("/api/w/test/plan").status_code == 200
        loads = north.get("/api/w/test/gather/loads")
        assert loads.status_code == 200, loads.text
        assert "cannot be worked out" in client.get("/api/health").json()["behind"]["north"]
        latest = loads.json()[0]
        undone = north.post(f"/api/w/test/gather/loads/{latest['id']}/undo")
        assert undone.status_code == 200, undone.text
        again = north.get("/api/w/test/weigh/board").json()
        assert (again["fingerprint"], again["behind"]) == (good["fingerprint"], "")


def test_a_state_that_cannot_be_worked_out_is_not_tried_again_at_every_question(alone, monkeypatch):
    tried = []

    def broken(self):
        tried.append(1)
        raise ValueError("no")

    load(alone, week_files())
    with monkeypatch.context() as gone:
        gone.setattr(Desk, "_renew", broken)
        change_plan(alone, margin="0.42")
        for _ in range(5):
            assert alone.get("/api/w/test/weigh/board").json()["behind"]
    assert len(tried) == 1


def test_a_change_is_worked_out_also_where_an_earlier_one_is_done_just_then(alone, monkeypatch):
    """What was begun before this change says that nothing is behind; the change is not in it."""
    load(alone, week_files())
    with monkeypatch.context() as meanwhile:
        meanwhile.setattr(Desk, "catch_up", lambda self: None)
        change_plan(alone, margin="0.42")
        assert alone.get("/api/w/test/weigh/board").json()["margin"] == 0.42


def test_a_question_that_takes_far_too_long_is_given_up_and_can_be_asked_again(alone, monkeypatch):
    load(alone, week_files())
    with monkeypatch.context() as hurried:
        hurried.setattr("yardstick.stations.weigh.weigh_board.WEIGHING_S", -1.0)
        answer = alone.get("/api/w/test/weigh/board")
        assert (answer.status_code, answer.json()["code"]) == (422, "too_long")
    assert alone.get("/api/w/test/weigh/board").status_code == 200
