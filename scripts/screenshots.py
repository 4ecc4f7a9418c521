"""Takes the pictures of the README: one PNG per main view, from the demo world, in an app of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from browser import CHROMIUM, FLAGS
from private_postgres import Cluster, free_port

ROOT = Path(__file__).resolve().parent.parent
TARGET = ROOT / "docs" / "screenshots"
NEW_SPEND = b"""day,platform,account,campaign_id,campaign,cost
2026-11-01,Quorrin,q-main,q-110,Year Card Search,31.40
2026-11-02,Quorrin,q-main,q-110,Year Card Search,"1.234,56"
"""


def board(page: Page) -> None:
    """The ruler board over the whole demo world."""
    page.goto("/weigh")
    page.get_by_role("cell", name="Year Card Search", exact=True).wait_for()


def leads(page: Page) -> None:
    """The same board on leads, one month, sorted by leads."""
    page.goto("/weigh?measure=leads&sort=leads&from=2026-02-01&to=2026-02-28")
    page.get_by_role("cell", name="Freight Fridays", exact=True).wait_for()


def trace(page: Page) -> None:
    """The trace of one figure."""
    page.goto("/weigh?trace=row~named~roas~Lantern Night&yardstick=linear")
    page.get_by_text("Conversions and their trails").wait_for()


def untagged(page: Page) -> None:
    """What the untagged value is made of."""
    page.goto("/weigh?trace=part~untagged")
    page.get_by_text("where they landed").wait_for()


def gather(page: Page) -> None:
    """A rehearsal and the list of loads."""
    page.goto("/gather")
    file = {"name": "spend-november.csv", "mimeType": "text/csv", "buffer": NEW_SPEND}
    page.get_by_label("Files to load").set_input_files([file])  # type: ignore[list-item]
    page.get_by_text("Rehearsal: nothing").wait_for()


VIEWS = {"weigh-board": board, "weigh-leads": leads, "weigh-trace": trace, "weigh-untagged": untagged, "gather": gather}


def main() -> None:
    """Start an app with the demo world, take the pictures, end it."""
    with tempfile.TemporaryDirectory(prefix="yardstick-shots-") as folder:
        home = Path(folder)
        home.chmod(0o755)
        cluster = Cluster(home, durable=False)
        cluster.start()
        try:
            _with_app(home, cluster)
        finally:
            cluster.stop("immediate")


def _with_app(home: Path, cluster: Cluster) -> None:
    from start import prepare

    port = free_port()
    environment = os.environ | {
        "YARDSTICK_DATABASE": prepare(cluster),
        "YARDSTICK_HOME": str(home),
        "YARDSTICK_WORKSPACE": "demo",
    }
    subprocess.run([sys.executable, "-m", "yardstick.demo"], env=environment, check=True)
    command = [sys.executable, "-m", "uvicorn", "yardstick.web.app:from_environment", "--factory", "--port", str(port)]
    server = subprocess.Popen([*command, "--log-level", "warning"], env=environment)
    address = f"http://127.0.0.1:{port}"
    try:
        while not _is_up(address):
            time.sleep(0.1)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
            for name, show in VIEWS.items():
                show(page)
                page.wait_for_load_state("networkidle")
                page.mouse.move(0, 0)
                page.screenshot(path=TARGET / f"{name}.png")
                print(f"docs/screenshots/{name}.png")
            browser.close()
    finally:
        server.terminate()
        server.wait(20)


def _is_up(address: str) -> bool:
    try:
        with urllib.request.urlopen(f"{address}/api/health", timeout=5):
            return True
    except OSError:
        return False


if __name__ == "__main__":
    main()
