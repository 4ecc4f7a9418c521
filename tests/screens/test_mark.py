"""Mark as a user works: with the keyboard in the sheet, and with a bad list in the check-up."""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from screens.steps import load
from yardstick.demo.links import links_to_check

pytestmark = pytest.mark.screens
PAGE = "https://www.lunnick.example/night"


def cell(page, row, name):
    return page.locator(f'.line[aria-rowindex="{row + 1}"] [data-column="{name}"]')


def paste(page, text):
    page.evaluate(
        """text => {
          const data = new DataTransfer(); data.setData('text/plain', text)
          document.querySelector('[role=grid]').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
        }""",
        text,
    )


def copied(page):
    return page.evaluate(
        """() => {
          const data = new DataTransfer()
          document.querySelector('[role=grid]').dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }))
          return data.getData('text/plain')
        }"""
    )


@pytest.fixture
def sheet(page):
    page.goto("/mark")
    expect(page.get_by_text("No links yet")).to_be_visible()
    return page


def test_a_row_is_written_with_the_keyboard_and_its_address_appears_while_typing(sheet):
    page = sheet
    page.get_by_role("button", name="Add a row").click()
    for text in (PAGE, "Midnight Boat", "ostrel", "paid-social"):
        page.keyboard.type(text)
        if text == "ostrel":
            expect(cell(page, 1, "address")).to_have_text(f"{PAGE}?utm_source=ostrel&utm_campaign=Midnight%20Boat")
        page.keyboard.press("Tab")
    url = f"{PAGE}?utm_source=ostrel&utm_medium=paid-social&utm_campaign=Midnight%20Boat"
    expect(cell(page, 1, "address")).to_have_text(url)
    expect(page.get_by_text("Nothing wrong with it")).to_be_visible()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Delete")
    expect(page.get_by_text("fill medium: it tells which kind of advertising")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(cell(page, 1, "address")).to_have_text(url)


def test_what_was_typed_since_stays_when_the_answer_to_an_earlier_cell_comes_late(sheet):
    page = sheet
    page.get_by_role("button", name="Add a row").click()
    expect(page.get_by_text("1 of 1 link")).to_be_visible()
    late, holding = [], [True]

    def hold(route):
        late.append(route) if holding and route.request.method == "PATCH" else route.continue_()

    page.route("**/mark/links", hold)
    for text in (PAGE, "Midnight Boat"):
        page.keyboard.type(text)
        page.keyboard.press("Tab")
    page.keyboard.type("ostre")
    expect(cell(page, 1, "address")).to_have_text(f"{PAGE}?utm_source=ostre&utm_campaign=Midnight%20Boat")
    # The answer about the page comes, which knows of no campaign; the next change is sent only then.
    with page.expect_request(lambda request: request.method == "PATCH"):
        late.pop(0).continue_()
    page.keyboard.type("l")
    expect(cell(page, 1, "address")).to_have_text(f"{PAGE}?utm_source=ostrel&utm_campaign=Midnight%20Boat")
    expect(cell(page, 1, "campaign")).to_have_text("Midnight Boat")
    holding.clear()
    late.pop(0).continue_()
    page.keyboard.press("Tab")
    expect(cell(page, 1, "address")).to_have_text(f"{PAGE}?utm_source=ostrel&utm_campaign=Midnight%20Boat")


def test_a_row_that_is_added_while_rows_are_found_is_seen(sheet):
    page = sheet
    page.get_by_role("button", name="Add a row").click()
    expect(page.get_by_text("1 of 1 link")).to_be_visible()
    page.get_by_role("searchbox", name="Find").fill("nothing that is there")
    expect(page.get_by_text("0 of 1 link")).to_be_visible()
    page.get_by_role("button", name="Add a row").click()
    expect(page.get_by_text("2 of 2 links")).to_be_visible()
    expect(page.get_by_role("searchbox", name="Find")).to_have_value("")


def test_a_list_typed_down_a_column_loses_no_letter_while_its_rows_are_being_kept(sheet):
    page = sheet
    late, holding = [], [True]

    def hold(route):
        late.append(route) if holding and route.request.method == "PATCH" else route.continue_()

    page.get_by_role("button", name="Add a row").click()
    expect(page.get_by_text("1 of 1 link")).to_be_visible()
    page.get_by_role("grid").focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    page.route("**/mark/links", hold)
    page.keyboard.type("ostrel")
    # In the last row Enter adds one and goes to the same column of it; what is typed goes there from the first letter on.
    with page.expect_request(lambda request: request.method == "PATCH"):
        page.keyboard.press("Enter")
    page.keyboard.type("qu")
    editor = page.get_by_role("textbox", name="source", exact=True)
    expect(editor).to_have_value("qu")
    # The answer to the first cell knows nothing of the row that was added meanwhile: what is typed there goes on.
    with page.expect_request(lambda request: request.method == "PATCH"):
        late.pop(0).continue_()
    page.wait_for_function("document.querySelector('[role=grid]').ariaBusy === 'true'")
    page.keyboard.type("orrin")
    expect(editor).to_have_value("quorrin")
    expect(editor).to_be_focused()
    holding.clear()
    late.pop(0).continue_()
    page.keyboard.press("Enter")
    page.keyboard.type("harnock")
    page.keyboard.press("Enter")
    expect(page.get_by_role("grid")).to_have_attribute("aria-busy", "false")
    for number, word in enumerate(("ostrel", "quorrin", "harnock"), 1):
        expect(cell(page, number, "source")).to_have_text(word)
    page.reload()
    expect(cell(page, 3, "source")).to_have_text("harnock")
    expect(page.get_by_text("4 of 4 links")).to_be_visible()


def test_rows_are_multiplied_filled_down_copied_and_undone(sheet):
    page = sheet
    paste(page, f"{PAGE}\tMidnight Boat\tostrel\tpaid-social")
    expect(cell(page, 1, "source")).to_have_text("ostrel")
    cell(page, 1, "page").click()
    page.get_by_role("button", name="One for each").click()
    page.get_by_label("Values of placement").fill("feed\nside")
    page.get_by_label("Values of content").fill("a\nb\nc")
    page.get_by_role("button", name="Make 6 rows").click()
    expect(page.get_by_text("6 of 6 links")).to_be_visible()
    # Two placements share each content, so each address appears twice: that is said at once.
    expect(page.get_by_text("their clicks cannot be told apart")).to_be_visible()
    cell(page, 1, "term").click()
    page.keyboard.type("boat")
    page.keyboard.press("Enter")
    cell(page, 1, "term").click()
    cell(page, 6, "term").click(modifiers=["Shift"])
    page.keyboard.press("Control+d")
    expect(cell(page, 6, "term")).to_have_text("boat")
    expect(cell(page, 2, "address")).to_contain_text("utm_term=boat")
    page.locator('.line[aria-rowindex="3"] [role=rowheader]').click()
    line = copied(page).split("\t")
    assert line[:6] == [PAGE, "Midnight Boat", "ostrel", "paid-social", "boat", "b"]
    assert (
        line[-1]
        == f"{PAGE}?utm_source=ostrel&utm_medium=paid-social&utm_campaign=Midnight%20Boat&utm_term=boat&utm_content=b"
    )
    page.get_by_role("button", name="Undo: filled down").click()
    expect(cell(page, 6, "term")).to_have_text("")
    page.get_by_role("button", name=re.compile("Undo: term of row 1")).click()
    page.get_by_role("button", name="Undo: multiplied to 6 rows").click()
    expect(page.get_by_text("1 of 1 links")).to_be_visible()


def test_two_thousand_rows_are_one_request_one_undo_and_fewer_than_a_hundred_in_the_page(sheet):
    page = sheet
    asked = []
    page.on("request", lambda r: asked.append(r) if r.method == "PATCH" else None)
    lines = [f"{PAGE}\tMidnight Boat\tostrel\tpaid-social\tt{i}\tc{i}\ti{i}\tfeed\tbox\t" for i in range(2_000)]
    paste(page, "\n".join(lines))
    expect(page.get_by_text("2000 of 2000 links")).to_be_visible()
    expect(page.get_by_role("button", name="Undo: 2000 rows pasted")).to_be_visible(timeout=30_000)
    assert len(asked) == 1
    assert page.locator(".line").count() < 100
    page.get_by_role("grid").focus()
    page.keyboard.press("Control+End")
    expect(cell(page, 2000, "content")).to_have_text("c1999")
    assert page.locator(".line").count() < 100
    page.get_by_label("Find").fill("c1234")
    expect(page.get_by_text("1 of 2000 links")).to_be_visible()
    page.get_by_label("Find").fill("")
    page.get_by_role("button", name="Undo: 2000 rows pasted").click()
    expect(page.get_by_text("No links yet")).to_be_visible(timeout=30_000)


def test_a_bad_list_is_checked_and_mended(page):
    page.goto("/mark?part=check")
    bad = [url for url in links_to_check() if len(url) < 500]
    page.get_by_label("Addresses, one a line").fill("\n".join(bad))
    page.get_by_role("button", name="Check them").click()
    expect(page.get_by_role("status")).to_contain_text(f"{len(bad)} addresses")
    # By fault, each address cut to it, the fault underlined; mended in the foot line, whole when opened.
    behind = page.get_by_role("region", name="tags after #")
    line = behind.get_by_role("button")
    line.focus()
    expect(page.locator(".foot-line")).to_have_text(re.compile("^Mended: .*utm_campaign=Two-Bike\\+Deck#book$"))
    expect(line.locator("u")).to_have_text("#")
    line.press("Enter")
    expect(behind).to_contain_text("tags after # never reach the site")
    expect(behind).to_contain_text("utm_campaign=Two-Bike+Deck#book")
    mistyped = page.get_by_role("region", name="a tag mistyped")
    expect(mistyped.locator("u")).to_have_text("utm_sorce")
    login = page.get_by_role("region", name="a login before the host")
    login.get_by_role("button").focus()
    expect(page.locator(".foot-line")).to_contain_text("It is left as it is")
    page.get_by_role("button", name=re.compile("[0-9] break")).click()
    expect(page.get_by_role("region", name="nothing wrong")).to_have_count(0)
    assert "level=error" in page.url
    # What is left in sight goes out as a file.
    with page.expect_download() as download:
        page.get_by_role("button", name="Export", exact=True).click()
        page.get_by_role("button", name="CSV", exact=True).click()
    lines = list(csv.DictReader(io.StringIO(Path(download.value.path()).read_text())))
    assert len(lines) == page.locator(".lines > li").count()
    assert {line["level"] for line in lines} == {"error"}


def register(page, section, add, **fields):
    """Add a record of the plan through its form."""
    page.goto(f"/plan?section={section}")
    page.get_by_role("button", name=add).click()
    form = page.get_by_role("complementary")
    for name, value in fields.items():
        label = name.replace("_", " ").capitalize()
        field = form.get_by_label(label, exact=True).or_(form.get_by_label(f"{label} *", exact=True))
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(value)
        else:
            field.fill(value)
    form.get_by_role("button", name="Keep").click()
    expect(form).to_be_hidden()


def test_from_the_plan_to_the_first_arrival(page, tmp_path):
    """Register a campaign, make its links, visit one, see its state change."""
    register(page, "campaign", "Add a campaign", name="Midnight Boat", code="mnb-26", state="approved")
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    for text in (PAGE, "Midnight Boat", "brannoway", "poster"):
        page.keyboard.type(text)
        page.keyboard.press("Tab")
    expect(cell(page, 1, "address")).to_have_text(f"{PAGE}?utm_source=brannoway&utm_medium=poster&utm_campaign=mnb-26")
    cell(page, 1, "placed_on").click()
    page.keyboard.type("2026-01-02")
    page.keyboard.press("Enter")
    cell(page, 1, "short").click()
    page.keyboard.type("pier")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Placing").click()
    line = page.get_by_role("row", name=re.compile("Midnight Boat"))
    expect(line).to_contain_text("none yet")
    line.get_by_role("button", name="Test visit").click()
    visit = page.get_by_role("status")
    expect(visit).to_contain_text("utm_campaign")
    expect(visit.get_by_text("✓ same")).to_have_count(3)
    expect(line).to_contain_text("none yet")  # a test visit is no arrival
    answer = page.request.get("/~/pier", max_redirects=0)
    assert answer.status == 302
    page.reload()
    expect(page.get_by_role("button", name="1 link: clicked, but none arrived")).to_be_visible()
    line.get_by_role("button", name="Test visit").focus()
    expect(page.locator(".foot-line")).to_contain_text("1 click counted")
    expect(line).to_contain_text("none yet")  # nor is a click on our own redirect
    page.get_by_role("button", name="Hand over").click()
    expect(page.get_by_text("The sheet has no code and no short link: short links would lead to")).to_be_visible()
    expect(page.get_by_label("Placing sheet")).not_to_contain_text("127.0.0.1")
    expect(page.get_by_label("Placing sheet")).to_contain_text("Short link: follows later")
    url = f"{PAGE}?utm_source=brannoway&utm_medium=poster&utm_campaign=mnb-26"
    file = tmp_path / "visits.csv"
    file.write_text(f"visit_id,occurred_at,visitor_id,url\nv1,2026-01-03T10:00:00Z,a,{url}\n")
    load(page, file)
    page.goto("/mark?part=placing")
    expect(line).to_contain_text("arriving")
    page.get_by_role("button", name="Text messages").click()
    page.get_by_label("Message", exact=True).fill("x" * 161)
    expect(page.get_by_role("status")).to_contain_text("2 parts")


PLAN = """
own_hosts = ["lunnick.example"]
short_base = "https://go.lunnick.example"

[[dialect]]
platform = "Quorrin"
opens = "{="
closes = "=}"
landing = "page"
slots = [{ name = "grp", means = "group-name", example = "Late" }]

[[level]]
campaign = "Night"
level = "group"
id = "g-1"
name = "Late crossings"

[[level]]
campaign = "Night"
level = "group"
id = "g-2"
name = "Early crossings"

[[naming]]
field = "content"
separator = "-"
parts = [{ name = "offer", allowed = ["half", "full"] }, { name = "n" }]
"""


@pytest.fixture
def planned(page, give):
    """A workspace with a platform, groups of ads and a naming pattern."""
    give([("settings.toml", PLAN.encode())])
    return page


AWAY = """(wanted) => {
  const stops = [...document.querySelectorAll('a[href], button, input, select, textarea, [tabindex]')].filter(
    (e) => e.tabIndex >= 0 && !e.disabled && e.getClientRects().length)
  return stops.indexOf(wanted) - stops.indexOf(document.activeElement)
}"""
"""How many stops away something seems to be; what it really is the keys tell."""


def tab_to(page, where, most=80):
    """Press Tab until it has the focus, as somebody without a mouse does."""
    # Most of the way without asking after each one.
    for _ in range(min(most, where.evaluate(AWAY) - 2)):
        page.keyboard.press("Tab")
    for _ in range(most):
        if where.evaluate("e => e === document.activeElement"):
            return where
        page.keyboard.press("Tab")
    raise AssertionError(f"{where} is not within reach of {most} Tabs")


def typed(page, where, text, then="Enter"):
    tab_to(page, where)
    page.keyboard.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press(then)


def test_all_of_mark_without_a_mouse(planned, give):
    """Register a campaign from the sheet, multiply over registered groups, set a pattern on four levels, copy the
    suffix, paste the landed address, read the difference, see the state change."""
    page = planned
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto("/mark")
    tab_to(page, page.get_by_role("button", name="Add a row"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("grid")).to_be_focused()
    for text in (PAGE, "Night", "quorrin", "cpc"):
        page.keyboard.type(text)
        page.keyboard.press("Tab")
    page.keyboard.press("Escape")
    # Known to nobody until it is registered where it was met.
    typed(page, page.get_by_label("Find"), "")
    tab_to(page, page.get_by_role("button", name="Register this page"))
    page.keyboard.press("Enter")
    page.keyboard.press("Control+a")
    page.keyboard.type("Night boat")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Landing pages 1")).to_be_visible()
    tab_to(page, page.get_by_role("button", name="One for each"))
    page.keyboard.press("Enter")
    expect(page.get_by_label("Values of placement")).to_be_focused()
    pick = page.get_by_label("Pick content")
    tab_to(page, pick)
    page.keyboard.press("ArrowDown")  # all
    expect(page.get_by_label("Values of content")).to_have_value("g-1\ng-2")
    tab_to(page, page.get_by_role("button", name="Make 2 rows"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("2 of 2 links")).to_be_visible()
    url = f"{PAGE}?utm_source=quorrin&utm_medium=cpc&utm_campaign=Night&utm_content=g-1"
    expect(cell(page, 1, "address")).to_have_text(url)

    page.goto("/mark?part=pattern")
    board = page.get_by_role("table", name="Pattern board")
    typed(page, board.get_by_label("Which campaign"), "Night")
    typed(page, board.get_by_label("Which group"), "Late crossings")
    typed(page, board.get_by_label("Which ad"), "Top")
    for label, text in (
        ("utm_source at account", "quorrin"),
        ("utm_medium at account", "cpc"),
        ("utm_campaign at account", "all"),
        ("utm_campaign at campaign", "Night"),
        ("utm_content at group", "(:group-name:)"),
        ("utm_term at ad", "top"),
    ):
        typed(page, board.get_by_label(label, exact=True), text)
        expect(board.get_by_role("row", name=re.compile(f"^{label.split()[0]} "))).to_contain_text(text)
    expect(board.get_by_role("row", name=re.compile("^utm_campaign "))).to_contain_text("Night campaign")
    suffix = "utm_source=quorrin&utm_medium=cpc&utm_campaign=Night&utm_term=top&utm_content={=grp=}"
    ways = page.get_by_label("Ways out")
    expect(ways).to_contain_text("{=page=}?" + suffix)
    tab_to(page, page.get_by_role("button", name="copy (s)"))
    page.keyboard.press("s")
    expect(page.get_by_text("After any address copied.")).to_be_visible()
    assert page.evaluate("navigator.clipboard.readText()") == suffix

    # What a nearer level says in place of the account is listed, and opened.
    page.goto("/mark?part=pattern")
    nearer = page.get_by_role("table", name="What overrides the account")
    said = nearer.get_by_role("row", name=re.compile("^campaign Night"))
    expect(said).to_contain_text("utm_campaign Night")
    expect(said).to_contain_text("all")
    tab_to(page, said.get_by_role("button", name="campaign Night"))
    page.keyboard.press("Enter")
    expect(page.get_by_label("Which campaign")).to_have_value("Night")
    page.goto("/mark?part=placing")
    line = page.get_by_role("row", name=re.compile("g-1"))
    expect(line).to_contain_text("planned")
    typed(page, page.get_by_label("The address you landed at"), url.replace("=cpc", "=CPC") + "&more=1")
    landed = page.get_by_label("Landed")
    expect(landed.get_by_role("row", name="utm_medium cpc CPC ✕ changed case")).to_be_visible()
    expect(landed.get_by_role("row", name=re.compile("^more .* added"))).to_be_visible()
    give([("visits.csv", f"visit_id,occurred_at,visitor_id,url\nv1,2026-01-03T10:00:00Z,a,{url}\n".encode())])
    page.goto("/mark?part=placing")
    expect(line).to_contain_text("arriving")


def test_a_name_is_built_from_its_parts_and_counted_on(planned):
    page = planned
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    cell(page, 1, "content").click()
    for number in ("half-01", "half-02"):
        page.get_by_role("button", name="Build a name").click()
        form = page.get_by_role("form", name="Build a content")
        form.get_by_label("offer").select_option("half")
        form.get_by_label("n", exact=True).fill("#")
        form.get_by_role("button", name="Build").click()
        expect(page.locator("[role=gridcell][data-column=content][aria-selected=true]")).to_have_text(number)
        page.get_by_role("button", name="Add a row").click()
        cell(page, 2, "content").click()


def test_what_links_are_made_of_is_edited_beside_them(planned):
    """A place that is given a source here changes the address of its links below at once; a kind of campaign underlines
    what it says of its own."""
    page = planned
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    for column, text in (("page", PAGE), ("campaign", "Night"), ("placement", "Feed"), ("medium", "cpc")):
        cell(page, 1, column).click()
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    expect(page.get_by_text("fill source")).to_be_visible()
    page.get_by_role("button", name="Places").click()
    page.get_by_role("button", name="Add a place").click()
    form = page.get_by_role("complementary")
    form.get_by_label("Name *", exact=True).fill("Feed")
    form.get_by_label("Source", exact=True).fill("ostrel")
    form.get_by_role("button", name="Keep").click()
    expect(cell(page, 1, "address")).to_have_text(f"{PAGE}?utm_source=ostrel&utm_medium=cpc&utm_campaign=Night")
    page.goto("/mark?part=pattern&kind=films")
    board = page.get_by_role("table", name="Pattern board")
    medium = board.get_by_label("utm_medium at account", exact=True)
    expect(board).to_have_attribute("aria-busy", "false")
    medium.fill("video")
    medium.press("Enter")
    expect(board.get_by_role("row", name=re.compile("^utm_medium "))).to_contain_text("video account")
    assert medium.evaluate("e => getComputedStyle(e).textDecorationLine") == "underline"
    page.get_by_label("Kind of campaign").fill("")
    page.get_by_label("Kind of campaign").press("Enter")
    expect(medium).to_have_value("")
    page.goto("/plan?section=dialect")
    expect(page.get_by_role("button", name="Add a dialect")).to_be_visible()
    expect(page).to_have_url(re.compile("/mark\\?"))


def test_a_renamed_campaign_takes_its_links_along_and_leaves_their_addresses_alone(page):
    register(page, "campaign", "Add a campaign", name="Midnight Boat")
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    for column, text in (("page", PAGE), ("campaign", "Midnight Boat"), ("source", "ostrel"), ("medium", "cpc")):
        cell(page, 1, column).click()
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    cell(page, 1, "placed_on").click()
    page.keyboard.type("2026-01-02")
    page.keyboard.press("Tab")
    placed = f"{PAGE}?utm_source=ostrel&utm_medium=cpc&utm_campaign=Midnight%20Boat"
    expect(cell(page, 1, "address")).to_have_text(placed)
    page.goto("/plan?section=campaign")
    page.get_by_role("button", name="Midnight Boat", exact=True).click()
    form = page.get_by_role("complementary")
    form.get_by_label("Name *", exact=True).fill("Night Boat")
    expect(form.get_by_text("addresses and files outside that say Midnight Boat still find it")).to_be_visible()
    form.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("button", name="Undo: Midnight Boat renamed Night Boat: 1 link with it")).to_be_visible()
    page.goto("/mark")
    expect(cell(page, 1, "campaign")).to_have_text("Night Boat")
    expect(cell(page, 1, "address")).to_have_text(placed)
    asks = page.get_by_text("1 link was placed with a different address from the one its row gives now")
    expect(asks).to_be_visible()
    page.get_by_role("button", name="See them").click()
    expect(page.get_by_text("1 of 2 links")).to_be_visible()
    page.get_by_role("button", name="I placed the new address").first.click()
    expect(asks).to_be_hidden()
    page.get_by_label("Find").fill("")
    expect(cell(page, 1, "address")).to_have_text(placed.replace("Midnight", "Night"))
    # A copy of it is placed nowhere yet.
    cell(page, 1, "placed_on").click()
    expect(cell(page, 1, "placed_on")).to_have_text("2026-01-02")


def test_the_night_theme_is_remembered(page):
    page.goto("/mark")
    page.get_by_role("button", name="Night", exact=True).click()
    page.reload()
    expect(page.get_by_role("button", name="Paper", exact=True)).to_be_visible()
    assert (
        page.evaluate("getComputedStyle(document.querySelector('.v-application')).backgroundColor") == "rgb(27, 32, 36)"
    )
    page.emulate_media(media="print")
    assert (
        page.evaluate("getComputedStyle(document.querySelector('.v-application')).backgroundColor")
        == "rgb(255, 255, 255)"
    )


def test_two_windows_write_into_one_sheet_and_neither_loses_what_it_wrote(page, another_window):
    """Rows of their own are merged; of one row the later writer is told, and shown what stands."""
    page.goto("/mark")
    for _ in range(2):
        # A row is shown before it is kept; the other window can only have what is.
        with page.expect_response(lambda answer: answer.request.method == "PATCH"):
            page.get_by_role("button", name="Add a row").click()
    expect(page.locator(".line [data-column=source]")).to_have_count(2)
    other = another_window()
    other.goto("/mark")
    expect(other.locator(".line [data-column=source]")).to_have_count(2)

    def write(where, row, text):
        where.locator(".line [data-column=source]").nth(row).dblclick()
        where.keyboard.type(text)
        where.keyboard.press("Tab")  # Enter in the last row would add another

    write(page, 0, "quorrin")
    expect(page.locator(".line [data-column=source]").nth(0)).to_have_text("quorrin")
    expect(page.get_by_role("button", name=re.compile("Undo: source of row 1"))).to_be_visible()
    write(other, 1, "ostrel")
    expect(other.get_by_role("button", name=re.compile("Undo: source of row 2"))).to_be_visible()
    expect(other.locator(".line [data-column=source]").nth(0)).to_have_text("quorrin")
    expect(other.locator(".line [data-column=source]").nth(1)).to_have_text("ostrel")
    write(page, 1, "harnock")
    expect(page.get_by_role("alert")).to_contain_text("changed in another window")
    expect(page.locator(".line [data-column=source]").nth(1)).to_have_text("ostrel")


def test_a_sheet_for_others_names_no_machine_of_ours_and_no_host_of_others(page, give):
    give([("settings.toml", b'own_hosts = ["lunnick.example"]\n')])
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    long = "-".join(["content"] * 12)
    for where in ("http://localhost:8080/boats", "https://tide.example/boats", PAGE):
        paste(page, f"{where}\tNight\tostrel\tcpc\t\t{long}")
        page.keyboard.press("Control+End")
        page.keyboard.press("Home")
        page.get_by_role("button", name="Add a row").click()
    for row in (1, 2, 3):
        expect(cell(page, row, "address")).to_contain_text("utm_content=content-content")
    page.goto("/mark?part=hand")
    sheet = page.get_by_label("Placing sheet")
    expect(sheet.get_by_text("Do not place this yet: its address is being corrected")).to_have_count(2)
    expect(page.get_by_text("it leads to localhost, which nobody else can open")).to_be_visible()
    expect(page.get_by_text("it leads to tide.example, which is not one of your hosts")).to_be_visible()
    for gone in ("localhost", "tide.example"):
        expect(sheet).not_to_contain_text(gone)
    # Typed off, an address breaks before an & alone.
    expect(sheet.locator(".address-text > span")).to_have_count(4)
    lines = sheet.locator(".address-text > span").evaluate_all("all => all.map(e => e.getClientRects().length)")
    assert lines == [1] * 4
    page.goto("/mark?part=message")
    expect(page.locator("option", has_text="tide.example")).to_have_count(0)


@pytest.mark.parametrize("part", ["pattern", "message", "placing", "check"])
def test_mark_on_a_phone_scrolls_nowhere_sideways(planned, part):
    page = planned
    page.set_viewport_size({"width": 390, "height": 800})
    page.goto(f"/mark?part={part}")
    expect(page.get_by_role("heading", name="Mark")).to_be_visible()
    page.wait_for_load_state("networkidle")
    wide = page.evaluate(
        """() => [...document.querySelectorAll('main *, #station *')]
          .filter(e => e.scrollWidth > e.clientWidth + 1 && /auto|scroll/.test(getComputedStyle(e).overflowX))
          .map(e => e.className)"""
    )
    assert (page.evaluate("document.documentElement.scrollWidth"), wide) == (390, [])
