"""A stranger's first day: seven exports in one drop into an empty workspace, by keyboard, down to the first own figure."""

from __future__ import annotations

import random
import re
from decimal import Decimal

import pytest
from playwright.sync_api import expect

from export_shapes import SHAPES
from exports import EXPORTS
from screens.steps import row

pytestmark = pytest.mark.screens
MORE = ("averages_budgets_and_bids_beside_the_cost", "a_code_in_a_title_line")
PLATFORMS = {
    "quorrin report may.csv": "Quorrin",
    "ostrel mai.csv": "Ostrel",
    "panels.csv": "Tarvolin",
    "video.csv": "Harnock",
}
MOST_KEYS = 90
"""Letters that are typed among them."""


def test_seven_exports_of_a_stranger_in_one_drop(page, tmp_path):
    made = dict(zip(("panels.csv", "video.csv"), (SHAPES[name](random.Random(7)) for name in MORE), strict=True))
    files = EXPORTS | {name: one.content for name, one in made.items()}
    for name, content in files.items():
        (tmp_path / name).write_bytes(content)
    keys = 0

    def press(*pressed):
        nonlocal keys
        for key in pressed:
            keys += 1
            page.keyboard.press(key)

    page.on("filechooser", lambda chooser: chooser.set_files([str(tmp_path / name) for name in files]))
    page.goto("/gather")
    expect(page.get_by_text("Nothing is loaded yet. Load a file")).to_be_visible()
    press("f")
    # Nobody has said yet by which currency and zone this workspace reads.
    ground = page.get_by_label("Before anything is read").locator("input")
    expect(ground.nth(0)).to_be_focused()
    press(*"AUD")
    while not ground.nth(1).evaluate("field => field === document.activeElement"):
        press("Tab")
    press(*"Australia/Adelaide", "Enter")
    rehearsal = page.get_by_label("Rehearsal")
    # What is to be answered next has the focus, whichever file it is of.
    for left in range(6, 0, -1):
        expect(rehearsal).to_contain_text(f"{left} question{'s are' if left > 1 else ' is'} open in")
        question = page.locator(".question").first
        expect(question.locator(":focus")).to_have_count(1)
        if "platform" in question.inner_text():
            name = question.evaluate("q => q.closest('article').ariaLabel")
            press(*PLATFORMS[name])
        press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Keep"))).to_be_focused()
    press("k")
    expect(page.get_by_text("Loaded: kept")).to_be_visible(timeout=60_000)
    press("5")
    # The first own figures: the spend of a campaign of two platforms to the cent, the second in a currency of its own.
    panels = sum((r.worth for r in made["panels.csv"].rows if r.name == "Freight Fridays"), Decimal(0))
    expect(row(page, "Freight Fridays").locator("td.number").first).to_have_text(
        f"{28 * Decimal('1005.50') + panels:,.2f}"
    )
    assert keys <= MOST_KEYS, keys
    page.get_by_label("Tie line").get_by_text("No exchange rate").wait_for()
    page.get_by_role("button", name=re.compile("^Spend of Freight Fridays")).focus()
    press("Enter")
    trace = page.get_by_role("region", name="Trace")
    expect(trace).to_contain_text("quorrin report may.csv")
