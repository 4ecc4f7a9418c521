"""An edit of the plan on trial: the foot line says what moves, and Keep and Leave do what they say."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import choose, keep_tried, row
from screens.test_looks import AXE, FOUND_BY_AXE
from screens.test_mark import cell

pytestmark = pytest.mark.screens

MERGE = {"Field": "campaign", "Value as it came": "Midnight Boat", "Becomes": "Spring Whale Boats"}


@pytest.fixture
def loaded(page, give):
    give(planned_week_files())
    return page


def typed(page):
    """A merge of two campaigns, typed into its form and on trial."""
    page.goto("/plan?section=rename")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
    page.keyboard.press("n")
    form = page.get_by_role("complementary", name="New rename")
    for label, text in MERGE.items():
        form.get_by_label(label).fill(text)
    form.get_by_role("button", name="Keep").press("Enter")
    expect(page.get_by_text("Value moved 33.33")).to_be_visible()
    return form, page.get_by_role("region", name="On trial")


def test_what_moves_is_shown_and_leaving_keeps_nothing_and_loses_nothing(loaded):
    page = loaded
    form, line = typed(page)
    line.get_by_role("button", name="see").click()
    seen = page.get_by_role("region", name="What would move")
    rows = {name: seen.get_by_role("row", name=re.compile(f"^{name}")) for name in MERGE.values()}
    # Worked out by hand: the night boat's 33.33 go to the whale boats' 140.00.
    expect(rows["Spring Whale Boats"]).to_contain_text(re.compile(r"140\.00\s*173\.33\s*\+33\.33"))
    expect(rows["Midnight Boat"]).to_contain_text(re.compile(r"33\.33\s*–\s*-33\.33"))
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    line.get_by_role("button", name="Leave").click()
    expect(line.get_by_role("button", name="Keep")).to_be_hidden()
    expect(page.get_by_role("alert")).to_have_count(0)
    # What was typed stands where it was, to be changed and tried again.
    expect(form.get_by_label("Becomes")).to_have_value("Spring Whale Boats")
    page.keyboard.press("Escape")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()


def test_by_key_alone_it_is_left_tried_again_kept_and_undone(loaded):
    page = loaded
    form, line = typed(page)
    expect(line.get_by_role("button", name="Keep")).to_be_focused()
    page.keyboard.press("Escape")
    # Of two things that Esc closes it takes the trial, and the form stays.
    expect(line.get_by_role("button", name="Keep")).to_be_hidden()
    expect(form).to_be_visible()
    form.get_by_role("button", name="Keep").press("Enter")
    expect(page.get_by_text("Value moved 33.33")).to_be_visible()
    page.keyboard.press("Enter")
    expect(form).to_be_hidden()
    expect(page.get_by_role("row", name=re.compile("Midnight Boat"))).to_be_visible()
    page.keyboard.press("u")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()


def test_on_another_station_it_still_waits_and_the_board_follows(loaded):
    page = loaded
    typed(page)
    page.get_by_role("link", name=re.compile("Weigh")).click()
    expect(row(page, "Midnight Boat")).to_be_visible()
    keep_tried(page, "Value moved 33.33")
    expect(row(page, "Midnight Boat")).to_have_count(0)
    expect(row(page, "Spring Whale Boats").locator("td.number").nth(4)).to_have_text("173.33")


def test_what_moves_no_figure_is_kept_at_once_and_says_so(loaded):
    page = loaded
    page.goto("/plan?section=allowed")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
    page.keyboard.press("n")
    form = page.get_by_role("complementary")
    form.get_by_label("Field").fill("source")
    form.get_by_label("Words").fill("quorrin")
    form.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("No figure moves: kept.")).to_be_visible()
    expect(form).to_be_hidden()
    expect(page.get_by_role("row", name=re.compile("quorrin"))).to_be_visible()


def test_on_a_phone_it_lies_above_the_trail(loaded):
    page = loaded
    page.set_viewport_size({"width": 390, "height": 844})
    _, line = typed(page)
    box = line.get_by_role("button", name="Keep").bounding_box()
    assert box is not None
    assert box["y"] + box["height"] <= 844 - 48 + 1
    line.get_by_role("button", name="see").click()
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_price_typed_into_the_link_sheet_waits_in_the_foot_line_and_leaving_takes_it_back(loaded):
    page = loaded
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    page.get_by_role("grid").focus()
    for text in ("https://www.lunnick.example/night", "Midnight Boat", "ellivane", "email"):
        page.keyboard.type(text)
        page.keyboard.press("Tab")
    price = cell(page, 1, "price")
    expect(cell(page, 1, "address")).to_contain_text("utm_medium=email")
    line = page.get_by_role("region", name="On trial")
    for done, text in (("Leave", ""), ("Keep", "0.35")):
        price.click()
        page.keyboard.type("0.35")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Spend moved 0.35 AUD")).to_be_visible()
        line.get_by_role("button", name=done).click()
        expect(line.get_by_role("button", name=done)).to_be_hidden()
        expect(price).to_have_text(text)
        expect(page.get_by_role("alert")).to_have_count(0)
    page.goto("/weigh")
    expect(row(page, "Midnight Boat").locator("td.number").first).to_have_text("0.35")


def test_a_settings_file_says_what_it_would_move_before_it_is_kept(loaded, tmp_path):
    page = loaded
    settings = dict(planned_week_files())["settings.toml"].decode()
    (tmp_path / "settings.toml").write_text(settings.replace('value = "net"', 'value = "total"'))
    choose(page, tmp_path / "settings.toml")
    file = page.get_by_role("article", name="settings.toml")
    # Tax and shipping of o1 and the fee of o4 are value, too.
    expect(file).to_contain_text("On the rows that stand: Value moved 20.00 AUD")
    file.get_by_role("button", name="see").click()
    expect(file.get_by_role("row", name=re.compile("^Two-Island Year Card"))).to_contain_text("+5.00")
    page.goto("/weigh")
    expect(row(page, "Two-Island Year Card").locator("td.number").nth(4)).to_have_text("170.90")
