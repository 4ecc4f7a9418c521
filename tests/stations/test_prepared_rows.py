"""What a rehearsal read is what is kept: nothing is read again, unless how it is read, or the disk, has changed."""

from __future__ import annotations

import pytest
from sqlalchemy import text

from ground import say_ground
from stations.test_gather import everything, rehearsed
from week import week_files
from yardstick.stations.gather import keep_files
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.undo_loads import list_loads
from yardstick.stations.plan.change_plan import change_general, read_plan
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect

ODD = (
    "visits.csv",
    b"visit_id,occurred_at,visitor_id,url,note\n"
    b'v1,2026-03-02T10:00:00,p1,"/?utm_campaign=a,b ""c""\nd",x\n'
    b"v2,soon,p2,/,y\n"
    b"v3,2026-03-02 23:30,\\N,/,\n"
    b"v1,2026-03-02T10:00:00,p1,/other,x\n",
)
"""Quoted line ends, a rejected row, what a COPY takes for nothing, an extra column, two versions of one row."""


def kept(desk, files, meanwhile=lambda token: None):
    """Rehearse, let something happen, keep."""
    token = rehearsed(desk, files).token
    say_ground(desk)
    meanwhile(token)
    loader = Loader(desk)
    job = loader.keep(token)
    loader._pool.shutdown(wait=True)
    assert loader.state(job).state == "done", loader.state(job).message


def raw(desk):
    """Raw rows and rejected ones, with what they say of themselves."""
    with desk.engine.connect() as connection:
        rows = connection.execute(text("SELECT * FROM raw_visits ORDER BY line")).all()
        rejected = connection.execute(text('SELECT line, "column", value, reason, digest FROM rejected_row')).all()
    return [tuple(r)[1:] for r in rows], sorted(map(tuple, rejected))


def fail_to_read(monkeypatch):
    monkeypatch.setattr(keep_files, "open_by", lambda *_: pytest.fail("the file was read again"))


def test_keeping_reads_nothing_again(desk, monkeypatch):
    fail_to_read(monkeypatch)
    kept(desk, [ODD, *week_files()[1:]])
    assert {load.file for load in list_loads(desk)} >= {"visits.csv", "spend.csv"}
    assert len(desk.tables().visits) == 3


@pytest.mark.parametrize("harm", ["gone", "part", "text", "facts"])
def test_without_whole_rows_the_file_is_read_again_with_the_same_end(desk, databases, monkeypatch, tmp_path, harm):
    """Which is also what a rehearsal does for which there was no room."""
    other = Desk(connect(databases.fresh()), tmp_path / "other", "test")

    def spoil(token):
        (folder,) = (desk.uploads / token).glob("0000/*.rows")
        if harm == "gone":
            for path in folder.iterdir():
                path.unlink()
        elif harm == "part":
            path = folder / "0.arrow"
            path.write_bytes(path.read_bytes()[:-40])
        elif harm == "text":
            (folder / "rows").write_bytes(b"")
        else:
            path = folder / "0.json"
            path.write_bytes(path.read_bytes()[:-4])

    kept(desk, [ODD], spoil)
    say_ground(other)
    fail_to_read(monkeypatch)
    kept(other, [ODD])
    assert raw(desk) == raw(other)
    assert [row[1] for row in raw(desk)[1]] == ["occurred_at"]
    assert desk.tables().data == other.tables().data
    assert len(desk.tables().visits) == 3


def test_what_hangs_on_another_zone_is_read_again(desk, databases, tmp_path):
    """The zone of a workspace is said between the rehearsal and the keeping."""
    say_ground(desk)

    def elsewhere(_):
        change_general(desk, {"time_zone": "Asia/Tokyo"}, read_plan(desk).basis)

    kept(desk, [ODD], elsewhere)
    tables = desk.tables()
    # 23:30 in Tokyo is 14:30 in UTC.
    assert tables.visits.ints("occurred_at").max() % 86_400_000_000 == (14 * 60 + 30) * 60_000_000


def test_a_stopped_job_leaves_what_was_read_for_the_next(desk, monkeypatch):
    token = rehearsed(desk, [ODD]).token
    say_ground(desk)
    before = everything(desk)
    loader = Loader(desk)
    tell = loader._progress

    def stop(job, *told):
        loader.stop(job)
        tell(job, *told)

    loader._progress = stop
    job = loader.keep(token)
    loader._pool.shutdown(wait=True)
    assert loader.state(job).state == "stopped"
    assert everything(desk) == before
    fail_to_read(monkeypatch)
    again = Loader(desk)
    job = again.keep(token)
    again._pool.shutdown(wait=True)
    assert again.state(job).state == "done"
    assert len(raw(desk)[0]) == 3
