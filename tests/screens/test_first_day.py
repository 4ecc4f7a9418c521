"""A newcomer's first day: load files, read the board, switch the yardstick, open a trace, undo."""

from __future__ import annotations

import csv
import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from screens.steps import choose, pick, row, settle, way_out
from week import FOLDER

pytestmark = pytest.mark.screens
LATE = "day,platform,account,campaign_id,campaign,cost\n2026-03-03,Quorrin,q-main,q-70,Spring Whale Boats,25.00\n"


def load_week(page, give):
    give([(file.name, file.read_bytes()) for file in sorted(FOLDER.iterdir())])
    page.goto("/gather")


def figures(page, name):
    return [c.strip() for c in row(page, name).locator("td.number").all_inner_texts()]


def test_an_empty_app_says_what_to_do_next(page):
    page.goto("/")
    page.get_by_role("link", name="Go to Gather").click()
    expect(page.get_by_text("Nothing is loaded yet. Load a file")).to_be_visible()


def test_files_are_rehearsed_kept_weighed_and_undone(page, tmp_path):
    choose(page, *sorted(FOLDER.iterdir()))
    expect(
        page.get_by_text("visits.csv is visits: 18 read, 16 new, 0 replaced, 0 unchanged, 2 rejected")
    ).to_be_visible()
    expect(page.get_by_text("Line 19, occurred_at")).to_be_visible()
    expect(page.get_by_text("Nothing is loaded yet")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Keep 41 changes")).click()
    expect(page.get_by_text("Loaded: kept")).to_be_visible(timeout=30_000)

    page.get_by_role("link", name="Weigh").click()
    expect(row(page, "Spring Whale Boats")).to_be_visible()
    assert figures(page, "Spring Whale Boats") == ["100.00", "0.0", "–", "1.5", "140.00", "1.40"]
    assert figures(page, "Two-Island Year Card") == ["55.30", "1.5", "36.87", "1.3", "130.90", "2.37"]
    expect(row(page, "Spring Whale Boats")).to_contain_text("too few to tell")
    expect(row(page, "Freight Fridays")).to_contain_text("too few to tell")
    expect(page.get_by_label("Tie line")).to_contain_text(re.compile(r"Booked 452\.57.AUD\s*=\s*named 304\.23"))

    late = tmp_path / "spend-late.csv"
    late.write_text(LATE)
    choose(page, late)
    page.get_by_role("button", name="Keep 1 change").click()
    expect(page.get_by_text("Loaded: kept spend-late.csv")).to_be_visible(timeout=30_000)
    page.get_by_role("link", name="Weigh").click()
    expect(row(page, "Spring Whale Boats").locator("td.number").first).to_have_text("125.00")
    page.get_by_role("link", name="Gather").click()
    late_row = page.get_by_label("Loads").get_by_role("row", name=re.compile("spend-late.csv"))
    late_row.get_by_role("button", name="Undo").click()
    expect(late_row).to_contain_text("undone")
    expect(late_row.get_by_role("button", name="Redo")).to_be_focused()
    page.keyboard.press("Enter")
    expect(late_row.get_by_role("button", name="Undo")).to_be_focused()
    expect(late_row).not_to_contain_text("undone")
    page.keyboard.press("Enter")
    expect(late_row).to_contain_text("undone")
    page.get_by_role("link", name="Weigh").click()
    expect(row(page, "Spring Whale Boats").locator("td.number").first).to_have_text("100.00")


def test_the_yardstick_is_switched_by_menu_and_by_key_and_stands_in_the_address(page, give):
    load_week(page, give)
    page.goto("/weigh")
    pick(page, "Yardstick", "First touch")
    expect(row(page, "Spring Whale Boats").locator("td.number").nth(4)).to_have_text("220.00")
    expect(page).to_have_url(re.compile("yardstick=first"))
    page.get_by_role("heading", name="Weigh").click()
    page.keyboard.press("y")
    expect(row(page, "Spring Whale Boats").locator("td.number").nth(4)).to_have_text("66.67")
    page.go_back()
    expect(row(page, "Spring Whale Boats").locator("td.number").nth(4)).to_have_text("220.00")


def test_a_figure_opens_down_to_the_lines_of_the_files(page, give):
    load_week(page, give)
    page.goto("/weigh")
    page.get_by_role("button", name=re.compile("^ROAS of Two-Island Year Card")).focus()
    page.keyboard.press("Enter")
    trace = page.get_by_label("Trace", exact=True)
    expect(trace.get_by_role("heading", name="ROAS of Two-Island Year Card")).to_be_visible()
    expect(trace).to_contain_text(re.compile(r"worth 130\.90.AUD"))
    expect(trace).to_contain_text(re.compile(r"add up to 55\.30.AUD"))
    expect(trace.get_by_role("row", name=re.compile("2026-03-03.*50 NZD.*46.00.*spend.csv 5"))).to_be_visible()
    shares = trace.locator("tr.conversion td:nth-child(4)").all_inner_texts()
    assert sum(float(s.split()[0]) for s in shares) == pytest.approx(130.90)
    # The row of the figure stands above its trace, alone; nothing lies over it.
    expect(page.locator("tbody th.name")).to_have_text(["Two-Island Year Card"])
    page.keyboard.press("Escape")
    expect(trace).to_be_hidden()
    expect(page.get_by_role("button", name=re.compile("^ROAS of Two-Island Year Card"))).to_be_focused()
    expect(row(page, "Spring Whale Boats")).to_be_visible()


def test_under_removal_a_figure_opens_into_its_states(page, give):
    load_week(page, give)
    page.goto("/weigh?yardstick=removal")
    page.get_by_role("button", name=re.compile("^Value of Midnight Boat")).click()
    trace = page.get_by_label("Trace", exact=True)
    expect(trace.get_by_role("heading", name="What would be lost without them")).to_be_visible()
    expect(trace.get_by_role("row", name=re.compile("^Midnight Boat"))).to_have_count(2)
    page.keyboard.press("Escape")
    expect(page.get_by_text("the bracket is the 90 % interval of the chosen yardstick, which has none")).to_be_visible()


def test_two_fields_are_picked_and_a_verdict_says_why(page, give):
    load_week(page, give)
    page.goto("/weigh")
    verdict = row(page, "Spring Whale Boats").locator("td.says button")
    expect(verdict).to_have_attribute("title", re.compile(r"1\.5 sales credited under Linear; at least 10 are needed"))
    expect(row(page, "Spring Whale Boats").get_by_role("img")).to_have_attribute(
        "aria-label", re.compile("90 % interval: ROAS")
    )
    pick(page, "Second field", "source")
    expect(page).to_have_url(re.compile("then=source"))
    pair = page.get_by_role("row", name=re.compile("^Spring Whale Boats . "))
    expect(pair.first).to_be_visible()
    pair.first.get_by_role("button", name=re.compile("^Value of")).click()
    heading = page.get_by_label("Trace", exact=True).get_by_role("heading", level=2)
    expect(heading).to_have_text(re.compile("^Value of Spring Whale Boats / "))


def test_the_self_check_is_reached_from_the_rail(page):
    page.goto("/gather")
    page.get_by_role("link", name="Self-check").click()
    expect(page).to_have_title(re.compile("^Self-check"))
    expect(page.get_by_role("status")).to_contain_text(re.compile(r"(\d+) of \1 examples hold"))
    expect(page.get_by_role("row", name=re.compile("1.6000000000 2.4000000000"))).to_be_visible()


def test_the_totals_open_too(page, give):
    load_week(page, give)
    page.goto("/weigh")
    page.get_by_role("button", name=re.compile("^Value of Blended")).click()
    trace = page.get_by_label("Trace", exact=True)
    expect(trace.get_by_role("heading", name="Value of blended (everything)")).to_be_visible()
    expect(trace).to_contain_text(re.compile(r"6 conversions give 6\.0 credited, worth 452\.57.AUD"))


def test_every_part_of_the_tie_line_opens(page, give):
    load_week(page, give)
    page.goto("/weigh")
    for part, heading in (("untagged", "untagged touches"), ("Quarantined", "Quarantined"), ("unmatched", "met none")):
        page.get_by_label("Tie line").get_by_role("button", name=re.compile(part)).click()
        trace = page.get_by_label("Trace", exact=True)
        expect(trace.get_by_role("heading", name=re.compile(heading))).to_be_visible()
        if part == "untagged":
            expect(trace).to_contain_text("findery.example")
        page.get_by_role("button", name="Back to the board").click()


def test_sorting_finding_ranges_and_the_csv_of_what_is_seen(page, give):
    load_week(page, give)
    page.goto("/weigh")
    names = page.locator("tbody th.name")
    expect(names.first).to_have_text("Spring Whale Boats")
    page.get_by_role("columnheader", name="campaign").get_by_role("button").click()
    expect(names.first).to_have_text("Freight Fridays")
    with page.expect_download() as download:
        way_out(page, "CSV").click()
    rows = list(csv.DictReader(Path(download.value.path()).read_text().splitlines()))
    assert [r["campaign"] for r in rows] == names.evaluate_all("cells => cells.map(c => c.innerText)")
    page.keyboard.press("/")
    page.keyboard.type("whale")
    expect(names).to_have_count(1)
    page.get_by_label("Find a row by name").fill("")
    page.keyboard.press("Escape")
    page.get_by_role("heading", name="Weigh").click()
    page.keyboard.press("r")
    page.get_by_label("From").fill("2026-03-06")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Tie line")).to_contain_text(re.compile(r"Booked 277\.57"))
    page.goto("/weigh?by=channel")
    expect(row(page, "Paid social")).to_be_visible()
    page.goto("/weigh?days=1&yardstick=first")
    expect(row(page, "Midnight Boat").locator("td.number").nth(4)).to_have_text("100.00")


def test_a_filter_narrows_the_board_by_key_stands_in_the_address_and_drops_nothing(page, give):
    load_week(page, give)
    page.goto("/weigh")
    expect(row(page, "Midnight Boat")).to_be_visible()
    filters = page.get_by_role("group", name="Question")
    page.keyboard.press("f")
    filters.get_by_label("Field", exact=True).select_option("source")
    filters.get_by_label("Value", exact=True).fill("quorrin")
    page.keyboard.press("Enter")
    expect(row(page, "Midnight Boat")).to_be_hidden()
    expect(row(page, "Spring Whale Boats").locator("td.number").nth(4)).to_have_text("140.00")
    expect(row(page, "Outside the filter").locator("td.number").nth(4)).to_have_text("312.57")
    expect(page).to_have_url(re.compile(r"where=source\+is\+quorrin"))
    assert page.request.get(way_out(page, "CSV").get_attribute("href")).text().count("left_out") == 1
    page.keyboard.press("Escape")
    row(page, "Outside the filter").locator("td.number").nth(4).get_by_role("button").click()
    expect(page.get_by_label("Trace", exact=True)).to_contain_text("312.57")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="only where …").click()
    filters.get_by_label("Field", exact=True).select_option("medium")
    filters.get_by_label("How", exact=True).select_option("is empty")
    filters.get_by_role("button", name="Add", exact=True).click()
    expect(row(page, "Spring Whale Boats")).to_be_hidden()
    page.go_back()
    expect(row(page, "Spring Whale Boats")).to_be_visible()
    filters.get_by_role("button", name="Only where: source is quorrin").focus()
    page.keyboard.press("Delete")
    expect(row(page, "Midnight Boat")).to_be_visible()
    expect(page.get_by_text("Outside the filter")).to_be_hidden()


def test_keys_lead_between_stations_and_are_shown(page, give):
    load_week(page, give)
    page.get_by_role("heading", name="Gather").click()
    page.keyboard.press("5")
    expect(row(page, "Spring Whale Boats")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_text("Keys rest while a field has the focus.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("Keys rest while a field has the focus.")).to_be_hidden()
    page.keyboard.press(",")
    expect(page).to_have_url(re.compile("from=2026-02-23&to=2026-03-01"))
    pick(page, "Days", "all days")
    page.keyboard.press("3")
    expect(page.get_by_role("heading", name="Gather")).to_be_visible()


def test_a_bad_file_is_named_and_nothing_is_kept(page, tmp_path):
    bad = tmp_path / "stuff.csv"
    bad.write_text("a|b\n1|2\n")
    choose(page, bad)
    expect(page.get_by_text("1 question is open in 1 file")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Keep"))).to_be_disabled()
    page.get_by_role("button", name="Leave everything as it is").click()
    expect(page.get_by_text("Nothing is loaded yet")).to_be_visible()


def test_a_long_load_shows_its_rows_and_is_stopped_with_nothing_half_done(page, tmp_path):
    rows = "".join(f"big{i},2026-03-04T10:00:00Z,p{i},/\n" for i in range(250_000))
    (tmp_path / "visits.csv").write_text("visit_id,occurred_at,visitor_id,url\n" + rows)
    page.goto("/gather")
    page.get_by_label("Files to load").set_input_files(str(tmp_path / "visits.csv"))
    settle(page)
    page.get_by_role("button", name=re.compile("^Keep")).click(timeout=60_000)
    expect(
        page.get_by_text(re.compile(r"[1-9][\d,]* of about [\d,]+ rows, [\d,]+ a second, \d+ s left"))
    ).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text("Not finished:")).to_contain_text("stopped", timeout=60_000)
    expect(page.get_by_text("Nothing is loaded yet")).to_be_visible()
    # What was read stays read, through another station, too.
    expect(page.get_by_role("button", name="Keep 250,000 changes")).to_be_visible()
    page.keyboard.press("5")
    expect(page.get_by_text("Nothing is loaded yet")).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_role("button", name="Keep 250,000 changes")).to_be_visible()
    # The same file again: reading it is stopped. How far it is comes from here, since a file may be read before anyone
    # has asked; what the server says of it and does at a stop has tests of its own.
    held = []
    page.route("**/gather/rehearsals?*", lambda route: held.append(route))
    so_far = {"file": "visits.csv", "rows": 120_000, "done": 5, "size": 10, "stopped": False}
    page.route("**/gather/readings/*", lambda route: route.fulfill(json=so_far))
    page.get_by_label("Files to load").set_input_files(str(tmp_path / "visits.csv"))
    reading = page.get_by_label("Reading", exact=True)
    expect(reading).to_contain_text("Reading visits.csv: 120,000 rows")
    expect(reading.get_by_role("status")).to_have_text("Reading visits.csv, 50 %")
    with page.expect_request("**/gather/readings/*/stop"), page.expect_event("requestfailed") as ended:
        reading.get_by_role("button", name="Stop").click()
    assert ended.value == held[0].request
    page.unroute_all(behavior="ignoreErrors")
    expect(reading).to_be_hidden()
    expect(page.get_by_label("Rehearsal")).to_be_hidden()
    page.goto("/weigh")
    expect(page.get_by_text("Nothing is loaded yet")).to_be_visible()


def test_a_new_workspace_is_begun_from_the_rail(page, workspace):
    page.goto("/gather")
    picker = page.get_by_label("Workspace", exact=True)
    picker.focus()
    picker.select_option("New workspace")
    name = page.get_by_label("Name of the new workspace")
    expect(name).to_be_focused()
    page.keyboard.type("Client A")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("use small letters, digits and hyphens")
    expect(name).to_have_attribute("aria-invalid", "true")
    name.fill(workspace)
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text(f"There is a workspace {workspace}")
    page.keyboard.press("Escape")
    expect(picker).to_be_focused()
    expect(picker).to_have_value(workspace)
    picker.select_option("New workspace")
    name.fill(f"{workspace}-next")
    page.keyboard.press("Enter")
    page.wait_for_url(f"**/w/{workspace}-next/**")
    expect(page.get_by_label("Workspace", exact=True)).to_have_value(f"{workspace}-next")
