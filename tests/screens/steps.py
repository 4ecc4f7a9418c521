"""What tests of the interface do again and again."""

from __future__ import annotations

import re

from playwright.sync_api import expect


def choose(page, *files):
    """Choose files at Gather and wait for the rehearsal."""
    page.goto("/gather")
    page.get_by_label("Files to load").set_input_files([str(f) for f in files])
    expect(page.get_by_text("Rehearsal: nothing is kept yet")).to_be_visible()
    settle(page)


def settle(page, currency="EUR", zone="UTC"):
    """Say by what a new workspace reads files, where that is asked."""
    expect(page.get_by_label("Rehearsal")).to_be_visible()
    ground = page.get_by_label("Before anything is read")
    if ground.count():
        ground.locator("input").nth(0).fill(currency)
        ground.locator("input").nth(1).fill(zone)
        page.get_by_role("button", name="Read the files with these").click()
        expect(ground).to_be_hidden()
        expect(page.get_by_label("Rehearsal")).to_be_visible()


def load(page, *files):
    """Choose files and keep them."""
    choose(page, *files)
    page.get_by_role("button", name=re.compile("^Keep")).click()
    expect(page.get_by_text("Loaded: kept")).to_be_visible(timeout=30_000)


def row(page, name):
    """The row of a table that has a cell of that name, its head or another."""
    cell = page.get_by_role("cell", name=name, exact=True).or_(page.get_by_role("rowheader", name=name, exact=True))
    return page.get_by_role("row").filter(has=cell)


def pick(page, blank, word):
    """Put another word into a blank of the question."""
    page.get_by_role("button", name=re.compile(f"^{blank}: ")).click()
    page.get_by_role("option", name=word, exact=True).click()


def way_out(place, name):
    """The link of an export control of a place, opened."""
    place.get_by_role("button", name="Export", exact=True).first.click()
    return place.get_by_role("group", name="Export as").get_by_role("link", name=name, exact=True)


def keep_tried(page, words=""):
    """Keep an edit of the plan that moves figures, once the foot line has said what it moves."""
    keep = page.get_by_role("region", name="On trial").get_by_role("button", name="Keep")
    expect(keep).to_be_visible()
    expect(page.get_by_text(words).first).to_be_visible()
    keep.click()
    expect(keep).to_be_hidden()
    # Who goes to another page before it is kept takes the request back.
    expect(page.locator(".trial .words")).not_to_have_text(re.compile("^Keeping"))


def keep_if_asked(page):
    """Keep an edit of the plan, whether it moves a figure or not."""
    keep = page.get_by_role("region", name="On trial").get_by_role("button", name="Keep")
    expect(keep.or_(page.get_by_text(re.compile("No figure moves.*kept"))).first).to_be_visible()
    if keep.count():
        keep.click()
        expect(keep).to_be_hidden()
    expect(page.locator(".trial .words")).not_to_have_text(re.compile("^Keeping"))
