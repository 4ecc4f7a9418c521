"""On paper: printed by the browser and read back as text (pypdfium2): each row once and whole, sums once, heads on every page."""

from __future__ import annotations

import re

import pypdfium2
import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.steps import row

pytestmark = pytest.mark.screens


def printed(page):
    """The text of each page of paper."""
    # What is not judged yet would be printed so, and what the board asks for comes a moment later.
    page.wait_for_load_state("networkidle")
    paper = pypdfium2.PdfDocument(page.pdf(prefer_css_page_size=True, print_background=True))
    pages = [paper[number] for number in range(len(paper))]
    texts = [one.get_textpage() for one in pages]
    return [text.get_text_bounded() for text in texts]


def shape(page):
    paper = pypdfium2.PdfDocument(page.pdf(prefer_css_page_size=True))
    return [paper[number].get_size() for number in range(len(paper))]


def many(number):
    """A campaign of many sales, each with one touch and a spend row of its own, beside 70 other campaigns."""
    visits, sales, spend = [], [], []
    for i in range(number):
        tags = "utm_source=quorrin&utm_medium=cpc&utm_campaign=Whale"
        visits.append(f"v{i},2026-03-0{i % 7 + 1}T10:00:00Z,p{i},/?{tags}")
        sales.append(f"sale{i:03d}x,2026-03-0{i % 7 + 1}T11:00:00Z,sale,p{i},10.00")
    spend += [f"2026-03-{day:02},Quorrin,Whale,1.00" for day in range(1, 8)]
    spend += [f"2026-03-01,Quorrin,Other {i:02}z,1.00" for i in range(70)]
    return [
        ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
        ("conversions.csv", "\n".join(["conversion_id,occurred_at,goal,visitor_id,total", *sales]).encode()),
        ("spend.csv", "\n".join(["day,platform,campaign,cost", *spend]).encode()),
    ]


@pytest.fixture
def full(page, give):
    give(many(260))
    page.goto("/weigh")
    expect(row(page, "Whale")).to_be_visible()
    return page


def test_a_board_prints_each_row_once_its_head_on_every_page_and_its_totals_at_the_end(full):
    pages = printed(full)
    assert len(pages) > 1
    whole = "\n".join(pages)
    # Where letters stand is told less well than which there are.
    packed = re.sub(r"\s", "", whole)
    assert [packed.count(f"Other{i:02}z") for i in range(70)] == [1] * 70
    assert whole.count("Ads only") == whole.count("Blended (everything)") == 1
    assert "Ads only" not in pages[0]
    # A head over every page with rows.
    for text in pages:
        if "Other" in re.sub(r"\s", "", text):
            assert all(
                word in re.sub(r"\s", "", text) for word in ("Campaign", "Spend", "Cost/lead", "ROAS", "Verdict")
            )
    assert "Fingerprint" in pages[-1]
    assert "Drop" not in whole
    assert "Find" not in whole


def test_an_open_trace_prints_its_rows_once_says_which_of_how_many_and_stands_with_its_board(full):
    full.goto("/weigh?trace=row~named~value~Whale&yardstick=last")
    expect(full.get_by_label("Trace", exact=True)).to_contain_text("260 conversions give")
    pages = printed(full)
    whole = "\n".join(pages)
    listed = re.findall(r"sale\d{3}x", whole)
    assert len(listed) == len(set(listed)) == 100
    assert "On paper: conversions 1 to 100 of 260" in whole
    assert "By campaign, 2026-03-01 to 2026-03-07, yardstick Last touch" in pages[0]
    assert whole.count("Fingerprint") == 2
    full.get_by_role("button", name="Next 100").click()
    expect(full.get_by_text("page 2 of 3")).to_be_visible()
    assert "On paper: conversions 101 to 200 of 260" in "\n".join(printed(full))


def test_sheets_for_outside_hands_begin_on_the_first_page_and_no_address_is_cut(page, give):
    give(planned_week_files())
    long = "https://www.lunnick.example/" + "/".join(f"part{i}" for i in range(14))
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    page.locator(".line [data-column=page]").dblclick()
    page.keyboard.type(long)
    page.keyboard.press("Tab")
    for text in ("Night", "quorrin", "cpc"):
        page.keyboard.type(text)
        page.keyboard.press("Tab")
    page.keyboard.press("Escape")
    address = f"{long}?utm_source=quorrin&utm_medium=cpc&utm_campaign=Night"
    expect(page.locator(".line [data-column=address]").first).to_have_text(address)
    assert address in re.sub(r"\s", "", "".join(printed(page)))
    page.goto("/mark?part=hand")
    expect(page.get_by_label("Placing sheet")).to_contain_text("Paste each address whole")
    pages = printed(page)
    assert "Paste each address whole" in pages[0]
    assert all(width < height for width, height in shape(page))


@pytest.mark.parametrize(
    ("path", "there", "never"),
    [
        ("/record?table=conversions&id=o3", ["90.90", "Refunds", "Value"], ["Take out", "Find a record"]),
        ("/person?table=leads&id=l1", ["Visits and records", "ticket o3", "c...@groups.example"], ["Take out"]),
        ("/records?by=goal&across=counts&list=yes", ["goal across counts", "ticket o8", "18 records"], ["only where"]),
        ("/join", ["Visits tagged", "Perhaps a double"], ["Export", "Try it"]),
    ],
)
def test_a_record_a_person_records_and_matters_print_whole_without_what_is_pressed(page, give, path, there, never):
    twice = "conversion_id,occurred_at,goal,visitor_id,total\no60,2026-03-07T09:05:00+10:30,ticket,K,40.00\n"
    give(planned_week_files())
    if "join" in path:
        give([("twice.csv", twice.encode())])
    page.goto(path)
    expect(page.get_by_text(there[-1]).first).to_be_visible()
    text = "\n".join(printed(page))
    for word in there:
        assert word.replace(" ", "") in text.replace(" ", "").replace("\u202f", ""), text
    for word in never:
        assert word not in text
