"""The real interface: the app as a process of its own, and Chromium."""

from __future__ import annotations

import itertools
import json
import os
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import expect, sync_playwright

from browser import CHROMIUM, FLAGS
from planned_week import planned_week_files
from private_postgres import free_port
from web.http_files import load

ROOT = Path(__file__).parents[2]
# A busy machine takes its time; what never comes still fails.
expect.set_options(timeout=20_000)


@pytest.fixture(scope="session")
def browser():
    """Debian's Chromium, driven by Playwright."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def site():
    """The stand-in of the ferry line's site, a process of its own; gives its host:port."""
    port = free_port()
    process = subprocess.Popen([sys.executable, "-m", "yardstick.standins.site", "--port", str(port)], cwd=ROOT)
    yield f"127.0.0.1:{port}"
    process.terminate()
    process.wait(10)


@pytest.fixture(scope="session")
def address(databases, tmp_path_factory, site):
    """Address of a running app, one for all tests of a worker."""
    port = free_port()
    environment = os.environ | {
        "YARDSTICK_DATABASE": databases.fresh(),
        "YARDSTICK_HOME": str(tmp_path_factory.mktemp("home")),
        "YARDSTICK_WORKSPACE": "own",
        "YARDSTICK_STANDINS": f"www.lunnick.example={site}",
    }
    command = [sys.executable, "-m", "uvicorn", "yardstick.web.app:from_environment", "--factory", "--port", str(port)]
    server = subprocess.Popen([*command, "--log-level", "warning"], env=environment, cwd=ROOT)
    url = f"http://127.0.0.1:{port}"
    until = time.monotonic() + 60
    while time.monotonic() < until:
        try:
            with urllib.request.urlopen(f"{url}/api/health", timeout=5):
                break
        except OSError:
            assert server.poll() is None, "the app did not start"
            time.sleep(0.05)  # a process that starts has no other way to say that it is up
    yield url
    server.terminate()
    server.wait(20)


_numbers = itertools.count(1)


@pytest.fixture
def workspace(address):
    """Name of a new, empty workspace."""
    name = f"s{next(_numbers)}"
    body = json.dumps({"name": name}).encode()
    ask = urllib.request.Request(f"{address}/api/workspaces", body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(ask, timeout=30):
        return name


@pytest.fixture
def give(address, workspace):
    """Loads (name, content) pairs without the interface, for tests of something else."""

    def load_them(files):
        with httpx.Client(base_url=address, timeout=60) as client:
            load(_Elsewhere(client, workspace), files)

    return load_them


@pytest.fixture(scope="session")
def planned(address):
    """Name of a workspace with the planned week, loaded once for the tests of a worker that change nothing of it."""
    with httpx.Client(base_url=address, timeout=60) as client:
        client.post("/api/workspaces", json={"name": "planned"}).raise_for_status()
        load(_Elsewhere(client, "planned"), planned_week_files())
    return "planned"


@pytest.fixture
def planned_page(page, planned):
    """A page on the planned week; for looking, not for changing."""
    return in_workspace(page, planned)


class _Elsewhere:
    """A client whose workspace `test` is another one."""

    def __init__(self, client, workspace):
        self._client, self._workspace = client, workspace

    def post(self, path, **more):
        return self._client.post(path.replace("/w/test/", f"/w/{self._workspace}/"), **more)

    def put(self, path, **more):
        return self._client.put(path.replace("/w/test/", f"/w/{self._workspace}/"), **more)

    def get(self, path, **more):
        return self._client.get(path.replace("/w/test/", f"/w/{self._workspace}/"), **more)


def in_workspace(page, workspace):
    """A page whose `/weigh` is that view of a workspace."""
    go = getattr(page, "go_anywhere", page.goto)
    page.go_anywhere = go
    page.goto = lambda path, **more: go(f"/w/{workspace}{path}" if path.startswith("/") else path, **more)
    return page


@pytest.fixture(scope="session")
def profile(browser, address):
    """One profile for all tests of a worker, whose window stays: what the app sends is read and compiled once."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address, accept_downloads=True)
    context.new_page()
    yield context
    context.close()


@pytest.fixture
def page(profile, address, workspace):
    """A page on the app; anything the browser complains about fails the test. Nothing of it is left to the next."""
    page = in_workspace(profile.new_page(), workspace)
    complaints = []
    page.on("console", lambda message: complaints.append(message.text) if message.type == "error" else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    foreign = []
    page.on(
        "request", lambda request: None if request.url.startswith((address, "data:")) else foreign.append(request.url)
    )
    yield page
    if page.url.startswith(address):
        page.evaluate("localStorage.clear(), sessionStorage.clear()")
    page.close()
    profile.clear_cookies()
    profile.clear_permissions()
    assert foreign == [], "something was fetched from outside"
    # An empty board answers 404 by design, a wrong entry 422, and the browser notes it.
    assert [c for c in complaints if not any(code in c for code in ("404", "409", "422"))] == []


@pytest.fixture
def another_window(page, workspace):
    """Opens further windows beside a page."""
    opened = []

    def open_one():
        opened.append(in_workspace(page.context.new_page(), workspace))
        return opened[-1]

    yield open_one
    for other in opened:
        other.close()
