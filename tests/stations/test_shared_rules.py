"""Channel rules shared between workspaces on a real PostgreSQL: each keeps its copy until it takes another over."""

from __future__ import annotations

import pytest

from planned_week import planned_week_files
from yardstick.core.base.errors import SettingsError
from yardstick.core.report.breakdown import Breakdown
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.plan.change_plan import change_records, read_plan, undo_plan
from yardstick.stations.plan.preview_plan import rehearse_channels, try_channel
from yardstick.stations.plan.share_rules import read_shared, share_rules, take_over, withdraw_rules
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.stations.workspace.refusals import Overtaken


def rule(name, source):
    return {"name": name, "when": [{"field": "source", "op": "is", "value": source}]}


BOATS, NIGHTS = rule("Boat search", "quorrin"), rule("Night film", "harnock")


@pytest.fixture
def north(planned):
    return planned


@pytest.fixture
def south(north, tmp_path):
    other = Desk(north.engine, tmp_path / "home", "south")
    keep_now(other, planned_week_files())
    return other


def put(desk, *records, section="shared_channel"):
    change_records(desk, section, records, read_plan(desk).basis)


def channels(desk):
    return {
        r.values[0]
        for r in Weighing(desk.snapshots).board(BoardQuestion(Breakdown(("channel",))), 0).rows
        if r.values[0]
    }


def fingerprint(desk):
    return Weighing(desk.snapshots).board(BoardQuestion(Breakdown(("channel",))), 0).fingerprint


def test_before_anything_is_shared_there_is_nothing_to_take_over(north):
    shared = read_shared(north)
    assert (shared.version, shared.records, shared.same) == (0, [], True)
    put(north, BOATS)
    assert not read_shared(north).same
    assert read_shared(north).only_here == ["Boat search"]


def test_what_one_workspace_shares_another_takes_over_with_an_undo(north, south):
    put(north, BOATS, NIGHTS)
    share_rules(north, 0)
    before = fingerprint(south)
    seen = read_shared(south)
    assert (seen.by, seen.mine, seen.same, seen.only_shared) == ("test", False, False, ["Boat search", "Night film"])
    assert "Boat search" not in channels(south)  # nobody else's change moves its figures
    assert fingerprint(south) == before
    take_over(south, seen.version, read_plan(south).basis)
    assert {"Boat search", "Night film"} <= channels(south)
    assert read_shared(south).same
    assert south.settings_text().count("[[shared_channel]]") == 2
    undo_plan(south)
    assert fingerprint(south) == before


def test_a_changed_list_reaches_the_other_workspace_only_when_it_takes_it_over(north, south):
    put(north, BOATS)
    share_rules(north, 0)
    take_over(south, read_shared(south).version, read_plan(south).basis)
    held = fingerprint(south)
    put(north, NIGHTS, BOATS)
    share_rules(north, read_shared(north).version)
    assert fingerprint(south) == held
    assert read_shared(south).only_shared == ["Night film"]
    put(north, BOATS, NIGHTS)  # the order alone
    share_rules(north, read_shared(north).version)
    take_over(south, read_shared(south).version, read_plan(south).basis)
    assert read_shared(south).same
    put(south, NIGHTS, BOATS)
    assert (read_shared(south).same, read_shared(south).only_here, read_shared(south).only_shared) == (False, [], [])


def test_own_rules_come_first_then_shared_then_built_in(north):
    put(north, BOATS, NIGHTS)
    put(north, rule("Mine", "quorrin"), section="channel")
    url = "https://www.lunnick.example/?utm_source={}&utm_medium=cpc"
    assert try_channel(north, url.format("quorrin"), "", None).why == "own rule 1: Mine"
    assert try_channel(north, url.format("harnock"), "", None).why == "shared rule 2: Night film"
    assert try_channel(north, url.format("ostrel"), "", None).why == "built-in rule: medium cpc"
    tried = try_channel(north, url.format("harnock"), "", [NIGHTS], "shared_channel")
    assert tried.why == "shared rule 1: Night film"
    counts = {c.why: (c.before, c.after) for c in rehearse_channels(north, [BOATS], "shared_channel")}
    assert counts["shared rule 2: Night film"][0] > 0
    assert counts["shared rule 2: Night film"][1] == 0
    assert counts["own rule 1: Mine"][0] == counts["own rule 1: Mine"][1] > 0


def test_a_shared_list_is_taken_back_and_the_one_before_it_stands(north, south):
    put(north, BOATS)
    share_rules(north, 0)
    first = read_shared(north)
    put(south, NIGHTS)
    share_rules(south, first.version)
    assert read_shared(north).by == "south"
    with pytest.raises(SettingsError, match="only the workspace that shared"):
        withdraw_rules(north, read_shared(north).version)
    withdraw_rules(south, read_shared(south).version)
    assert read_shared(south).records == first.records
    withdraw_rules(north, first.version)
    assert read_shared(north).version == 0


def test_a_list_shared_in_the_meantime_is_not_run_over(north, south):
    put(north, BOATS)
    put(south, NIGHTS)
    share_rules(north, 0)
    with pytest.raises(Overtaken, match="in the meantime"):
        share_rules(south, 0)
    with pytest.raises(Overtaken, match="in the meantime"):
        take_over(south, 0, read_plan(south).basis)
    with pytest.raises(Overtaken, match="in the meantime"):
        withdraw_rules(north, 0)
    assert read_shared(south).records == [BOATS]
    assert read_plan(south).sections["shared_channel"] == [NIGHTS]


def test_a_wrong_shared_rule_is_named_as_one(north):
    with pytest.raises(SettingsError, match="shared channel rule 'Boats': unknown operator 'sounds like'"):
        put(north, {"name": "Boats", "when": [{"field": "source", "op": "sounds like", "value": "x"}]})
