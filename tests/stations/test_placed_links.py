"""Links that went out: whatever is renamed, edited or undone, the address that was placed or clicked stays."""

from __future__ import annotations

import pytest

from ground import say_ground
from yardstick.core.base.errors import SettingsError
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.undo_loads import undo_load
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.mark.short_links import ShortLinks
from yardstick.stations.plan.change_plan import change_general, change_records, read_plan, undo_plan
from yardstick.store.clicks import Click, keep_clicks
from yardstick.store.links import RowChange

PAGE = "https://www.lunnick.example/night"
ROW = {"page": "Night boat", "campaign": "Midnight Boat", "source": "ostrel", "medium": "paid-social"}
PLACED = {"placed_on": "2026-03-01"}
TAGS = "utm_source=ostrel&utm_medium=paid-social&utm_campaign"
AS_PLACED = f"{PAGE}?{TAGS}=Midnight%20Boat&utm_content="


@pytest.fixture
def sheets(desk):
    say_ground(desk)
    put(desk, "campaign", [{"name": "Midnight Boat"}])
    put(desk, "landing_page", [{"name": "Night boat", "address": PAGE}])
    return Sheets(desk)


def put(desk, section, records, **named):
    change_records(desk, section, records, read_plan(desk).basis, **named)


def change(sheets, *changes, what="changed"):
    return sheets.change([RowChange(*c) for c in changes], sheets.read().basis, what)


def click(desk, code, target="https://www.lunnick.example/night"):
    with desk.begin() as connection:
        keep_clicks(connection, [Click(code, "2026-03-02T10:00:00+00:00", target, workspace=desk.name)])


def shown(sheets):
    return {row.key: row.url for row in sheets.read().rows}


def otherwise(sheets):
    found = [(row.key, f.value) for row in sheets.read().rows for f in row.findings if f.code == "made_otherwise"]
    return dict(found)


def three_links(sheets):
    """One placed, one clicked on, one that nobody has seen yet."""
    change(
        sheets,
        ("placed", {**ROW, **PLACED, "content": "a"}),
        ("clicked", {**ROW, "content": "b", "short": "x1"}),
        ("fresh", {**ROW, "content": "c"}),
    )


def settings_file(desk, campaign="Midnight Boat", page=PAGE):
    text = (
        f'[[campaign]]\nname = "{campaign}"\ncode = "mb-9"\n[[landing_page]]\nname = "Night boat"\naddress = "{page}"\n'
    )
    keep_now(desk, [("settings.toml", text.encode())])


DOORS = {
    "a form": lambda desk: put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}]),
    "a page's address": lambda desk: put(desk, "landing_page", [{"name": "Night boat", "address": PAGE + "/deck"}]),
    "a page removed": lambda desk: put(desk, "landing_page", []),
    "a settings file": settings_file,
    "a general setting": lambda desk: change_general(desk, {"extra_values": ["utm_content"]}, read_plan(desk).basis),
    "an undo": undo_plan,
}


@pytest.mark.parametrize("door", DOORS)
def test_no_change_of_the_plan_makes_another_address_of_a_link_that_left(desk, sheets, door):
    if door == "an undo":
        put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    three_links(sheets)
    before, fresh = shown(sheets), shown(sheets)["fresh"]
    links = ShortLinks(desk)
    click(desk, "x1")
    links.renew()
    DOORS[door](desk)
    now = shown(sheets)
    assert (now["placed"], now["clicked"]) == (before["placed"], before["clicked"])
    links.forget()
    links.renew()
    assert links.target("x1").url == before["clicked"]
    if door != "a general setting":
        assert now["fresh"] != fresh
        assert set(otherwise(sheets)) | ({"placed", "clicked"} if door == "a page removed" else set()) == {
            "placed",
            "clicked",
        }


def test_the_sheet_says_how_a_link_would_be_made_now_and_makes_it_so_when_told(desk, sheets):
    three_links(sheets)
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    made = f"{PAGE}?{TAGS}=mb-9&utm_content=a"
    assert otherwise(sheets) == {"placed": made}
    assert shown(sheets)["placed"] == AS_PLACED + "a"
    answer = sheets.place_anew(["placed"], sheets.read().basis)
    assert ([r.url for r in answer.rows], otherwise(sheets)) == ([made], {})
    sheets.undo()
    assert (shown(sheets)["placed"], otherwise(sheets)) == (AS_PLACED + "a", {"placed": made})
    put(desk, "landing_page", [])
    with pytest.raises(SettingsError, match="row 1 gives no address"):
        sheets.place_anew(["placed"], sheets.read().basis)


def test_a_row_that_is_edited_after_it_was_placed_keeps_its_address_and_asks(sheets):
    three_links(sheets)
    change(sheets, ("placed", {"content": "z", "note": "a better word"}))
    assert shown(sheets)["placed"] == AS_PLACED + "a"
    assert otherwise(sheets) == {"placed": AS_PLACED + "z"}
    # Said to be placed by mistake, it never left.
    change(sheets, ("placed", {"placed_on": ""}))
    assert (shown(sheets)["placed"], otherwise(sheets)) == (AS_PLACED + "z", {})


def test_a_row_that_was_clicked_keeps_its_address_when_it_is_edited_and_when_that_is_undone(desk, sheets):
    three_links(sheets)
    click(desk, "x1")
    change(sheets, ("clicked", {"content": "z"}))
    assert shown(sheets)["clicked"] == AS_PLACED + "b"
    sheets.undo()
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    assert shown(sheets)["clicked"] == AS_PLACED + "b"


def test_a_row_brought_back_by_undo_is_as_it_left(desk, sheets):
    change(sheets, ("k", {**ROW, "content": "b", "short": "x1"}))
    change(sheets, ("k", {"note": "for the pier"}))
    click(desk, "x1")
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    # The row that stands again was made before anybody had clicked.
    sheets.undo()
    assert shown(sheets) == {"k": AS_PLACED + "b"}


def test_a_test_click_holds_nothing(desk, sheets):
    three_links(sheets)
    click(desk, "x1", PAGE + "?yt-test=1")
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    assert shown(sheets)["clicked"] == f"{PAGE}?{TAGS}=mb-9&utm_content=b"


def test_a_link_with_arrivals_has_left_though_nobody_wrote_down_where_it_is(desk, sheets):
    visit = f"visit_id,occurred_at,visitor_id,url\nv1,2026-03-02T10:00:00Z,p,{AS_PLACED}c\n"
    three_links(sheets)
    keep_now(desk, [("visits.csv", visit.encode())])
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    assert shown(sheets)["fresh"] == AS_PLACED + "c"
    # Only somebody who edits the row itself, and what it leads to, says that it is another link.
    change(sheets, ("fresh", {"note": "whose?"}))
    assert shown(sheets)["fresh"] == AS_PLACED + "c"
    change(sheets, ("fresh", {"content": "d"}))
    assert shown(sheets)["fresh"] == f"{PAGE}?{TAGS}=mb-9&utm_content=d"


def test_a_sheet_that_goes_out_comes_back_with_the_addresses_that_were_placed(desk, sheets):
    three_links(sheets)
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mb-9"}])
    out = sheets.file("csv")
    change(sheets, ("placed", None), ("clicked", None), ("fresh", None))
    sheets.ingest("links.csv", out)
    assert [row.url for row in sheets.read().rows] == [
        AS_PLACED + "a",
        f"{PAGE}?{TAGS}=mb-9&utm_content=b",
        f"{PAGE}?{TAGS}=mb-9&utm_content=c",
    ]


def test_a_price_follows_the_address_that_was_placed(desk, sheets):
    change(sheets, ("placed", {**ROW, **PLACED, "content": "a", "price": "0.35"}))
    change(sheets, ("placed", {"content": "z"}))
    assert 'content = "a"' in desk.settings_text()
    assert 'content = "z"' not in desk.settings_text()


def test_undoing_a_load_of_settings_makes_no_other_address(desk, sheets):
    settings_file(desk)
    load = read_plan(desk).steps[0].id
    three_links(sheets)
    before = shown(sheets)
    undo_load(desk, load)
    assert shown(sheets)["placed"] == before["placed"]
    assert shown(sheets)["fresh"] != before["fresh"]
