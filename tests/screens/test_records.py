"""Records as an analyst asks for them: grouped, across, opened, kept under a name, words given a meaning."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import keep_tried, row
from screens.test_looks import AXE, FOUND_BY_AXE

pytestmark = pytest.mark.screens
STATUSES = "record_id,occurred_at,status\no30,2026-03-20T09:00:00+10:30,lost\n"


@pytest.fixture
def loaded(page, give):
    give([*planned_week_files(), ("statuses.csv", STATUSES.encode())])
    return page


def test_from_a_word_to_its_meaning_and_from_a_figure_to_the_record(loaded):
    page = loaded
    page.goto("/gather")
    page.get_by_role("link", name="Records: what became of each?").click()
    words = page.get_by_role("region", name="Words without a meaning")
    expect(words).to_contain_text("“lost”: 1 record, 40.00")
    page.get_by_role("button", name="lost does not count").click()
    keep_tried(page, "Value moved 40.00 AUD")
    expect(words).to_have_count(0)
    ties = page.get_by_role("status").filter(has_text="count")
    expect(ties).to_contain_text("18 records")
    page.get_by_role("button", name="does not count", exact=True).click()
    expect(ties).to_contain_text("1 record, 40.00")
    groups = page.get_by_role("region", name="Groups")
    groups.get_by_role("button", name=re.compile("latest source ostrel, status lost")).click()
    listed = page.get_by_role("region", name="Records listed")
    expect(listed.get_by_role("row")).to_have_count(2)
    listed.get_by_role("link", name="ticket o30").click()
    expect(page.get_by_role("status")).to_contain_text("“lost” does not count")
    page.keyboard.press("Escape")
    expect(listed).to_be_visible()
    page.get_by_role("button", name="Remove: status is lost").click()
    expect(page).not_to_have_url(re.compile("where=status"))


def test_a_list_is_kept_under_a_name_and_opened_again(loaded):
    page = loaded
    page.goto("/records?by=goal&across=counts&where=table+is+order")
    expect(page.get_by_role("region", name="Groups")).to_contain_text("goal across counts")
    page.get_by_role("textbox", name="Name of this list").fill("Orders by state")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Orders by state", exact=True)).to_be_visible()
    page.goto("/records")
    page.get_by_role("button", name="Orders by state", exact=True).click()
    expect(page).to_have_url(re.compile(r"across=counts.*where=table"))
    expect(page.get_by_role("status").filter(has_text="count")).to_contain_text("12 records")
    page.get_by_role("button", name="Remove the list Orders by state").click()
    expect(page.get_by_role("button", name="Orders by state", exact=True)).to_have_count(0)


def test_days_without_records_say_where_they_are(loaded):
    page = loaded
    page.goto("/records?from=2026-05-01&to=2026-05-31")
    expect(page.get_by_text("None on these days; 18 on other days.")).to_be_visible()
    page.get_by_role("button", name="Show all").click()
    expect(page.get_by_role("status").filter(has_text="count")).to_contain_text("18 records")


@pytest.mark.parametrize("width", [1280, 1024, 390])
def test_it_can_be_read_on_any_width(loaded, width):
    page = loaded
    page.set_viewport_size({"width": width, "height": 844})
    page.goto("/records?by=goal&across=counts&list=yes&columns=reason")
    expect(page.get_by_role("region", name="Records listed")).to_be_visible()
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_list_names_only_those_who_agreed_and_says_how_many_are_not_named(page, give):
    agreed = "lead_id,occurred_at,visitor_id,consent,consent_base\nl40,2026-03-07T09:00:00+10:30,K,yes,newsletter\n"
    settings = 'list_purpose = "newsletter"\n' + dict(planned_week_files())["settings.toml"].decode()
    give([*planned_week_files(), ("agreed.csv", agreed.encode())])
    give([("settings.toml", settings.encode())])
    page.goto("/records?list=yes")
    listed = page.get_by_role("region", name="Records listed")
    expect(listed.get_by_role("note")).to_contain_text("17 of 19 are not named: nobody of them agreed to newsletter.")
    expect(listed.get_by_role("row")).to_have_count(3)
    listed.get_by_role("link", name="The rule").click()
    expect(page.get_by_role("heading", name="Workspace")).to_be_visible()


def test_a_board_shows_new_customers_alone(page, give):
    give(planned_week_files())
    page.goto("/weigh?where=customer+is+returning")
    returning = row(page, "Spring Whale Boats").locator("td.number")
    expect(returning.nth(3)).to_have_text("0.0")
    page.goto("/weigh?where=customer+is+new")
    expect(returning.nth(3)).not_to_have_text("0.0")
    expect(page.get_by_text("customer is new").first).to_be_visible()


def test_by_keyboard_alone_from_a_list_to_a_person_and_back(loaded):
    page = loaded
    page.goto("/records")
    expect(page.get_by_role("region", name="Groups")).to_be_visible()

    def to(role, name):
        for _ in range(80):
            page.keyboard.press("Tab")
            there = page.get_by_role(role, name=name).first
            if there.evaluate("one => one === document.activeElement"):
                return
        raise AssertionError(f"Tab does not lead to {name}")

    to("combobox", "by")
    page.keyboard.type("goal")
    expect(page).to_have_url(re.compile("by=goal"))
    to("combobox", "Field")
    page.keyboard.type("owner")
    to("combobox", "How")
    page.keyboard.type("is emp")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Remove: owner is empty")).to_be_visible()
    to("button", "ticket")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("list=yes"))
    expect(page.get_by_role("region", name="Records listed")).to_be_visible()
    to("link", "ticket o30")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="ticket o30")).to_be_visible()
    page.keyboard.press("p")
    expect(page.get_by_role("region", name="What it did")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.get_by_role("region", name="Records listed")).to_be_visible()
    expect(page.get_by_role("button", name="Remove: owner is empty")).to_be_visible()


def test_what_is_out_and_what_counts_listed_together_is_not_turned_in_one_act(loaded):
    page = loaded
    page.goto("/records?list=yes&where=quarantined_by+is+not+rule+1")
    expect(page.get_by_role("region", name="Records listed")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^(Put back|Take out) all"))).to_have_count(0)
    page.keyboard.press("Delete")
    page.goto("/records?list=yes&where=quarantined_by+is+by+itself")
    expect(page.get_by_role("button", name="Put back all 2")).to_be_visible()
    page.goto("/plan?section=record")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
