"""A record is opened from the trace, looked at, and left to where one came from."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.test_looks import AXE, FOUND_BY_AXE

pytestmark = pytest.mark.screens


@pytest.fixture
def loaded(page, give):
    give(planned_week_files())
    return page


def test_from_a_figure_to_the_order_behind_it_and_back_by_key(loaded):
    page = loaded
    page.goto("/weigh?trace=row~named~value~Two-Island+Year+Card")
    page.get_by_role("link", name="ticket o30").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="ticket o30")).to_be_visible()
    expect(page.get_by_role("status")).to_contain_text("Counts")
    value = page.get_by_role("region", name="Value")
    expect(value.get_by_role("row", name=re.compile("As stated"))).to_contain_text("40.00 AUD")
    expect(value.get_by_role("row", name=re.compile("Counted"))).to_contain_text("40.00")
    touches = page.get_by_role("region", name="Touches")
    expect(touches.get_by_role("row", name=re.compile("Two-Island Year Card"))).to_contain_text("40.00")
    expect(touches.get_by_role("row", name=re.compile("^Together"))).to_contain_text("40.00")
    expect(page.get_by_role("img", name=re.compile("In time: .*Two-Island Year Card.*ticket o30"))).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("link", name="ticket o30")).to_be_visible()


def test_what_is_in_no_figure_says_by_which_rule(loaded):
    page = loaded
    page.goto("/record?table=conversions&id=o7")
    expect(page.get_by_role("status")).to_contain_text(re.compile("in no figure"))
    page.goto("/record?table=conversions&id=nobody")
    expect(page.get_by_role("alert")).to_contain_text("no accepted row of conversions has the id")


@pytest.mark.parametrize("width", [1280, 390])
def test_it_can_be_read_on_any_width(loaded, width):
    page = loaded
    page.set_viewport_size({"width": width, "height": 844})
    page.goto("/record?table=conversions&id=o30")
    expect(page.get_by_role("region", name="Touches")).to_be_visible()
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
