"""What a test cuts off: one piece of work on a workspace, that says what is kept."""

from __future__ import annotations

import asyncio
from io import BytesIO
from pathlib import Path

from forking import serve
from yardstick.formats.files import csv_in
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.gather.undo_loads import list_loads, undo_load
from yardstick.stations.plan.change_plan import change_general, read_plan
from yardstick.stations.workspace.desk import Desk
from yardstick.store import prepared_rows
from yardstick.store.clicks import Click, ClickRecorder
from yardstick.store.database import connect, connect_alone

VISITS = "visit_id,occurred_at,visitor_id,url\n"


def do(url: str, home: str, work: str) -> None:
    """One piece of work."""
    desk = Desk(connect(url), Path(home), "test")
    csv_in.BLOCK = prepared_rows.PIECE = 30_000
    if work == "load":
        rows = VISITS + "".join(f"n{i},2026-03-04T10:00:00Z,p{i},/?utm_campaign=b\n" for i in range(3_000))
        token = rehearse(desk, [("new.csv", BytesIO(rows.encode()))]).token
        loader = Loader(desk)
        job = loader.keep(token)
        loader._pool.shutdown(wait=True)
        print("job", loader.state(job).state, loader.state(job).message, flush=True)
    elif work == "undo":
        undo_load(desk, list_loads(desk)[0].id)
        print("undone", flush=True)
    elif work == "plan":
        change_general(desk, {"margin": "0.25"}, read_plan(desk).basis)
        print("changed", flush=True)
    elif work == "click":
        recorder = ClickRecorder(connect_alone(url), Path(home) / "clicks.jsonl")
        for i in range(5):
            click = Click(f"c{i}", "2026-03-04T10:00:00+00:00", "https://a.example/", workspace="test")
            asyncio.run(recorder.record(click))
            print("answered", click.code, flush=True)
        recorder.close()


if __name__ == "__main__":
    serve(do)
