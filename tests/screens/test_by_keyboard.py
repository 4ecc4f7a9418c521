"""By keyboard alone: few stops, the focus in sight and back where it came from, nothing lost by a key; and what is said."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import row

pytestmark = pytest.mark.screens

COVERED = """() => {
  const e = document.activeElement
  if (!e || e === document.body) return null
  const box = e.getBoundingClientRect()
  const seen = (x, y) => {
    const top = document.elementFromPoint(x, y)
    return !!top && (e.contains(top) || top.contains(e))
  }
  const middle = box.left + box.width / 2
  return box.width > 0 && box.height > 0
    ? !(seen(middle, box.top + box.height / 4) && seen(middle, box.bottom - box.height / 4)) && (e.ariaLabel ?? e.textContent.trim()).slice(0, 60)
    : `no size: ${e.outerHTML.slice(0, 80)}`
}"""
"""What has the focus, if it is covered or has no size (WCAG 2.2, 2.4.11)."""
INSIDE = "document.activeElement.closest('tbody, tfoot') !== null"
MAIN = "document.activeElement.id === 'station'"


@pytest.fixture
def board(planned_page):
    planned_page.goto("/weigh")
    expect(row(planned_page, "Spring Whale Boats")).to_be_visible()
    return planned_page


@pytest.fixture
def own_board(page, give):
    """The same, to be changed."""
    give(planned_week_files())
    page.goto("/weigh")
    expect(row(page, "Spring Whale Boats")).to_be_visible()
    return page


@pytest.mark.parametrize("view", ["", "?view=table"])
def test_a_board_is_one_stop_with_arrows_inside(board, view):
    page = board
    page.goto(f"/weigh{view}")
    first = page.locator("tbody [data-cell]").first
    expect(first).to_be_visible()
    page.get_by_label("Find a row by name").focus()
    stops = 0
    for _ in range(60):
        page.keyboard.press("Tab")
        stops += page.evaluate(INSIDE)
        if page.evaluate("document.activeElement === document.body"):
            break
    assert stops == 1
    first.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    was = page.evaluate("document.activeElement.closest('tr').dataset.row")
    page.keyboard.press("Shift+Tab")
    assert not page.evaluate(INSIDE)
    page.keyboard.press("Tab")
    assert page.evaluate("document.activeElement.closest('tr').dataset.row") == was
    for _ in range(40):
        page.keyboard.press("ArrowDown")
        assert page.evaluate(COVERED) is False
    assert page.evaluate("document.activeElement.closest('tr').classList.contains('total')")
    for _ in range(40):
        page.keyboard.press("ArrowUp")
        assert page.evaluate(COVERED) is False


@pytest.mark.parametrize("path", ["/weigh", "/gather", "/plan", "/mark", "/ads", "/invoices", "/findings"])
def test_no_stop_is_covered_or_invisible(board, path):
    page = board
    page.goto(path)
    page.get_by_role("heading", level=1).wait_for()
    page.wait_for_load_state("networkidle")
    wrong = []
    for _ in range(45):
        page.keyboard.press("Tab")
        covered = page.evaluate(COVERED)
        if covered is None:
            break
        if covered:
            wrong.append(covered)
    assert wrong == []


def test_a_key_leads_into_a_station_and_the_list_of_keys_gives_the_focus_back(board):
    page = board
    for key, name in (("3", "Gather"), ("1", "Plan"), ("2", "Mark"), ("5", "Weigh")):
        page.keyboard.press(key)
        expect(page.get_by_role("heading", level=1, name=re.compile(name))).to_be_visible()
        page.wait_for_function(MAIN)
        expect(page.locator("[aria-live]").filter(has_text=f"{name} -").first).to_be_attached()
    figure = row(page, "Spring Whale Boats").locator("[data-figure=value]")
    figure.focus()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(figure).to_be_focused()


def test_escape_gives_the_keys_back_after_finding_and_after_a_range(board):
    page = board
    figure = row(page, "Spring Whale Boats").locator("[data-figure=value]")
    figure.focus()
    page.keyboard.press("/")
    expect(page.get_by_label("Find a row by name")).to_be_focused()
    page.keyboard.type("whale")
    page.keyboard.press("Escape")
    expect(figure).to_be_focused()
    expect(page.get_by_label("Find a row by name")).to_have_value("whale")
    page.keyboard.press("y")
    expect(page).to_have_url(re.compile("yardstick="))
    page.keyboard.press("r")
    expect(page.get_by_role("option", name="last 7 days")).to_be_visible()
    page.keyboard.press("Tab")
    page.keyboard.press("Tab")
    page.keyboard.press("Escape")
    expect(page.get_by_role("option", name="last 7 days")).to_have_count(0)
    was = page.url
    page.keyboard.press("y")
    expect(page).not_to_have_url(was)


def test_rows_are_found_wherever_there_are_some(own_board, give):
    page = own_board
    page.goto("/gather")
    expect(page.get_by_label("Find a load")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("spend")
    files = page.get_by_label("Loads").locator("tbody td:first-child")
    expect(files).to_have_text(["spend.csv"])
    page.keyboard.type("zzz")
    expect(page.get_by_text("contains “spendzzz”")).to_be_visible()
    give([("ads.csv", b"platform,campaign,ad_group,ad,url\nOstrel,A,g,Whale card,https://www.lunnick.example/\n")])
    page.goto("/ads")
    expect(page.get_by_role("cell", name="Whale card")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("no ad is called so")
    expect(page.get_by_text("None of 1 contains “no ad is called so”")).to_be_visible()


def test_arrows_in_the_picker_of_workspaces_change_nothing_before_enter(board, address):
    page = board
    page.request.post(f"{address}/api/workspaces", data={"name": "zz-other"})
    page.goto("/gather")
    page.get_by_role("heading", name="Loads").wait_for()
    picker = page.get_by_label("Workspace", exact=True)
    expect(picker.locator("option", has_text="zz-other")).to_be_attached()
    here = picker.input_value()
    picker.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowDown")
    chosen = picker.input_value()
    assert chosen != here
    assert f"/w/{here}/" in page.url
    page.keyboard.press("Escape")
    expect(picker).to_have_value(here)
    page.keyboard.press("z")
    expect(picker).to_have_value("zz-other")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/w/zz-other/"))


ROWS = b"visit_id,occurred_at,visitor_id,url\nv1,2026-02-10T10:00:00Z,a,/\nv2,2026-03-05T10:00:00Z,a,/\n"


def test_the_period_before_all_days_is_the_last_month_with_rows(page, give):
    give([("settings.toml", b'home_currency = "EUR"\n'), ("visits.csv", ROWS)])
    page.goto("/weigh")
    expect(page.get_by_role("button", name=re.compile("^Days: all days"))).to_be_visible()
    page.keyboard.press(",")
    expect(page).to_have_url(re.compile("from=2026-03-01&to=2026-03-31"))
    page.keyboard.press(",")
    expect(page).to_have_url(re.compile("from=2026-02-01&to=2026-02-28"))


def test_what_happens_is_said(own_board, give):
    page = own_board
    said = page.locator("[aria-live], [role=status]")
    page.keyboard.press("y")
    expect(
        said.filter(has_text=re.compile("By campaign, .* yardstick .* rows; ads only .* of value")).first
    ).to_be_attached()
    page.goto("/gather")
    page.get_by_label("Files to load").set_input_files(
        [
            {
                "name": "visits.csv",
                "mimeType": "text/csv",
                "buffer": b"visit_id,occurred_at,url\nzz1,2026-03-05T10:00:00Z,/\n",
            }
        ]
    )
    expect(said.filter(has_text="Rehearsal ready: 1 file, 1 change to keep").first).to_be_attached()
    loads = page.get_by_label("Loads").locator("tbody tr")
    there = loads.count()
    page.keyboard.press("k")
    expect(said.filter(has_text="Loaded: kept").first).to_be_attached()
    expect(loads).to_have_count(there + 1)
    page.get_by_label("Loads").get_by_role("button", name="Undo").first.click()
    expect(said.filter(has_text="visits.csv is undone").first).to_be_attached()
    expect(page.get_by_label("Loads").get_by_role("button", name="Redo").first).to_be_focused()
    expect(page.get_by_role("table", name="Ruler board")).to_have_count(0)
    page.goto("/weigh")
    board = page.get_by_role("table", name="Ruler board")
    expect(board.get_by_role("rowheader", name="Spring Whale Boats")).to_be_visible()
