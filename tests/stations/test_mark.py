"""The link sheet on a real PostgreSQL."""

from __future__ import annotations

import io

import pytest
from openpyxl import load_workbook

from planned_week import planned_week_files
from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.plan.change_plan import change_records, read_plan
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.refusals import Overtaken
from yardstick.store.links import RowChange
from yardstick.store.loading import CannotUndo

PAGE = "https://www.lunnick.example/night"
ROW = {"page": "Night boat", "campaign": "Midnight boat", "source": "ostrel", "medium": "paid-social", "content": "a"}


@pytest.fixture
def sheets(desk):
    keep_now(desk, planned_week_files())
    put(desk, "campaign", [{"name": "Midnight Boat", "code": "mnb-26", "state": "approved"}])
    put(desk, "landing_page", [{"name": "Night boat", "address": PAGE + "/"}])
    return Sheets(desk)


def put(desk, section, records):
    change_records(desk, section, records, read_plan(desk).basis)


def change(sheets, *changes, what="changed"):
    return sheets.change([RowChange(*c) for c in changes], sheets.read().basis, what)


def codes(row):
    return {f.code for f in row.findings}


def test_a_row_becomes_an_address_with_the_campaigns_one_value(sheets):
    change(
        sheets,
        ("k1", ROW),
        ("k2", ROW | {"campaign": "mnb-26", "content": "b"}),
        ("k3", ROW | {"page": PAGE, "content": "c"}),
    )
    rows = sheets.read().rows
    start = f"{PAGE}/?utm_source=ostrel&utm_medium=paid-social&utm_campaign=mnb-26&utm_content="
    assert [r.url for r in rows] == [start + "a", start + "b", start + "c"]
    assert [codes(r) for r in rows] == [set(), set(), {"missing_slash"}]


def test_what_is_required_says_why(sheets):
    change(sheets, ("k1", {"page": PAGE}))
    found = {f.field: f.message for f in sheets.read().rows[0].findings if f.code == "missing_required"}
    assert set(found) == {"source", "medium", "campaign"}
    assert "untagged" in found["campaign"]


def test_two_rows_with_one_address_are_found_and_only_they_come_back(sheets):
    change(sheets, ("k1", ROW), ("k2", ROW | {"content": "b"}), ("k3", ROW | {"content": "c"}))
    answer = change(sheets, ("k2", {"content": "a"}))
    assert {r.key for r in answer.rows} == {"k1", "k2"}
    assert all("same_address" in codes(r) for r in answer.rows)
    assert {r.key for r in change(sheets, ("k2", {"content": "b"})).rows} == {"k1", "k2"}
    assert all(not r.findings for r in sheets.read().rows)


def test_rows_keep_their_order_and_new_ones_stand_where_they_are_put(sheets):
    change(sheets, *((f"k{i}", {"content": str(i)}) for i in range(4)))
    change(sheets, ("n1", {"content": "n1"}, "k1"), ("n2", {"content": "n2"}, "n1"), ("end", {}, ""))
    change(sheets, *((f"m{i}", {"content": str(i)}, "k1") for i in range(40)))
    order = sheets.read().order
    assert order[:2] == ["k0", "k1"]
    assert order[2:42] == [f"m{i}" for i in reversed(range(40))]
    assert order[42:] == ["n1", "n2", "k2", "k3", "end"]


def test_a_paste_of_two_thousand_rows_is_one_change_and_one_undo(sheets):
    change(sheets, ("k1", ROW))
    names = ("page", "campaign", "source", "medium", "term", "content", "id", "placement", "box", "note")
    paste = [(f"p{i}", {n: f"{n} {i}" for n in names}) for i in range(1_999)]
    change(sheets, ("k1", {"note": "pasted over"}), *paste, what="2000 rows pasted")
    assert len(sheets.read().rows) == 2_000
    assert sheets.read().steps[0].what == "2000 rows pasted"
    answer = sheets.undo()
    assert answer.order == ["k1"]
    assert [r.cells for r in sheets.read().rows] == [ROW]


def test_every_change_is_undone_one_after_the_other(sheets):
    change(sheets, ("k1", ROW), ("k2", ROW | {"content": "b"}))
    change(sheets, ("k1", {"content": "z"}))
    change(sheets, ("k2", None))
    assert sheets.read().order == ["k1"]
    sheets.undo()
    assert [r.cells["content"] for r in sheets.read().rows] == ["z", "b"]
    sheets.undo()
    assert [r.cells["content"] for r in sheets.read().rows] == ["a", "b"]
    sheets.undo()
    assert sheets.read().order == []
    with pytest.raises(CannotUndo):
        sheets.undo()


def test_wrong_changes_are_refused_and_nothing_is_kept(sheets):
    change(sheets, ("k1", ROW))
    with pytest.raises(SettingsError, match="no column 'colour'"):
        change(sheets, ("k1", {"content": "b"}), ("k2", {"colour": "red"}))
    with pytest.raises(SettingsError, match="longer"):
        change(sheets, ("k1", {"note": "x" * 5_000}))
    basis = sheets.read().basis
    change(sheets, ("k1", {"note": "mine"}))
    with pytest.raises(Overtaken):
        sheets.change([RowChange("k1", {"note": "theirs"})], basis, "")
    assert sheets.read().rows[0].cells == ROW | {"note": "mine"}


def test_a_price_in_the_sheet_is_spend_on_the_board_and_in_the_settings_written_out(sheets, desk):
    def spend():
        rows = Weighing(desk.snapshots).board(BoardQuestion(), 0).rows
        return next(r.spend for r in rows if r.values[0] == "Midnight Boat")

    before = Weighing(desk.snapshots).board(BoardQuestion(), 0).fingerprint
    assert spend() == 0
    change(sheets, ("k1", {"campaign": "mnb-26", "source": "ellivane", "medium": "email", "price": "0.35"}))
    assert spend() == 35
    assert 'price = "0.35"' in desk.settings_text()
    sheets.undo()
    assert spend() == 0
    assert Weighing(desk.snapshots).board(BoardQuestion(), 0).fingerprint == before


def test_a_price_holds_from_its_first_day_to_its_last(sheets, desk):
    def spend():
        rows = Weighing(desk.snapshots).board(BoardQuestion(), 0).rows
        return next(r.spend for r in rows if r.values[0] == "Midnight Boat")

    link = {"campaign": "mnb-26", "source": "ellivane", "medium": "email", "price": "0.35"}
    change(sheets, ("k1", link))
    assert spend() == 35  # one click, on 6 March
    for days, expected in (
        ({"price_from": "2026-03-07"}, 0),
        ({"price_from": "2026-03-06", "price_to": "2026-03-06"}, 35),
        ({"price_from": "", "price_to": "2026-03-05"}, 0),
    ):
        change(sheets, ("k1", days))
        assert spend() == expected, days
    change(sheets, ("k1", {"price_from": "2026-03-09"}))
    found = [f for f in sheets.read().rows[0].findings if f.code == "bad_day"]
    assert [(f.field, f.level) for f in found] == [("price_to", "error")]
    assert "swap the days" in found[0].message
    change(sheets, ("k1", {"price_to": "Friday"}))
    assert "Friday is not a day" in sheets.read().rows[0].findings[0].message


def test_the_ads_of_the_plan_stand_beside_the_sheet(sheets, desk):
    ads = [
        {"campaign": "Midnight Boat", "level": "ad", "id": "83015", "name": "Deck lamps", "text": "Sleep across"},
        {"campaign": "Midnight Boat", "level": "ad", "name": "Moon", "picture": "moon.jpg"},
        {"campaign": "Midnight Boat", "level": "group", "id": "7", "name": "All nights"},
    ]
    put(desk, "level", ads)
    sheet = sheets.read()
    assert [(a.number, a.text, a.picture) for a in sheet.ads] == [
        ("83015", "Sleep across", ""),
        ("Moon", "", "moon.jpg"),
    ]
    content = next(c for c in sheet.columns if c.name == "content")
    assert content.words == ("83015", "Moon")
    assert content.called["83015"] == "Deck lamps - Sleep across"


def test_the_place_and_the_store_have_their_say(sheets, desk):
    put(desk, "place", [{"name": "Tiny board", "longest": 100}])
    put(desk, "store", [{"host": "apps.tidegate.example", "id_kind": "number"}])
    change(
        sheets,
        ("k1", ROW | {"placement": "tiny board"}),
        ("k2", ROW | {"page": "https://apps.tidegate.example/boats/id405111"}),
        ("k3", ROW | {"page": "https://apps.tidegate.example/boats"}),
    )
    first, second, third = sheets.read().rows
    assert codes(first) == {"too_long"}
    assert codes(second) == {"only_clicks"}
    assert codes(third) == {"only_clicks", "store_id"}


def test_the_sheet_goes_out_and_comes_back_as_csv_and_xlsx(sheets):
    odd = ROW | {"note": '=1+1 "x", y', "content": "ä b"}
    change(sheets, ("k1", odd), ("k2", ROW))
    for kind in ("csv", "xlsx"):
        content = sheets.file(kind)
        answer = sheets.ingest(f"links.{kind}", content)
        added = [r for r in answer.rows if r.key not in ("k1", "k2")]
        assert [r.cells for r in added] == [odd, ROW]
        sheets.undo()
    book = load_workbook(io.BytesIO(sheets.file("xlsx")))
    assert all(cell.data_type != "f" for row in book.active.iter_rows() for cell in row)
    with pytest.raises(FileProblem, match="no column of the sheet"):
        sheets.ingest("x.csv", b"colour,size\nred,2\n")
    with pytest.raises(FileProblem, match="XLSX"):
        sheets.ingest("x.xlsx", b"not a workbook")


def test_a_value_that_becomes_known_changes_what_is_said_of_others_and_nothing_else(sheets):
    """Known are values of two rows: a second one makes the slip beside it a slip; taken out, it is none again."""
    rows = [(f"k{i}", ROW | {"content": f"own-number-{i}"}) for i in range(5)]
    change(sheets, *rows, ("a", ROW | {"content": "humpback-dawn"}), ("c", ROW | {"content": "humpbakc-dawn"}))

    def said(sheet):
        return {row.key for row in sheet.rows if "near_miss" in codes(row)}

    assert said(sheets.read()) == set()
    fresh = change(sheets, ("b", ROW | {"content": "humpback-dawn", "source": "quorrin"}))
    assert said(sheets.read()) == {"c"}
    assert {row.key for row in fresh.rows} == {"b", "c"}
    change(sheets, ("b", None))
    assert said(sheets.read()) == set()
