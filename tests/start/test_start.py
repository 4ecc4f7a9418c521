"""The start command: it comes up, ends cleanly on Ctrl-C, and comes up again with its data after a kill -9 of everything."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest

from cluster import reachable
from private_postgres import free_port, port_is_free
from week import week_files
from yardstick.demo.ads import ADS

ROOT = Path(__file__).parents[2]


class Started:
    """The start command as a process of its own."""

    def __init__(self, home: Path, port: int, workspace: str = "own") -> None:
        environment = os.environ | {"YARDSTICK_HOME": str(home), "PORT": str(port)}
        self.home, self.address = home, f"http://127.0.0.1:{port}"
        self.inside = f"/api/w/{workspace}/"
        command = [sys.executable, str(ROOT / "scripts" / "start.py"), workspace]
        self.process = subprocess.Popen(
            command,
            env=environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )

    def wait_until_up(self) -> str:
        """What it printed until it was up."""
        said = ""
        for line in self.process.stdout:
            said += line
            if "Ctrl-C ends it" in line:
                return said
        raise AssertionError(f"it did not come up: {said}")

    def at(self, path: str) -> str:
        """The address of a path; `/api/w/test/` stands for the workspace it was started with."""
        return self.address + path.replace("/api/w/test/", self.inside)

    def get(self, path: str):
        with urllib.request.urlopen(self.at(path), timeout=30) as answer:
            return json.loads(answer.read())

    def put(self, path: str, body: bytes):
        return self.post(path, body, "application/json", "PUT")

    def post(self, path: str, body: bytes, kind: str, method: str = "POST"):
        request = urllib.request.Request(self.at(path), body, {"Content-Type": kind}, method=method)
        with urllib.request.urlopen(request, timeout=60) as answer:
            return json.loads(answer.read())

    def rehearse(self, files) -> str:
        parts = b"".join(
            b'--x\r\nContent-Disposition: form-data; name="files"; filename="%s"\r\n\r\n%s\r\n'
            % (name.encode(), content)
            for name, content in files
        )
        return self.post("/api/w/test/gather/rehearsals", parts + b"--x--\r\n", "multipart/form-data; boundary=x")[
            "token"
        ]

    def keep(self, token: str) -> int:
        plan = self.get("/api/w/test/plan")
        if "home_currency" not in plan["general"]:
            said = {"basis": plan["basis"], "values": {"home_currency": "EUR", "time_zone": "UTC"}}
            self.put("/api/w/test/plan/general", json.dumps(said).encode())
        return self.post("/api/w/test/gather/loads", json.dumps({"token": token}).encode(), "application/json")["id"]

    def job(self, number: int):
        return self.get(f"/api/w/test/gather/jobs/{number}")

    def kill_everything(self) -> None:
        """kill -9 of the start command, the web server and the database."""
        self.process.kill()
        self.process.wait()
        for process in self.processes():
            os.kill(process, signal.SIGKILL)
        until = time.monotonic() + 20
        port = int(self.address.rpartition(":")[2])
        while (self.processes() or not port_is_free(port)) and time.monotonic() < until:
            time.sleep(0.02)  # a killed process takes a moment to vanish

    def server(self) -> int:
        """The process of the web server."""
        (number,) = (p for p in self.processes() if b"uvicorn" in Path(f"/proc/{p}/cmdline").read_bytes())
        return number

    def processes(self) -> list[int]:
        """Everything that runs on this home: database (by its folder) and web server (by its environment)."""
        found = []
        for folder in Path("/proc").iterdir():
            if folder.name.isdigit() and int(folder.name) != os.getpid():
                try:
                    said = (folder / "cmdline").read_bytes() + (folder / "environ").read_bytes()
                except OSError:
                    continue
                status = (
                    (folder / "stat").read_text().rpartition(")")[2].split()[0] if (folder / "stat").exists() else "Z"
                )
                if str(self.home).encode() in said and status != "Z" and int(folder.name) != self.process.pid:
                    found.append(int(folder.name))
        return found


@pytest.fixture
def home():
    return reachable("start")


def test_it_starts_serves_starts_its_database_again_and_ends_cleanly(home):
    port = free_port()
    app = Started(home, port)
    assert f"http://127.0.0.1:{port}" in app.wait_until_up()
    assert app.get("/api/health")["database"] == "ok"
    assert (home / "postgres-password").stat().st_mode & 0o777 == 0o600
    second = Started(home, free_port())
    assert second.process.wait(30) == 1
    assert f"in use: process {app.server()}, http://127.0.0.1:{port}. End it first" in second.process.stdout.read()
    taken = Started(home.parent / f"{home.name}-other", port)
    assert taken.process.wait(60) == 1
    assert f"Port {port} is in use" in taken.process.stdout.read()

    def number() -> str:
        file = home / "postgres" / "postmaster.pid"
        return file.read_text().split()[0] if file.exists() else ""

    first = number()
    os.kill(int(first), signal.SIGKILL)
    until, well = time.monotonic() + 60, False
    while not well and time.monotonic() < until:
        time.sleep(0.2)  # nothing tells when it is back
        try:
            well = app.get("/api/health")["database"] == "ok" and number() not in ("", first)
        except urllib.error.HTTPError:
            continue
    assert well
    job = app.keep(app.rehearse(week_files()))
    while app.job(job)["state"] == "running" and time.monotonic() < until:
        time.sleep(0.05)  # the job runs in another process
    assert app.job(job)["state"] == "done"
    for made in ("snapshots", "uploads", "app-password", "postgres"):
        assert (home / made).stat().st_mode & 0o077 == 0, made
    os.killpg(app.process.pid, signal.SIGINT)
    assert app.process.wait(60) == 0
    assert app.processes() == []


def test_workspaces_stand_apart_but_for_what_they_share_and_the_demos_ads_can_be_clicked(home):
    port = free_port()
    demo = Started(home, port, "demo")
    demo.wait_until_up()
    found = {}
    for name, platform, campaign, group, *_ in ADS:
        whose = {"platform": platform, "campaign": campaign, "group": group}
        asked = {"whose": whose, "click": f"https://ads.{platform.lower()}.example/click/{name}"}
        visit = demo.post("/api/w/test/mark/patterns/visit", json.dumps(asked).encode(), "application/json")
        assert visit["problem"] == ""
        found[name] = {f["fate"] for f in visit["fields"] if f["name"].startswith("utm_")}
    assert found == {
        "whale-search": {"same", "filled"},
        "night-search": {"same"},
        "bike-panel": {"same", "filled", "unfilled_slot"},
        "freight-panel": {"lost"},
    }
    assert demo.post("/api/workspaces", b'{"name": "north"}', "application/json") == ["demo", "north"]
    assert demo.get("/api/w/north/gather/loads") == []
    shared = demo.get("/api/w/north/plan/shared-rules")
    assert (shared["by"], shared["only_shared"]) == ("demo", ["Boards and posters"])
    # A closed terminal.
    os.killpg(demo.process.pid, signal.SIGHUP)
    assert demo.process.wait(60) == 0
    assert demo.processes() == []
    wrong = Started(home, port, "../north")
    assert wrong.process.wait(60) == 2
    assert "is not a valid workspace name" in wrong.process.stdout.read()


def test_after_a_kill_of_everything_in_mid_load_it_comes_up_with_its_data_and_nothing_half_loaded(home):
    port = free_port()
    app = Started(home, port)
    app.wait_until_up()
    first = app.keep(app.rehearse(week_files()))
    while app.job(first)["state"] == "running":
        time.sleep(0.02)  # the job runs in another process
    board = app.get("/api/w/test/weigh/board")
    rows = "visit_id,occurred_at,visitor_id,url\n" + "".join(
        f"big{i},2026-03-04T10:00:00Z,p,/\n" for i in range(300_000)
    )
    second = app.keep(app.rehearse([("visits-big.csv", rows.encode())]))
    while True:
        state = app.job(second)
        assert state["state"] == "running", "the load was over before it could be cut off"
        if 0 < state["rows_done"] < state["rows_total"]:
            break
    app.kill_everything()
    assert port_is_free(port)

    again = Started(home, port)
    again.wait_until_up()
    assert again.get("/api/w/test/weigh/board") == board
    assert [entry["file"] for entry in again.get("/api/w/test/gather/loads")].count("visits-big.csv") == 0
    assert again.job(second)["state"] == "interrupted"
    assert "kept nothing" in again.job(second)["message"]
    # The start command alone is gone: what serves still holds the folder, and is named.
    again.process.kill()
    again.process.wait(20)
    third = Started(home, free_port())
    assert third.process.wait(60) == 1
    assert f"in use: process {again.server()}, http://127.0.0.1:{port}." in third.process.stdout.read()
    assert again.get("/api/health")["database"] == "ok"
    again.kill_everything()


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"PORT": "abc"}, "PORT=abc: write a number"),
        ({"PORT": "70000"}, "PORT=70000: write a number"),
        ({"YARDSTICK_UPLOAD_LIMIT": "plenty"}, "'plenty' is no size"),
    ],
)
def test_a_setting_that_is_none_is_said_in_one_line(home, more, said):
    environment = os.environ | {"YARDSTICK_HOME": str(home), "PORT": str(free_port())} | more
    command = [sys.executable, str(ROOT / "scripts" / "start.py"), "own"]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=60)
    assert done.returncode != 0
    assert said in done.stderr
    assert "Traceback" not in done.stderr
