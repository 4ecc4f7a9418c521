"""What is open: doubled orders side by side, words without a meaning, refunds of nothing, each mended on trial."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import keep_tried
from screens.test_looks import AXE, FOUND_BY_AXE

pytestmark = pytest.mark.screens
MORE = {
    "statuses.csv": "record_id,occurred_at,status\no31,2026-03-20T09:00:00+10:30,parked\n",
    "refunds.csv": "refund_id,conversion_id,occurred_at,amount\nr-9,nobody,2026-03-07T09:00:00+10:30,7.00\n",
    "again.csv": "conversion_id,occurred_at,goal,visitor_id,total\no40,2026-03-07T09:12:00+10:30,ticket,K,40.00\n",
}


@pytest.fixture
def loaded(page, give):
    give([*planned_week_files(), *((name, text.encode()) for name, text in MORE.items())])
    return page


def test_a_double_is_decided_side_by_side(loaded):
    page = loaded
    page.goto("/gather")
    page.get_by_role("link", name="Matters: what is open?").click()
    matters = page.get_by_role("region", name="Open matters")
    expect(matters.get_by_role("status")).to_have_text("11 matters are open.")
    first = matters.get_by_role("row", name=re.compile("^Perhaps a double ticket . visitor:K 1 – 40.00.AUD 2026-03-07"))
    first.get_by_role("button").click()
    expect(matters.get_by_role("row", name=re.compile(r"^o30 .*12 min later o40 .*40\.00 AUD"))).to_be_visible()
    page.get_by_role("button", name="Take out o40").click()
    keep_tried(page, "Value moved 40.00 AUD")
    expect(matters.get_by_role("status")).to_have_text("10 matters are open.")
    page.keyboard.press("u")
    expect(matters.get_by_role("status")).to_have_text("11 matters are open.")


def test_a_word_is_given_its_meaning(loaded):
    page = loaded
    page.goto("/matters")
    matters = page.get_by_role("region", name="Open matters")
    matters.get_by_role("button", name="Word without a meaning").click()
    matters.get_by_role("button", name="does not count").click()
    keep_tried(page, "Value moved 30.00 AUD")
    expect(matters.get_by_role("button", name="Word without a meaning")).to_have_count(0)
    matters.get_by_role("button", name="Refund of an order that is not there").click()
    expect(matters.get_by_role("row", name=re.compile("^r-9"))).to_contain_text("refunds.csv 2")


@pytest.mark.parametrize("width", [1280, 1024, 390])
def test_it_can_be_read_on_any_width(loaded, width):
    page = loaded
    page.set_viewport_size({"width": width, "height": 844})
    page.goto("/matters")
    page.get_by_role("button", name="Perhaps a double").click()
    expect(page.get_by_role("button", name="Take out o40")).to_be_visible()
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
