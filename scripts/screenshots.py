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
from yardstick.demo.links import links_to_check

ROOT = Path(__file__).resolve().parent.parent
TARGET = ROOT / "docs" / "screenshots"
NEW_ORDERS = "Order no|Placed at|Buyer e-mail|Grand total|Port tax|State of order\n" + "".join(
    f"B-{i:04d}|{1 + i % 12:02d}/11/2026 {1 + i % 12}:{i * 7 % 60:02d} {'AM' if i % 2 else 'PM'}"
    f"|guest{i:05d}@mail.example|A$ {1_180 + i}.50|A$ 11.80|ok\n"
    for i in range(36)
)


def board(page: Page) -> None:
    """The ruler board over the whole demo world."""
    page.goto("/weigh")
    page.get_by_role("rowheader", name="Year card, search ads", exact=True).wait_for()


def findings(page: Page) -> None:
    """What is to be known of the rows behind the board."""
    page.goto("/findings")
    page.get_by_text("slot never filled").first.wait_for()


def trace(page: Page) -> None:
    """The trace of one figure."""
    page.goto("/weigh?trace=row~named~roas~Lantern%20Night&yardstick=linear")
    page.get_by_text("Conversions and their trails").wait_for()


def gather(page: Page) -> None:
    """The sources, one of them opened."""
    page.goto("/gather")
    page.get_by_role("button", name="Harnock report").click()
    page.get_by_text("A missing day is not zero").wait_for()


def reading(page: Page) -> None:
    """How a new export would be read, with what it does not decide."""
    page.goto("/gather")
    file = {"name": "box office.csv", "mimeType": "text/csv", "buffer": NEW_ORDERS.encode()}
    page.get_by_label("Files to load").set_input_files([file])  # type: ignore[list-item]
    page.get_by_text("No column names the goal").wait_for()


def invoices(page: Page) -> None:
    """A month that does not tie, and why."""
    page.goto("/invoices?platform=Harnock&account=h-main&month=2026-01")
    page.get_by_text("about what is lacking").wait_for()


def ads(page: Page) -> None:
    """What each ad would send, and what is wrong with it."""
    page.goto("/ads?show=wrong")
    page.get_by_text("What actually arrives").wait_for()


def plan(page: Page) -> None:
    """The campaigns of the plan, what was expected beside what came."""
    page.goto("/plan")
    page.get_by_text("locked 2025-08-25").first.wait_for()


def record(page: Page) -> None:
    """One order: its worth, the touches of its person, what each gets."""
    page.goto("/record?table=conversions&id=o02416")
    page.get_by_role("region", name="Touches").wait_for()


def records(page: Page) -> None:
    """Leads by the channel of their latest touch across their stage."""
    page.goto("/records?by=latest_channel&across=stage&where=table+is+lead&list=yes&columns=form&columns=reason")
    page.get_by_role("region", name="Records listed").wait_for()


def person(page: Page) -> None:
    """One person: by which row each identifier came, and all it did."""
    page.goto("/person?table=leads&id=l00991")
    page.get_by_role("region", name="What it did").wait_for()


def trial(page: Page) -> None:
    """A merge of two campaigns on trial: what it would move, and the verdicts that would turn."""
    page.goto("/plan?section=rename")
    page.get_by_role("button", name="Add a rename").click()
    for label, text in {"Field": "campaign", "Value as it came": "Midnight Boat", "Becomes": "Freight Fridays"}.items():
        page.get_by_label(label).fill(text)
    page.get_by_role("button", name="Keep").click()
    page.get_by_role("button", name="see").click()
    page.get_by_role("region", name="What would move").wait_for()


def channels(page: Page) -> None:
    """A channel rule being written, tried on real visits."""
    page.goto("/plan?section=channel")
    page.get_by_role("button", name="Travel guides", exact=True).click()
    page.get_by_role("complementary").get_by_label("value").last.fill("islandnotes.example")
    page.get_by_role("button", name="Count real visits").click()
    page.get_by_role("complementary").get_by_text("→").first.scroll_into_view_if_needed()


def sheet(page: Page) -> None:
    """The link sheet."""
    page.goto("/mark")
    page.locator(".line [data-column=content]").nth(6).click()


def check(page: Page) -> None:
    """The check-up of links from outside."""
    page.goto("/mark?part=check")
    page.get_by_label("Addresses, one a line").fill("\n".join(links_to_check()[:14]))
    page.get_by_role("button", name="Check them").click()
    page.get_by_role("status").wait_for()


def placing(page: Page) -> None:
    """Where links are, what arrives, and a test visit."""
    page.goto("/mark?part=placing")
    page.get_by_role("button", name="Test visit").nth(3).click()
    page.get_by_text("✓ same").first.wait_for()


def pattern(page: Page) -> None:
    """A pattern on three levels."""
    page.goto("/mark?part=pattern&campaign=Midnight+Boat+Search&group=night+all")
    page.get_by_text("One ? only").wait_for()


def hand_over(page: Page) -> None:
    """The sheet for whoever places the links, by night."""
    page.goto("/mark?part=hand&campaign=Pier+Posters")
    page.get_by_role("img").first.wait_for()


def join(page: Page) -> None:
    """How much is tied together, and what is open, an untagged month picked."""
    page.goto("/join?days=all")
    page.get_by_role("region", name="Fewer arrive than before Ostrel").wait_for()


VIEWS = {"weigh-board": board, "weigh-trace": trace, "gather": gather}
VIEWS |= {"weigh-findings": findings}
VIEWS |= {"gather-reading": reading, "invoices": invoices, "ads": ads}
VIEWS |= {"record": record, "person": person, "records": records, "plan-trial": trial}
VIEWS |= {"plan": plan, "plan-channels": channels, "mark-sheet": sheet, "mark-check": check}
VIEWS |= {"join": join}
VIEWS |= {"mark-placing": placing, "mark-pattern": pattern, "mark-hand-over": hand_over}


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

    port, site = free_port(), free_port()
    standin = subprocess.Popen([sys.executable, "-m", "yardstick.standins.site", "--port", str(site)])
    environment = os.environ | {
        "YARDSTICK_STANDINS": f"www.lunnick.example=127.0.0.1:{site}",
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
        for process in (server, standin):
            process.terminate()
            process.wait(20)


def _is_up(address: str) -> bool:
    try:
        with urllib.request.urlopen(f"{address}/api/health", timeout=5):
            return True
    except OSError:
        return False


if __name__ == "__main__":
    main()
