"""The walk: five exports that no column name of ours stands in, from drop to own figure, by mouse and by keyboard."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from effort import much
from exports import EXPORTS, PLAN, ads_report, enquiries, orders, semicolon_report, web_sessions
from screens.steps import choose, load, row

pytestmark = pytest.mark.screens
MOST_FIRST, MOST_AGAIN = 12, 2
ANSWERS = {
    "ostrel mai.csv": ["day month year"],
    "orders.csv": ["day month year", "ticket"],
}
"""What the files do not decide."""
FIGURES = {
    "quorrin report may": "28,434.00 AUD",
    "ostrel mai": "14,814.00 AUD",
    "orders": "7,200.00 AUD",
    "web sessions": "240",
    "enquiries": "40",
}
AGAIN = {
    "quorrin report june.csv": ads_report(6),
    "ostrel juni.csv": semicolon_report(6),
    "sessions of today.tsv": web_sessions(300),
    "enquiries (2).xlsx": enquiries(44),
    "orders-2.csv": orders(66),
}
FIGURES_AGAIN = {
    "quorrin report may": "56,868.00 AUD",
    "ostrel mai": "29,628.00 AUD",
    "orders": "7,920.00 AUD",
    "web sessions": "300",
    "enquiries": "44",
}


class Mouse:
    """Does what is to be done with the mouse, and counts."""

    def __init__(self, page):
        self.page, self.count = page, 0

    def drop(self, file):
        self.count += 1
        self.page.get_by_label("Files to load").set_input_files(str(file))

    def answer(self, text):
        self.count += 1
        self.page.get_by_role("button", name=text, exact=True).click()

    def keep(self):
        self.count += 1
        self.page.get_by_role("button", name=re.compile("^Keep")).click()


class Keyboard:
    """The same by keys alone: every key counts, and so does the choosing of the file."""

    def __init__(self, page):
        self.page, self.count, self.file = page, 0, ""
        page.on("filechooser", lambda chooser: chooser.set_files(self.file))

    def press(self, key):
        self.count += 1
        self.page.keyboard.press(key)

    def drop(self, file):
        self.count, self.file = self.count + 1, str(file)
        self.press("f")

    def answer(self, text):
        # The first question has the focus; the options follow each other.
        options = self.page.locator(".question").first.get_by_role("button")
        expect(options.first).to_be_focused()
        for _ in range(options.all_inner_texts().index(text)):
            self.press("Tab")
        self.press("Enter")

    def keep(self):
        expect(self.page.get_by_role("button", name=re.compile("^Keep"))).to_be_focused()
        self.press("k")


def figure(page, source):
    return (
        page.get_by_label("Sources").get_by_role("row").filter(has=page.get_by_role("button", name=source, exact=True))
    )


def walk(page, hand, folder, files, answers):
    page.goto("/gather")
    expect(page.get_by_role("heading", name="Platforms")).to_be_visible()
    for name, content in files.items():
        (folder / name).write_bytes(content)
        before = hand.count
        hand.drop(folder / name)
        expect(page.get_by_text("Rehearsal: nothing is kept yet")).to_be_visible()
        for text in answers.get(name, []):
            hand.answer(text)
        hand.keep()
        expect(page.get_by_text(f"Loaded: kept {name}")).to_be_visible(timeout=30_000)
        yield name, hand.count - before


@pytest.mark.parametrize("by", much([Keyboard], [Mouse, Keyboard]))
def test_five_exports_from_drop_to_own_figure(page, tmp_path, by, give):
    give([("settings.toml", PLAN.encode())])
    hand = by(page)
    for name, actions in walk(page, hand, tmp_path, EXPORTS, ANSWERS):
        assert actions <= MOST_FIRST, name
    for source, worth in FIGURES.items():
        expect(figure(page, source)).to_contain_text(worth)
    for name, actions in walk(page, hand, tmp_path, AGAIN, {}):
        assert actions <= MOST_AGAIN + (by is Keyboard), name
    for source, worth in FIGURES_AGAIN.items():
        expect(figure(page, source)).to_contain_text(worth)
    page.get_by_role("link", name="See the figures").click()
    expect(row(page, "Freight Fridays").locator("td.number").first).to_have_text("56,308.00")


def test_files_that_are_dropped_while_the_last_ones_are_still_being_shown_stay(page, tmp_path):
    """What was kept is shown as soon as it is; until everything on the page was read anew, more may be dropped."""
    files = [tmp_path / "march.csv", tmp_path / "april.csv"]
    for month, file in enumerate(files, 3):
        file.write_text(f"day,platform,campaign,cost\n2026-0{month}-01,Quorrin,Boats,1.50\n")
    choose(page, files[0])
    waiting, held = [], [True]

    def hold(route):
        if held and route.request.method == "GET":
            waiting.append(route)
        else:
            route.continue_()

    page.route("**/gather/loads", hold)
    hand = Mouse(page)
    hand.keep()
    expect(page.get_by_text("Loaded: kept march.csv")).to_be_visible()
    hand.drop(files[1])
    expect(page.get_by_text("Rehearsal: nothing is kept yet")).to_be_visible()
    expect(page.get_by_text("april.csv").first).to_be_visible()
    held.clear()
    for route in waiting:
        route.continue_()
    expect(page.get_by_label("Loads").get_by_role("row").filter(has_text="march.csv")).to_be_visible()
    hand.keep()
    expect(page.get_by_text("Loaded: kept april.csv")).to_be_visible()


def test_the_files_that_were_dropped_last_are_shown_and_reading_the_first_ends(page, tmp_path, give):
    files = [tmp_path / "march.csv", tmp_path / "april.csv"]
    for month, file in enumerate(files, 3):
        file.write_text(f"day,platform,campaign,cost\n2026-0{month}-01,Quorrin,Boats,1.50\n")
    waiting, first = [], [True]

    def hold(route):
        if first:
            first.clear()
            waiting.append(route)
        else:
            route.continue_()

    page.route("**/gather/rehearsals?called=*", hold)
    given_up = []
    page.on("requestfailed", lambda request: given_up.append(request.url))
    page.goto("/gather")
    give([("settings.toml", PLAN.encode())])
    page.get_by_label("Files to load").set_input_files(str(files[0]))
    page.get_by_label("Files to load").set_input_files(str(files[1]))
    shown = page.get_by_label("Rehearsal")
    expect(shown.get_by_text("april.csv").first).to_be_visible()
    assert [route.request.url for route in waiting] == [url for url in given_up if "/gather/rehearsals?" in url]
    Mouse(page).keep()
    expect(page.get_by_text("Loaded: kept april.csv")).to_be_visible()


def test_what_cannot_be_read_is_mended_by_one_change(page, tmp_path):
    file = tmp_path / "spend.csv"
    file.write_text(
        "day,platform,campaign,cost\n" + "".join(f"{d}/13/2026,Quorrin,Boats,$1.50\n" for d in range(1, 10))
    )
    choose(page, file)
    expect(page.get_by_text("9 rejected")).to_be_visible()
    page.get_by_role("button", name="Read days as month day year: mends 9").click()
    # Whose dollars they are is asked, and the answer stays beside the question.
    asked = page.get_by_role("group", name="$ stands beside 9 of its amounts: which currency is that?")
    asked.get_by_role("combobox").select_option("AUD")
    expect(page.get_by_text("9 read, 9 new")).to_be_visible()
    expect(page.get_by_text("add up to 13.50 AUD")).to_be_visible()
    expect(page.get_by_text("13.5 AUD of 9 days")).to_contain_text("have no rate to EUR")


def test_columns_are_picked_and_what_stands_follows(page, tmp_path):
    file = tmp_path / "list.csv"
    file.write_text(
        "On,Which,Paid out,Spare\n" + "".join(f"2026-05-{d:02d},Boats,{d}.50,{d}.00\n" for d in range(1, 13))
    )
    choose(page, file)
    page.get_by_role("combobox", name="Table").select_option("spend")
    page.get_by_role("combobox", name="Which goes to").select_option("campaign")
    page.get_by_role("combobox", name="Paid out goes to").select_option("cost")
    page.get_by_role("combobox", name="On goes to").select_option("day")
    page.get_by_label("platform is always").fill("Quorrin")
    page.get_by_label("platform is always").press("Enter")
    stands = page.get_by_label("The first rows as they will be kept")
    expect(stands.get_by_role("row").nth(1)).to_contain_text("2026-05-01QuorrinBoats1.50")
    expect(page.get_by_text("add up to 84.00 EUR")).to_be_visible()
    page.get_by_role("combobox", name="Spare goes to").select_option("cost")
    expect(page.get_by_text("add up to 78.00 EUR")).to_be_visible()


def test_a_column_that_has_another_name_now_is_said_before_anything_is_kept(page, tmp_path, give):
    give([("settings.toml", PLAN.encode())])
    first = tmp_path / "quorrin report may.csv"
    first.write_bytes(ads_report())
    load(page, first)
    changed = tmp_path / "quorrin report june.csv"
    changed.write_bytes(ads_report(6).replace(b"Money spent (AUD)", b"Ad spend (AUD)"))
    choose(page, changed)
    expect(page.get_by_text("It looks like quorrin report may, but is not as the files before it.")).to_be_visible()
    expect(
        page.get_by_text("The column Money spent (AUD) is gone; Ad spend (AUD) is taken for it now.")
    ).to_be_visible()
    expect(page.get_by_text("add up to 28,434.00 AUD")).to_be_visible()


def test_days_that_are_sent_again_say_what_they_change(page, tmp_path, give):
    give([("settings.toml", PLAN.encode())])
    first = tmp_path / "quorrin report may.csv"
    first.write_bytes(ads_report())
    load(page, first)
    lines = ads_report().decode().splitlines()
    again = tmp_path / "again.csv"
    again.write_text(
        "\n".join(line.replace("$10.00", "$12.50") for line in lines if "5/3/2026" not in line or "Freight" not in line)
    )
    choose(page, again)
    expect(page.get_by_text("28 days change, 1 with fewer rows")).to_be_visible()
    page.get_by_text("28 days change").click()
    changed = page.get_by_role("row").filter(has_text="2026-05-03")
    expect(changed).to_contain_text("1,015.50 AUD12.50 AUD21")
    expect(page.get_by_text("1 row of days that are replaced would be gone")).to_be_visible()


def test_platforms_are_edited_in_gather(page):
    page.goto("/gather")
    page.get_by_role("button", name="Add a platform").click()
    page.get_by_label("Name *").fill("Harnock")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_label("Platforms")).to_contain_text("Harnock")


def test_the_months_cost_ties_to_the_invoice(page, tmp_path, give):
    give([("settings.toml", PLAN.encode())])
    first = tmp_path / "quorrin report may.csv"
    first.write_bytes(ads_report())
    load(page, first)
    page.get_by_role("link", name="Invoices").click()
    expect(page.get_by_role("heading", name="Quorrin, 2026-05")).to_be_visible()
    amount = page.get_by_label("Amount of the invoice")
    amount.fill("28500.00")
    amount.press("Enter")
    expect(page.get_by_text("66.00 AUD between the invoice and the rows.")).to_be_visible()
    expect(page.get_by_text("Missing: 2026-05-29")).not_to_be_visible()
    amount.fill("28434.00")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("It ties to the cent.")).to_be_visible()
    expect(page.get_by_role("row", name="2026-05 Quorrin")).to_contain_text("ties")
    expect(page.get_by_label("What the rows met")).to_contain_text("days without visits: Freight Fridays")


def test_ads_that_would_arrive_untagged_are_named_before_the_first_click(page, tmp_path):
    settings, ads, visits = tmp_path / "settings.toml", tmp_path / "ads.csv", tmp_path / "visits.csv"
    settings.write_text(PLAN)
    ads.write_text(
        "platform,account,campaign,ad,pattern,address,spend\n"
        "Quorrin,q-main,Freight,bare,,https://www.lunnick.example/freight,90.00\n"
        "Quorrin,q-main,Freight,whole,utm_source=quorrin&utm_medium=cpc&utm_campaign=Freight,https://www.lunnick.example/,10.00\n"
    )
    visits.write_text("visit_id,occurred_at,url\nv,2026-05-02T10:00:00Z,/\n")
    load(page, settings, ads, visits)
    page.get_by_role("link", name="Ads: which would arrive untagged?").click()
    expect(
        page.get_by_text("1 of 2 would arrive untagged, 90.00 AUD of spend; with 1 something is wrong.")
    ).to_be_visible()
    page.get_by_label("Those alone").check()
    expect(page.get_by_role("heading", name="1 ad, 90.00 AUD: neither pattern nor tag")).to_be_visible()
    expect(page.get_by_role("table", name=re.compile("^Ads: ")).locator("tbody tr")).to_have_count(1)
    expect(page.get_by_text("no level has a pattern and the address has no tag")).to_be_visible()
