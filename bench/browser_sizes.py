"""The interface at size, in Chromium: a trace of 20,000 conversions, a sheet of 5,000 links, a board of 500 campaigns,
each beside the same in the demo world. An answer is what somebody waits for, from the press to the drawn answer; a step
of scrolling is a notch of a wheel, until it is drawn. Ratios of one run."""

from __future__ import annotations

import json
import shutil
import statistics
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "scripts"), str(ROOT / "src"), str(ROOT / "bench")]

from playwright.sync_api import Page, sync_playwright  # noqa: E402

from at_work import App  # noqa: E402
from browser import CHROMIUM, FLAGS  # noqa: E402
from yardstick.demo.loading import load_demo  # noqa: E402

CAMPAIGNS, LINKS, CONVERSIONS = 500, 5_000, 20_000
GOAL = 2.0
ROUNDS, STEPS, NOTCH = 5, 30, 120
SITE = "https://www.lunnick.example/night"
WAIT = """async ([act, there]) => {
  const frame = () => new Promise(requestAnimationFrame)
  const begin = performance.now()
  new Function(act)()
  const check = new Function(`return ${there}`)
  while (!check()) {
    if (performance.now() - begin > 60_000) throw new Error(`never came: ${there}`)
    await frame()
  }
  await frame()
  return performance.now() - begin
}"""
"""Milliseconds from an action until something is drawn."""
SCROLL = """async ([selector, steps, pixels]) => {
  const box = selector ? document.querySelector(selector) : document.scrollingElement
  const frame = () => new Promise(requestAnimationFrame)
  const took = []
  await frame()
  let last = performance.now()
  for (let i = 0; i < steps; i++) {
    box.scrollBy(0, i < steps / 2 ? pixels : -pixels)
    await frame()
    const now = performance.now()
    took.push(now - last)
    last = now
  }
  return took.sort((a, b) => a - b)[Math.floor(steps / 2)]
}"""
"""Milliseconds until the page is drawn again after a step of scrolling, the median of some; at least a frame."""


def large_files(folder: Path) -> list[Path]:
    """500 campaigns of which the first has 20,000 conversions, with visits and spend; all of one month."""
    visits = ["visit_id,occurred_at,visitor_id,url"]
    sales = ["conversion_id,occurred_at,visitor_id,goal,total"]
    spend = ["day,platform,campaign,cost,currency"]
    for n in range(CAMPAIGNS):
        name = f"Campaign {n:03d}"
        people = CONVERSIONS if n == 0 else 40
        spend += [f"2026-03-{day:02d},Quorrin,{name},{10 + n % 7}.50,EUR" for day in (2, 9, 16)]
        for i in range(people):
            at, tags = (
                f"2026-03-{1 + i % 20:02d}T{i % 24:02d}",
                f"utm_source=quorrin&utm_medium=cpc&utm_campaign={name}",
            )
            visits.append(f"v{n}-{i},{at}:10:00Z,p{n}-{i},{SITE}?{tags.replace(' ', '+')}")
            if n == 0 or i < 4:
                sales.append(f"o{n}-{i},{at}:50:00Z,p{n}-{i},ticket,{20 + i % 50}.00")
    out = []
    for table, lines in (("visits", visits), ("conversions", sales), ("spend", spend)):
        out.append(folder / f"{table}.csv")
        out[-1].write_text("\n".join(lines) + "\n")
    return out


def large_links(app: App) -> None:
    """5,000 links of the 500 campaigns."""
    for first in range(0, LINKS, 1_000):
        basis = json.loads(app.ask("/api/w/bench/mark/links"))["basis"]
        changes = [
            {
                "key": f"k{i}",
                "cells": {
                    "page": SITE,
                    "campaign": f"Campaign {i % CAMPAIGNS:03d}",
                    "source": "quorrin",
                    "medium": "cpc",
                    "content": f"card {i}",
                },
            }
            for i in range(first, first + 1_000)
        ]
        body = {"basis": basis, "what": "bench", "changes": changes}
        app.ask("/api/w/bench/mark/links", json.dumps(body).encode(), method="PATCH")


class Window:
    """A page of the app in one workspace, and how long it takes."""

    def __init__(self, page: Page, address: str, workspace: str) -> None:
        self.page = page
        self._base = f"{address}/w/{workspace}"

    def go(self, path: str, there: str) -> None:
        """Open a view and wait until it is whole."""
        self.page.goto(self._base + path)
        self.page.wait_for_function(f"() => {there}")
        self.page.wait_for_load_state("networkidle")

    def answer(self, act: str, there: str) -> float:
        """Milliseconds from an action to its answer."""
        return float(self.page.evaluate(WAIT, [act, there]))

    def step(self, box: str = "") -> float:
        """Milliseconds of a step of scrolling."""
        return float(self.page.evaluate(SCROLL, [box, STEPS, NOTCH]))


BOARD = "document.querySelector('tbody tr[data-row]') && !document.querySelector('[aria-busy=true]')"
SHEET = "document.querySelectorAll('.line').length > 5"
TRACED = "document.querySelectorAll('[aria-label^=Trace] tbody tr').length > 5"
OPEN = "document.querySelector('tr[data-row] [data-figure=value]').click()"
PRESS = "document.body.dispatchEvent(new KeyboardEvent('keydown', { key: %s, bubbles: true }))"


def trace(window: Window, campaign: str) -> tuple[float, float]:
    """A figure opened down to its conversions."""
    window.go(f"/weigh?find={campaign.replace(' ', '+')}", BOARD)
    found = window.answer(OPEN, TRACED)
    return found, window.step()


def board(window: Window, campaign: str) -> tuple[float, float]:
    """The next yardstick."""
    window.go("/weigh", BOARD)
    there = f"location.search.includes('yardstick') && {BOARD}"
    found = window.answer(PRESS % "'y'", there)
    return found, window.step()


def sheet(window: Window, campaign: str) -> tuple[float, float]:
    """The link sheet, entered from the board."""
    window.go("/weigh", BOARD)
    found = window.answer("document.querySelector('a[href$=\"/mark\"]').click()", SHEET)
    return found, window.step("[role=grid]")


WORK: dict[str, Callable[[Window, str], tuple[float, float]]] = {
    f"trace of {CONVERSIONS:,} conversions": trace,
    f"{LINKS:,} links": sheet,
    f"board of {CAMPAIGNS} campaigns": board,
}


def measure(rounds: int = ROUNDS) -> dict[str, tuple[float, float, float, float]]:
    """Answer and step of each, as (answer, answer in the demo, step, step in the demo), medians in milliseconds."""
    folder = Path(tempfile.mkdtemp(prefix="yardstick-bench-"))
    folder.chmod(0o755)
    app = App(folder, before=lambda url, home: load_demo(url, home, "demo"))
    address = f"http://127.0.0.1:{app.port}"
    took: dict[str, list[tuple[float, float, float, float]]] = {name: [] for name in WORK}
    try:
        for file in large_files(folder):
            app.load(file)
        large_links(app)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            large, demo = Window(page, address, "bench"), Window(page, address, "demo")
            for number in range(rounds + 1):
                for name, work in WORK.items():
                    theirs = work(demo, "Lantern Night")
                    ours = work(large, "Campaign 000")
                    # The first round has the figures worked out, and the scripts read.
                    if number:
                        took[name].append((ours[0], theirs[0], ours[1], theirs[1]))
            browser.close()
    finally:
        app.end()
        shutil.rmtree(folder, ignore_errors=True)
    return {name: tuple(statistics.median(one) for one in zip(*times, strict=True)) for name, times in took.items()}


def report(found: dict[str, tuple[float, float, float, float]]) -> str:
    """The figures in words."""
    return "\n".join(
        f"{name} in the browser beside the demo: answer {a / b:.2f} x ({a:.0f} ms), step of scrolling {c / d:.2f} x "
        f"({c:.1f} ms) (goals {GOAL:g})"
        for name, (a, b, c, d) in found.items()
    )


if __name__ == "__main__":
    print(report(measure(int(sys.argv[1]) if len(sys.argv) > 1 else ROUNDS)))
