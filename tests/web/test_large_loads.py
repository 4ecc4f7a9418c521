"""A load that takes its time: others are answered meanwhile, and memory does not grow with the file."""

from __future__ import annotations

import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from effort import much
from web.http_files import load, rehearse
from web.test_short_links import ROW, URL, go, put
from week import week_files
from yardstick.stations.gather import keep_files

ROOT = Path(__file__).parents[2]
VISITS = b"visit_id,occurred_at,visitor_id,url\nv1,2026-03-02T10:00:00Z,p1,/?utm_campaign=a\n"
ROWS = much(200_000, 500_000)
CHILD = """
import sys
from yardstick.alone import leave_pandas_out
leave_pandas_out()
from pathlib import Path
from yardstick.stations.workspace.desk import Desk
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.store.database import connect
from ground import say_ground
url, home, file = sys.argv[1:]
desk = Desk(connect(url), Path(home), "test")
with open(file, "rb") as stream:
    found = rehearse(desk, [("visits.csv", stream)])
say_ground(desk)
loader = Loader(desk)
job = loader.keep(found.token)
loader._pool.shutdown(wait=True)
# Of this program alone: what getrusage says began with the size of the process that started it.
(peak,) = [line.split()[1] for line in open("/proc/self/status") if line.startswith("VmHWM")]
print(loader.state(job).state, found.files[0].new, int(peak) // 1024)
"""


@pytest.mark.parametrize("step", ["load begun", "load copied"])
def test_a_load_that_is_not_over_holds_up_nobody(client, monkeypatch, step):
    load(client, week_files())
    before = client.get("/api/w/test/gather/loads").json()
    put(client, ("k1", ROW | {"short": f"Held{client.workspace}"}))
    token = rehearse(client, [("visits.csv", VISITS)])["token"]
    there, go_on = threading.Event(), threading.Event()

    def hold(name, backends=None):
        if name == step:
            there.set()
            assert go_on.wait(60)

    monkeypatch.setattr(keep_files, "reach", hold)
    job = client.post("/api/w/test/gather/loads", json={"token": token}).json()["id"]
    with ThreadPoolExecutor(6) as pool:
        try:
            assert there.wait(30)
            asked = {
                "health": pool.submit(client.get, "/api/health"),
                "board": pool.submit(client.get, "/api/w/test/weigh/board"),
                "loads": pool.submit(client.get, "/api/w/test/gather/loads"),
                "plan": pool.submit(client.get, "/api/w/test/plan"),
                "short link": pool.submit(go, client, f"/~/Held{client.workspace}"),
                "edit": pool.submit(put, client, ("k2", ROW | {"term": "held"})),
            }
            answers = {name: answer.result(timeout=30) for name, answer in asked.items()}
            assert client.get(f"/api/w/test/gather/jobs/{job}").json()["state"] == "running"
        finally:
            go_on.set()
    assert [answers[name].status_code for name in ("health", "board", "loads", "plan")] == [200] * 4
    assert answers["short link"].headers["location"].startswith(URL)
    assert answers["loads"].json() == before
    until = client.get(f"/api/w/test/gather/jobs/{job}/events").text
    assert '"state": "done"' in until


def test_half_a_million_rows_are_kept_in_less_than_a_gibibyte_and_fewer_in_less(databases, tmp_path):
    file = tmp_path / "visits.csv"
    with file.open("w") as out:
        out.write("visit_id,occurred_at,visitor_id,url,click_id\n")
        for i in range(ROWS):
            day, second = i % 28 + 1, i % 60
            url = f"https://www.lunnick.example/page{i % 31}?utm_source=s{i % 7}&utm_campaign=Campaign+{i % 200}&ckid=k{i}"
            out.write(f"v{i},2026-03-{day:02}T10:00:{second:02}Z,p{i // 3},{url},\n")
    words = [sys.executable, "-c", CHILD, databases.fresh(), str(tmp_path / "home"), str(file)]
    done = subprocess.run(words, env={"PYTHONPATH": f"{ROOT / 'src'}:{ROOT / 'tests'}"}, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    state, new, peak = done.stdout.split()
    assert (state, int(new)) == ("done", ROWS)
    assert int(peak) < 400 + 624 * ROWS / 500_000
