"""The board as an analyst drives it: one sentence, 25 lines, every figure, what flips a verdict, what lies behind it."""

from __future__ import annotations

import csv
import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import pick, row, way_out
from web.test_boards_out import three_campaigns
from week import week_files

pytestmark = pytest.mark.screens


def figures(page, name):
    """The figures of a row as they stand."""
    return [cell.strip() for cell in row(page, name).locator("td.number").all_inner_texts()]


def heads(page):
    """The columns beside the rulers."""
    return [text.split("\n")[0].rstrip(" ▾▴") for text in page.locator("thead th.number").all_inner_texts()]


def test_25_lines_stand_at_1280_by_800(page, give):
    names = [f"Crossing {i:02d}" for i in range(30)]
    tags = "utm_source=zeta&utm_medium=cpc&utm_campaign="
    visits = [f"v{i},2026-03-02T10:00:00Z,p{i},/?{tags}{name.replace(' ', '+')}" for i, name in enumerate(names)]
    spend = [f"2026-03-02,Zeta,{name},10.00" for name in names]
    give(
        [
            ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
            ("spend.csv", "\n".join(["day,platform,campaign,cost", *spend]).encode()),
        ]
    )
    page.goto("/weigh")
    expect(page.get_by_label("Tie line")).to_be_in_viewport(ratio=1)
    whole = page.evaluate("""() => {
      const foot = document.querySelector('tfoot').getBoundingClientRect()
      const rows = [...document.querySelectorAll('tbody tr')].map((r) => r.getBoundingClientRect())
      const totals = document.querySelectorAll('tfoot tr').length
      return rows.filter((r) => r.bottom <= foot.top + 1).length + totals
    }""")
    assert whole >= 25


def test_the_question_is_one_sentence_and_is_asked_by_keyboard(page, give):
    give(week_files())
    page.goto("/weigh")
    expect(row(page, "Midnight Boat")).to_be_visible()
    question = page.get_by_role("group", name="Question")
    assert not question.locator("input, select").count()
    expect(question).to_contain_text(
        re.compile(r"By\s*campaign\s*and\s*nothing else\s*,.*under\s*Linear\s*, look-back")
    )
    page.keyboard.press("q")
    expect(page.get_by_role("button", name="By: campaign")).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.type("so")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="By: source")).to_be_focused()
    expect(page).to_have_url(re.compile("by=source"))
    expect(row(page, "quorrin")).to_be_visible()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name=re.compile("^Yardstick"))).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name=re.compile("^Yardstick"))).to_be_focused()
    expect(page.get_by_role("listbox")).to_have_count(0)


def test_columns_are_picked_as_sets_and_one_by_one_and_go_along_everywhere(page, give):
    give(week_files())
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto("/weigh")
    expect(row(page, "Midnight Boat")).to_be_visible()
    assert heads(page) == ["Spend", "Leads", "Cost / lead", "Sales", "Value", "ROAS"]
    pick(page, "Columns", "traffic")
    expect(page).to_have_url(re.compile("columns=traffic"))
    expect(page.get_by_role("columnheader", name="Bounced")).to_be_visible()
    assert heads(page) == ["Clicks", "Touches", "Cost / click", "Converted", "Bounced", "Value / touch"]
    spend = list(csv.DictReader(dict(week_files())["spend.csv"].decode().splitlines()))
    whales = [int(line["clicks"]) for line in spend if line["campaign"] == "Spring Whale Boats"]
    assert figures(page, "Spring Whale Boats")[0] == str(sum(whales))
    page.get_by_role("button", name="Columns: traffic").click()
    own = page.get_by_role("list", name="Own columns")
    own.get_by_role("button", name="Claimed value").click()
    expect(own.get_by_role("button", name="Claimed value")).to_have_attribute("aria-pressed", "true")
    expect(own.get_by_role("button", name="Claimed value")).to_be_focused()
    page.keyboard.press("Alt+ArrowUp")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Columns: own")).to_be_focused()
    # The board before has the same last column: only the new one tells that it is there.
    expect(page.get_by_role("columnheader", name="Claimed value")).to_be_visible()
    expect(page.locator("thead th.number").last).to_contain_text("Value / touch")
    assert heads(page)[-2:] == ["Claimed value", "Value / touch"]
    page.reload()
    expect(page.get_by_role("columnheader", name="Claimed value")).to_be_visible()
    assert heads(page)[-2:] == ["Claimed value", "Value / touch"]
    shown = [re.sub(r"[,\u202f%]", "", text) for text in figures(page, "Midnight Boat")]
    page.keyboard.press("c")
    expect(page.get_by_text("rows copied")).to_be_visible()
    head, *copied = [line.split("\t") for line in page.evaluate("navigator.clipboard.readText()").split("\n")]
    assert [cell.split(" AUD")[0] for cell in head[1:8]] == heads(page)
    mine = next(cells for cells in copied if cells[0] == "Midnight Boat")
    with page.expect_download() as download:
        way_out(page, "CSV").click()
    lines = list(csv.DictReader(open(download.value.path(), newline="")))  # noqa: SIM115
    line = next(line for line in lines if line["campaign"] == "Midnight Boat")
    names = [
        "clicks",
        "touches",
        "cost_per_click",
        "conversion_rate",
        "bounce_rate",
        "claimed_value",
        "value_per_touch",
    ]
    assert [line[name] for name in names] == mine[1:8]
    shares = [3, 4]
    for i, cell in enumerate(mine[1:8]):
        assert shown[i] != "–" or cell == ""
        assert shown[i] == "–" or float(shown[i]) == pytest.approx(float(cell) * (100 if i in shares else 1))


def test_visits_share_converted_and_sales_by_source_content_and_placement(page, give):
    """Touches are visits by R7: what comes within half an hour of the last is one of them."""
    arrivals = [
        ("a1", "A", "ostrel", "one", "feed"),
        ("b1", "B", "ostrel", "one", "side"),
        ("c1", "C", "ostrel", "two", "feed"),
        ("d1", "D", "quorrin", "two", "side"),
    ]
    visits = [
        f"{v},2026-03-02T10:00:00Z,{p},/?utm_source={source}&utm_medium=cpc&utm_campaign=Boats"
        f"&utm_content={content}&spot={spot}"
        for v, p, source, content, spot in arrivals
    ]
    give(
        [
            ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
            (
                "conversions.csv",
                b"conversion_id,occurred_at,goal,visitor_id,total\no1,2026-03-03T10:00:00Z,sale,A,50.00\n",
            ),
            ("spend.csv", b"day,platform,campaign,cost\n2026-03-02,Ostrel,Boats,10.00\n"),
            (
                "settings.toml",
                b'extra_values = ["spot"]\n[[legend]]\nsource = "ostrel"\nspot = "placement"\n'
                b'[[legend]]\nsource = "quorrin"\nspot = "placement"\n'
                b'[[platform]]\nname = "Ostrel"\nsource = "ostrel"\n',
            ),
        ]
    )
    page.goto("/weigh?columns=touches&columns=conversion_rate&columns=sales")
    expect(row(page, "Boats")).to_be_visible()
    assert heads(page) == ["Touches", "Converted", "Sales"]
    pick(page, "By", "source")
    expect(row(page, "ostrel")).to_be_visible()
    assert figures(page, "ostrel") == ["3", "33.3\u202f%", "1.0"]
    assert figures(page, "quorrin") == ["1", "0.0\u202f%", "0.0"]
    pick(page, "Second field", "ad")
    expect(row(page, "ostrel / one")).to_be_visible()
    assert figures(page, "ostrel / one")[0::2] == ["2", "1.0"]
    pick(page, "Second field", "placement")
    expect(row(page, "ostrel / feed")).to_be_visible()
    assert figures(page, "ostrel / feed")[0::2] == ["2", "1.0"]
    assert figures(page, "ostrel / side")[0::2] == ["1", "0.0"]


def test_a_verdict_says_what_flips_it_and_a_row_comes_closer(page, give):
    give(three_campaigns())
    page.goto("/weigh")
    dear = row(page, "Dear").locator("td.says")
    expect(dear).to_contain_text("cut")
    row(page, "Dear").get_by_role("button", name=re.compile("^Value of")).focus()
    foot = page.locator(".foot-line")
    expect(foot).to_have_text(re.compile(r"^Value of Dear: 150\.00 .*, under Linear\. Enter: what it is made of"))
    page.keyboard.press("z")
    closer = page.get_by_role("dialog", name="Dear, closer")
    expect(closer).to_contain_text(re.compile(r"[Pp]ays in \d+ of 400 redraws of the people, loses in \d+"))
    expect(closer.get_by_role("img")).to_have_count(page.locator(".legend [aria-pressed=true]").count())
    table = closer.get_by_role("table").get_by_role("row", name=re.compile("^Linear"))
    expect(table).to_contain_text("150.00")
    expect(table).to_contain_text("loses")
    page.keyboard.press("Escape")
    expect(closer).to_be_hidden()
    expect(page.get_by_role("button", name=re.compile("^Value of Dear"))).to_be_focused()
    dear.get_by_role("button").click()
    expect(closer).to_be_visible()


def test_yardsticks_that_agree_are_one_stroke_with_their_number(page, give):
    """Of one touch each, every rule says the same: three others lie on each other beside the chosen one."""
    give(three_campaigns())
    page.goto("/weigh")
    ruler = row(page, "Dear").locator("svg")
    expect(ruler.locator(".tick")).to_have_count(1)
    expect(ruler.locator(".tick text")).to_have_text(str(page.locator(".legend [aria-pressed=true]").count() - 1))
    # The pointer finds the stroke it is on, and says its figures.
    expect(ruler.locator(".named")).to_have_count(0)
    at = ruler.locator(".chosen path").evaluate("path => path.getBoundingClientRect().toJSON()")
    page.mouse.move(at["x"] + at["width"] / 2, at["y"] + at["height"] / 2)
    expect(ruler.locator(".named")).to_contain_text("Linear")
    page.mouse.move(0, 0)
    expect(ruler.locator(".named")).to_have_count(0)


def test_e_takes_the_board_away_and_e_again_as_last_time(page, give):
    give(week_files())
    page.goto("/weigh")
    expect(row(page, "Midnight Boat")).to_be_visible()
    page.keyboard.press("e")
    out = page.get_by_role("group", name="Export as")
    for name in ("CSV", "XLSX", "Parquet", "JSON Lines"):
        expect(out.get_by_role("link", name=name)).to_be_visible()
    expect(out).to_contain_text(re.compile(r"\d+ rows, 6 columns, \w{16}"))
    with page.expect_download() as download:
        page.keyboard.press("j")
    assert download.value.suggested_filename.endswith(".jsonl")
    expect(page.get_by_role("button", name="Export")).to_be_focused()
    page.keyboard.press("e")
    with page.expect_download() as download:
        page.keyboard.press("e")
    assert download.value.suggested_filename.endswith(".jsonl")
    page.get_by_label("Find a row by name").fill("nothing of the kind")
    expect(page.get_by_text("is found by")).to_be_visible()
    page.get_by_role("heading", name="Weigh").click()
    page.keyboard.press("e")
    expect(out).to_contain_text("No rows")


def test_the_findings_of_the_board_have_a_page_with_rows_rule_and_the_place_that_mends(page, give):
    tags = "utm_source=zeta&utm_medium=cpc"
    visits = [f"v{i},2026-03-02T1{i}:00:00Z,p{i},/?{tags}&utm_campaign={{campaign}}" for i in range(3)]
    visits += [f"w,2026-03-02T10:00:00Z,q,/?{tags}&UTM_Campaign=Boats"]
    give(
        [
            ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
            (
                "refunds.csv",
                b"refund_id,conversion_id,occurred_at,amount\nr1,o-unknown,2026-03-03T10:00:00Z,5.00\n",
            ),
        ]
    )
    page.goto("/weigh?yardstick=last")
    link = page.get_by_label("Tie line").get_by_role("link", name=re.compile(r"findings? touch"))
    number = int(link.locator("b").inner_text())
    assert number == 5
    link.click()
    expect(page).to_have_title(re.compile("^Findings"))
    kinds = page.get_by_role("region", name="Kinds").get_by_role("row")
    expect(kinds).to_have_count(4)
    expect(kinds.filter(has_text="refund of an unknown order")).to_contain_text("R10")
    expect(kinds.filter(has_text="refund of an unknown order")).to_contain_text("Gather")
    counts = [int(cell) for cell in kinds.locator("td:nth-child(2)").all_inner_texts()]
    assert sum(counts) == number
    page.get_by_role("button", name="slot never filled").click()
    rows = page.get_by_role("region", name="Rows: slot never filled")
    expect(rows.get_by_role("row", name=re.compile(r"visits .*utm_campaign.*visits\.csv \d+"))).not_to_have_count(0)
    with page.expect_download() as download:
        way_out(rows, "CSV").click()
    lines = list(csv.DictReader(open(download.value.path(), newline="")))  # noqa: SIM115
    assert {line["code"] for line in lines} == {"unfilled_slot"}
    assert lines[0]["file"] == "visits.csv"
    # Its rows are found by key, over all pages; the keys come back with Esc.
    page.keyboard.press("/")
    expect(rows.get_by_label("Find a row of this kind")).to_be_focused()
    page.keyboard.type("V1")
    expect(rows).to_contain_text("1 of 3 have “V1”")
    expect(rows.locator("tbody tr")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page).to_have_url(re.compile("/findings.*having=V1"))
    rows.get_by_label("Find a row of this kind").fill("")
    expect(rows.locator("tbody tr")).to_have_count(3)
    rows.get_by_role("link", name="Go to Mark").click()
    expect(page).to_have_url(re.compile("/mark"))
    page.go_back()
    page.get_by_role("heading", name="Findings").click()
    page.keyboard.press("Escape")
    expect(page).to_have_url(re.compile(r"/weigh\?yardstick=last$"))


def test_enter_on_a_name_goes_a_field_deeper_and_back_again(page, give):
    give(planned_week_files())
    page.goto("/weigh?by=source")
    row(page, "quorrin").get_by_role("button", name="quorrin", exact=True).focus()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"by=medium&where=source\+is\+quorrin"))
    expect(page.get_by_role("button", name="Only where: source is quorrin")).to_be_visible()
    expect(row(page, "cpc")).to_be_visible()
    page.go_back()
    expect(row(page, "ostrel")).to_be_visible()


def test_freshness_is_one_line_the_late_by_name(page, give):
    give(
        [
            ("visits.csv", b"visit_id,occurred_at,visitor_id,url\nv1,2026-03-20T10:00:00Z,A,/\n"),
            ("spend.csv", b"day,platform,campaign,cost\n2026-03-10,Zeta,Boats,1.00\n"),
        ]
    )
    page.goto("/weigh")
    strip = page.get_by_role("region", name="Freshness")
    expect(strip).to_contain_text("Zeta to 2026-03-10, 10 days behind")
    expect(strip).to_contain_text("1 more to 2026-03-20")
    strip.get_by_role("button").click()
    expect(strip.get_by_role("listitem")).to_have_count(2)


def test_a_month_is_held_against_the_one_before_on_the_ruler(page, give):
    tags = "utm_source=zeta&utm_medium=cpc&utm_campaign="
    visits, sales, spend = [], [], []
    for month, worth in (("02", "200.00"), ("03", "150.00")):
        visits.append(f"v{month},2026-{month}-02T10:00:00Z,p{month},/?{tags}Boats")
        sales.append(f"o{month},2026-{month}-02T11:00:00Z,sale,p{month},{worth}")
        spend.append(f"2026-{month}-02,Zeta,Boats,50.00")
    visits.append(f"w,2026-03-31T10:00:00Z,q,/?{tags}New")
    spend.append("2026-03-31,Zeta,New,10.00")
    give(
        [
            ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
            ("conversions.csv", "\n".join(["conversion_id,occurred_at,goal,visitor_id,total", *sales]).encode()),
            ("spend.csv", "\n".join(["day,platform,campaign,cost", *spend]).encode()),
        ]
    )
    page.goto("/weigh?from=2026-03-01&to=2026-03-31")
    expect(row(page, "Boats")).to_be_visible()
    page.keyboard.press("r")
    page.get_by_label("compared with the period before").check()
    page.keyboard.press("Escape")
    expect(page).to_have_url(re.compile("against=before"))
    expect(row(page, "Boats").locator("td.moved")).to_have_text("\u221225\u202f%")
    expect(row(page, "Boats").locator("svg .before rect")).to_have_count(1)
    expect(row(page, "New").locator("td.moved")).to_have_text("–")
    pick(page, "Scale", "in EUR")
    expect(row(page, "Boats").locator("td.moved")).to_have_text("31 : 28 d")
    page.goto("/weigh?from=2026-02-01&to=2026-02-28&against=before")
    expect(page.get_by_role("columnheader", name="Moved no data")).to_be_visible()


def test_a_board_by_source_draws_the_interval_of_what_its_ads_earned(page, give):
    give(three_campaigns())
    page.goto("/weigh?by=source")
    ruler = row(page, "zeta").get_by_role("img")
    expect(ruler).to_have_attribute("aria-label", re.compile("90 % interval: ROAS"))


def test_a_filter_is_written_by_tab_and_enter_and_nothing_typed_is_lost_on_the_way(page, give):
    give(week_files())
    page.goto("/weigh")
    expect(row(page, "Midnight Boat")).to_be_visible()
    page.keyboard.press("f")
    expect(page.get_by_label("Field", exact=True)).to_be_focused()
    page.keyboard.type("source")
    page.keyboard.press("Tab")
    expect(page.get_by_label("How", exact=True)).to_be_focused()
    page.keyboard.press("Tab")
    page.keyboard.type("quorrin")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Only where: source is quorrin")).to_be_visible()
    expect(row(page, "Midnight Boat")).to_be_hidden()
    page.keyboard.press("r")
    page.get_by_label("From").focus()
    page.keyboard.press("Tab")
    expect(page.get_by_label("To", exact=True)).to_be_focused()


def test_a_month_opens_into_its_weeks_and_a_day_into_nothing(page, give):
    give(planned_week_files())
    page.goto("/weigh?by=month&find=2026")
    page.get_by_role("button", name="2026-03", exact=True).click()
    expect(page).to_have_url(re.compile(r"by=week"))
    expect(page).to_have_url(re.compile(r"from=2026-03-02&to=2026-03-08"))
    expect(page).not_to_have_url(re.compile("find="))
    page.goto("/weigh?by=day")
    expect(row(page, "2026-03-05").locator("td.number").first).to_be_visible()
    expect(row(page, "2026-03-05").locator("th.name button")).to_have_count(0)


def test_keys_rest_behind_a_row_that_came_closer(page, give):
    give(three_campaigns())
    page.goto("/weigh")
    row(page, "Dear").get_by_role("button", name=re.compile("^Value of")).focus()
    page.keyboard.press("z")
    closer = page.get_by_role("dialog", name="Dear, closer")
    expect(closer).to_be_visible()
    for key in ("e", "y", "1", "z"):
        page.keyboard.press(key)
    expect(page.get_by_role("group", name="Export as")).to_have_count(0)
    expect(closer).to_be_visible()
    expect(page).to_have_url(re.compile(r"/weigh$"))
    page.keyboard.press("Escape")
    expect(closer).to_be_hidden()
