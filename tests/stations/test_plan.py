"""Plan on a real PostgreSQL: every kind of record changes a figure, on the board and on the command line alike."""

from __future__ import annotations

import csv
import json
from decimal import Decimal

import pytest

from command import run
from planned_week import SITE, planned_week_files
from written import written
from yardstick.core.base.errors import SettingsError
from yardstick.core.report.breakdown import Breakdown
from yardstick.formats.plan.sections import SECTIONS
from yardstick.stations.gather.undo_loads import list_loads, undo_load
from yardstick.stations.plan.change_plan import change_general, change_records, keep_edit, read_plan, undo_plan
from yardstick.stations.plan.plan_edits import records_edit
from yardstick.stations.plan.preview_legends import preview_legend
from yardstick.stations.plan.preview_plan import (
    expected_against_came,
    level_tree,
    rehearse_channels,
    try_channel,
)
from yardstick.stations.plan.try_plan import try_edit
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.refusals import Overtaken
from yardstick.store.loading import CannotUndo

MONEY = ("value", "spend")


@pytest.fixture
def loaded(planned):
    return planned


def board(desk, by="campaign"):
    return Weighing(desk.snapshots).board(BoardQuestion(Breakdown.read(by)), 0)


def figure(desk, by, name, which, yardstick="linear"):
    """One figure of one row of the board, in whole units of money or as a count; None if there is no such row."""
    for row in board(desk, by).rows:
        if (row.values[0] or row.bucket) == name:
            found = getattr(row.under[yardstick][0], which)
            return Decimal(found).scaleb(-2) if which in MONEY and found is not None else found
    return None


def credit(desk, folder, by):
    """What the command line says of the same files under the settings written out."""
    source, out = folder / "in", folder / "out"
    source.mkdir(parents=True, exist_ok=True)
    for name, content in planned_week_files():
        if name != "settings.toml":
            (source / name).write_bytes(content)
    settings = folder / "settings.toml"
    settings.write_text(desk.settings_text())
    words = [str(source), "--out", str(out), "--settings", str(settings), "--by", by]
    done = run("credit", *words)
    assert done.returncode == 0, done.stderr
    rows = list(csv.DictReader((out / "result.csv").open()))
    return rows, json.loads((out / "summary.json").read_text())


def change(desk, section, records):
    change_records(desk, section, records, read_plan(desk).basis)


def tried_as_kept(desk, folder, section, records, moves):
    """Try a change, see that nothing is kept, keep it, and see that what is kept is what was tried (R33)."""
    weighing, edit = Weighing(desk.snapshots), records_edit(desk, section, records)
    before, basis = read_plan(desk), read_plan(desk).basis
    state = desk.snapshots.current()
    tried = try_edit(desk, weighing, edit, basis)
    assert tried.moves == moves
    assert (read_plan(desk), desk.snapshots.current()) == (before, state)
    keep_edit(desk, edit, basis, tried.state)
    kept, _ = Weighing(desk.snapshots).result(BoardQuestion(tried.trial.by))
    assert written(tried.after, folder / "tried") == written(kept, folder / "kept")
    # One and the same weighing goes on: what was tried needs no second working out.
    again = weighing.result(BoardQuestion(tried.trial.by))[0]
    assert (again is tried.after) == tried.trial.by.is_by_campaign


WHALE, CARD, NIGHT = "Spring Whale Boats", "Two-Island Year Card", "Midnight Boat"
CASES = {
    # what changes, the breakdown, the row, its figure, before, after
    "a campaign's plain name": ("campaign", [{"name": WHALE, "plain_name": "Whale season"}], "campaign", "Whale season", "value", None, "140.00"),
    "a campaign's code": ("campaign", [{"name": NIGHT, "code": "MNB-26"}], "campaign", NIGHT, "value", "33.33", "43.33"),
    "a campaign's id": ("campaign", [{"name": "Freight", "ids": ["Q-71"]}], "campaign", "Freight", "spend", None, "30.00"),
    "a voucher": ("campaign", [{"name": WHALE, "vouchers": ["WHALE26"]}], "campaign", WHALE, "value", "140.00", "190.00"),
    "a level": ("level", [{"campaign": CARD, "level": "ad", "id": "83015", "name": "Humpback at dawn"}], "ad", "Humpback at dawn", "value", None, "40.00"),
    "a goal's fixed value": ("goal", [{"name": "lead", "fixed_value": "30.00"}], "goal", "lead", "value", "0.00", "90.00"),
    "a goal's version": ("goal", [{"name": "ticket", "value": "net"}, {"name": "ticket", "value": "total", "from": "2026-03-05"}], "campaign", "untagged", "value", "128.34", "133.34"),
    "a goal's counting": ("goal", [{"name": "lead", "count": "every"}], "campaign", "Freight Fridays", "leads", 0.5, 1.0),
    "a channel rule": ("channel", [{"name": "Boat search", "when": [{"field": "source", "op": "is", "value": "quorrin"}]}], "channel", "Boat search", "value", None, "140.00"),
    "a shared rule": ("shared_channel", [{"name": "Boat search", "when": [{"field": "source", "op": "is", "value": "quorrin"}]}], "channel", "Boat search", "value", None, "140.00"),
    "a legend": ("legend", [{"source": "ostrel", "from": "2026-03-06", "term": "group"}], "group", "families_30_card", "value", None, "40.00"),
    "a legend of an extra value": ("legend", [{"source": "ostrel", "size": "placement"}], "placement", "wide", "value", None, "40.00"),
    "a rename": ("rename", [{"field": "source", "old": "quorrin", "new": "Quorrin search", "from": "2026-03-05"}], "source", "Quorrin search", "value", None, "66.66"),
    "a merge": ("rename", [{"field": "campaign", "old": NIGHT, "new": WHALE}], "campaign", WHALE, "value", "140.00", "173.33"),
    "a naming pattern": ("naming", [{"field": "term", "separator": "_", "parts": [{"name": "audience"}, {"name": "age"}, {"name": "offer"}]}], "extra:audience", "families", "value", None, "40.00"),
    "a landing page": ("landing_page", [{"name": "Cards", "address": f"{SITE}/card", "variants": [{"name": "night", "address": f"{SITE}/night"}]}], "landing_page", "Cards: night", "value", None, "33.33"),
    "another cost": ("other_cost", [{"campaign": "Freight Fridays", "kind": "fee", "cost": "10.00", "from": "2026-03-07", "to": "2026-03-09"}], "campaign", "Freight Fridays", "spend", "30.00", "36.67"),
    "a price per click": ("click_price", [{"campaign": NIGHT, "source": "ellivane", "price": "0.35"}], "campaign", NIGHT, "spend", "0.00", "0.35"),
    "a platform": ("platform", [{"name": "Quorrin", "source": "elsewhere"}], "source", "elsewhere", "spend", None, "142.00"),
    "a yardstick": ("yardstick", [{"name": "linear", "rule": "custom", "middle": "0", "last": "0", "channel": [{"channel": "Email", "weight": "0"}]}], "campaign", WHALE, "value", "140.00", "220.00"),
    "a quarantine rule": ("quarantine", [{"when": [{"field": "conversion_id", "op": "is", "value": ["O1"]}]}], "goal", "ticket", "value", "512.57", "392.57"),
    "a record put back": ("record", [{"table": "conversions", "id": "o7", "state": "counted"}], "goal", "ticket", "value", "512.57", "1511.57"),
    "a separation": ("separate", [{"first": "lead_id:l1", "second": "visitor_id:C"}], "campaign", CARD, "value", "170.90", "80.00"),
    "a dialect": ("dialect", [{"platform": "Harnock", "opens": "!!", "closes": "!!"}], "campaign", "!!name!!", "value", "30.00", None),
}  # fmt: skip
CALLED_OTHERWISE = {"a campaign's plain name", "a campaign's id", "a level", "a naming pattern"}
"""What calls a row otherwise, or offers a breakdown more, moves no figure."""
NO_FIGURE = {
    "status",
    "allowed",
    "place",
    "store",
    "preset",
    "pattern",
    "own_slot",
    "sender",
    "source",
    "record_list",
    "matter",
}
"""Sections whose records change a finding, not a figure; tested on their own."""


def test_every_section_of_the_plan_is_in_the_cases():
    assert {case[0] for case in CASES.values()} | NO_FIGURE == set(SECTIONS)


@pytest.mark.parametrize("name", CASES)
def test_every_record_changes_a_figure_and_an_undo_brings_the_old_fingerprint(loaded, tmp_path, name):
    section, records, by, row, which, before, after = CASES[name]
    if by.startswith("extra:"):
        with pytest.raises(SettingsError, match="audience"):
            board(loaded, by)
        old = None
    else:
        if "extra value" in name:
            change_general(loaded, {"extra_values": ["size"]}, read_plan(loaded).basis)
        old = board(loaded, by).fingerprint
        assert figure(loaded, by, row, which) == (None if before is None else Decimal(str(before)))
    tried_as_kept(loaded, tmp_path, section, records, name not in CALLED_OTHERWISE)
    now = figure(loaded, by, row, which)
    assert now == (None if after is None else Decimal(str(after)))
    changed = board(loaded, by)
    assert changed.fingerprint != old
    rows, summary = credit(loaded, tmp_path, by)
    assert summary["fingerprint"] == changed.fingerprint
    said = [r[which] for r in rows if r["yardstick"] == "linear" and (r[by] or r["bucket"]) == row]
    assert [Decimal(v) for v in said] == ([] if after is None else [Decimal(str(after))])
    undo_plan(loaded)
    if old is not None:
        assert board(loaded, by).fingerprint == old
        assert figure(loaded, by, row, which) == (None if before is None else Decimal(str(before)))


def test_allowed_words_are_a_finding_on_the_board_and_on_the_command_line(loaded, tmp_path):
    assert "not_allowed" not in board(loaded).findings
    change(loaded, "allowed", [{"field": "source", "words": ["quorrin", "ostrel", "ellivane"]}])
    assert board(loaded).findings["not_allowed"] == 1  # harnock, said once
    assert credit(loaded, tmp_path, "campaign")[1]["findings"]["not_allowed"] == 1
    undo_plan(loaded)
    assert "not_allowed" not in board(loaded).findings


def test_a_rename_restates_the_day_it_begins_and_after_but_not_the_day_before(loaded):
    change(loaded, "rename", [{"field": "campaign", "old": WHALE, "new": "Whales", "from": "2026-03-05"}])
    named = {
        (r.by[0], r.by[1])
        for r in Weighing(loaded.snapshots).result(BoardQuestion(Breakdown(("campaign", "week"))))[0].rows
    }
    assert (WHALE, "2026-W10") in named
    assert ("Whales", "2026-W10") in named
    # Touches v01 and v05 came on the 2nd, v07 on the 5th, v14 on the 7th.
    assert figure(loaded, "campaign", WHALE, "touches") == 2
    assert figure(loaded, "campaign", "Whales", "touches") == 2
    assert figure(loaded, "campaign", WHALE, "spend") == Decimal("60.00")
    assert figure(loaded, "campaign", "Whales", "spend") == Decimal("40.00")


def test_renames_follow_each_other_and_a_circle_is_refused(loaded):
    chain = [{"field": "campaign", "old": WHALE, "new": "B"}, {"field": "campaign", "old": "B", "new": "C"}]
    change(loaded, "rename", chain)
    assert figure(loaded, "campaign", "C", "value") == Decimal("140.00")
    with pytest.raises(SettingsError, match="circle"):
        change(loaded, "rename", [*chain, {"field": "campaign", "old": "C", "new": WHALE}])
    assert figure(loaded, "campaign", "C", "value") == Decimal("140.00")


@pytest.mark.parametrize(
    ("section", "records", "said"),
    [
        ("campaign", [{"name": "A"}, {"name": " a "}], "appears twice"),
        ("campaign", [{"name": "A", "vouchers": ["X"]}, {"name": "B", "vouchers": ["x"]}], "voucher code"),
        ("campaign", [{"name": "A", "starts": "2026-03-02", "ends": "2026-03-01"}], "ends before it starts"),
        ("campaign", [{"name": "A", "bugdet": "3"}], "bugdet"),
        ("campaign", [{"name": "A", "budget": "three"}], "budget"),
        ("legend", [{"source": "a", "term": "ad"}, {"source": "A", "content": "ad"}], "begin on one day"),
        ("legend", [{"source": "a", "term": "group", "content": "group"}], "both the group"),
        ("legend", [{"source": "a", "term": "colour"}], "unknown role"),
        ("goal", [{"name": "x", "kind": "lead"}, {"name": "x", "from": "2026-01-01", "kind": "sale"}], "choose one"),
        ("goal", [{"name": "x", "yardstick": "ruler"}], "ruler"),
        ("channel", [{"name": "x", "when": [{"field": "source", "op": "matches", "value": "("}]}], "cannot be read"),
        ("other_cost", [{"campaign": "x", "cost": "1", "from": "2026-03-02", "to": "2026-03-01"}], "swap"),
        ("landing_page", [{"name": "a", "address": "/x"}, {"name": "b", "address": "/x/"}], "address"),
        ("nonsense", [], "no section"),
    ],
)
def test_a_wrong_record_is_refused_with_what_and_where_and_nothing_is_kept(loaded, section, records, said):
    before = loaded.settings_text()
    with pytest.raises(SettingsError, match=said):
        change(loaded, section, records)
    assert loaded.settings_text() == before


def test_two_windows_cannot_overwrite_each_other(loaded):
    basis = read_plan(loaded).basis
    change_records(loaded, "allowed", [{"field": "medium", "words": ["cpc"]}], basis)
    with pytest.raises(Overtaken):
        change_records(loaded, "allowed", [], basis)
    # What was changed and changed back is what the other window saw; edits of another list stay.
    undo_plan(loaded)
    change_records(loaded, "rename", [{"field": "source", "old": "a", "new": "b"}], read_plan(loaded).basis)
    change_records(loaded, "allowed", [{"field": "medium", "words": ["qr"]}], basis)
    plan = read_plan(loaded)
    assert (len(plan.sections["rename"]), plan.sections["allowed"][0]["words"]) == (1, ["qr"])


def test_a_settings_file_and_edits_are_undone_one_after_the_other(loaded):
    change(loaded, "allowed", [{"field": "medium", "words": ["cpc"]}])
    file = next(load for load in list_loads(loaded) if load.subject == "settings")
    assert not file.can_undo
    with pytest.raises(CannotUndo, match="allowed changed"):
        undo_load(loaded, file.id)
    undo_plan(loaded)
    assert [step.undone for step in read_plan(loaded).steps] == [True, False]
    undo_plan(loaded)
    assert loaded.settings_text() == ""
    with pytest.raises(CannotUndo):
        undo_plan(loaded)


def test_a_locked_expectation_stays_and_is_set_against_what_came(loaded):
    campaign = {"name": WHALE, "starts": "2026-03-06", "expected_value": "100.00", "locked_on": "2026-02-20"}
    change(loaded, "campaign", [campaign])
    with pytest.raises(SettingsError, match="locked on 2026-02-20: expected_value"):
        change(loaded, "campaign", [campaign | {"expected_value": "50.00"}])
    result, chosen = Weighing(loaded.snapshots).result(BoardQuestion(Breakdown(("campaign", "day"))))
    came = expected_against_came(result.rows, loaded.plan(), chosen)
    # o2 on the 6th and o6 on the 8th, not o1 on the 4th.
    assert [(c.name, c.value, c.spend) for c in came] == [(WHALE, 6667 + 3333, 0)]


def test_a_channel_rule_can_be_tried_and_its_visits_counted_before_it_is_kept(loaded):
    url = f"{SITE}/?utm_source=quorrin&utm_medium=cpc"
    assert try_channel(loaded, url, "", None).channel == "Paid search"
    rules = [{"name": "Boat search", "when": [{"field": "source", "op": "is", "value": "quorrin"}]}]
    tried = try_channel(loaded, url, "", rules)
    assert (tried.channel, tried.why) == ("Boat search", "own rule 1: Boat search")
    counts = {(c.why, c.channel): (c.before, c.after) for c in rehearse_channels(loaded, rules)}
    assert counts["own rule 1: Boat search", "Boat search"] == (0, 8)
    assert counts["built-in rule: medium cpc", "Paid search"] == (8, 0)
    assert try_channel(loaded, url, "", None).channel == "Paid search"
    with pytest.raises(SettingsError, match="not an address"):
        try_channel(loaded, "lunnick", "", None)


def test_a_legend_is_previewed_on_its_source_and_the_tree_shows_spend_files(loaded):
    preview = preview_legend(loaded, {"source": "Ostrel", "from": "2026-03-06", "term": "group"})
    fields = {f.field: f for f in preview.fields}
    assert preview.visits == 1
    assert (fields["term"].before, fields["term"].after) == ("keyword", "group")
    assert [(v.value, v.visits) for v in fields["term"].values] == [("families_30_card", 1)]
    tree = level_tree(loaded)
    assert ("Quorrin", "q-main", WHALE, "campaign", "q-70", 2) in {
        (b.platform, b.account, b.campaign, b.level, b.id, b.days) for b in tree
    }


def test_a_legend_that_contradicts_what_is_known_says_with_which_values(loaded):
    change(
        loaded,
        "level",
        [
            {"campaign": CARD, "level": "keyword", "id": "families_30_card", "name": "Families"},
            {"campaign": CARD, "level": "ad", "id": "83015", "name": "Deck"},
        ],
    )

    def conflicts(**roles):
        return {f.field: f.conflicts for f in preview_legend(loaded, {"source": "ostrel", **roles}).fields}

    assert conflicts(term="group")["term"] == [
        "1 visit carries what is known as keyword, not as group: families_30_card"
    ]
    assert not any(conflicts(term="keyword", content="ad").values())
    assert conflicts(term="group", content="placement")["content"] == [
        "1 visit carries what is known as ad, not as placement: 83015"
    ]
    # A campaign of a spend file in the place of an ad.
    assert (
        "known as campaign, not as ad: Two-Island Year Card"
        in conflicts(campaign="ad", content="campaign")["campaign"][0]
    )
    with pytest.raises(SettingsError, match="both the ad"):
        conflicts(term="ad", content="ad")


def test_hidden_channels_are_put_together_and_nothing_is_lost(loaded):
    before = board(loaded, "channel")
    change_general(
        loaded, {"hidden_channels": ["Email", "Direct"], "channel_order": ["Video"]}, read_plan(loaded).basis
    )
    after = board(loaded, "channel")
    names = [r.values[0] for r in after.rows if r.bucket == "named"]
    assert names[0] == "Video"
    assert "Other channels" in names
    assert not {"Email", "Direct"} & set(names)
    assert after.total.under["linear"][0].value == before.total.under["linear"][0].value


def test_every_field_says_what_goes_in_it_and_shows_an_example(desk):
    def look(where, fields):
        for field in fields:
            assert field.text.endswith("."), (where, field.name)
            if field.kind in ("records", "group"):
                look(f"{where} {field.name}", field.fields)
            else:
                assert field.example, (where, field.name)

    plan = read_plan(desk)
    assert set(plan.fields) == {"", *SECTIONS}
    for section, fields in plan.fields.items():
        look(section, fields)
