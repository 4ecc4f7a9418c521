"""Figures never lie while one looks at them: old ones are dimmed under new controls, dead ends explain themselves."""

from __future__ import annotations

import csv
import gzip
import io
import re
from datetime import date, timedelta

import pytest
from playwright.sync_api import expect

from screens.steps import pick, way_out
from web.test_boards_out import three_campaigns
from week import week_files

pytestmark = pytest.mark.screens


@pytest.fixture
def board(planned_page):
    page = planned_page
    page.goto("/weigh")
    expect(page.get_by_text("break-even", exact=True)).to_be_visible()
    return page


def held_back(page):
    """Hold the board's answers back; gives what lets them go."""
    waiting = []
    page.route("**/weigh/board?*", lambda route: waiting.append(route))

    def go(status=None):
        for route in waiting:
            if status:
                route.fulfill(status=status, json={"code": "wrong_setting", "message": "no such thing: choose another"})
            else:
                route.continue_()
        page.unroute("**/weigh/board?*")

    return go


def test_old_figures_are_dimmed_under_new_controls_and_say_what_they_are(board):
    page = board
    answers = page.locator("[aria-busy]")
    expect(answers).to_have_attribute("aria-busy", "false")
    go = held_back(page)
    pick(page, "Yardstick", "Last touch")
    expect(page.get_by_role("button", name="Yardstick: Last touch")).to_be_visible()
    said = page.get_by_role("status").filter(has_text="Being worked out.")
    expect(said).to_contain_text(
        re.compile("the last correct answer: By campaign, .* to .*, yardstick Linear, look-back")
    )
    expect(answers).to_have_attribute("aria-busy", "true")
    expect(answers).to_have_class(re.compile("old"))
    go()
    expect(answers).to_have_attribute("aria-busy", "false")
    expect(said).to_be_hidden()


def test_an_answer_that_fails_leaves_the_last_true_one_dimmed(board):
    page = board
    go = held_back(page)
    pick(page, "By", "channel")
    expect(page.get_by_text("Being worked out.")).to_be_visible()
    go(422)
    expect(page.get_by_text("no such thing: choose another")).to_be_visible()
    said = page.get_by_role("status").filter(has_text="This could not be worked out.")
    expect(said).to_contain_text("By campaign")
    expect(page.get_by_role("cell", name="Midnight Boat").first).to_be_visible()
    expect(page.locator("[aria-busy]")).to_have_class(re.compile("old"))
    pick(page, "By", "source")
    expect(said).to_be_hidden()
    expect(page.locator("[aria-busy]")).not_to_have_class(re.compile("old"))


def test_a_first_load_says_what_happens(board):
    page = board
    go = held_back(page)
    page.reload()
    expect(page.get_by_text("Weighing: the rows are read")).to_be_visible()
    go()
    expect(page.get_by_text("break-even", exact=True)).to_be_visible()


def test_dead_ends_say_why_and_lead_out(board):
    page = board
    page.goto("/weigh?from=2031-01-01&to=2031-02-01")
    expect(page.get_by_text("There are no rows between 2031-01-01 and 2031-02-01: the data run from")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Show 2026-")).click()
    expect(page.get_by_role("cell", name="Midnight Boat").first).to_be_visible()
    page.goto("/weigh?where=campaign+is+Midnihgt+Boat")
    expect(page.get_by_text("No campaign fits campaign is Midnihgt Boat.")).to_be_visible()
    page.get_by_role("button", name="Midnight Boat", exact=True).click()
    expect(page.get_by_text("No campaign fits")).to_be_hidden()
    expect(page.get_by_role("cell", name="Midnight Boat").first).to_be_visible()
    page.get_by_label("Find a row by name").fill("nothing of the kind")
    expect(page.get_by_text("is found by “nothing of the kind”")).to_be_visible()
    page.get_by_role("button", name="show all rows").click()
    expect(page.get_by_role("cell", name="Midnight Boat").first).to_be_visible()


def test_titles_name_the_view(board, planned):
    page = board
    for path, title in (
        ("/weigh", "Weigh"),
        ("/weigh?by=landing_page", "by landing page - Weigh"),
        ("/mark?part=pattern", "Patterns - Mark"),
        ("/mark", "Mark"),
    ):
        page.goto(path)
        expect(page).to_have_title(f"{title} - {planned} - Yardstick Trail")


def test_typing_is_one_step_back(board):
    page = board
    page.get_by_label("Find a row by name").press_sequentially("Midni")
    expect(page).to_have_url(re.compile("find=Midni$"))
    page.go_back()
    expect(page).not_to_have_url(re.compile("find="))
    expect(page.get_by_label("Find a row by name")).to_have_value("")


def test_the_trace_stands_below_its_row_and_focus_returns(board):
    page = board
    figure = page.get_by_role("button", name=re.compile("^Value of Midnight Boat"))
    figure.focus()
    page.keyboard.press("Enter")
    trace = page.get_by_role("region", name="Trace")
    expect(trace).to_contain_text("Under Linear")
    page.keyboard.press("Escape")
    expect(trace).to_be_hidden()
    expect(figure).to_be_focused()


def test_all_yardsticks_stand_side_by_side_with_their_differences(board):
    page = board
    pick(page, "Shown as", "all yardsticks")
    table = page.get_by_role("table", name="All yardsticks")
    expect(table.get_by_role("columnheader", name="Linear chosen")).to_be_visible()
    expect(table.get_by_role("columnheader", name="First touch and difference")).to_be_visible()
    table.get_by_role("button", name=re.compile("^value of Midnight Boat under First touch")).click()
    expect(page.get_by_role("region", name="Trace")).to_contain_text("Under First touch")


def test_weeks_stand_in_order_of_time_with_their_days(board):
    page = board
    page.goto("/weigh?by=week&from=2026-03-03&to=2026-03-31")
    expect(page.get_by_role("rowheader", name=re.compile("2026-W10 ?03-02 to 03-08, part"))).to_be_visible()
    page.keyboard.press("r")
    page.get_by_label("From").fill("2026-02-30")
    page.keyboard.press("Enter")
    expect(page.get_by_label("From")).to_have_attribute("aria-invalid", "true")
    page.keyboard.press("Escape")
    page.locator("h1").click()
    page.keyboard.press("r")
    page.keyboard.type("a")
    page.keyboard.press("Enter")
    expect(page).not_to_have_url(re.compile("from="))


def many_campaigns():
    names = [f"Crossing {chr(65 + i)}" for i in range(22)]
    visits = ["visit_id,occurred_at,visitor_id,url"]
    visits += [
        f"v{i},2026-03-02T10:00:00Z,p{i},/?utm_source=zeta&utm_medium=cpc&utm_campaign={name.replace(' ', '+')}"
        for i, name in enumerate(names)
    ]
    spend = ["day,platform,campaign,cost", *(f"2026-03-02,Zeta,{name},10.00" for name in names)]
    return [("visits.csv", "\n".join(visits).encode()), ("spend.csv", "\n".join(spend).encode())]


def test_totals_and_tie_line_stay_in_sight_at_22_campaigns(page, give):
    page.set_viewport_size({"width": 1280, "height": 800})
    give(many_campaigns())
    page.goto("/weigh")
    expect(page.get_by_role("rowheader", name="Crossing V", exact=True)).to_be_attached()
    for part in (
        page.get_by_role("rowheader", name="Ads only"),
        page.get_by_role("rowheader", name="Blended (everything)"),
        page.get_by_label("Tie line"),
    ):
        expect(part).to_be_in_viewport(ratio=1)


def test_the_first_view_takes_no_more_than_150_kb_of_script_and_style(board):
    """As they come over the wire, fonts left out."""
    names = board.evaluate(
        """() => performance.getEntriesByType('resource').map((e) => e.name).filter((n) => /\\.(js|css)$/.test(n))"""
    )
    whole = sizes = 0
    for name in set(names):
        answer = board.request.get(name, headers={"accept-encoding": "gzip"})
        assert answer.headers.get("content-encoding") == "gzip" or len(answer.body()) < 2_000
        whole += len(answer.body())
        sizes += len(gzip.compress(answer.body(), 6))
    assert whole > 300_000
    assert sizes < 150_000, sizes


def test_a_verdict_stands_whichever_panel_is_picked(page, give):
    """Board and certainty are asked with the same panel, so that one is known to be of the other."""
    give(three_campaigns())
    page.goto("/weigh")
    dear = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Dear", exact=True))
    expect(dear).to_contain_text("cut")
    page.get_by_label("Shapes of the yardsticks").get_by_role("button", name="Decay").click()
    expect(page).to_have_url(re.compile("panel=decay"))
    expect(dear).to_contain_text("cut")
    expect(page.locator("[aria-busy]")).to_have_attribute("aria-busy", "false")
    expect(dear).to_contain_text("cut")


def many_days():
    days = [date(2026, 1, 1) + timedelta(n) for n in range(150)]
    visits = [f"v{day},{day}T10:00:00Z,p{day},/?utm_source=zeta&utm_medium=cpc&utm_campaign=A" for day in days]
    return [("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode())]


def test_of_many_days_those_in_sight_are_drawn(page, give):
    give(many_days())
    page.goto("/weigh?by=day")
    expect(page.get_by_role("rowheader", name="2026-01-01", exact=True)).to_be_visible()
    assert page.locator("tbody tr").count() < 90
    expect(page.get_by_role("rowheader", name="2026-05-30", exact=True)).not_to_be_attached()
    page.wait_for_load_state("networkidle")
    page.locator("h1").click()
    page.keyboard.press("End")
    expect(page.get_by_role("rowheader", name="2026-05-30", exact=True)).to_be_visible()
    expect(page.get_by_role("rowheader", name="2026-01-01", exact=True)).not_to_be_attached()
    page.emulate_media(media="print")
    expect(page.get_by_role("rowheader", name="2026-01-01", exact=True)).to_be_attached()


def test_the_cells_of_the_board_are_copied_for_a_spreadsheet(page, give):
    give(week_files())
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto("/weigh?yardstick=last")
    page.get_by_role("button", name="Export", exact=True).click()
    page.get_by_role("button", name="Copy the cells").click()
    expect(page.get_by_text(re.compile(r"\d+ rows copied"))).to_be_visible()
    workspace = page.url.split("/w/")[1].split("/")[0]
    board = page.request.get(f"/api/w/{workspace}/weigh/board?yardstick=last").json()
    lines = [line.split("\t") for line in page.evaluate("navigator.clipboard.readText()").split("\n")]
    head, *rows, said = lines
    assert head[:3] == ["campaign", f"Spend {board['currency']}", "Leads"]
    shown = [*board["rows"], board["ads_only"], board["total"]]
    for row, cells in zip(shown, rows, strict=True):
        named = row["values"][0] if row["values"] and row["values"][0] else row["called"]
        assert cells[0] == named
        assert cells[5] == f"{row['under']['last']['value'] / 100:.2f}"
    assert "2026-03-02 to 2026-03-08" in said[0]
    assert board["fingerprint"] in said[0]
    # The other way the board is shown, by its key.
    page.goto("/weigh?view=table")
    page.get_by_role("table", name="All yardsticks").wait_for()
    page.keyboard.press("c")
    expect(page.get_by_text(re.compile(r"\d+ rows copied"))).to_be_visible()
    head = page.evaluate("navigator.clipboard.readText()").split("\n")[0].split("\t")
    assert len(head) == 1 + len(board["yardsticks"])


def quarters():
    """Conversions of four touches each, so that credits and ratios end in halves of the last digit shown."""
    visits, spend = [], []
    for i, cost in enumerate(("8.00", "2.675", "1.005", "0.30")):
        tags = f"utm_source=zeta&utm_medium=cpc&utm_campaign=C{i}"
        visits += [f"v{i}-{person},2026-03-02T1{i}:00:00Z,p{person},/?{tags}" for person in range(i + 1)]
        spend.append(f"2026-03-02,Zeta,C{i},{cost}")
    sales = [f"o{person},2026-03-03T10:00:00Z,sale,p{person},{person + 1}.01" for person in range(4)]
    leads = ["l0,2026-03-03T11:00:00Z,p0", "l1,2026-03-03T11:00:00Z,p3"]
    return [
        ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
        ("conversions.csv", "\n".join(["conversion_id,occurred_at,goal,visitor_id,total", *sales]).encode()),
        ("leads.csv", "\n".join(["lead_id,occurred_at,visitor_id", *leads]).encode()),
        ("spend.csv", "\n".join(["day,platform,campaign,cost", *spend]).encode()),
    ]


def test_screen_clipboard_and_file_round_alike(page, give):
    """Of a half of the last digit three roundings would make two figures."""
    give(quarters())
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto("/weigh")
    page.get_by_role("button", name="Export", exact=True).click()
    page.get_by_role("button", name="Copy the cells").click()
    expect(page.get_by_text("rows copied")).to_be_visible()
    copied = [line.split("\t") for line in page.evaluate("navigator.clipboard.readText()").split("\n")][1:]
    workspace = page.url.split("/w/")[1].split("/")[0]
    text = page.request.get(f"/api/w/{workspace}/weigh/board.csv").text()
    file = list(csv.DictReader(io.StringIO(text)))
    figures = ("spend", "leads", "cost_per_lead", "sales", "value", "roas")
    halves = 0
    for line, cells in zip(file, copied, strict=False):
        row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name=line["campaign"], exact=True))
        shown = [cell.replace(",", "").replace("\u2013", "") for cell in row.locator("td.number").all_inner_texts()]
        assert shown == cells[1:7] == [line[name] for name in figures]
        halves += line["leads_full"].rstrip("0").endswith("25")
    assert len(file) == 4
    assert halves


def test_a_trace_is_taken_away_with_what_it_was_asked_of(page, give):
    give(week_files())
    page.goto("/weigh?yardstick=last&trace=part~booked")
    page.get_by_role("region", name="Trace").wait_for()
    with page.expect_download() as download:
        way_out(page.get_by_role("region", name="Trace"), "Conversions as Parquet").click()
    assert re.search(
        r"-trace-conversions-booked-2026-03-02-to-.*-last-\w{16}\.parquet$", download.value.suggested_filename
    )
