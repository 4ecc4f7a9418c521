"""The running app at size, through HTTP: five million visits loaded, 500 more added, what others wait for meanwhile, and
the longest that a hostile file of 1 MiB keeps it."""

from __future__ import annotations

import json
import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "scripts"), str(ROOT / "src"), str(ROOT / "tests"), str(ROOT / "tests" / "core")]

from test_hostile_files import HOSTILE  # noqa: E402

import loading  # noqa: E402
import redirects  # noqa: E402
from forking import Forking  # noqa: E402
from private_postgres import Cluster  # noqa: E402
from yardstick.store.database import connect, migrate  # noqa: E402

ROUNDS = 200


class App:
    """The app as a process of its own, and its database."""

    def __init__(self, home: Path, before: Callable[[str, Path], object] = lambda url, home: None) -> None:
        self.cluster = Cluster(home / "cluster")
        self.cluster.start()
        url = self.cluster.url("postgres")
        migrate(connect(url))
        before(url, home / "home")
        said = {"YARDSTICK_DATABASE": url, "YARDSTICK_HOME": str(home / "home"), "YARDSTICK_WORKSPACE": "bench"}
        self.process, self.port = redirects._serve(["yardstick.web.app:from_environment", "--factory"], said, str(ROOT))
        self.cpu = loading.Clock(self.cluster.data)

    def ask(self, path: str, body: bytes | None = None, kind: str = "application/json", method: str = "") -> bytes:
        """An answer; a redirect is one and is not followed."""
        address = f"http://127.0.0.1:{self.port}{path}"
        asked = urllib.request.Request(address, body, {"Content-Type": kind}, method=method or None)
        try:
            with _OPENER.open(asked, timeout=3600) as answer:
                return answer.read()
        except urllib.error.HTTPError as refused:
            if refused.code == 302:
                return b""
            raise

    def memory(self, line: str) -> float:
        """GiB of the app's process: `VmRSS` now, `VmHWM` at most so far."""
        said = Path(f"/proc/{self.process.pid}/status").read_text()
        return int(next(row for row in said.splitlines() if row.startswith(line)).split()[1]) / 1024**2

    def seconds(self) -> float:
        """CPU of the app and its database so far."""
        fields = Path(f"/proc/{self.process.pid}/stat").read_text().rpartition(")")[2].split()
        own = sum(map(int, fields[11:15])) / os.sysconf("SC_CLK_TCK")
        return own + self.cpu.now() - time.process_time()

    def load(self, file: Path) -> None:
        """Rehearse and keep a file, and wait until its board can be asked for."""
        found = json.loads(self.upload("/api/w/bench/gather/rehearsals", file))
        token = found["token"]
        if found["first"]:
            plan = json.loads(self.ask("/api/w/bench/plan"))
            said = {"basis": plan["basis"], "values": {"home_currency": "EUR", "time_zone": "UTC"}}
            self.ask("/api/w/bench/plan/general", json.dumps(said).encode(), method="PUT")
        job = json.loads(self.ask("/api/w/bench/gather/loads", json.dumps({"token": token}).encode()))["id"]
        told = self.ask(f"/api/w/bench/gather/jobs/{job}/events").decode()
        assert '"state": "done"' in told.rsplit("data: ", 1)[1], told[-500:]

    def upload(self, path: str, file: Path) -> bytes:
        """A file as a form sends it, read by curl so that this process holds none of it."""
        address = f"http://127.0.0.1:{self.port}{path}"
        done = subprocess.run(["curl", "-sf", "-F", f"files=@{file}", address], capture_output=True, check=True)
        return done.stdout

    def end(self) -> None:
        """Stop everything."""
        self.process.terminate()
        self.process.wait(60)
        self.cluster.stop("immediate")


class _Stay(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_: object) -> None:
        return None


_OPENER = urllib.request.build_opener(_Stay)


def _links(app: App) -> int:
    cells = {"page": "https://www.lunnick.example/night", "campaign": "x", "source": "a", "medium": "b", "short": "n"}
    basis = json.loads(app.ask("/api/w/bench/mark/links"))["basis"]
    body = {"basis": basis, "what": "bench", "changes": [{"key": "k", "cells": cells}]}
    return int(json.loads(app.ask("/api/w/bench/mark/links", json.dumps(body).encode(), method="PATCH"))["basis"])


def waits(app: App, go_on: Callable[[], bool]) -> dict[str, float]:
    """Median seconds of the health check, an edit of a link, a short link, for as long as something goes on."""
    basis = json.loads(app.ask("/api/w/bench/mark/links"))["basis"]
    took: dict[str, list[float]] = {"health": [], "edit": [], "short link": []}
    while go_on():
        edit = {"basis": basis, "what": "n", "changes": [{"key": "k", "cells": {"note": uuid.uuid4().hex}}]}
        for name, work in (
            ("health", lambda: app.ask("/api/health")),
            ("edit", lambda e=edit: app.ask("/api/w/bench/mark/links", json.dumps(e).encode(), method="PATCH")),
            ("short link", lambda: app.ask("/~/n")),
        ):
            start = time.perf_counter()
            answer = work()
            took[name].append(time.perf_counter() - start)
            if name == "edit":
                basis = json.loads(answer)["basis"]
    return {name: statistics.median(times) for name, times in took.items()}


def more(folder: Path, number: int) -> Path:
    """500 visits nobody has seen yet, of people who are there."""
    file = folder / f"more{number}.csv"
    rows = (
        f"m{number}-{i},2026-04-20T10:00:00Z,p{i * 97},https://www.lunnick.example/?utm_campaign=Campaign+{i % 200},,\n"
        for i in range(500)
    )
    file.write_text(loading.COLUMNS.replace(" ", "") + "\n" + "".join(rows))
    return file


def measure(visits: int = 5_000_000) -> dict[str, float]:
    """See the module's text; CPU in seconds of the app and PostgreSQL, memory in GiB."""
    folder = Path(tempfile.mkdtemp(prefix="yardstick-bench-", dir="/srv" if os.access("/srv", os.W_OK) else None))
    folder.chmod(0o755)
    (folder / "large").mkdir()
    (folder / "other").mkdir()
    loading.write(folder / "large", visits)
    loading.write(folder / "other", visits // 5)
    out: dict[str, float] = {}
    app = App(folder)
    try:
        _links(app)
        idle = app.memory("VmRSS")
        rounds = iter(range(ROUNDS))
        before = waits(app, lambda: next(rounds, None) is not None)
        app.load(folder / "large" / "conversions.csv")
        start = app.seconds()
        app.load(folder / "large" / "visits.csv")
        out["loading"] = app.seconds() - start
        out["memory of loading"] = app.memory("VmHWM") - idle
        start = app.seconds()
        app.ask("/api/w/bench/weigh/board")
        out["first board"] = app.seconds() - start
        added = []
        for number in range(3):
            file = more(folder, number)
            start = app.seconds()
            app.load(file)
            app.ask("/api/w/bench/weigh/board")
            added.append(app.seconds() - start)
        out["500 more"] = statistics.median(added)
        out["memory with boards"] = app.memory("VmHWM") - idle
        # Other rows under other ids, so that all of them are loaded.
        other = folder / "other" / "visits.csv"
        other.write_text(other.read_text().replace("\nv", "\nw"))
        loader = threading.Thread(target=app.load, args=[other])
        loader.start()
        during = waits(app, loader.is_alive)
        for name, seconds in during.items():
            out[f"{name} beside a load"] = seconds / before[name]
        out["hostile"] = _longest_hostile(folder)
    finally:
        app.end()
        shutil.rmtree(folder, ignore_errors=True)
    return out


def _longest_hostile(folder: Path) -> float:
    """Seconds that the longest of the hostile files is worked on."""
    child = Forking(ROOT / "tests" / "core" / "hostile_child.py", folder)
    took = []
    for name, content in HOSTILE.items():
        (folder / name).write_bytes(content)
        start = time.perf_counter()
        ended, _, wrong = child.run(str(folder), name)
        took.append(time.perf_counter() - start)
        assert ended == 0, wrong[-500:]
    child.close()
    return max(took)


def report(found: dict[str, float]) -> str:
    """The figures in words."""
    beside = ", ".join(f"{n[: -len(' beside a load')]} {v:.1f} x" for n, v in found.items() if n.endswith("load"))
    return (
        f"five million visits through HTTP: {found['loading']:.0f} s of CPU, {found['memory of loading']:.2f} GiB above idle "
        f"(goal 1); first board {found['first board']:.0f} s; 500 more to the next board {found['500 more']:.1f} s (goal 10); "
        f"with boards {found['memory with boards']:.1f} GiB above idle\n"
        f"beside a load of a million, median waits against idle: {beside} (goal 10)\n"
        f"longest hostile file of 1 MiB: {found['hostile']:.1f} s (goal 10)"
    )


if __name__ == "__main__":
    print(report(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 5_000_000)))
