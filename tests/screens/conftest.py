"""The real interface: the app as a process of its own, and Chromium."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import sync_playwright

from browser import CHROMIUM, FLAGS
from private_postgres import free_port

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="session")
def browser():
    """Debian's Chromium, driven by Playwright."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def site():
    """The stand-in of the ferry line's site, a process of its own; gives its host:port."""
    port = free_port()
    process = subprocess.Popen([sys.executable, "-m", "yardstick.standins.site", "--port", str(port)], cwd=ROOT)
    yield f"127.0.0.1:{port}"
    process.terminate()
    process.wait(10)


@pytest.fixture
def address(databases, tmp_path, site):
    """Address of a running app with an empty workspace and a database of its own."""
    port = free_port()
    environment = os.environ | {
        "YARDSTICK_DATABASE": databases.fresh(),
        "YARDSTICK_HOME": str(tmp_path / "home"),
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


@pytest.fixture
def page(browser, address):
    """A page on the app; anything the browser complains about fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address, accept_downloads=True)
    page = context.new_page()
    complaints = []
    page.on("console", lambda message: complaints.append(message.text) if message.type == "error" else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    foreign = []
    page.on(
        "request", lambda request: None if request.url.startswith((address, "data:")) else foreign.append(request.url)
    )
    yield page
    context.close()
    assert foreign == [], "something was fetched from outside"
    # An empty board answers 404 by design, a wrong entry 422, and the browser notes it.
    assert [c for c in complaints if not any(code in c for code in ("404", "409", "422"))] == []


@pytest.fixture
def another_window(page):
    """Opens further windows beside a page."""
    opened = []

    def open_one():
        opened.append(page.context.new_page())
        return opened[-1]

    yield open_one
    for other in opened:
        other.close()
