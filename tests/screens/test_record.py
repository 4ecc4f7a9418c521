"""A record is opened from the trace, looked at, and left to where one came from."""

from __future__ import annotations

import re
from datetime import UTC, datetime

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import keep_tried
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


def test_a_record_is_taken_out_on_trial_and_put_back_by_key(loaded):
    page = loaded
    page.goto("/record?table=conversions&id=o30")
    expect(page.get_by_role("status")).to_contain_text("Counts")
    page.keyboard.press("Delete")
    keep_tried(page, "Value moved 40.00 AUD")
    expect(page.get_by_role("status")).to_contain_text("Quarantined by hand: in no figure")
    expect(page.get_by_role("button", name="Undo: record o30 taken out")).to_be_visible()
    page.get_by_role("button", name="Put back").click()
    keep_tried(page, "Value moved 40.00 AUD")
    expect(page.get_by_role("status")).to_contain_text("Counts")
    page.keyboard.press("u")
    expect(page.get_by_role("status")).to_contain_text("Quarantined by hand")
    page.keyboard.press("o")
    expect(page.get_by_role("heading", name="Records by hand")).to_be_visible()
    expect(page.get_by_role("cell", name="o30")).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", name="ticket o30")).to_be_visible()


def test_a_test_record_is_put_back_though_a_rule_says_otherwise(loaded):
    page = loaded
    page.goto("/record?table=leads&id=l5")
    expect(page.get_by_role("status")).to_contain_text("Test record: in no figure")
    page.keyboard.press("Delete")
    keep_tried(page, "Leads moved 1")
    expect(page.get_by_role("status")).to_contain_text("Counts")
    page.keyboard.press("Delete")
    keep_tried(page, "Leads moved 1")
    expect(page.get_by_role("status")).to_contain_text("Test record: in no figure")


def test_a_record_is_found_from_gather_and_its_person_is_taken_apart(loaded):
    page = loaded
    page.goto("/gather")
    expect(page.get_by_role("heading", name="Loads")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("carla@")
    found = page.get_by_role("region", name="Records found")
    expect(found.get_by_role("button")).to_have_count(1)
    expect(found).to_contain_text("lead l1 e-mail c...@groups.example")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="lead l1")).to_be_visible()
    page.keyboard.press("p")
    identifiers = page.get_by_role("region", name="Identifiers")
    expect(identifiers.get_by_role("row", name=re.compile("^visitor C visit v09"))).to_be_visible()
    expect(identifiers.get_by_role("row", name=re.compile(r"^e-mail c\.\.\.@groups.example lead l1"))).to_be_visible()
    did = page.get_by_role("region", name="What it did")
    expect(did.get_by_role("row")).to_have_count(4)
    expect(did.get_by_role("row", name=re.compile("ticket o3"))).to_contain_text("90.90")
    did.get_by_role("button", name=re.compile("^knot of visitor C")).focus()
    page.keyboard.press("Delete")
    did.get_by_role("button", name="Separate lead l1 from visitor C").click()
    keep_tried(page, "Value moved 90.90 AUD")
    # The order names the lead, and the lead is the visitor no more.
    expect(did.get_by_role("row", name=re.compile("ticket o3"))).to_have_count(0)
    page.keyboard.press("u")
    expect(did.get_by_role("row", name=re.compile("ticket o3"))).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="lead l1")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="Loads")).to_be_visible()


def test_what_two_identifiers_have_in_common_elsewhere_is_named_before_it_is_kept(loaded):
    """The two leads of one freight customer both carry visitor and address: of the second's day on they stay one."""
    page = loaded
    page.goto("/plan?section=separate")
    page.get_by_role("button", name="Add a separation").click()
    page.get_by_label("First *", exact=True).fill("visitor_id:D")
    page.get_by_label("Second *", exact=True).fill("email:dina@freight.example")
    page.get_by_label("From", exact=True).fill("2026-03-06")
    page.get_by_role("button", name="Keep", exact=True).click()
    keep_tried(page, "visitor_id:D and email:d...@freight.example stay one person by leads.csv 3")


def test_an_address_that_is_looked_for_does_not_stand_in_the_address_of_the_board(loaded):
    page = loaded
    page.goto("/weigh")
    page.get_by_role("searchbox", name="Find a row by name").fill("carla@groups.example")
    expect(page.get_by_role("region", name="Records found")).to_contain_text("lead l1")
    assert "carla" not in page.url
    page.get_by_role("searchbox", name="Find a row by name").fill("Midnight")
    expect(page).to_have_url(re.compile("find=Midnight"))


@pytest.mark.parametrize("width", [1280, 1024, 390])
def test_a_person_can_be_read_on_any_width(loaded, width):
    page = loaded
    page.set_viewport_size({"width": width, "height": 844})
    page.goto("/person?table=leads&id=l1")
    expect(page.get_by_role("region", name="What it did")).to_be_visible()
    page.get_by_role("button", name=re.compile("^knot of visitor C")).click()
    page.evaluate(AXE)
    assert page.evaluate(FOUND_BY_AXE, None) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_all_that_a_test_made_is_taken_out_in_one_act_and_put_back_with_one_key(loaded):
    page = loaded
    page.goto("/person?table=visits&id=v09")
    page.get_by_role("button", name="Take out all 3").click()
    keep_tried(page, "Value moved 90.90 AUD")
    expect(page.get_by_role("region", name="What it did").get_by_role("row")).to_have_count(2)
    page.goto("/record?table=conversions&id=o3")
    expect(page.get_by_role("status")).to_contain_text("Quarantined by hand")
    page.keyboard.press("u")
    expect(page.get_by_role("status")).to_contain_text("Counts")
    page.keyboard.press("p")
    expect(page.get_by_role("button", name="Take out all 3")).to_be_visible()


TRIED = """visit_id,occurred_at,visitor_id,url
t1,2026-03-07T09:00:00+10:30,try,https://www.lunnick.example/boats?yt-test=tok-77&utm_source=quorrin&utm_campaign=Spring+Whale+Boats
t2,2026-03-07T09:01:00+10:30,try,https://www.lunnick.example/boats?utm_source=quorrin&utm_campaign=Spring+Whale+Boats
"""
ORDERED = "conversion_id,occurred_at,goal,visitor_id,total\nt9,2026-03-07T09:04:00+10:30,ticket,try,77.00\n"


def test_a_test_is_found_by_its_token_and_all_it_made_is_taken_out_in_one_act(loaded, give):
    page = loaded
    give([("tried.csv", TRIED.encode()), ("ordered.csv", ORDERED.encode())])
    page.goto("/gather")
    expect(page.get_by_role("heading", name="Loads")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("tok-77")
    found = page.get_by_role("region", name="Records found")
    expect(found).to_contain_text("visit t1")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    also = page.get_by_role("region", name="Of the same test")
    expect(also.get_by_role("row")).to_have_count(3)
    # The visit is part of nothing: it neither begins a touch nor goes on with one.
    did = page.get_by_role("region", name="What it did")
    expect(did.get_by_role("row", name=re.compile("visit t1 *quarantined"))).to_be_visible()
    page.get_by_role("button", name="Take out all 2").click()
    keep_tried(page, "Value moved 77.00 AUD")
    expect(page.get_by_role("button", name="Take out all 2")).to_have_count(0)
    expect(page.get_by_role("button", name="Put back all 3")).to_be_visible()
    page.goto("/record?table=conversions&id=t9")
    expect(page.get_by_role("status")).to_contain_text("Quarantined by hand")
    page.keyboard.press("p")
    page.get_by_role("button", name="Put back all 3").click()
    keep_tried(page, "Value moved 77.00 AUD")
    # Of a test of which one row is left, that one is taken out in the same way.
    page.goto("/record?table=conversions&id=t9")
    expect(page.get_by_role("status")).to_contain_text("Counts")
    page.keyboard.press("Delete")
    keep_tried(page, "Value moved 77.00 AUD")
    page.goto("/person?table=visits&id=t1")
    page.get_by_role("button", name="Put back all 1").click()
    keep_tried(page, "Value moved 77.00 AUD")
    page.keyboard.press("o")
    expect(page.get_by_role("heading", name="Separated people")).to_be_visible()


def test_what_came_in_the_last_minutes_is_found_without_a_word(page, give):
    now = datetime.now(UTC)
    give(planned_week_files())
    rows = f"lead_id,occurred_at,email\nfresh,{now.isoformat()},tess@lunnick.example\n"
    give([("fresh.csv", rows.encode())])
    page.goto("/records")
    expect(page.get_by_role("heading", name="Records")).to_be_visible()
    page.keyboard.press("/")
    found = page.get_by_role("region", name="Records found")
    expect(found.get_by_role("button", name="What came in the last 10 minutes")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(found).to_contain_text("lead fresh")
    found.get_by_role("button", name="lead fresh").click()
    expect(page.get_by_role("heading", name="lead fresh")).to_be_visible()


def test_what_came_after_the_record_stands_under_its_day_with_its_load(loaded, give):
    page = loaded
    statuses = "record_id,occurred_at,status,owner\no30,2026-03-20T09:00:00+10:30,confirmed,Maren\n"
    give([("later.csv", statuses.encode())])
    page.goto("/record?table=conversions&id=o30")
    about = page.get_by_role("region", name="Rows about it")
    expect(about).to_contain_text(re.compile(r"New since \d{4}-\d\d-\d\d, when the record was loaded"))
    row = about.get_by_role("row", name=re.compile("confirmed"))
    expect(row).to_contain_text(re.compile(r"later\.csv\s2, load \d+ of \d{4}-\d\d-\d\d"))
    expect(page.get_by_role("status")).to_contain_text(re.compile(r"conversions\.csv\s\d+, load \d+ of"))


def test_all_that_one_rule_took_out_is_put_back_with_one_key(loaded, give):
    page = loaded
    rule = '[[quarantine]]\nwhen = [{ field = "product", op = "is", value = "Whale boat" }]\n'
    settings = dict(planned_week_files())["settings.toml"].decode() + rule
    give([("settings.toml", settings.encode())])
    page.goto("/record?table=conversions&id=o1")
    expect(page.get_by_role("status")).to_contain_text("Quarantined by rule 1")
    page.get_by_role("link", name="All of rule 1").click()
    expect(page.get_by_role("button", name="Put back all 5")).to_be_visible()
    page.keyboard.press("Delete")
    keep_tried(page, "5 rows put back")
    expect(page.get_by_text("None fits.")).to_be_visible()
    page.goto("/record?table=conversions&id=o1")
    expect(page.get_by_role("status")).to_contain_text("Counts")
    page.keyboard.press("u")
    expect(page.get_by_role("status")).to_contain_text("Quarantined by rule 1")


def test_an_address_looked_for_stands_in_no_address_of_a_page(loaded):
    page = loaded
    page.goto("/plan")
    find = page.get_by_role("searchbox", name="Find")
    find.fill("maren@lunnick.example")
    expect(find).to_have_value("maren@lunnick.example")
    assert "maren" not in page.url
    find.fill("Midnight")
    expect(page).to_have_url(re.compile("find=Midnight"))
