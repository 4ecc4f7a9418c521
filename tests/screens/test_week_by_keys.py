"""A worked week by keyboard alone, from an empty workspace, and how many keys it takes."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from exports import semicolon_report
from screens.steps import row
from week import week_files

pytestmark = pytest.mark.screens
SIX = ("conversions.csv", "leads.csv", "rates.csv", "settings.toml", "spend.csv", "visits.csv")


class Keys:
    """Presses keys and counts them: each press is one, each text typed in one go is one."""

    def __init__(self, page):
        self._page = page
        self.count = 0

    def press(self, *keys):
        for key in keys:
            self._page.keyboard.press(key)
            self.count += 1

    def type(self, text):
        self._page.keyboard.type(text)
        self.count += 1

    def until(self, there, key):
        """Press a key until one is there."""
        for _ in range(60):
            if there():
                return
            self.press(key)
        raise AssertionError(f"{key} does not lead there")

    def tab_to(self, role, name):
        """Tab until what has that name has the focus."""
        there = self._page.get_by_role(role, name=name)
        expect(there.first).to_be_visible()
        self.until(lambda: there.evaluate_all("them => them.includes(document.activeElement)"), "Tab")


def test_a_week_takes_at_most_160_keys(page):
    keys = Keys(page)
    spent, before = {}, 0

    def part(name):
        nonlocal before
        spent[name] = keys.count - before
        before = keys.count

    files = dict(week_files())
    page.on("filechooser", lambda _: None)  # from here on the dialog of files is ours
    page.goto("/gather")
    expect(page.get_by_text("Drop files anywhere on this page")).to_be_visible()
    # Six files. What the dialog of the browser itself takes is not ours.
    with page.expect_file_chooser() as chooser:
        keys.press("f")
    chooser.value.set_files([{"name": n, "mimeType": "text/plain", "buffer": files[n]} for n in SIX])
    expect(page.get_by_role("button", name=re.compile("^Keep"))).to_be_focused()
    keys.press("k")
    expect(page.get_by_text("Loaded: kept")).to_be_visible()
    part("six files")
    with page.expect_file_chooser() as chooser:
        keys.press("f")
    chooser.value.set_files([{"name": "report.csv", "mimeType": "text/plain", "buffer": semicolon_report(3)}])
    # Its days could be months, its money anybody's: each answer offered first has the focus.
    ready = page.get_by_role("button", name=re.compile("^Keep"))
    for left in ("2 questions are open", "1 question is open"):
        expect(page.get_by_text(left)).to_be_visible()
        keys.press("Enter")
    expect(ready).to_be_focused()
    keys.press("k")
    expect(page.get_by_text("Loaded: kept")).to_be_visible()
    part("an export with a question")

    def go(key, name):
        keys.press(key)
        expect(page.get_by_role("heading", level=1, name=name)).to_be_visible()
        page.wait_for_function("document.activeElement.id === 'station'")

    go("1", "Plan")
    keys.press("n")
    form = page.get_by_role("complementary", name="New campaign")
    expect(form).to_be_visible()
    keys.type("Night Ferry Sale")
    keys.press("Enter")
    expect(form).to_have_count(0)
    expect(row(page, "Night Ferry Sale")).to_be_visible()
    part("a campaign")

    go("2", "Mark")
    expect(page.get_by_text("No links yet")).to_be_visible()
    keys.press("n")
    for text in ("https://www.lunnick.example/night", "Night Ferry Sale", "ostrel", "paid-social"):
        keys.type(text)
        keys.press("Tab")
    keys.press("ArrowRight")
    for number in range(1, 7):
        keys.type(f"card {number}")
        keys.press("Enter" if number < 6 else "Tab")
    keys.press(
        "Control+Home", "Shift+ArrowRight", "Shift+ArrowRight", "Shift+ArrowRight", "Shift+PageDown", "Control+d"
    )
    grid = page.get_by_role("grid")
    expect(grid).to_have_attribute("aria-busy", "false")
    for number in range(1, 7):
        address = f"https://www.lunnick.example/night?utm_source=ostrel&utm_medium=paid-social&utm_campaign=Night%20Ferry%20Sale&utm_content=card%20{number}"
        expect(page.locator(f'.line[aria-rowindex="{number + 1}"] [data-column="address"]')).to_have_text(address)
    part("six links")
    keys.press("Escape")
    go("2", "Mark")
    keys.tab_to("button", "Hand over")
    keys.press("Enter")
    expect(page.get_by_role("region", name="Placing sheet").get_by_role("article")).to_have_count(6)
    page.evaluate("window.print = () => { window.printed = true }")
    keys.tab_to("button", "Print")
    keys.press("Enter")
    page.wait_for_function("window.printed")
    part("hand over")
    go("5", "Weigh")
    expect(row(page, "Spring Whale Boats")).to_be_visible()
    keys.press("r")
    expect(page.get_by_role("option", name="all days")).to_be_focused()
    keys.press("ArrowDown", "Enter")
    expect(page).to_have_url(re.compile("from=20"))
    part("range")
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    keys.press("f")
    expect(page.get_by_label("Field", exact=True)).to_be_focused()
    keys.press("Tab", "Tab")
    keys.type("quorrin")
    keys.press("Enter")
    expect(page).to_have_url(re.compile("where=source"))
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    part("filter")
    figure = row(page, "Spring Whale Boats").locator("[data-figure=value]")
    keys.until(lambda: page.evaluate("document.activeElement.closest('tbody') !== null"), "Tab")
    keys.until(lambda: figure.evaluate("one => one === document.activeElement"), "ArrowRight")
    keys.press("Enter")
    expect(page.get_by_role("region", name=re.compile("^Trace"))).to_be_visible()
    part("trace")
    keys.press("Escape")
    with page.expect_download() as download:
        keys.press("e", "Enter")
    assert download.value.suggested_filename.endswith(".csv")
    part("export")
    go("3", "Gather")
    keys.tab_to("button", "Undo")
    keys.press("Enter")
    expect(page.get_by_label("Loads").get_by_role("button", name="Redo").first).to_be_focused()
    part("undo")
    assert keys.count <= 160, spent
