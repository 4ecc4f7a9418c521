"""Loading on a real PostgreSQL: what a person can do at Gather, and what must never happen."""

from __future__ import annotations

import threading
from io import BytesIO

import pytest
from sqlalchemy import text

from ground import say_ground
from week import week_files
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.gather.undo_loads import list_loads, redo_load, rejected_of, undo_load
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.refusals import NotFound
from yardstick.store import jobs, prepared_rows
from yardstick.store.database import connect, migrate
from yardstick.store.loading import CannotUndo
from yardstick.store.models import Base

VISITS = "visit_id,occurred_at,visitor_id,url\n"


def visits(*rows: str) -> tuple[str, bytes]:
    return "visits.csv", (VISITS + "\n".join(rows)).encode()


def spend(*rows: str) -> tuple[str, bytes]:
    return "spend.csv", ("day,platform,account,campaign,cost,ad_group\n" + "\n".join(rows)).encode()


def count(desk, query: str) -> int:
    with desk.engine.connect() as connection:
        return int(connection.execute(text(query)).scalar_one())


def rehearsed(desk, files):
    return rehearse(desk, [(name, BytesIO(content)) for name, content in files])


def standing(desk, table: str) -> list[tuple]:
    """The rows that stand, in order."""
    found = getattr(desk.tables(), table)
    names = {"visits": ("visit_id", "url"), "spend": ("campaign", "account", "ad_group")}[table]
    return [tuple(found.text(name)[i] for name in names) for i in range(len(found))]


def everything(desk) -> list[tuple]:
    """All raw rows, to see that nothing changed."""
    out = []
    with desk.engine.connect() as connection:
        for table in (
            "raw_visits",
            "raw_leads",
            "raw_conversions",
            "raw_spend",
            "raw_rates",
            "settings_version",
            "change",
        ):
            out += sorted(map(tuple, connection.execute(text(f"SELECT * FROM {table}")).all()), key=str)
    return out


def test_migrations_go_up_and_down(databases):
    engine = connect(databases.empty())
    migrate(engine)
    with engine.connect() as connection:
        tables = {r[0] for r in connection.execute(text("SELECT tablename FROM pg_tables WHERE schemaname = 'public'"))}
    assert set(Base.metadata.tables) | {"alembic_version"} == tables
    migrate(engine, "base")
    with engine.connect() as connection:
        left = {r[0] for r in connection.execute(text("SELECT tablename FROM pg_tables WHERE schemaname = 'public'"))}
    assert left == {"alembic_version"}
    migrate(engine)
    engine.dispose()


def test_every_table_carries_its_workspace():
    without = {"workspace"}
    for name, table in Base.metadata.tables.items():
        assert name in without or "workspace_id" in table.columns, name


def test_a_rehearsal_tells_what_would_happen_and_changes_nothing(desk):
    before = everything(desk)
    said = {f.file: f for f in rehearsed(desk, week_files()).files}
    assert everything(desk) == before
    assert {f.table for f in said.values()} == {"settings", "visits", "leads", "conversions", "spend", "rates"}
    assert (said["visits.csv"].read, said["visits.csv"].new, said["visits.csv"].rejected) == (18, 16, 2)
    assert [r.line for r in said["visits.csv"].rejected_rows] == [18, 19]
    assert (said["spend.csv"].new, said["spend.csv"].rejected) == (7, 0)
    assert said["leads.csv"].preview[0].stands[0] == "l1"
    keep_now(desk, week_files())
    again = {f.file: (f.new, f.replaced, f.unchanged) for f in rehearsed(desk, week_files()).files}
    assert again["visits.csv"] == (0, 0, 16)
    assert again["spend.csv"] == (0, 0, 7)
    assert again["settings.toml"] == (0, 0, 1)


def test_a_rehearsed_set_is_kept_by_a_job_that_says_how_it_ended(desk):
    loader = Loader(desk)
    rehearsal = rehearsed(desk, week_files())
    job = loader.keep(rehearsal.token)
    loader._pool.shutdown(wait=True)
    ended = jobs.find(desk.engine, desk.workspace, job)
    assert (ended.state, ended.message.count("csv")) == ("done", 5)
    assert len(standing(desk, "visits")) == 16
    assert desk.snapshots.current().change > 0
    with pytest.raises(NotFound):
        Loader(desk).keep(rehearsal.token)


def test_loading_the_same_file_twice_changes_nothing(desk):
    keep_now(desk, week_files())
    first, rows = desk.snapshots.current(), standing(desk, "spend")
    keep_now(desk, week_files())
    assert desk.snapshots.current().data == first.data
    assert standing(desk, "spend") == rows
    # And yet the second load stands on its own once the first is undone.
    for load in list_loads(desk)[6:]:
        if load.subject != "settings":
            undo_load(desk, load.id)
    assert desk.snapshots.current().data == first.data


def test_a_resent_row_replaces_the_earlier_one_which_stays_on_record(desk):
    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/?utm_campaign=a", "v2,2026-03-02T11:00:00Z,p,/")])
    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/?utm_campaign=b", "v2,2026-03-02T11:00:00Z,p,/")])
    with desk.engine.connect() as connection:
        rows = connection.execute(text("SELECT url, line FROM raw_visits ORDER BY load_no, line")).all()
    assert [tuple(r) for r in rows] == [("/?utm_campaign=a", 2), ("/", 3), ("/?utm_campaign=b", 2), ("/", 3)]
    assert [(c.new, c.replaced, c.unchanged) for c in list_loads(desk)] == [(0, 1, 1), (2, 0, 0)]
    # All versions of a row go into the rules, which choose (R20); an equal one is left out.
    assert standing(desk, "visits") == [("v1", "/?utm_campaign=a"), ("v2", "/"), ("v1", "/?utm_campaign=b")]
    board = Weighing(desk.snapshots).board(BoardQuestion(), 0)
    assert [r.values for r in board.rows if r.bucket == "named"] == [("b",)]
    assert board.findings == {"replaced_row": 1}


def test_a_resent_spend_day_replaces_the_whole_day_of_its_account(desk):
    keep_now(
        desk,
        [
            spend(
                "2026-03-02,Quorrin,a,Whale,10.00,",
                "2026-03-02,Quorrin,a,Card,5.00,",
                "2026-03-02,Quorrin,b,Whale,7.00,",
                "2026-03-03,Quorrin,a,Whale,9.00,",
                "2026-03-02,Quorrin,a,Whale,8.00,g1",
            )
        ],
    )
    later = spend("2026-03-02,QUORRIN,a,Whale,11.00,")
    said = rehearsed(desk, [later]).files[0]
    assert (said.new, said.replaced, said.unchanged, said.lost) == (0, 1, 0, 2)
    keep_now(desk, [later])
    # The Card row of that day vanished from the platform's report, so it is gone; other accounts and days stay.
    assert standing(desk, "spend") == [("Whale", "b", ""), ("Whale", "a", ""), ("Whale", "a", "")]
    # A report with other finer columns is another report: it stands beside.
    beside = ("spend-coarse.csv", b"day,platform,account,campaign,cost\n2026-03-02,Quorrin,a,Whale,40.00\n")
    keep_now(desk, [beside])
    assert len(standing(desk, "spend")) == 4


def test_spend_files_given_together_add_up(desk):
    one, two = spend("2026-03-02,Quorrin,a,Whale,10.00,"), spend("2026-03-02,Quorrin,a,Card,5.00,")
    keep_now(desk, [("spend-1.csv", one[1]), ("spend-2.csv", two[1]), ("spend-3.csv", one[1])])
    # A row identical in every column counts once, wherever it came from.
    assert standing(desk, "spend") == [("Whale", "a", ""), ("Card", "a", "")]


def test_a_row_without_a_rate_takes_no_earlier_one_away_across_loads(desk):
    """R20, through two loads: the later row stands once its rate is there."""

    def order(total, currency):
        head = "conversion_id,occurred_at,goal,visitor_id,total,currency\n"
        return "conversions.csv", f"{head}c1,2026-03-03T10:00:00Z,sale,p,{total},{currency}\n".encode()

    def value():
        (row,) = [r for r in Weighing(desk.snapshots).board(BoardQuestion(), 0).rows if r.bucket == "named"]
        return row.under["linear"][0].value

    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/?utm_campaign=a"), order("50.00", "")])
    keep_now(desk, [order("80.00", "NZD")])
    assert value() == 5000
    keep_now(desk, [("rates.csv", b"day,base,quote,rate\n2026-03-03,NZD,EUR,0.5\n")])
    assert value() == 4000


def test_a_load_can_be_undone_and_the_old_fingerprint_is_back(desk):
    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/?utm_campaign=a"), spend("2026-03-02,Quorrin,a,Whale,10.00,")])
    before = desk.snapshots.current().data
    keep_now(desk, [spend("2026-03-02,Quorrin,a,Whale,12.00,", "2026-03-04,Quorrin,a,Whale,1.00,")])
    after = desk.snapshots.current().data
    assert after != before
    undo_load(desk, list_loads(desk)[0].id)
    assert desk.snapshots.current().data == before
    assert list_loads(desk)[0].undone
    assert count(desk, "SELECT count(*) FROM raw_spend") == 3  # rows are never touched again
    # Brought back it stands as if it had never been out, behind what came meanwhile, too; and out, and back.
    late = list_loads(desk)[0].id
    keep_now(desk, [spend("2026-03-09,Quorrin,a,Whale,7.00,")])
    other = list_loads(desk)[0].id
    redo_load(desk, late)
    undo_load(desk, other)
    assert desk.snapshots.current().data == after
    assert [(c.undone, c.can_undo, c.can_redo) for c in list_loads(desk)[:2]] == [
        (True, False, True),
        (False, True, False),
    ]
    with pytest.raises(CannotUndo, match=r"spend.csv is not undone"):
        redo_load(desk, late)
    undo_load(desk, late)
    with pytest.raises(CannotUndo, match=r"spend.csv is undone already"):
        undo_load(desk, late)
    assert desk.snapshots.current().data == before
    redo_load(desk, late)
    assert desk.snapshots.current().data == after
    # A state in between is built as it was then.
    assert desk.rebuild(before)[0].data == before


def test_only_rows_are_brought_back(desk):
    keep_now(desk, [("settings.toml", b'home_currency = "EUR"\n')])
    settings = list_loads(desk)[0].id
    undo_load(desk, settings)
    assert not list_loads(desk)[0].can_redo
    for wrong in (settings, settings + 1, 999_999):
        with pytest.raises(CannotUndo, match="no load to bring back"):
            redo_load(desk, wrong)


def test_loads_of_rows_are_undone_in_any_order_and_once(desk):
    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/")])
    keep_now(desk, [visits("v2,2026-03-02T10:00:00Z,p,/")])
    latest, first = list_loads(desk)
    assert (latest.can_undo, first.can_undo) == (True, True)
    undo_load(desk, first.id)
    assert standing(desk, "visits") == [("v2", "/")]
    with pytest.raises(CannotUndo, match="already"):
        undo_load(desk, first.id)
    undo_load(desk, latest.id)
    assert standing(desk, "visits") == []
    with pytest.raises(CannotUndo, match="nothing to undo"):
        undo_load(desk, 999_999)


def test_settings_are_loaded_versioned_and_undone(desk):
    keep_now(desk, [("settings.toml", b'home_currency = "AUD"\n')])
    keep_now(desk, [("settings.toml", b'home_currency = "NZD"\n')])
    assert desk.plan().money.home_currency == "NZD"
    undo_load(desk, list_loads(desk)[0].id)
    assert desk.plan().money.home_currency == "AUD"


def test_the_state_behind_every_earlier_fingerprint_can_be_rebuilt(desk):
    seen = {}
    steps = [
        [
            ("settings.toml", b'home_currency = "AUD"\nmargin = "0.5"\n'),
            visits("v1,2026-03-02T10:00,p,/?utm_campaign=a"),
        ],
        [visits("v1,2026-03-02T10:00,p,/?utm_campaign=b", "v2,2026-03-03T10:00,q,/")],
        [("settings.toml", b'home_currency = "AUD"\ntime_zone = "Australia/Adelaide"\n')],
        [spend("2026-03-02,Quorrin,a,b,10.00,")],
        [spend("2026-03-02,Quorrin,a,b,20.00,")],
    ]
    for files in steps:
        keep_now(desk, files)
        weighed = Weighing(desk.snapshots).board(BoardQuestion(), 0)
        seen[weighed.data] = [(r.bucket, r.values, r.spend) for r in weighed.rows]
    undo_load(desk, list_loads(desk)[0].id)
    assert len(seen) == 5
    for fingerprint, rows in seen.items():
        tables, settings = desk.rebuild(fingerprint)
        from yardstick.core.report.weigh import weigh

        result = weigh(tables, settings)
        first = settings.crediting.yardsticks[0].name
        assert [(r.bucket, r.by, r.sums.spend) for r in result.rows if r.yardstick == first] == rows
    assert desk.rebuild("0" * 16) is None


def test_rows_keep_the_file_and_line_they_came_from(desk):
    keep_now(
        desk, [("visits-march.csv", (VISITS + "v1,2026-03-02T10:00:00Z,p,/\n\nv2,2026-03-02T11:00:00Z,p,/\n").encode())]
    )
    table = desk.snapshots.read(desk.snapshots.current()).visits
    assert [(table.file[i], int(table.line[i])) for i in range(2)] == [("visits-march.csv", 2), ("visits-march.csv", 4)]


def test_rejected_rows_stay_on_record(desk):
    keep_now(desk, week_files())
    load = next(c for c in list_loads(desk) if c.subject == "visits")
    assert [(r.line, r.column) for r in rejected_of(desk, load.id)] == [(18, "url"), (19, "occurred_at")]
    with pytest.raises(NotFound):
        rejected_of(desk, 999_999)


def test_unknown_extra_columns_are_kept_with_the_row(desk):
    keep_now(desk, [("visits.csv", b"visit_id,occurred_at,url,Mood\nv1,2026-03-02T10:00:00Z,/,calm\n")])
    assert count(desk, 'SELECT count(*) FROM raw_visits WHERE extra = \'{"Mood": "calm"}\'') == 1


def test_a_job_can_be_stopped_and_says_what_was_kept(desk, monkeypatch):
    monkeypatch.setattr(prepared_rows, "PIECE", 20_000)
    rows = [f"v{i},2026-03-02T10:00:00Z,p,/" for i in range(6_000)]
    token = rehearsed(desk, [spend("2026-03-02,Quorrin,a,Whale,10.00,"), visits(*rows)]).token
    say_ground(desk)
    loader = Loader(desk)
    reached, go_on, told = threading.Event(), threading.Event(), []
    tell = loader._progress

    def wait_at_visits(job, name, rows, done, size):
        tell(job, name, rows, done, size)
        if name == "visits.csv":
            told.append((rows, done, loader.state(job)))
            reached.set()
            go_on.wait(30)

    loader._progress = wait_at_visits
    job = loader.keep(token)
    assert reached.wait(30)
    loader.stop(job)
    go_on.set()
    loader._pool.shutdown(wait=True)
    assert len(told) == 1
    assert 0 < told[0][0] < 6_000
    assert told[0][2].state == "running"
    assert told[0][2].rows_total > told[0][2].rows_done
    assert told[0][2].seconds_left > 0
    ended = jobs.find(desk.engine, desk.workspace, job)
    assert (ended.state, "spend.csv" in ended.message) == ("stopped", True)
    assert count(desk, "SELECT count(*) FROM raw_visits") == 0
    assert [load.file for load in list_loads(desk)] == ["spend.csv"]
    assert standing(desk, "spend") == [("Whale", "a", "")]


def test_a_start_closes_jobs_that_a_crash_cut_off_and_mends_the_snapshot(desk):
    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/")])
    job = jobs.begin(desk.engine, desk.workspace, "loading")
    for path in (desk.home / "snapshots" / "test").iterdir():
        if path.name == "current.json":
            path.unlink()
    desk.wake()
    assert jobs.find(desk.engine, desk.workspace, job).state == "interrupted"
    assert desk.snapshots.current() is not None


def test_workspaces_do_not_see_each_other(desk, tmp_path):
    from yardstick.stations.workspace.desk import Desk

    other = Desk(desk.engine, tmp_path / "home", "other")
    keep_now(desk, [visits("v1,2026-03-02T10:00:00Z,p,/")])
    other.refresh()
    assert list_loads(other) == []
    current = other.snapshots.current()
    assert current is not None
    assert len(other.snapshots.read(current).visits) == 0
    with pytest.raises(CannotUndo):
        undo_load(other, list_loads(desk)[0].id)


def test_loads_are_undone_one_after_the_other_down_to_nothing(desk):
    keep_now(desk, [visits("v1,2026-03-02T09:00:00Z,A,/a", "v2,2026-03-02T09:00:00Z,B,/b")])
    keep_now(desk, [("visits-2.csv", (VISITS + "v1,2026-03-02T10:00:00Z,A,/changed").encode())])
    for load in list_loads(desk):
        undo_load(desk, load.id)
    assert standing(desk, "visits") == []
