"""On a phone: the trail at the foot, a board row of two lines, a tap that reads out and a second that opens."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from planned_week import planned_week_files
from screens.conftest import in_workspace

pytestmark = pytest.mark.screens


@pytest.fixture
def phone(browser, address, workspace, give):
    """A phone with the planned week: 390 wide, touched, nothing to point with."""
    give(planned_week_files())
    context = browser.new_context(
        base_url=address, viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    yield in_workspace(context.new_page(), workspace)
    context.close()


def box(locator):
    found = locator.bounding_box()
    return found["x"], found["y"], found["x"] + found["width"], found["y"] + found["height"]


def test_the_board_is_two_lines_a_row_above_a_trail_at_the_foot(phone):
    phone.goto("/weigh")
    board = phone.get_by_role("table", name="Ruler board")
    row = board.get_by_role("row").filter(has=phone.get_by_role("rowheader", name="Midnight Boat"))
    row.wait_for()
    left, top, right, bottom = box(phone.get_by_role("navigation", name="Stations"))
    assert (left, right, bottom, bottom - top) == (0, 390, 844, 48)
    left, top, right, bottom = box(row)
    assert (left, right) == (12, 378)
    assert 56 <= bottom - top <= 57
    # Name and verdict above, ruler and figure below, each within the row.
    name, verdict = row.get_by_role("rowheader"), row.locator("td.says")
    ruler, figure = row.locator("td.ruler"), row.locator("td.main")
    assert box(name)[3] <= box(ruler)[1] + 1
    assert box(verdict)[3] <= box(figure)[1] + 1
    assert [round(box(cell)[2] - box(cell)[0]) for cell in (name, verdict, ruler, figure)] == [220, 146, 250, 116]
    assert row.locator("td.number:visible").count() == 1
    assert phone.evaluate("document.documentElement.scrollWidth") == 390
    assert (
        phone.evaluate("""[...document.querySelectorAll('.board, .board *')].filter((e) => e.scrollWidth > e.clientWidth + 1
        && ['auto', 'scroll'].includes(getComputedStyle(e).overflowX)).length""")
        == 0
    )


def test_a_tap_reads_out_and_a_second_opens(phone):
    phone.goto("/weigh")
    board = phone.get_by_role("table", name="Ruler board")
    row = board.get_by_role("row").filter(has=phone.get_by_role("rowheader", name="Midnight Boat"))
    figure = row.locator("td.main button")
    words = phone.locator(".foot-line")
    expect(words).to_be_hidden()
    figure.tap()
    expect(words).to_contain_text("Value of Midnight Boat")
    assert box(words)[3] == 844 - 48
    assert "trace=" not in phone.url
    # Another cell is read out first, too; then the first one opens at its second tap.
    row.get_by_role("rowheader").get_by_role("button").tap()
    expect(words).not_to_contain_text("Value of Midnight Boat")
    assert "by=" not in phone.url
    figure.tap()
    expect(words).to_contain_text("Value of Midnight Boat")
    figure.tap()
    expect(phone).to_have_url(re.compile("trace=row~named~value~Midnight"))
    expect(phone.get_by_text("Under Linear").first).to_be_visible()


def test_a_narrow_window_with_a_mouse_opens_at_once(page, give):
    """A screen of 1,280 seen twice as large is as narrow as that, and its pointer points."""
    give(planned_week_files())
    page.set_viewport_size({"width": 640, "height": 800})
    page.goto("/weigh")
    board = page.get_by_role("table", name="Ruler board")
    row = board.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Midnight Boat"))
    row.locator("td.main button").click()
    expect(page).to_have_url(re.compile("trace=row~named~value~Midnight"))
    page.set_viewport_size({"width": 1280, "height": 800})
