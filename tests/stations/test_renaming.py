"""Renames of the plan: who refers by name follows, addresses outside still find it, no figure moves, one undo."""

from __future__ import annotations

import pytest

from ground import say_ground
from stations.copies import Copies
from yardstick.core.base.errors import SettingsError
from yardstick.core.report.breakdown import Breakdown
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.plan.change_plan import change_general, change_records, read_plan, undo_plan
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.store.links import RowChange

PAGE = "https://www.lunnick.example/boats"
CAMPAIGN = {"name": "Whale Boats", "code": "wb-26", "goal": "ticket"}
PLAN = {
    "campaign": [CAMPAIGN, {"name": "Year Card"}],
    "landing_page": [{"name": "Boats", "address": PAGE}],
    "goal": [
        {"name": "ticket", "kind": "sale", "count": "every", "fixed_value": "30.00"},
        {"name": "ticket", "kind": "sale", "count": "one", "fixed_value": "40.00", "from": "2026-03-05"},
        {"name": "lead", "kind": "lead", "good_goal": "ticket"},
    ],
    "level": [{"campaign": "Whale Boats", "level": "ad", "id": "83015", "name": "Humpback"}],
    "other_cost": [
        {"campaign": "whale boats", "kind": "fee", "cost": "90.00", "from": "2026-03-01", "to": "2026-03-03"}
    ],
    "click_price": [{"campaign": "wb-26", "price": "0.35"}],
    "rename": [{"field": "campaign", "old": "wale boats", "new": "Whale Boats"}],
    "place": [{"name": "Feed", "campaign": "Whale Boats", "page": "Boats"}],
    "preset": [{"name": "Usual", "campaign": "Whale Boats", "placement": "Feed"}],
    "pattern": [{"platform": "Quorrin", "level": "campaign", "name": "Whale Boats", "content": "x"}],
    "own_slot": [
        {"platform": "Quorrin", "level": "ad", "name": "Humpback", "slot": "offer", "value": "half"},
    ],
}
FILES = [
    (
        "visits.csv",
        "visit_id,occurred_at,visitor_id,url\n"
        f"v1,2026-03-02T10:00:00Z,p,{PAGE}?utm_source=quorrin&utm_medium=cpc&utm_campaign=Whale+Boats\n"
        f"v2,2026-03-06T10:00:00Z,q,{PAGE}?utm_source=quorrin&utm_medium=cpc&utm_campaign=wb-26&utm_content=Humpback\n",
    ),
    (
        "conversions.csv",
        "conversion_id,occurred_at,visitor_id,goal,total\n"
        "o1,2026-03-02T12:00:00Z,p,ticket,30.00\n"
        "o2,2026-03-06T12:00:00Z,q,ticket,30.00\n",
    ),
    (
        "spend.csv",
        "day,platform,account,campaign,ad,cost\n2026-03-02,Quorrin,q,Whale Boats,Humpback,12.34\n",
    ),
]


def fill(desk):
    """The plan, its rows, two links."""
    say_ground(desk)
    for section, records in PLAN.items():
        put(desk, section, records)
    keep_now(desk, [(name, text.encode()) for name, text in FILES])
    sheets = Sheets(desk)
    row = {"page": "Boats", "campaign": "Whale Boats", "source": "quorrin", "medium": "cpc", "placement": "Feed"}
    changes = [RowChange("k1", {**row, "content": "a"}), RowChange("k2", {**row, "campaign": "wb-26", "content": "b"})]
    sheets.change(changes, sheets.read().basis, "made")


@pytest.fixture(scope="module")
def copies(databases, tmp_path_factory):
    return Copies(databases, tmp_path_factory.mktemp("renaming"), fill)


@pytest.fixture
def desk(copies, tmp_path):
    made = copies.copy(tmp_path / "home")
    yield made
    made.engine.dispose()


@pytest.fixture
def sheets(desk):
    return Sheets(desk)


def put(desk, section, records, was=None):
    change_records(desk, section, records, read_plan(desk).basis, was=was)


def renamed(desk, section, place, **fields):
    records = read_plan(desk).sections[section]
    old = records[place]
    records[place] = {**old, **fields}
    name = next(iter(old)) if section != "level" else "name"
    name = "name" if "name" in old else name
    put(desk, section, records, {records[place][name]: old[name]})


def cells(sheets, column):
    return [row.cells.get(column, "") for row in sheets.read().rows]


def sections(desk):
    return read_plan(desk).sections


def figures(desk, by):
    """The board's figures, by what its rows are named."""
    result, _ = Weighing(desk.snapshots).result(BoardQuestion(Breakdown((by,))))
    return {(row.yardstick, *row.by): row.sums for row in result.rows if row.bucket == "named"}


def worth(desk):
    return figures(desk, "campaign")[("linear", "Whale Boats")].value


def test_all_that_names_a_campaign_follows_in_one_change_with_its_counts(desk, sheets):
    renamed(desk, "campaign", 0, name="Season Opener")
    now = sections(desk)
    assert now["level"][0]["campaign"] == "Season Opener"
    assert now["other_cost"][0]["campaign"] == "Season Opener"
    assert now["click_price"][0]["campaign"] == "wb-26", "the code is still its own"
    assert (now["place"][0]["campaign"], now["preset"][0]["campaign"]) == ("Season Opener", "Season Opener")
    assert now["pattern"][0]["name"] == "Season Opener"
    assert now["rename"] == [
        {"field": "campaign", "old": "wale boats", "new": "Season Opener"},
        {"field": "campaign", "old": "Whale Boats", "new": "Season Opener"},
    ]
    assert cells(sheets, "campaign") == ["Season Opener", "wb-26"]
    said = read_plan(desk).steps[0].what
    assert said == (
        "Whale Boats renamed Season Opener: 1 level, 1 link, 1 other cost, 1 pattern, 1 place, 1 preset, 1 rename with it"
    )


def test_a_rename_moves_no_figure(desk, sheets):
    before = {by: figures(desk, by) for by in ("campaign", "ad", "goal")}
    assert worth(desk) == 7000
    renamed(desk, "campaign", 0, name="Season Opener")
    renamed(desk, "level", 0, name="Humpback at dawn")
    renamed(desk, "goal", 0, name="boat ticket")

    def called(names):
        now = {"Whale Boats": "Season Opener", "Humpback": "Humpback at dawn", "ticket": "boat ticket"}
        return tuple(now.get(name, name) for name in names)

    for by, rows in before.items():
        assert figures(desk, by) == {called(names): row for names, row in rows.items()}, by


def test_one_undo_takes_all_of_it_back(desk, sheets):
    before, was = sections(desk), cells(sheets, "campaign")
    renamed(desk, "campaign", 0, name="Season Opener")
    undo_plan(desk)
    assert (sections(desk), cells(sheets, "campaign")) == (before, was)


def test_edits_of_the_sheet_since_a_rename_stay_when_it_is_undone(desk, sheets):
    renamed(desk, "campaign", 0, name="Season Opener")
    sheets.change([RowChange("k1", {"note": "for the pier"})], sheets.read().basis, "noted")
    undo_plan(desk)
    assert (cells(sheets, "campaign"), cells(sheets, "note")) == (["Whale Boats", "wb-26"], ["for the pier", ""])
    renamed(desk, "campaign", 0, name="Season Opener")
    sheets.change([RowChange("k1", {"campaign": "Year Card"})], sheets.read().basis, "another")
    undo_plan(desk)
    assert cells(sheets, "campaign") == ["Year Card", "wb-26"]


def test_a_code_that_changes_takes_links_and_prices_along(desk, sheets):
    renamed(desk, "campaign", 0, code="so-26")
    assert cells(sheets, "campaign") == ["Whale Boats", "so-26"]
    now = sections(desk)
    assert now["click_price"][0]["campaign"] == "so-26"
    assert {"field": "campaign", "old": "wb-26", "new": "Whale Boats"} in now["rename"]
    assert worth(desk) == 7000


def test_back_and_forth_leaves_no_circle(desk, sheets):
    for name in ("Season Opener", "Whale Boats", "Season Opener", "Whale Boats"):
        renamed(desk, "campaign", 0, name=name)
    assert worth(desk) == 7000
    assert cells(sheets, "campaign") == ["Whale Boats", "wb-26"]


def test_pages_places_goals_levels_and_yardsticks_take_along_who_names_them(desk, sheets):
    renamed(desk, "landing_page", 0, name="Whale boats page")
    assert cells(sheets, "page") == ["Whale boats page"] * 2
    assert sections(desk)["place"][0]["page"] == "Whale boats page"
    renamed(desk, "place", 0, name="Feed, first")
    assert cells(sheets, "placement") == ["Feed, first"] * 2
    assert sections(desk)["preset"][0]["placement"] == "Feed, first"
    renamed(desk, "goal", 0, name="boat ticket")
    goals = sections(desk)["goal"]
    assert [g["name"] for g in goals] == ["boat ticket", "boat ticket", "lead"]
    assert (goals[2]["good_goal"], sections(desk)["campaign"][0]["goal"]) == ("boat ticket", "boat ticket")
    renamed(desk, "level", 0, name="Humpback at dawn")
    assert sections(desk)["own_slot"][0]["name"] == "Humpback at dawn"
    assert {"field": "ad", "old": "Humpback", "new": "Humpback at dawn"} in sections(desk)["rename"]
    put(desk, "yardstick", [{"name": "half", "rule": "decay"}, {"name": "last", "rule": "last"}])
    change_general(desk, {"panel": ["half"]}, read_plan(desk).basis)
    renamed(desk, "yardstick", 0, name="halves")
    assert read_plan(desk).general["panel"] == ["halves"]


def test_a_name_that_another_record_keeps_is_still_that_ones(desk, sheets):
    levels = [*PLAN["level"], {"campaign": "Year Card", "level": "ad", "name": "Humpback"}]
    put(desk, "level", levels)
    renamed(desk, "level", 0, name="Humpback at dawn")
    assert sections(desk)["own_slot"][0]["name"] == "Humpback"
    assert [r["old"] for r in sections(desk)["rename"]] == ["wale boats"]


def test_a_record_in_anothers_place_is_no_rename_unless_somebody_says_so(desk, sheets):
    put(desk, "campaign", [{"name": "Freight Fridays", "code": "ff"}, {"name": "Year Card"}])
    assert cells(sheets, "campaign") == ["Whale Boats", "wb-26"]
    put(desk, "campaign", [CAMPAIGN, {"name": "Year Card"}])
    put(desk, "campaign", [CAMPAIGN, {"name": "Island Card"}])
    assert sections(desk)["rename"][-1] == {"field": "campaign", "old": "Year Card", "new": "Island Card"}
    put(desk, "campaign", [{"name": "Island Card"}, CAMPAIGN])
    assert cells(sheets, "campaign") == ["Whale Boats", "wb-26"]


def test_a_locked_expectation_stays_locked_under_another_name(desk, sheets):
    locked = {**CAMPAIGN, "expected_value": "900.00", "locked_on": "2026-03-01"}
    put(desk, "campaign", [locked, {"name": "Year Card"}])
    with pytest.raises(SettingsError, match="locked on 2026-03-01"):
        renamed(desk, "campaign", 0, name="Season Opener", expected_value="90.00")
    renamed(desk, "campaign", 0, name="Season Opener")
    assert sections(desk)["campaign"][0]["expected_value"] == "900.00"


def test_a_rename_that_somebody_wrote_stays_and_a_name_that_is_another_ones_is_refused(desk, sheets):
    """A merge of two campaigns is not undone by a code, nor does one campaign's old name become another's."""
    merged = [*sections(desk)["rename"], {"field": "campaign", "old": "Year Card", "new": "Whale Boats"}]
    put(desk, "rename", merged)
    renamed(desk, "campaign", 1, code="yc-25")
    renamed(desk, "campaign", 1, code="yc-26")
    assert sections(desk)["rename"] == [*merged, {"field": "campaign", "old": "yc-25", "new": "Year Card"}]
    put(desk, "rename", merged[:-1])
    renamed(desk, "campaign", 0, name="Season Opener")
    before = sections(desk)
    with pytest.raises(SettingsError, match="'Whale Boats' is another name of 'Season Opener'"):
        renamed(desk, "campaign", 1, name="Whale Boats")
    assert sections(desk) == before


def test_a_level_goes_back_and_forth_without_a_circle(desk, sheets):
    for name in ("Dawn", "Humpback", "Dawn", "Humpback"):
        renamed(desk, "level", 0, name=name)
    assert [r for r in sections(desk)["rename"] if r["field"] == "ad"] == [
        {"field": "ad", "old": "Dawn", "new": "Humpback"}
    ]
