"""What tests of the interface do again and again."""

from __future__ import annotations

import re

from playwright.sync_api import expect


def choose(page, *files):
    """Choose files at Gather and wait for the rehearsal."""
    page.goto("/gather")
    page.get_by_label("Files to load").set_input_files([str(f) for f in files])
    expect(page.get_by_text("Rehearsal: nothing is kept yet")).to_be_visible()


def load(page, *files):
    """Choose files and keep them."""
    choose(page, *files)
    page.get_by_role("button", name=re.compile("^Keep")).click()
    expect(page.get_by_text("Loaded: kept")).to_be_visible(timeout=30_000)


def row(page, name):
    """The row of a table that has a cell of that name."""
    return page.get_by_role("row").filter(has=page.get_by_role("cell", name=name, exact=True))
