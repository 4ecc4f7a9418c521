"""Work that is cut off at any step: by the end of the app, of its connections, of the whole database. Nothing is half
done or done twice, and the word about it is true.

A few of it in `make test`; all of it, many times over, in `make nightly` (YARDSTICK_CUTS=100).
"""

from __future__ import annotations

import itertools
import os
import random
import signal
import time
from pathlib import Path

import pytest
from sqlalchemy import text

from cluster import Databases, reachable
from forking import Forking
from ground import say_ground
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.undo_loads import list_loads
from yardstick.stations.plan.change_plan import read_plan
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.store import jobs
from yardstick.store.clicks import ClickRecorder
from yardstick.store.database import connect, connect_alone
from yardstick.store.steps import STEPS

WORK = {
    "load": [s for s in STEPS if s.startswith(("load", "part", "state"))],
    "undo": [s for s in STEPS if s.startswith(("undo", "state"))],
    "plan": [s for s in STEPS if s.startswith(("plan", "state"))],
    "click": [s for s in STEPS if s.startswith("click")],
}
KINDS = ("app", "backend", "database")
EVERY = [(w, s, k) for w, steps in WORK.items() for s, k in itertools.product(steps, KINDS)]
CUTS = int(os.environ.get("YARDSTICK_CUTS", "6"))
chance = random.Random(os.environ.get("YARDSTICK_CUTS_SEED", "8"))
CHOSEN = (EVERY * (CUTS // len(EVERY) + 1))[:CUTS] if len(EVERY) < CUTS else chance.sample(EVERY, CUTS)
OLD = b"visit_id,occurred_at,visitor_id,url\nv1,2026-03-02T10:00:00Z,p,/?utm_campaign=a\n"
MORE = b"visit_id,occurred_at,visitor_id,url\nv2,2026-03-03T10:00:00Z,p,/?utm_campaign=c\n"


class _Own(Databases):
    """A cluster with what works in it, and is cut off."""

    worker: Forking


@pytest.fixture(scope="module")
def own():
    """A cluster of its own, so that ending it disturbs nobody; durable, since what it keeps must outlive it."""
    made = _Own(reachable("cut"), durable=True)
    made.worker = Forking(Path(__file__).with_name("child.py"), reachable("said"))
    yield made
    made.worker.close()
    made.cluster.stop("immediate")


def begin(own, tmp_path):
    url, home = own.fresh(), tmp_path / "home"
    desk = Desk(connect(url), home, "test")
    keep_now(desk, [("old.csv", OLD)])
    keep_now(desk, [("more.csv", MORE)])
    # Before anything is cut: what is cut is the work alone.
    say_ground(desk)
    return url, desk


def cut(own, url, home, work, step="", kind=""):
    database = (own.cluster.data / "postmaster.pid").read_text().split()[0]
    named = {"YARDSTICK_CUT_AT": f"{step.replace(' ', '-')} {kind}", "YARDSTICK_DATABASE_PID": database}
    ended, said, _ = own.worker.run(url, str(home), work, **named)
    assert ended in (0, 1, -signal.SIGKILL)
    if kind == "database":
        # Its other processes notice in their own time that it is gone.
        until = time.monotonic() + 30
        while True:
            try:
                own.cluster.start()
                break
            except Exception:
                assert time.monotonic() < until
                time.sleep(0.2)  # see above
    return said


@pytest.mark.parametrize(("work", "step", "kind"), CHOSEN)
def test_work_that_is_cut_off_is_done_or_not_and_the_word_about_it_is_true(own, tmp_path, work, step, kind):
    url, desk = begin(own, tmp_path)
    before = desk.snapshots.current().data
    said = cut(own, url, desk.home, work, step, kind)
    port = own.cluster.port
    url = url.rsplit("@", 1)[0] + f"@127.0.0.1:{port}/" + url.rsplit("/", 1)[1]
    after = Desk(connect(url), desk.home, "test")
    after.wake()
    clean = Desk(connect(own.fresh()), tmp_path / "clean", "test")
    if work == "click":
        _clicks_are_kept_once(url, desk.home, said)
        return
    loads = {load.file: load for load in list_loads(after)}
    standing = [load for load in sorted(loads.values(), key=lambda one: one.id) if not load.undone]
    assert [load.file for load in standing][:1] == ["old.csv"]
    for load in standing:
        keep_now(clean, [(load.file, {"old.csv": OLD, "more.csv": MORE}.get(load.file) or new_rows())])
    assert after.snapshots.current().data == clean.snapshots.current().data
    assert Weighing(after.snapshots).board(BoardQuestion(), 0).rows
    if work == "load":
        with after.engine.connect() as connection:
            found = connection.execute(text("SELECT id FROM job ORDER BY id DESC LIMIT 1")).scalar_one()
        state = jobs.find(after.engine, after.workspace, found)
        assert state.state != "running"
        assert ("new.csv" in state.message) == ("new.csv" in loads), state
        if said.startswith("job done"):
            assert "new.csv" in loads
    elif work == "undo":
        assert loads["more.csv"].undone == (after.snapshots.current().data != before)
        if "undone" in said:
            assert loads["more.csv"].undone
    elif work == "plan":
        current = after.snapshots.current()
        assert current is not None
        changed = read_plan(after).general.get("margin") == "0.25"
        assert changed or "changed" not in said
        assert after.snapshots.plan(current).reporting.margin == (0.25 if changed else 1)


def new_rows() -> bytes:
    rows = "".join(f"n{i},2026-03-04T10:00:00Z,p{i},/?utm_campaign=b\n" for i in range(3_000))
    return ("visit_id,occurred_at,visitor_id,url\n" + rows).encode()


def _clicks_are_kept_once(url, home, said):
    spool = home / "clicks.jsonl"
    recorder = ClickRecorder(connect_alone(url), spool)
    until = time.monotonic() + 30
    while spool.exists() and time.monotonic() < until:
        time.sleep(0.05)  # the recorder's thread has no other way to say that it has taken the spool in
    recorder.close()
    with connect(url).connect() as connection:
        kept = [row.code for row in connection.execute(text("SELECT code FROM short_click"))]
    answered = [line.split()[1] for line in said.splitlines() if line.startswith("answered")]
    assert set(answered) <= set(kept)
    assert len(kept) == len(set(kept))


def test_the_steps_that_are_cut_at_are_all_reached(own, tmp_path):
    """Without a cut the work is done and said to be: otherwise the tests above would cut nothing."""
    url, desk = begin(own, tmp_path)
    assert cut(own, url, desk.home, "load").startswith("job done kept new.csv")
    assert "changed" in cut(own, url, desk.home, "plan")
    assert "undone" in cut(own, url, desk.home, "undo")
    assert cut(own, url, desk.home, "click").count("answered") == 5
    # And each step ends the app when it is asked to.
    for work, steps in WORK.items():
        if work != "click":
            url, desk = begin(own, tmp_path / work)
            for step in steps[:1]:
                assert cut(own, url, desk.home, work, step, "app") == ""
