"""Two windows on one workspace: each sees what the other does, and neither overwrites it."""

from __future__ import annotations

import re
from contextlib import suppress

import pytest
from playwright.sync_api import TimeoutError, expect

from planned_week import planned_week_files
from screens.steps import choose, keep_tried, load, row

pytestmark = pytest.mark.screens

LATE = "visit_id,occurred_at,visitor_id,url\nlate,2026-03-08T10:00:00Z,p-late,/?utm_source=zeta&utm_medium=cpc&utm_campaign=Late+Boats\n"


def test_a_board_says_that_data_or_plan_changed_elsewhere_and_offers_the_new_ones(page, give, another_window, tmp_path):
    give(planned_week_files())
    page.goto("/weigh")
    expect(row(page, "Midnight Boat")).to_be_visible()
    said = page.get_by_text("Something was kept in another window")
    expect(said).to_have_count(0)
    other = another_window()
    (tmp_path / "visits.csv").write_text(LATE)
    load(other, tmp_path / "visits.csv")
    expect(said).to_be_visible()
    # The figures of before stay until the new ones are asked for.
    expect(row(page, "Late Boats")).to_have_count(0)
    page.get_by_role("button", name="Show the new ones").click()
    expect(row(page, "Late Boats")).to_be_visible()
    expect(said).to_have_count(0)
    # A change of the plan alone, too.
    other.goto("/plan?section=")
    other.get_by_label("Margin", exact=True).fill("0.25")
    other.get_by_role("button", name="Keep").click()
    keep_tried(other)
    expect(other.get_by_role("button", name=re.compile("Undo: margin"))).to_be_visible()
    expect(said).to_be_visible()
    page.get_by_role("button", name="Show the new ones").click()
    expect(page.get_by_text("margin 0.25")).to_be_visible()
    expect(said).to_have_count(0)


def test_a_running_load_is_seen_in_every_window_with_how_it_ends(page, another_window, tmp_path):
    rows = "".join(f"big{i},2026-03-04T10:00:00Z,p{i},/\n" for i in range(600_000))
    (tmp_path / "visits.csv").write_text("visit_id,occurred_at,visitor_id,url\n" + rows)
    other = another_window()
    other.goto("/gather")
    expect(other.get_by_text("Nothing is loaded yet")).to_be_visible()
    choose(page, tmp_path / "visits.csv")
    page.get_by_role("button", name=re.compile("^Keep")).click(timeout=60_000)
    # In its rail, whichever station; at Gather with its rows.
    expect(other.get_by_role("link", name=re.compile(r"^Loading \d+ %$"))).to_be_visible()
    expect(other.get_by_label("Progress")).to_contain_text(
        re.compile("visits.csv: .* of about 6\d\d,|visits.csv: .* of about 5\d\d,")
    )
    # It can be stopped from here; if it is done by then, both windows say that.
    with suppress(TimeoutError):
        other.get_by_label("Progress").get_by_role("button", name="Stop").click(timeout=2_000)
    for window in (page, other):
        ended = window.get_by_label("Progress")
        expect(ended).to_contain_text(re.compile("Not finished: .*stopped|Loaded: kept visits.csv"), timeout=60_000)
        expect(window.get_by_role("link", name=re.compile("^Loading"))).to_have_count(0)
    assert page.get_by_label("Progress").inner_text() == other.get_by_label("Progress").inner_text()


def test_edits_of_different_fields_of_one_record_both_stand(page, give, another_window):
    give([("settings.toml", b'home_currency = "EUR"\n[[campaign]]\nname = "Midnight Boat"\nowner = "Maren"\n')])
    other = another_window()
    for window in (page, other):
        window.goto("/plan")
        window.get_by_role("button", name="Midnight Boat", exact=True).first.click()
    page.get_by_label("owner").fill("Idris")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("Undo: campaign Midnight Boat"))).to_be_visible()
    other.get_by_label("budget").fill("900.00")
    other.get_by_role("button", name="Keep", exact=True).click()
    line = other.get_by_role("row").filter(has_text="Midnight Boat").first
    expect(line).to_contain_text("900.00")
    expect(line).to_contain_text("Idris")
