"""Join: coverage, what is open with its stake, mended on trial, accepted, given to somebody."""

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


def listed(page):
    """The region of what is open."""
    return page.get_by_role("region", name="Open matters")


def said(page):
    return listed(page).get_by_role("status")


def test_a_double_is_decided_side_by_side(loaded):
    page = loaded
    page.goto("/gather")
    page.get_by_role("link", name="Join: do the pieces fit?").click()
    expect(said(page)).to_contain_text("11 matters are open.")
    first = listed(page).get_by_role(
        "row", name=re.compile("^Perhaps a double ticket . visitor:K 1 40.00.AUD 2026-03-07")
    )
    first.get_by_role("button").click()
    expect(listed(page).get_by_role("row", name=re.compile(r"^o30 .*12 min later o40 .*40\.00 AUD"))).to_be_visible()
    page.get_by_role("button", name="Take out o40").click()
    keep_tried(page, "Value moved 40.00 AUD")
    expect(said(page)).to_contain_text("10 matters are open.")
    page.keyboard.press("u")
    expect(said(page)).to_contain_text("11 matters are open.")


def test_a_word_is_given_its_meaning(loaded):
    page = loaded
    page.goto("/join")
    listed(page).get_by_role("button", name="Word without a meaning").click()
    listed(page).get_by_role("button", name="does not count").click()
    keep_tried(page, "Value moved 30.00 AUD")
    expect(listed(page).get_by_role("button", name="Word without a meaning")).to_have_count(0)
    listed(page).get_by_role("button", name="Refund without its order").click()
    expect(listed(page).get_by_role("row", name=re.compile("^r-9"))).to_contain_text("refunds.csv 2")


def test_coverage_is_that_of_the_board_and_opens_to_its_parts(loaded):
    page = loaded
    page.goto("/join")
    beams = page.get_by_role("list", name="Coverage")
    matched = beams.get_by_role("button", name=re.compile("^Spend matched"))
    expect(matched).to_contain_text(re.compile(r"\d+\.\d %"))
    matched.click()
    parts = page.get_by_role("region", name="Spend matched")
    expect(parts.get_by_role("row", name=re.compile("^Quorrin 130.00.AUD 142.00.AUD 12.00.AUD 91.5 %"))).to_be_visible()
    parts.get_by_role("button", name="week").click()
    expect(parts.get_by_role("row", name=re.compile("^2026-03-02"))).to_be_visible()
    people = page.get_by_role("region", name="People")
    expect(people.get_by_role("columnheader", name="Joined by")).to_be_visible()
    people.get_by_role("link").first.click()
    expect(page.get_by_role("region", name="What it did")).to_be_visible()


def test_what_is_accepted_stays_with_its_reason_and_is_opened_again(loaded):
    page = loaded
    page.goto("/join")
    listed(page).get_by_role("button", name="Refund without its order").click()
    page.keyboard.press("x")
    page.keyboard.type("of the year before")
    page.keyboard.press("Enter")
    expect(said(page)).to_contain_text("10 matters are open, 1 accepted (11 found)")
    expect(listed(page).get_by_role("button", name="Refund without its order")).to_have_count(0)
    listed(page).get_by_role("button", name="See accepted").click()
    listed(page).get_by_role("button", name="Refund without its order").click()
    expect(listed(page)).to_contain_text("Accepted: of the year before")
    # It is in the file, and no figure moved.
    listed(page).get_by_role("button", name="Open it again").click()
    expect(said(page)).to_contain_text("11 matters are open.")


def test_whose_it_is_is_said_and_stands_after_a_reload(loaded):
    page = loaded
    page.goto("/join")
    listed(page).get_by_role("button", name="Perhaps a double").click()
    page.keyboard.press("w")
    page.keyboard.type("Maren")
    page.keyboard.press("Enter")
    row = listed(page).get_by_role("row", name=re.compile("^Perhaps a double .* Maren$"))
    expect(row).to_be_visible()
    page.reload()
    expect(row).to_be_visible()


def test_several_of_a_kind_are_settled_in_one_change(loaded):
    page = loaded
    page.goto("/join")
    alone = listed(page).get_by_role("button", name="Touches without spend")
    expect(alone.first).to_be_visible()
    number = alone.count()
    assert number > 1
    alone.first.click()
    page.get_by_label("note").fill("asked")
    page.get_by_role("button", name="Say so").click()
    expect(page.get_by_role("button", name=re.compile("^Undo: matter given"))).to_be_visible()
    for at in range(1, number):
        alone.nth(at).press("Space")
    expect(listed(page)).to_contain_text(f"{number} are picked")
    # Whose they are is said of all of them; the note stays that of the one it was said of.
    page.get_by_label("Whose").fill("Sten")
    page.get_by_role("button", name="Say so").click()
    expect(listed(page).get_by_role("row", name=re.compile("^Touches without spend .* Sten$"))).to_have_count(number)
    alone.nth(1).click()
    expect(page.get_by_label("note")).to_have_value("")
    alone.first.click()
    expect(page.get_by_label("note")).to_have_value("asked")
    page.keyboard.press("x")
    page.keyboard.type("paid by another department")
    page.keyboard.press("Enter")
    expect(said(page)).to_contain_text(f"{11 - number} matters are open, {number} accepted (11 found)")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("^Undo: matter accepted")).click()
    expect(said(page)).to_contain_text("11 matters are open.")


LOST = """visit_id,occurred_at,visitor_id,url
u1,2026-03-05T09:00:00+10:30,U1,https://www.lunnick.example/whales?ckid=Zz91
"""
BOUGHT = "conversion_id,occurred_at,goal,visitor_id,total\nu9,2026-03-06T09:00:00+10:30,ticket,U1,70.00\n"


def test_lost_tags_are_mended_by_page_seen_on_trial_and_taken_back(loaded, give):
    page = loaded
    give([("lost.csv", LOST.encode()), ("bought.csv", BOUGHT.encode())])
    page.goto("/join")
    mark = listed(page).get_by_role("row", name=re.compile("^Click mark without a tag ckid .*whales 1 .*70.00.AUD"))
    mark.get_by_role("button").click()
    page.get_by_label("are source").fill("quorrin")
    page.get_by_label("campaign", exact=True).fill("Spring Whale Boats")
    listed(page).get_by_role("button", name="Try it").click()
    keep_tried(page, "Value moved 70.00 AUD")
    expect(mark).to_have_count(0)
    page.keyboard.press("u")
    expect(mark).to_be_visible()


def test_mendings_are_taken_back_one_by_one_in_any_order(loaded):
    page = loaded
    page.goto("/join")
    for number, name in enumerate(["mnb-26", "Two-Bike Deck"], 1):
        listed(page).locator("tbody tr").filter(has_text=name).get_by_role("button").first.click()
        page.get_by_label(f"{name} is the same campaign as").fill("Spring Whale Boats")
        listed(page).get_by_role("button", name="Try it").click()
        keep_tried(page)
        expect(page.get_by_text(f"{number} mending")).to_be_visible()
    expect(said(page)).to_contain_text("9 matters are open.")
    page.get_by_text("2 mendings in the plan").click()
    # The first goes, and the second stays.
    page.get_by_role("button", name="Take back: campaign mnb-26 is Spring Whale Boats").click()
    keep_tried(page)
    expect(said(page)).to_contain_text("10 matters are open.")
    expect(listed(page).get_by_role("row", name=re.compile("mnb-26"))).to_be_visible()
    expect(listed(page).get_by_role("row", name=re.compile("Two-Bike Deck"))).to_have_count(0)


def test_arrows_go_along_the_list_and_it_narrows_to_what_one_came_from(loaded):
    page = loaded
    page.goto("/join")
    buttons = listed(page).locator("tbody button[aria-pressed]")
    expect(buttons.first).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("ArrowDown")
    expect(buttons.nth(1)).to_have_attribute("aria-pressed", "true")
    expect(buttons.nth(1)).to_be_focused()
    page.goto("/join?of=r-9")
    expect(said(page)).to_contain_text("1 matter is open of r-9.")


def test_from_a_row_of_the_board_to_what_is_open_of_it_and_back(loaded):
    page = loaded
    page.goto("/weigh")
    board = page.get_by_role("table", name="Ruler board")
    boat = board.locator("tbody tr").filter(has=page.get_by_text("Midnight Boat", exact=True))
    boat.locator("[data-cell=name]").focus()
    page.keyboard.press("j")
    expect(said(page)).to_contain_text("1 matter is open of Midnight Boat.")
    expect(listed(page).get_by_role("row", name=re.compile("^Touches without spend Midnight Boat 1"))).to_be_visible()
    page.keyboard.press("Escape")
    expect(boat).to_be_visible()


@pytest.mark.parametrize("width", [1280, 1024, 390])
def test_it_can_be_read_on_any_width(loaded, width):
    page = loaded
    page.set_viewport_size({"width": width, "height": 844})
    page.goto("/join")
    page.get_by_role("button", name="Perhaps a double").click()
    expect(page.get_by_role("button", name="Take out o40")).to_be_visible()
    page.get_by_role("list", name="Coverage").get_by_role("button").first.click()
    expect(page.get_by_role("region", name="Visits tagged")).to_be_visible()
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
