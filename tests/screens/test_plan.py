"""Plan as a user works: write a record, see the board change, take it back."""

from __future__ import annotations

import re
import tomllib

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import keep_if_asked, keep_tried, pick, row

pytestmark = pytest.mark.screens


@pytest.fixture
def loaded(page, give):
    give(planned_week_files())
    page.goto("/gather")
    return page


def open_section(page, title):
    page.goto("/plan")
    page.get_by_label("Sections of the plan").get_by_role("button", name=title).click()
    expect(page.get_by_role("heading", name=title)).to_be_visible()


def test_a_campaign_is_registered_changed_and_undone_and_the_board_follows(loaded):
    page = loaded
    page.keyboard.press("1")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
    page.get_by_role("button", name="Add a campaign").click()
    page.get_by_label("Name *", exact=True).fill("Spring Whale Boats")
    page.get_by_label("plain name").fill("Whale season")
    page.get_by_label("vouchers").fill("WHALE26")
    page.get_by_label("expected value").fill("150.00")
    page.get_by_label("target roas").fill("0")
    page.get_by_role("button", name="Keep").click()
    said = page.get_by_role("alert")
    expect(said).to_contain_text("target_roas")
    # The field that is meant is told, and its words with it, until it is changed.
    field = page.get_by_label("target roas")
    expect(field).to_be_focused()
    expect(field).to_have_attribute("aria-invalid", "true")
    expect(field).to_have_attribute("aria-errormessage", said.get_attribute("id"))
    assert page.locator("[aria-invalid]").count() == 1
    field.fill("1.5")
    expect(page.locator("[aria-invalid]")).to_have_count(0)
    page.get_by_role("button", name="Keep").click()
    keep_tried(page, "Value moved 50.00")
    expect(row(page, "Spring Whale Boats")).to_contain_text("190.00")  # 140.00 and the order with the voucher
    page.keyboard.press("5")
    expect(row(page, "Whale season").locator("td.number").nth(4)).to_have_text("190.00")
    page.keyboard.press("1")
    page.get_by_role("button", name="Undo: campaign Spring Whale Boats added").click()
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
    page.keyboard.press("5")
    expect(row(page, "Spring Whale Boats").locator("td.number").nth(4)).to_have_text("140.00")


def test_channel_rules_are_tried_counted_and_moved(loaded):
    page = loaded
    open_section(page, "Channel rules")
    for name, source in (("Boat search", "quorrin"), ("Boat social", "ostrel")):
        page.get_by_role("button", name="Add a rule").click()
        form = page.get_by_role("complementary", name="New rule")
        form.get_by_label("Name *", exact=True).fill(name)
        form.get_by_role("button", name="Add to when").click()
        form.get_by_label("field *").fill("source")
        form.get_by_label("how *").select_option("is")
        form.get_by_label("value").fill(source)
        form.get_by_role("button", name="Count real visits").click()
        expect(form.get_by_role("row", name=re.compile(f"{name}.*→"))).to_be_visible()
        form.get_by_role("button", name="Keep").click()
        # A whole channel under another name: at most what is left over in rounding moves.
        keep_if_asked(page)
        expect(form).to_be_hidden()
    page.get_by_label("Address").fill("https://www.lunnick.example/?utm_source=ostrel")
    page.get_by_role("button", name="Ask").click()
    expect(page.get_by_role("status")).to_contain_text("Boat social by own rule 2")
    page.get_by_role("button", name="Move Boat social up").click()
    expect(page.get_by_role("button", name="Undo: rule Boat social moved")).to_be_visible()
    page.get_by_role("button", name="Ask").click()
    expect(page.get_by_role("status")).to_contain_text("Boat social by own rule 1")
    page.goto("/weigh?by=channel")
    expect(row(page, "Boat search").locator("td.number").nth(4)).to_have_text("140.00")


def test_a_legend_is_previewed_and_its_role_is_a_breakdown(loaded):
    page = loaded
    open_section(page, "Legends")
    page.get_by_role("button", name="Add a legend").click()
    page.get_by_label("Source", exact=True).first.fill("ostrel")
    page.get_by_label("utm_term").select_option("group")
    page.get_by_role("button", name="Preview on its visits").click()
    expect(page.get_by_role("row", name=re.compile("term keyword group"))).to_be_visible()
    page.get_by_role("button", name="Keep").click()
    keep_tried(page, "By group: value moved")
    expect(page.get_by_role("row", name=re.compile("ostrel.*group"))).to_be_visible()
    page.goto("/weigh")
    pick(page, "By", "group")
    expect(row(page, "families_30_card").locator("td.number").nth(4)).to_have_text("40.00")


def test_shared_rules_are_shared_differ_and_are_taken_over(loaded):
    page = loaded
    open_section(page, "Shared rules")
    expect(page.get_by_text("Nothing is shared between workspaces yet")).to_be_visible()

    def add(name, source):
        page.get_by_role("button", name="Add a shared rule").click()
        form = page.get_by_role("complementary", name="New shared rule")
        form.get_by_label("Name *", exact=True).fill(name)
        form.get_by_role("button", name="Add to when").click()
        form.get_by_label("field *").fill("source")
        form.get_by_label("how *").select_option("is")
        form.get_by_label("value").fill(source)
        form.get_by_role("button", name="Keep").click()
        keep_if_asked(page)
        expect(form).to_be_hidden()

    add("Boat search", "quorrin")
    page.get_by_role("button", name="Share these with every workspace").click()
    expect(page.get_by_text("These are the same")).to_be_visible()
    add("Night film", "harnock")
    expect(page.get_by_text("These differ: only here: Night film")).to_be_visible()
    # A row is dragged to another place, as with a mouse.
    page.get_by_role("row", name=re.compile("^2 Night film")).drag_to(
        page.get_by_role("row", name=re.compile("^1 Boat"))
    )
    expect(page.get_by_role("row", name=re.compile("^1 Night film"))).to_be_visible()
    page.get_by_role("button", name="Take the shared rules over").click()
    expect(page.get_by_text("These are the same")).to_be_visible()
    expect(page.get_by_role("button", name="Night film", exact=True)).to_be_hidden()
    page.get_by_role("button", name="Take back what was shared").click()
    expect(page.get_by_text("Nothing is shared between workspaces yet")).to_be_visible()
    page.goto("/weigh?by=channel")
    expect(row(page, "Boat search").locator("td.number").nth(4)).to_have_text("140.00")


def test_an_expectation_is_locked_with_its_date_and_stays(loaded):
    page = loaded
    open_section(page, "Campaigns")
    page.get_by_role("button", name="Add a campaign").click()
    page.get_by_label("Name *", exact=True).fill("Freight Fridays")
    page.get_by_label("expected leads").fill("3")
    page.get_by_label("expected reason").fill("as last year")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    slow = []
    page.route("**/plan/came*", lambda route: slow.append(route))
    page.get_by_role("button", name="Lock").click()
    expect(row(page, "Freight Fridays")).to_contain_text(re.compile(r"3 leads +locked 2\d{3}-\d\d-\d\d"))
    page.get_by_role("button", name="Freight Fridays", exact=True).click()
    page.get_by_label("expected leads").fill("1")
    # What was opened while the figures were on their way stays open when they come.
    with page.expect_response("**/plan/came*"):
        slow.pop().continue_()
    page.unroute("**/plan/came*")
    expect(page.get_by_label("expected leads")).to_have_value("1")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("alert")).to_contain_text("its expectation was locked on")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("Undo: campaign expectation of Freight Fridays locked")).click()
    expect(page.get_by_role("button", name="Lock")).to_be_visible()


def test_a_yardstick_of_ones_own_stands_beside_the_usual_ones(loaded):
    page = loaded
    open_section(page, "Yardsticks")
    expect(row(page, "fair_share")).to_be_visible()
    page.get_by_role("button", name="Add a yardstick").click()
    form = page.get_by_role("complementary", name="New yardstick")
    form.get_by_label("Name *").fill("No mail")
    form.get_by_label("Rule *").select_option("custom")
    form.get_by_role("button", name="Add to channel").click()
    form.get_by_label("Channel *").fill("Email")
    form.get_by_label("Weight *").fill("0")
    form.get_by_role("button", name="Keep").click()
    keep_tried(page, "No mail comes")
    expect(row(page, "No mail")).to_contain_text("Email 0")
    page.goto("/weigh?yardstick=No+mail")
    expect(page.get_by_role("button", name=re.compile("^Value of Midnight Boat: 0.00"))).to_be_visible()
    page.get_by_role("button", name="Yardstick: No mail").click()
    expect(page.get_by_role("listbox", name="Yardstick").get_by_role("option")).to_have_count(9)
    page.goto("/plan?section=yardstick")
    page.get_by_role("button", name="No mail", exact=True).click()
    expect(page.get_by_role("complementary").get_by_label("Weight *")).to_have_value("0")


def test_an_ad_is_drawn_as_it_is_written(loaded):
    page = loaded
    open_section(page, "Level tree")
    page.get_by_role("button", name="Add a name for an id").click()
    form = page.get_by_role("complementary", name="New name for an id")
    form.get_by_label("Campaign *").fill("Midnight Boat")
    form.get_by_label("Level *").select_option("ad")
    form.get_by_label("Id", exact=True).fill("83015")
    form.get_by_label("Name *", exact=True).fill("Deck lamps")
    form.get_by_label("Text").fill("Sleep across")
    form.get_by_label("Picture", exact=True).fill("lamps.jpg")
    drawn = form.get_by_role("figure", name="Preview of ad 83015")
    expect(drawn).to_contain_text("Sleep across")
    expect(drawn.get_by_role("img", name="Picture lamps.jpg")).to_be_visible()
    form.get_by_role("button", name="Keep").click()
    expect(form).to_be_hidden()
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    page.locator(".line [data-column=content]").dblclick()
    page.keyboard.type("83015")
    page.keyboard.press("Tab")
    expect(page.get_by_role("figure", name="Preview of ad 83015")).to_contain_text("Sleep across")


def test_on_the_touch_basis_the_tie_line_says_what_is_outside_the_range_and_opens_it(loaded):
    page = loaded
    page.goto("/plan")
    page.get_by_text("Workspace", exact=True).first.click()
    page.get_by_label("Date basis").fill("touch")
    page.get_by_role("button", name="Keep").first.click()
    expect(page.get_by_text("Kept. Reports are restated.")).to_be_visible()
    page.goto("/weigh?from=2026-03-06&yardstick=linear")
    expect(page.get_by_text("credit on the day of its touch")).to_be_visible()
    tie = page.get_by_label("Tie line")
    expect(tie).to_contain_text(re.compile(r"touches outside the range 332\.57.AUD"))
    tie.get_by_role("button", name="touches outside the range").click()
    expect(page.get_by_text("Value whose touch is outside the range")).to_be_visible()
    expect(page.get_by_text(re.compile(r"7 conversions give 6\.7 credited, worth 332\.57.AUD"))).to_be_visible()


def test_a_field_of_each_type_goes_through_a_form(page):
    """Text, number, day, choice, words and records: typed as a person types them, kept as what they are."""
    page.goto("/plan?section=campaign")
    page.get_by_role("button", name="Add a campaign").click()
    form = page.get_by_role("complementary")
    for label, text in (("Name *", "Night"), ("Budget", "1200.50"), ("Starts", "2026-02-30"), ("Ids", "q-1\nq-2")):
        form.get_by_label(label, exact=True).fill(text)
    form.get_by_label("State", exact=True).select_option("approved")
    form.get_by_role("button", name="Keep").click()
    expect(form.get_by_text(re.compile("starts"))).to_be_visible()
    form.get_by_label("Starts", exact=True).fill("2026-02-28")
    form.get_by_role("button", name="Keep").click()
    expect(form).to_be_hidden()
    page.goto("/mark?made=place")
    page.get_by_role("button", name="Add a place").click()
    form = page.get_by_role("complementary")
    expect(form.get_by_label("Name *", exact=True)).to_be_focused()
    page.keyboard.type("Feed")
    form.get_by_label("Longest", exact=True).fill("1024")
    form.get_by_role("button", name="Add to cells").click()
    form.get_by_label("Name *", exact=True).last.fill("note")
    form.get_by_label("Text *", exact=True).fill("as agreed")
    form.get_by_role("button", name="Keep").click()
    expect(form).to_be_hidden()
    workspace = page.url.split("/w/")[1].split("/")[0]
    kept = tomllib.loads(page.request.get(f"/api/w/{workspace}/plan/settings.toml").text())
    assert kept == {
        "campaign": [
            {"name": "Night", "budget": "1200.50", "starts": "2026-02-28", "ids": ["q-1", "q-2"], "state": "approved"}
        ],
        "place": [{"name": "Feed", "longest": 1024, "cells": [{"name": "note", "text": "as agreed"}]}],
    }


def test_what_was_typed_into_a_form_is_there_again_and_the_focus_returns(loaded):
    page = loaded
    page.goto("/plan?section=campaign")
    add = page.get_by_role("button", name="Add a campaign")
    add.click()
    name = page.get_by_label("Name *", exact=True)
    name.fill("Spring Whale Boats")
    page.keyboard.press("Escape")
    expect(name).to_be_hidden()
    expect(add).to_be_focused()
    add.click()
    expect(name).to_have_value("Spring Whale Boats")
    expect(page.get_by_text("What you typed earlier and did not keep")).to_be_visible()
    page.get_by_role("button", name="Keep", exact=True).click()
    first = page.get_by_role("button", name="Spring Whale Boats", exact=True)
    expect(first).to_be_visible()
    # Nothing is left of what was kept, and another row drops nothing.
    add.click()
    expect(name).to_have_value("")
    name.fill("Year Card")
    page.get_by_role("button", name="Keep", exact=True).click()
    first.click()
    page.get_by_label("Owner", exact=True).fill("Tove")
    page.get_by_role("button", name="Year Card", exact=True).click()
    expect(page.get_by_label("Owner", exact=True)).to_have_value("")
    first.click()
    expect(page.get_by_label("Owner", exact=True)).to_have_value("Tove")
    page.get_by_role("button", name="Leave as it is").click()
    first.click()
    expect(page.get_by_label("Owner", exact=True)).to_have_value("")
    # What holds where nothing is said stands in its field.
    expect(page.get_by_label("State", exact=True).locator("option").first).to_have_text("as usual: approved")
    page.get_by_label("Budget", exact=True).fill("12000.00")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(row(page, "Spring Whale Boats")).to_contain_text("12,000.00")


def test_what_was_typed_into_the_workspace_is_there_again_and_every_field_says_what_it_changes(loaded):
    page = loaded
    page.goto("/plan")
    page.get_by_text("Workspace", exact=True).first.click()
    form = page.get_by_role("form", name="Workspace settings")
    margin = form.get_by_label("Margin", exact=True)
    before = margin.input_value()
    margin.fill("0.37")
    page.get_by_text("Goals", exact=True).first.click()
    expect(form).to_be_hidden()
    page.get_by_text("Workspace", exact=True).first.click()
    expect(margin).to_have_value("0.37")
    page.get_by_role("button", name="Start from what is saved").click()
    expect(margin).to_have_value(before)
    margin.fill("0.38")
    # What somebody else changes meanwhile stays: only what was typed here is typed again.
    page.get_by_text("Goals", exact=True).first.click()
    here = f"/api/w/{page.url.split('/w/')[1].split('/')[0]}/plan"
    for values in ({"target_roas": "7.5"}, {"session_gap_minutes": 20}):
        basis = page.request.get(here).json()["basis"]
        assert page.request.put(f"{here}/general", data={"basis": basis, "values": values}).ok
    # The undo of the second brings the first into this window.
    page.get_by_role("button", name=re.compile("^Undo")).click()
    page.get_by_text("Workspace", exact=True).first.click()
    expect(form.get_by_label("Target roas", exact=True)).to_have_value("7.5")
    expect(margin).to_have_value("0.38")
    form.get_by_role("button", name="Keep").click()
    keep_tried(page, "Other figures")
    expect(form.get_by_text("Kept. Reports are restated.")).to_be_visible()
    assert page.request.get(here).json()["general"]["target_roas"] == "7.5"
    page.get_by_text("Goals", exact=True).first.click()
    page.get_by_text("Workspace", exact=True).first.click()
    expect(margin).to_have_value("0.38")
    expect(page.get_by_text("What you typed earlier")).to_be_hidden()
    said = form.locator(":scope > .field .changes").all_inner_texts()
    assert len(said) == form.locator(":scope > .field").count()
    assert {"Changes figures.", "Changes verdicts, no figure."} <= set(said)


def test_a_file_of_campaigns_says_what_it_would_do_and_does_what_is_chosen(loaded):
    page = loaded
    page.goto("/plan?section=campaign")

    def give_file(text):
        page.get_by_label("File of records").set_input_files(
            {"name": "campaigns.csv", "mimeType": "text/csv", "buffer": text.encode()}
        )

    # Nothing stands yet: there is nothing to choose.
    give_file("name,owner\nWhale Boats,Maren\nYear Card,Bo\n")
    expect(page.get_by_role("button", name="Whale Boats", exact=True)).to_be_visible()
    give_file("name,owner\nYear Card,Tove\nNight Boat,Tove\n")
    asked = page.get_by_role("group", name="What to do with the file")
    expect(asked).to_contain_text("2 rows, 1 new, 1 changed, 0 the same; 1 of the list is not in it")
    expect(asked.get_by_role("button", name="Add: 1 new")).to_be_focused()
    page.keyboard.press("Escape")
    expect(asked).to_be_hidden()
    give_file("name,owner\nYear Card,Tove\nNight Boat,Tove\n")
    asked.get_by_role("button", name="Update: 1 new, 1 changed").click()
    expect(row(page, "Night Boat")).to_contain_text("Tove")
    expect(row(page, "Year Card")).to_contain_text("Tove")
    expect(row(page, "Whale Boats")).to_contain_text("Maren")
    expect(page.get_by_role("button", name="Undo: campaigns updated from campaigns.csv")).to_be_visible()
