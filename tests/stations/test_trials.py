"""Edits of the plan tried on a real PostgreSQL: what is kept is what was tried, and trying keeps nothing (R33)."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import text

from effort import examples
from stations.test_plan import CASES, NO_FIGURE
from written import written
from yardstick.core.base.errors import SettingsError
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.plan.change_plan import change_general, change_records, keep_edit, read_plan, undo_plan
from yardstick.stations.plan.plan_edits import PlanEdit, general_edit, records_edit
from yardstick.stations.plan.try_plan import try_edit
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.refusals import Overtaken
from yardstick.store.links import RowChange

NIGHT, FREIGHT = "Midnight Boat", "Freight Fridays"
FEE = {"campaign": FREIGHT, "kind": "fee", "cost": "10.00", "from": "2026-03-07", "to": "2026-03-09"}


def attempt(desk, edit, basis=None):
    return try_edit(desk, Weighing(desk.snapshots), edit, read_plan(desk).basis if basis is None else basis)


def everything(desk):
    """All that stands in the database and on disk of a workspace, but for numbers that are drawn."""
    with desk.engine.connect() as connection:
        tables = connection.execute(text("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1"))
        counts = [(name, connection.execute(text(f"SELECT count(*) FROM {name}")).scalar()) for (name,) in tables]
    return counts, read_plan(desk), desk.snapshots.current()


def kept(desk, folder):
    return written(Weighing(desk.snapshots).result(BoardQuestion())[0], folder)


def test_nothing_is_kept_by_trying(planned):
    before = everything(planned)
    assert attempt(planned, records_edit(planned, "other_cost", [FEE])).trial.spend == 667
    assert everything(planned) == before


@pytest.mark.parametrize(
    "values",
    [
        {"time_zone": "America/Los_Angeles"},
        {"home_currency": "NZD"},
        {"session_gap_minutes": "0"},
        {"direct": "yield"},
        {"fold": False},
        {"margin": "0.31"},
    ],
    ids=str,
)
def test_a_setting_is_kept_as_it_was_tried(planned, tmp_path, values):
    edit, basis = general_edit(values), read_plan(planned).basis
    tried = attempt(planned, edit)
    assert tried.moves
    keep_edit(planned, edit, basis, tried.state)
    result, _ = Weighing(planned.snapshots).result(BoardQuestion(tried.trial.by))
    assert written(result, tmp_path / "kept") == written(tried.after, tmp_path / "tried")
    undo_plan(planned)
    result, _ = Weighing(planned.snapshots).result(BoardQuestion(tried.trial.by))
    assert written(result, tmp_path / "undone") == written(tried.before, tmp_path / "before")


@pytest.mark.parametrize("section", sorted(NO_FIGURE - {"status", "allowed"}))
def test_what_no_figure_depends_on_is_not_even_worked_out(planned, section):
    records: list[dict[str, str]] = {
        "place": [{"name": "Feed"}],
        "store": [{"host": "apps.tidegate.example"}],
        "preset": [{"name": "Usual"}],
        "pattern": [{"platform": "Quorrin", "level": "account", "content": "x"}],
        "own_slot": [{"platform": "Quorrin", "level": "ad", "name": "83015", "slot": "offer", "value": "half"}],
        "sender": [{"name": "Ellivane", "kind": "series"}],
        "source": [{"name": "Shop", "table": "conversions"}],
        "record_list": [{"name": "Lost", "asked": "by=status"}],
        "matter": [{"kind": "spend_alone", "object": "Freight Fridays", "accepted_reason": "begins in May"}],
    }[section]
    tried = attempt(planned, records_edit(planned, section, records))
    assert (tried.moves, tried.trial) == (False, None)


def test_before_the_first_load_nothing_moves(desk):
    tried = attempt(desk, records_edit(desk, "campaign", [{"name": NIGHT}]))
    assert not tried.moves
    keep_edit(desk, records_edit(desk, "campaign", [{"name": NIGHT}]), read_plan(desk).basis, tried.state)
    assert read_plan(desk).sections["campaign"] == [{"name": NIGHT}]


def test_what_keeping_refuses_trying_refuses_with_the_same_words(planned):
    edit = records_edit(planned, "campaign", [{"name": "A"}, {"name": " a "}])
    said = []
    for work in (lambda: attempt(planned, edit), lambda: keep_edit(planned, edit, read_plan(planned).basis)):
        with pytest.raises(SettingsError) as refused:
            work()
        said.append(str(refused.value))
    assert said[0] == said[1]


def test_of_two_windows_the_second_tries_again_where_something_else_changed(planned):
    edit, basis = records_edit(planned, "other_cost", [FEE], merges=True), read_plan(planned).basis
    tried = attempt(planned, edit)
    change_records(planned, "rename", [{"field": "campaign", "old": NIGHT, "new": FREIGHT}], basis)
    with pytest.raises(Overtaken, match=r"nothing was saved\. Try it again"):
        keep_edit(planned, edit, basis, tried.state)
    assert read_plan(planned).sections["other_cost"] == []
    again = attempt(planned, edit, basis)
    keep_edit(planned, edit, basis, again.state)
    assert read_plan(planned).sections["other_cost"] == [FEE]


def test_rows_that_came_meanwhile_are_no_trial_of_this_edit(planned):
    edit, basis = records_edit(planned, "other_cost", [FEE]), read_plan(planned).basis
    tried = attempt(planned, edit)
    more = "day,platform,account,campaign,cost,currency\n2026-03-07,Harnock,h,Night films,5.00,AUD\n"
    keep_now(planned, [("more.csv", more.encode())])
    with pytest.raises(Overtaken):
        keep_edit(planned, edit, basis, tried.state)


def test_a_change_of_channels_is_shown_by_channel(planned):
    rule = {"name": "Boat search", "when": [{"field": "campaign", "op": "is", "value": "Spring Whale Boats"}]}
    trial = attempt(planned, records_edit(planned, "channel", [rule])).trial
    assert str(trial.by) == "channel"
    assert {row.shown[1][0] for row in trial.rows if row.place is None} == {"Boat search"}
    assert trial.value == 14000  # all of Spring Whale Boats, under linear


def test_a_renamed_campaign_takes_the_prices_of_its_links_along_on_trial(planned, tmp_path):
    """A price stands on a link of the campaign; after the rename the link names it by its new name."""
    change_records(planned, "campaign", [{"name": NIGHT}], read_plan(planned).basis)
    cells = {"page": "https://www.lunnick.example/night", "campaign": NIGHT, "source": "ellivane", "price": "0.35"}
    sheets = Sheets(planned)
    sheets.change([RowChange("k", cells | {"medium": "email"})], sheets.read().basis, "a link")
    edit = records_edit(planned, "campaign", [{"name": "Night Boat"}], was={"Night Boat": NIGHT})
    basis = read_plan(planned).basis
    tried = attempt(planned, edit)
    # No amount moves; what is left over in rounding may, by the order of names.
    assert not tried.trial.amounts
    assert [after[1] for _, after in tried.trial.renamed] == [("Night Boat",)]
    keep_edit(planned, edit, basis, tried.state)
    assert kept(planned, tmp_path / "kept") == written(tried.after, tmp_path / "tried")
    assert sheets.read().rows[0].cells["campaign"] == "Night Boat"


PRICED = {"page": "https://www.lunnick.example/night", "campaign": NIGHT, "source": "ellivane", "medium": "email"}


def test_a_price_of_a_link_is_tried_as_it_is_kept(planned, tmp_path):
    """The click of the night boat at 0.35: a cost like any other, though it stands in the link sheet."""
    sheets, weighing = Sheets(planned), Weighing(planned.snapshots)
    before = everything(planned)
    price = [RowChange("k", PRICED | {"price": "0.35"})]
    tried = sheets.attempt(weighing, price, sheets.read().basis, "a link")
    assert tried.trial is not None
    assert (tried.trial.spend, tried.trial.value) == (35, 0)
    assert everything(planned) == before
    with pytest.raises(Overtaken, match="something else has changed"):
        sheets.change([RowChange("k", PRICED | {"price": "0.36"})], sheets.read().basis, "a link", tried.state)
    assert everything(planned) == before
    sheets.change(price, sheets.read().basis, "a link", tried.state)
    assert kept(planned, tmp_path / "kept") == written(tried.after, tmp_path / "tried")
    # A cell beside it moves nothing, and a file of priced links is tried, too.
    beside = sheets.attempt(weighing, [RowChange("k", {"note": "for spring"})], sheets.read().basis, "a note")
    assert not beside.moves
    lines = "page,campaign,source,medium,price\nhttps://www.lunnick.example/boats,Spring Whale Boats,quorrin,cpc,1.00\n"
    more = sheets.attempt_file(weighing, "more.csv", lines.encode())
    sheets.ingest("more.csv", lines.encode(), more.state)
    assert kept(planned, tmp_path / "more") == written(more.after, tmp_path / "more-tried")


PAIRS = sorted(name for name in CASES if "extra value" not in name)
"""Edits that need nothing else before them."""


def case(desk, name) -> PlanEdit:
    section, records, *_ = CASES[name]
    assert isinstance(section, str)
    assert isinstance(records, list)
    return records_edit(desk, section, records)


@examples(12)
@given(st.lists(st.sampled_from(PAIRS), min_size=2, max_size=3, unique_by=lambda name: CASES[name][0]), st.data())
def test_edits_of_different_lists_commute(planned_copies, tmp_path_factory, names, data):
    """In whatever order, tried or not, they come to the same bytes; undone in turn, to what stood before."""
    folder = tmp_path_factory.mktemp("commute")
    outcomes = []
    for number, order in enumerate((names, data.draw(st.permutations(names)))):
        desk = planned_copies.copy(folder / f"home{number}")
        try:
            before = kept(desk, folder / f"before{number}")
            for name in order:
                edit = case(desk, name)
                keep_edit(desk, edit, read_plan(desk).basis, attempt(desk, edit).state if number else "")
            outcomes.append(kept(desk, folder / f"after{number}"))
            for _ in order:
                undo_plan(desk)
            assert kept(desk, folder / f"undone{number}") == before
        finally:
            desk.engine.dispose()
    assert outcomes[0] == outcomes[1]


BY_HAND = [("visits", "v01"), ("visits", "v30"), ("leads", "l1"), ("leads", "l5"), ("conversions", "o1"), ("conversions", "o7")]  # fmt: skip
STATES = st.sampled_from(["quarantined", "counted"])


@examples(6)
@given(
    st.lists(st.tuples(st.sampled_from(BY_HAND), STATES), min_size=1, max_size=4, unique_by=lambda at: at[0]), st.data()
)
def test_what_is_set_by_hand_and_returned_in_any_order_leaves_the_same_bytes(
    planned_copies, tmp_path_factory, steps, data
):
    folder = tmp_path_factory.mktemp("hand")
    desk = planned_copies.copy(folder / "home")
    standing: dict[tuple[str, str], str] = {}

    def put():
        records = [{"table": table, "id": row, "state": state} for (table, row), state in standing.items()]
        edit = records_edit(desk, "record", records)
        keep_edit(desk, edit, read_plan(desk).basis, attempt(desk, edit).state)

    try:
        before = kept(desk, folder / "before")
        for at, state in steps:
            standing[at] = state
            put()
        assert kept(desk, folder / "between") != before
        for at in data.draw(st.permutations([at for at, _ in steps])):
            del standing[at]
            put()
        assert kept(desk, folder / "after") == before
    finally:
        desk.engine.dispose()


def test_a_lock_is_tried_as_it_is_kept(planned):
    """An expectation that is locked is refused on trial, too."""
    locked = {"name": NIGHT, "expected_value": "100.00", "locked_on": "2026-03-01"}
    change_records(planned, "campaign", [locked], read_plan(planned).basis)
    with pytest.raises(SettingsError, match="locked"):
        attempt(planned, records_edit(planned, "campaign", [locked | {"expected_value": "10.00"}]))


def test_general_settings_that_move_nothing_are_not_worked_out(planned):
    change_general(planned, {"margin": "0.4"}, read_plan(planned).basis)
    tried = attempt(planned, general_edit({"margin": "0.4"}))
    assert (tried.moves, tried.trial) == (False, None)
