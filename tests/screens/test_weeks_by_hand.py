"""Both worked weeks on the board: every cell of every yardstick by hand, and a deal that is signed after the report."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal

import pytest
from playwright.sync_api import expect

from screens.steps import row
from week import later_files, week_files, week_two_files
from week_by_hand import WEEK_ONE, WEEK_TWO

pytestmark = pytest.mark.screens
CALLED = {"": "Untagged", "no_value": "Tagged, no campaign"}
NO_FIGURE = "–"


def shown(number, digits):
    """A figure as the board writes it."""
    return f"{Decimal(str(number)).quantize(Decimal(1).scaleb(-digits), ROUND_HALF_UP):,}"


def by_hand(week, yardstick, name):
    """Spend, leads, cost per lead, sales, value and ROAS of a row, as the board must write them."""
    leads, _, sales, value = week.cells[yardstick, name]
    spend = week.spend.get(name)
    per_lead = shown(Decimal(spend) / Decimal(float(leads)), 2) if spend and leads else NO_FIGURE
    roas = shown(Decimal(value) / Decimal(spend), 2) if spend and Decimal(spend) else NO_FIGURE
    spent = NO_FIGURE if spend is None else shown(spend, 2)
    return [spent, shown(float(leads), 1), per_lead, shown(float(sales), 1), shown(value, 2), roas]


def see(page, week, yardstick):
    """Open the board and hold every cell against the hand."""
    page.goto(f"/weigh?from={week.first}&to={week.last}&yardstick={yardstick}")
    expect(page.locator("[aria-busy]")).to_have_attribute("aria-busy", "false")
    for name in week.names:
        cells = row(page, CALLED.get(name, name)).locator("td.number")
        expect(cells).to_have_text(by_hand(week, yardstick, name))


def test_every_cell_of_every_yardstick_of_both_weeks(page, give):
    for files in (week_files(), week_two_files(), later_files()):
        give(files)
    for week in (WEEK_ONE, WEEK_TWO):
        for yardstick in week.yardsticks:
            see(page, week, yardstick)


def test_a_deal_signed_after_the_report_changes_the_figures_and_the_reason_is_on_screen(page, give):
    give(week_files())
    give(week_two_files())
    board = f"/weigh?from={WEEK_TWO.first}&to={WEEK_TWO.last}&yardstick=linear"
    page.goto(board)
    freight = row(page, "Freight Fridays").locator("td.number")
    expect(freight.nth(4)).to_have_text("0.00")
    page.goto("/record?table=conversions&id=d1")
    expect(page.get_by_role("status")).to_contain_text("open")
    give(later_files())
    page.goto(board)
    expect(freight.nth(4)).to_have_text("450.00")
    freight.nth(4).get_by_role("button").click()
    page.get_by_role("link", name="freight deal d1").click()
    expect(page.get_by_role("heading", name="freight deal d1")).to_be_visible()
    expect(page.get_by_role("status")).to_contain_text("Counts")
    signed = page.get_by_role("row", name="statuses.csv")
    expect(signed).to_contain_text("signed")
    expect(signed).to_contain_text("Maren")
    expect(page.get_by_role("row", name="deal_contacts.csv").first).to_contain_text("l2")
    page.goto("/record?table=conversions&id=o9")
    value = page.get_by_role("region", name="Value")
    expect(value).to_contain_text("20.00")
    expect(value.get_by_role("row", name="Counted")).to_contain_text("80.00")
    expect(page.get_by_role("row", name="order_lines.csv").nth(1)).to_contain_text("Bike space")
    page.goto("/record?table=conversions&id=o10")
    expect(page.get_by_role("status")).to_contain_text("in no figure")
